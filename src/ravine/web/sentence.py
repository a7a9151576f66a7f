"""The line: its fragment from the edit's declaration, previews, accepting, and typed sentences."""

from __future__ import annotations

import re
from collections.abc import Collection
from typing import Any

from flask import Blueprint, Response, make_response, render_template, request

from ravine.core import EditError
from ravine.core.edits import find_edit, registry
from ravine.core.edits.base import Edit
from ravine.core.edits.fields import ChoiceField, FileField, OtherField, PickField
from ravine.core.edits.registry import starting_with
from ravine.engine.results import Edited
from ravine.service import links
from ravine.service.designs import Designs
from ravine.service.rows import Design, Revision

from .asked import ids, json_field, json_object, numbers
from .container import pack
from .kept import labelled, pinned
from .words import designs

pages = Blueprint("sentence", __name__)


def tokens(cls: type[Edit], idle: Collection[str] = (), folded: Collection[str] = ()) -> list[tuple[str, str, str]]:
    """The sentence cut into ("word", text, fold) and ("field", name, fold); fold names the folded field that a token is
    or goes with: words go with the field behind them, the last ones with the last field.  Fields that the sentence
    leaves out are not shown, nor are idle ones with the words before them; but the verb stays."""
    found: list[tuple[str, str, str]] = []
    fold = ""
    for word, name in re.findall(r"([^{}]*)(?:\{(\w+)\})?", cls.sentence):
        if name and name in idle:
            found += [] if found else [("word", word.strip(), "")]
            continue
        if name:
            fold = name if name in folded else ""
        found += [("word", word.strip(), fold if found else ""), ("field", name, fold)]
    return [t for t in found if t[1]]


def _facts_html(done: Edited, units: str) -> str:
    shown = [f for f in done.facts if f["tone"] != "quiet"]
    return render_template("fragments/facts.html", facts=shown, warnings=done.warnings, units=units)


def _answer(store: Designs, design: Design, done: Edited, revision: Revision) -> Response:
    units = store.snapshot(revision).units
    head = {
        "sentence": done.sentence,
        "factsHtml": _facts_html(done, units),
        "scene": done.scene,
        "pieces": done.pieces,
        "revision": revision.id,
        "bodies": [m.body for m in done.meshes],
        "packets": [m.packet is not None for m in done.meshes],
        "files": list(done.files),
        "numbers": done.numbers,
        "pins": None if done.pins is None else labelled(design, done.pins),
    }
    blobs = [m.packet for m in done.meshes if m.packet is not None]
    if done.cut is not None:
        return pack(head | {"cut": True, "width": done.width}, [*blobs, done.cut])
    return pack(head, [*blobs, *done.files.values()])


def _watch(raw: Any) -> dict[str, Any] | None:
    if not isinstance(raw, dict) or not isinstance(raw.get("nodes"), list):
        return None
    return {"at": numbers(raw.get("at"), 2), "nodes": [str(n) for n in raw["nodes"][:2]]}


def _asked(data: dict[str, Any]) -> tuple[str, dict[str, Any], int]:
    name, values, base = data.get("edit", ""), data.get("values", {}), data.get("base", 0)
    if not isinstance(values, dict) or not isinstance(base, int) or not isinstance(name, str):
        raise EditError("an edit comes as edit (text), values (object) and base (revision number)")
    cls = find_edit(name)
    if any(isinstance(g, FileField) for g in cls.fields().values()):
        raise EditError(f"{cls.name} takes a file; send it to the import address of the model")
    return name, values, base


def takes_other(cls: type[Edit]) -> bool:
    return any(isinstance(f, OtherField) for f in cls.fields().values())


@pages.post("/m/<int:ident>/line")
def line(ident: int) -> Response:
    """Open the line for one edit on what is picked."""
    store = designs()
    design = store.get(ident)
    cls = find_edit(request.form.get("edit", ""))
    picked = ids("picked", request.form)
    values = json_field("values", request.form)
    nodes = ids("nodes", request.form)
    pointed = numbers(request.form["pointed"], 3) if request.form.get("pointed") else None
    started = store.start_line(design, cls.name, picked, nodes, values, pointed)
    snapshot = store.snapshot(store.head(design))
    others = links.offered(store, design, cls, started.texts) if takes_other(cls) else {}
    html = render_template(
        "fragments/line.html",
        cls=cls,
        tokens=tokens(cls, started.idle, started.folded),
        fields=cls.fields(),
        units=snapshot.units,
        design=design,
        texts=started.texts,
        words=started.words,
        handle=started.handle,
        others=others,
    )
    return make_response(html)


@pages.post("/m/<int:ident>/preview")
def preview(ident: int) -> Response:
    store = designs()
    design = store.get(ident)
    data = json_object()
    name, values, base = _asked(data)
    plane = numbers(data["plane"], 6) if data.get("plane") else None
    watch = _watch(data.get("watch")) if plane else None
    done, revision = store.preview(
        design, base, name, values, bool(data.get("comma")), bool(data.get("settled")), plane, watch,
        pinned(design)[1],
    )  # fmt: skip
    return _answer(store, design, done, revision)


@pages.post("/m/<int:ident>/limits")
def limits(ident: int) -> dict:
    """How far the bead goes either way: mm or rad."""
    store = designs()
    design = store.get(ident)
    data = json_object()
    name, values, base = _asked(data)
    field = data.get("field", "")
    if field not in find_edit(name).fields():
        raise EditError(f"{name} has no gap “{str(field)[:40]}”")
    return store.study(store.expect(design, base), "bounds", edit=name, values=values, of=field)


@pages.post("/m/<int:ident>/edits")
def accept(ident: int) -> Response:
    """Do an edit.  Also the JSON API of scripts that speak to a running Ravine; GET /edits.json has the schemas."""
    store = designs()
    design = store.get(ident)
    data = json_object()
    name, values, base = _asked(data)
    token = data.get("token")
    if token is not None and not (isinstance(token, str) and 8 <= len(token) <= 40 and token.isascii()):
        raise EditError("the token of an edit has 8 to 40 plain letters")
    done, revision = store.edit(design, base, name, values, bool(data.get("comma")), token)
    return _answer(store, design, done, revision)


PAGE_WORDS = {"undo": "step back", "step back": "step back", "redo": "step forward", "step forward": "step forward",
              "hide": "hide", "show all": "show all", "unhide": "show all", "fit": "fit", "zoom": "fit",
              "help": "help"}  # fmt: skip
"""What the page itself does, by the words that people type for it."""


def typed_edit(text: str, kind: str) -> tuple[type[Edit] | None, str]:
    """(edit, rest) when the text begins with an edit's whole name, or another whole word for it; of several, the one
    for what is picked (face, edge … or nothing)."""
    lowered = text.lower()
    words = [(word, cls) for cls in registry().values() for word in (cls.name, *cls.also)]
    fitting = [(w, cls) for w, cls in words if lowered == w or lowered.startswith(w + " ")]
    if not fitting:
        return None, text
    longest = max(len(w) for w, _ in fitting)
    said = [(w, cls) for w, cls in fitting if len(w) == longest]
    word, found = next(
        ((w, cls) for w, cls in said if w == cls.name),
        next(((w, cls) for w, cls in said if cls.offered_for == kind), said[0]),
    )
    return found, text[len(word) :].strip()


def typed_values(cls: type[Edit], rest: str) -> dict[str, str]:
    """Words after the edit's name: `field=value` fills that field; a field's name before a value too; what is left goes
    into the first field that is neither picked in the view nor a choice, after choices named in front."""
    fields = {n: g for n, g in cls.fields().items() if n != cls.pick_field()}
    values: dict[str, str] = {}
    names = "|".join(fields)
    pieces = re.split(rf"(?:^|\s)({names})(?:\s*=\s*|\s+)", " " + rest) if names else [rest]
    head = pieces[0].strip()
    for name, value in zip(pieces[1::2], pieces[2::2], strict=True):
        values[name] = value.strip()
    for name, choice in fields.items():  # a choice by its word, in front of what goes into the next field
        if not isinstance(choice, ChoiceField):
            break
        words = sorted(choice.options, key=len, reverse=True)
        said = next((w for w in words if name not in values and f"{head} ".lower().startswith(f"{w} ")), None)
        if said:
            values[name], head = said, head[len(said) :].strip()
    if head:
        left = [n for n, g in fields.items() if n not in values and not isinstance(g, PickField)]
        first = next((n for n in left if not isinstance(fields[n], ChoiceField)), left[0] if left else None)
        if first is None:
            raise EditError(f"“{head}” has no gap left to go into")
        values[first] = head
    return values


@pages.get("/m/<int:ident>/complete")
def complete(ident: int) -> str:
    """What typed text may become."""
    text = request.args.get("text", "").strip()
    cls, rest = typed_edit(text, request.args.get("kind", ""))
    offered = starting_with(text) if cls is None else [(cls, cls.name)]
    usable = [(c, w) for c, w in offered if not any(isinstance(g, FileField) for g in c.fields().values())]
    return render_template("fragments/complete.html", offered=usable, text=text, rest=rest, whole=cls)


@pages.get("/m/<int:ident>/typed")
def typed(ident: int) -> dict:
    """The edit and values that a typed sentence means; a start that fits one edit only is enough."""
    text = request.args.get("text", "").strip()
    if (act := PAGE_WORDS.get(text.lower())) is not None:
        return {"page": act}
    cls, rest = typed_edit(text, request.args.get("kind", ""))
    if cls is None:
        first, _, rest = text.partition(" ")
        starts = starting_with(first)
        starts = [(c, w) for c, w in starts if w == c.name] or starts  # other words only where no name fits
        # what is done from a list beside the view, only where nothing else begins so
        starts = [(c, w) for c, w in starts if c.offered_for != "dimension"] or starts
        if len(starts) != 1:
            fits = ", ".join(c.name for c, _ in starts) or "none of the edits"
            raise EditError(
                f"“{first}” may begin {fits}; type one letter more"
                if starts
                else f"“{first}” begins {fits}; type a verb such as push, move body or rename"
            )
        cls, rest = starts[0][0], rest.strip()
    return {"edit": cls.name, "values": typed_values(cls, rest)}

"""The review at the stage Hand over: what changed since an earlier state, in words and on the faces."""

from __future__ import annotations

import base64
import json
from dataclasses import dataclass
from typing import Any

from flask import Blueprint, Response, jsonify, render_template, request

from ravine.core import EditError
from ravine.core.model.records import DRAWINGS
from ravine.core.view.scene import scene as scene_of
from ravine.service import notes
from ravine.service.designs import Designs, NotFound
from ravine.service.rows import Design, Revision

from .asked import ids, json_object, png_of
from .words import designs

pages = Blueprint("review", __name__)
KINDS = ("moved", "resized", "new", "gone")


@dataclass(frozen=True)
class Before:
    """What the open state is compared with.  apart: whether it is of another model, whose ids mean nothing here."""

    design: Design
    revision: Revision
    apart: bool

    @property
    def called(self) -> str:
        return self.design.name if self.apart else f"revision {self.revision.number}"


def _before(store: Designs, design: Design, since: str) -> Before:
    """since: id of a revision of this model, or m and the id of another, as it is now.  Raises NotFound."""
    if since.startswith("m") and since[1:].isdigit():
        other = store.get(int(since[1:]))
        return Before(other, store.head(other), other.id != design.id)
    if not since.isdigit():
        raise NotFound("this model has no such revision")
    return Before(design, store.revision(design, int(since)), False)


def _asked() -> str:
    return request.args.get("since", "")[:20]


@pages.get("/m/<int:ident>/review")
def panel(ident: int) -> str:
    """since: what to compare with; without it the lists to choose from."""
    store = designs()
    design = store.get(ident)
    head = store.head(design)
    rows = [row for row in store.journal(design) if row.id != head.id][-60:]
    others = [row for row in store.all() if row.id != ident][:60]
    judged = {v["revision"]: v["text"] for v in reversed(notes.verdicts_of(design))}
    since, found, before, why = _asked(), None, None, ""
    if since:
        try:
            before = _before(store, design, since)
            found = store.study(head, "compare", before=before.revision.state_id, apart=before.apart)
        except (EditError, NotFound) as error:
            why = str(error)
    data = json.dumps({key: found[key] for key in ("faces", "was", "gone")}) if found else ""
    return render_template(
        "fragments/review.html", rows=rows[::-1], others=others, judged=judged, since=since, found=found,
        before=before, head=head, why=why, data=data, kinds=KINDS, ident=ident,
    )  # fmt: skip


@pages.get("/m/<int:ident>/review/before")
def scene_before(ident: int) -> Response:
    """since: what is compared with.  As the page draws it, and the model and revision that its meshes are asked of."""
    store = designs()
    before = _before(store, store.get(ident), _asked())
    scene = scene_of(store.snapshot(before.revision))
    return jsonify(scene | {"model": before.design.id, "revision": before.revision.id, "called": before.called})


def _notes(store: Designs, design: Design) -> str:
    sheets = [s.name for s in store.snapshot(store.head(design)).kept(DRAWINGS).values()]
    return render_template("fragments/notes.html", notes=notes.notes_of(design), verdicts=notes.verdicts_of(design),
                           sheets=sheets, ident=design.id)  # fmt: skip


@pages.get("/m/<int:ident>/review.html")
def page(ident: int) -> Response:
    """since: what to compare with.  One file to keep or to send, with the notes and what was decided."""
    store = designs()
    design = store.get(ident)
    head, before = store.head(design), _before(store, design, _asked())
    said = f"{before.called} to {'this, ' if before.apart else ''}revision {head.number}"
    told = [*_told(store, design), {"text": _verdict(design)}] if _verdict(design) else _told(store, design)
    data = store.study(head, "review page", before=before.revision.state_id, apart=before.apart, title=design.name,
                       said=said, notes=told)  # fmt: skip
    return _file(data, "text/html", f"review {before.called} to {head.number}.html")


@pages.get("/m/<int:ident>/review.pdf")
def report(ident: int) -> Response:
    """since: what to compare with.  To print or to file, with pinned pictures and sheets."""
    store = designs()
    design = store.get(ident)
    head, before = store.head(design), _before(store, design, _asked())
    data = store.study(
        head, "review report", before=before.revision.state_id, apart=before.apart, title=design.name,
        was=before.called, now=f"{design.name if before.apart else ''} revision {head.number}".strip(),
        verdict=_verdict(design), notes=_told(store, design),
    )  # fmt: skip
    return _file(data, "application/pdf", f"review {before.called} to {head.number}.pdf")


def _file(data: bytes, kind: str, name: str) -> Response:
    answer = Response(data, mimetype=kind)
    answer.headers.set("Content-Disposition", "attachment", filename=name)
    return answer


def _verdict(design: Design) -> str:
    rows = notes.verdicts_of(design)[:1]
    return "".join(f"Revision {v['revision']}: {v['text']} by {v['by']}, {v['when']}" for v in rows)


def _told(store: Designs, design: Design) -> list[dict[str, Any]]:
    """Notes as reviews on their way out have them."""
    rows = []
    for note in notes.notes_of(design):
        row: dict[str, Any] = {
            "text": "\n".join(f"{s['by']}, {s['when']}: {s['text']}" for s in note.said), "state": note.state,
            "picture": base64.b64encode(notes.picture_of(note)).decode() if note.picture else "",
        }  # fmt: skip
        if note.sheet is not None:
            row["sheet"] = {"name": note.sheet[0], "state": store.revision(design, note.sheet[1]).state_id}
        rows.append(row)
    return rows


@pages.get("/m/<int:ident>/notes/<int:number>/shown")
def pinned(ident: int, number: int) -> Response:
    """What is pinned to a note: its picture, or its sheet as it was then."""
    store = designs()
    design = store.get(ident)
    note = notes.note_of(design, number)
    if note.sheet is not None:
        found = store.study(store.revision(design, note.sheet[1]), "sheet picture", sheet=note.sheet[0])
        return Response(found, mimetype="image/svg+xml")
    return Response(notes.picture_of(note), mimetype="image/png")


@pages.get("/m/<int:ident>/notes")
def all_notes(ident: int) -> str:
    store = designs()
    return _notes(store, store.get(ident))


@pages.post("/m/<int:ident>/notes")
def add_note(ident: int) -> str:
    store = designs()
    design = store.get(ident)
    data = json_object()
    picture, sheet = str(data.get("picture", "")), str(data.get("sheet", ""))[:60]
    notes.add(store, design, data.get("on", []), data.get("at"), data.get("text"), png_of(picture), sheet)
    return _notes(store, design)


@pages.post("/m/<int:ident>/notes/<int:number>")
def change_note(ident: int, number: int) -> str:
    """text: an answer; state: open or settled."""
    store = designs()
    design = store.get(ident)
    data = json_object()
    notes.change(store, design, number, data.get("text"), data.get("state"))
    return _notes(store, design)


@pages.post("/m/<int:ident>/verdict")
def verdict(ident: int) -> str:
    store = designs()
    design = store.get(ident)
    notes.judge(store, design, str(json_object().get("what")))
    return _notes(store, design)


@pages.post("/m/<int:ident>/package")
def package(ident: int) -> str:
    """What is missing before parts go to a supplier."""
    store = designs()
    head = store.head(store.get(ident))
    parts = ids("parts", {"parts": str(json_object().get("parts", ""))})
    lacks: list[dict[str, Any]] = []
    why = ""
    try:
        lacks = store.study(head, "package missing", parts=parts)
    except EditError as error:
        why = str(error)
    return render_template("fragments/missing.html", lacks=lacks, why=why)

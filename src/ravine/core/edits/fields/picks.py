"""What is picked in the view or in the parts list."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from ...errors import EditError, UnknownId
from ...model import query
from ...model.references import Reference, references
from ...model.snapshot import split_id, text_id
from ...model.words import KIND_WORDS, describe_faces, describe_nodes, describe_parts, describe_sketched, plural
from .base import Context, Field

ELEMENT_WORDS = {"node": "part", "vertex": "corner"}
SKETCHED = ("sketch", "point", "curve", "rule", "area")


@dataclass(frozen=True)
class PickField(Field):
    """Things picked in the view: `element` is face, node (a part where it stands) or body; values are text ids.

    kinds: for faces, the surface kinds that are taken; empty for all
    changes: the edit alters the picked thing's body, so locked bodies and meshes are refused
    places: it alters where the thing stands, which parts of another model allow
    also: other elements that are taken as well; empty: how the field reads while nothing is picked
    several: a field that waits goes on waiting after a pick, and takes one after the other
    reopens: the handle stands elsewhere once it is picked, so the line opens afresh
    """

    element: str = "face"
    minimum: int = 1
    maximum: int | None = None
    kinds: tuple[str, ...] = ()
    changes: bool = True
    places: bool = False
    also: tuple[str, ...] = ()
    empty: str = "everything"
    several: bool = False
    reopens: bool = False
    input = "pick"

    def read(self, raw: Any, context: Context) -> tuple[Reference, ...]:
        if isinstance(raw, str):
            raw = [raw] if raw.startswith("set:") else [part for part in re.split(r"[,\s]+", raw) if part]
        elif isinstance(getattr(raw, "id", None), str):
            raw = [raw]
        if not isinstance(raw, Iterable):
            raise EditError(f"{self.label} takes ids such as {self.element[0]}12")
        texts: list[str] = []
        for one in raw:
            ident = one if isinstance(one, str) else getattr(one, "id", None)  # what a query gave stands for its id
            if not isinstance(ident, str):
                raise EditError(f"{self.label} takes ids such as {self.element[0]}12")
            texts += context.snapshot.set_left(ident[4:]) if ident.startswith("set:") else [ident]
        named = [n for t in texts for n in self._places_named(t, context)]
        for text in named:
            self._check_element(text)
        found = references(context.snapshot, named)
        if len(found) < self.minimum:
            raise EditError(f"pick {plural(self.minimum, self._word())} first")
        if self.maximum is not None and len(found) > self.maximum:
            raise EditError(
                f"{self.label} takes at most {plural(self.maximum, self._word())}; {len(found)} are picked", found
            )
        for reference in found:
            self._check(reference, context)
        return found

    def _places_named(self, text: str, context: Context) -> list[str]:
        """A part may be named by its place, its body or its name; all else is an id already."""
        if "node" not in self.elements:
            return [text]
        snapshot = context.snapshot
        if re.fullmatch(r"b[0-9]{1,11}", text):
            return [text_id("node", o.node.id) for o in snapshot.occurrences(split_id(text)[1])] or [text]
        try:
            split_id(text)
        except UnknownId:
            named = [text_id("node", node.id) for node, _, _ in snapshot.walk() if node.name == text]
            if named:
                return named
            raise
        return [text]

    @property
    def elements(self) -> tuple[str, ...]:
        return (self.element, *self.also)

    def _word(self) -> str:
        return " or ".join(ELEMENT_WORDS.get(e, e) for e in self.elements)

    def _check_element(self, text: str) -> None:
        kind, _ = split_id(text)
        if kind not in self.elements:
            article = "an" if kind[0] in "ae" else "a"
            other = "an" if self._word()[0] in "ae" else "a"
            raise EditError(f"{self.label} takes {other} {self._word()}, not {article} {kind}", [text])

    def _check(self, reference: Reference, context: Context) -> None:
        kind, snapshot = reference.kind, context.snapshot
        if kind in SKETCHED:
            return
        if kind == "node":
            bodies = [snapshot.bodies[snapshot.nodes[n].body or 0] for n in snapshot.leaves_below(reference.number)]
        else:
            body, index = reference.owner
            bodies = [body]
            self._check_kind(reference, body, index, context)
        linked = snapshot.linked
        locked = next((b for b in bodies if b.locked and not (self.places and b.id in linked)), None)
        if self.changes and locked and locked.id in linked:
            raise EditError(f"{locked.name} comes from the model {linked[locked.id]}; change it there, or cut the link",
                            [reference])  # fmt: skip
        if self.changes and locked and locked.mirror:
            origin = snapshot.bodies[locked.mirror.of].name
            raise EditError(f"{locked.name} stays the mirror of {origin}; change that one, or unlock this one to let "
                            f"it go its own way", [reference])  # fmt: skip
        if self.changes and locked:
            raise EditError(
                f"{locked.name} is locked, so it is measured and used but never changed; unlock it "
                f"first or work on a copy",
                [reference],
            )

    def _check_kind(self, ident: str, body: Any, index: int, context: Context) -> None:
        if not self.kinds:
            return
        if body.kind == "mesh":
            raise EditError(f"{body.name} is a mesh of triangles; this edit needs exact faces", [ident])
        kind = query.Face(query.Scope(context.snapshot, context.geometry, body), index).kind
        if kind not in self.kinds:
            wanted = " or ".join(KIND_WORDS[k] for k in self.kinds)
            raise EditError(f"face {ident} is a {KIND_WORDS[kind]}; this edit takes a {wanted}", [ident])

    def show(self, value: tuple[Reference, ...], context: Context) -> str:
        """Without the owner: the sentence stands under the view where it is picked."""
        kinds = {v.kind for v in value}
        kind = kinds.pop() if len(kinds) == 1 else self.element
        return plural(len(value), ELEMENT_WORDS.get(kind, kind))

    def describe(self, value: tuple[Reference, ...], context: Context) -> str:
        """With the owner, for the journal."""
        if not value:
            return self.empty
        by_kind: dict[str, list[Reference]] = {}
        for ident in value:
            by_kind.setdefault(ident.kind, []).append(ident)
        if len(by_kind) > 1 and not by_kind.keys() <= set(SKETCHED):
            return " and ".join(self.describe(tuple(ids), context) for ids in by_kind.values())
        kind = value[0].kind
        if kind == "node":
            return describe_nodes(context.snapshot, value)
        if kind in SKETCHED:
            return describe_sketched(context.snapshot, value)
        if kind == "face":
            return describe_faces(context.snapshot, context.geometry, value)
        return describe_parts(context.snapshot, kind, value)

    def edit_text(self, value: tuple[Reference, ...], context: Context) -> str:
        return " ".join(
            v.placed if v.body is not None and len(context.snapshot.occurrences(v.body.id)) > 1 else v for v in value
        )

    def schema(self) -> dict:
        letter = "".join({"area": "a", "facet": "t"}.get(e) or text_id(e, 0)[0] for e in self.elements)
        spot = "(:[-0-9.e]+)*" if set(letter) & set("at") else ""
        letter = f"[{letter}]" if self.also else letter
        return {
            "type": "array",
            "items": {
                "type": "string",
                **({} if "node" in self.elements else {"pattern": f"^{letter}[0-9]+{spot}(@n[0-9]+)?$"}),
            },
            "minItems": self.minimum,
            "description": self.help,
        }

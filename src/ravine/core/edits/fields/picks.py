"""What is picked in the view or in the parts list."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from ...errors import EditError
from ...kernel.queries import face_kind
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
    also: other elements that are taken as well; empty: how the field reads while nothing is picked
    several: a field that waits goes on waiting after a pick, and takes one after the other
    """

    element: str = "face"
    minimum: int = 1
    maximum: int | None = None
    kinds: tuple[str, ...] = ()
    changes: bool = True
    also: tuple[str, ...] = ()
    empty: str = "everything"
    several: bool = False
    input = "pick"

    def read(self, raw: Any, context: Context) -> tuple[str, ...]:
        if isinstance(raw, str):
            raw = [raw] if raw.startswith("set:") else [part for part in re.split(r"[,\s]+", raw) if part]
        if isinstance(raw, Sequence) and any(isinstance(r, str) and r.startswith("set:") for r in raw):
            raw = [i for r in raw for i in (context.snapshot.set_left(r[4:]) if str(r).startswith("set:") else [r])]
        if not isinstance(raw, Sequence) or not all(isinstance(r, str) for r in raw):
            raise EditError(f"{self.label} takes ids such as {self.element[0]}12")
        ids = tuple(dict.fromkeys(raw))
        if len(ids) < self.minimum:
            raise EditError(f"pick {plural(self.minimum, self._word())} first")
        if self.maximum is not None and len(ids) > self.maximum:
            raise EditError(
                f"{self.label} takes at most {plural(self.maximum, self._word())}; {len(ids)} are picked", ids
            )
        for ident in ids:
            self._check(ident, context)
        return ids

    @property
    def elements(self) -> tuple[str, ...]:
        return (self.element, *self.also)

    def _word(self) -> str:
        return " or ".join(ELEMENT_WORDS.get(e, e) for e in self.elements)

    def _check(self, ident: str, context: Context) -> None:
        kind, number = split_id(ident)
        snapshot = context.snapshot
        if kind == "node" and "node" in self.elements:
            if number not in snapshot.nodes:
                raise snapshot.gone("node", number)
            bodies = [snapshot.bodies[snapshot.nodes[n].body or 0] for n in snapshot.leaves_below(number)]
        elif kind in self.elements and kind in SKETCHED:
            if kind in ("sketch", "area"):
                snapshot.sketch(number)
            else:
                snapshot.sketch_with(kind, number)
            return
        elif kind in self.elements:
            body, index = snapshot.owner_of(kind, number)
            bodies = [body]
            self._check_kind(ident, body, index, context)
        else:
            article = "an" if kind[0] in "ae" else "a"
            other = "an" if self._word()[0] in "ae" else "a"
            raise EditError(f"{self.label} takes {other} {self._word()}, not {article} {kind}", [ident])
        locked = next((b for b in bodies if b.locked), None)
        if self.changes and locked and locked.mirror:
            origin = snapshot.bodies[locked.mirror.of].name
            raise EditError(f"{locked.name} stays the mirror of {origin}; change that one, or unlock this one to let "
                            f"it go its own way", [ident])  # fmt: skip
        if self.changes and locked:
            raise EditError(
                f"{locked.name} is locked, so it is measured and used but never changed; unlock it "
                f"first or work on a copy",
                [ident],
            )

    def _check_kind(self, ident: str, body: Any, index: int, context: Context) -> None:
        if not self.kinds:
            return
        if body.kind == "mesh":
            raise EditError(f"{body.name} is a mesh of triangles; this edit needs exact faces", [ident])
        kind = face_kind(context.geometry.solid(body.shape).index.get("face", index))
        if kind not in self.kinds:
            wanted = " or ".join(KIND_WORDS[k] for k in self.kinds)
            raise EditError(f"face {ident} is a {KIND_WORDS[kind]}; this edit takes a {wanted}", [ident])

    def show(self, value: tuple[str, ...], context: Context) -> str:
        """Without the owner: the sentence stands under the view where it is picked."""
        kinds = {split_id(v)[0] for v in value}
        kind = kinds.pop() if len(kinds) == 1 else self.element
        return plural(len(value), ELEMENT_WORDS.get(kind, kind))

    def describe(self, value: tuple[str, ...], context: Context) -> str:
        """With the owner, for the journal."""
        by_kind: dict[str, list[str]] = {}
        for ident in value:
            by_kind.setdefault(split_id(ident)[0], []).append(ident)
        if len(by_kind) > 1 and not by_kind.keys() <= set(SKETCHED):
            return " and ".join(self.describe(tuple(ids), context) for ids in by_kind.values())
        kind = split_id(value[0])[0]
        if kind == "node":
            return describe_nodes(context.snapshot, value)
        if kind in SKETCHED:
            return describe_sketched(context.snapshot, value)
        if kind == "face":
            return describe_faces(context.snapshot, context.geometry, value)
        return describe_parts(context.snapshot, kind, value)

    def edit_text(self, value: tuple[str, ...], context: Context) -> str:
        return " ".join(value)

    def schema(self) -> dict:
        letter = "".join({"area": "a", "facet": "t"}.get(e) or text_id(e, 0)[0] for e in self.elements)
        letter = f"[{letter}]" if self.also else letter
        return {
            "type": "array",
            "items": {
                "type": "string",
                "pattern": f"^{letter}[0-9]+{'(:[-0-9.e]+)*' if set(letter) & set('at') else ''}$",
            },
            "minItems": self.minimum,
            "description": self.help,
        }

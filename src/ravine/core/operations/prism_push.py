"""Push by matter: what lies between a plane face and its new place is united with the body or cut from it.

The second rung of push-pull, for what the local face engine hands back: faces vanish, split, or run into others.
Also how a push keeps the border of the face (a straight step), and how it joins other bodies.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..errors import CannotDo
from ..kernel.boolean import Prism, combine, prism, single_solid
from ..kernel.check import fault
from ..kernel.history import carry_ids
from ..kernel.properties import rough_box
from ..kernel.queries import neighbours_not_square, plane_normal
from ..kernel.shapes import Shape, ShapeIndex, parts_of, placed
from ..local.delta import following
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.snapshot import Body, Snapshot, text_id
from ..model.words import plural
from ..tolerances import TOUCHING
from .ladder import merged_or_apart
from .work import Work


@dataclass(frozen=True)
class Asked:
    """distance: mm along each face's outward normal; stepped: straight walls, the
    border of the face stays; joining: added matter joins bodies it touches."""

    distance: float
    stepped: bool = False
    joining: bool = True


@dataclass(frozen=True)
class _Pending:
    """A face still to be pushed in the current state of the body."""

    number: int
    face: Shape
    normal: tuple[float, float, float]

    def in_shape(self, owner: Body, index: ShapeIndex) -> _Pending:
        return replace(self, face=index.get("face", owner.faces.index(self.number)))


class PrismPush:
    """The push of some faces of one body, from one snapshot to the next."""

    def __init__(self, work: Work, snapshot: Snapshot, body: int, faces: Sequence[int], asked: Asked) -> None:
        self.work, self.snapshot, self.body, self.asked = work, snapshot, body, asked
        self.waiting = list(faces)
        self.joined: set[int] = set()
        self.warnings: list[str] = []
        self.where = [text_id("face", f) for f in faces]

    @property
    def owner(self) -> Body:
        return self.snapshot.body(self.body)

    def fail(self, why: str) -> CannotDo:
        return CannotDo(why, self.where, field="distance")

    def run(self) -> Snapshot:
        before = self.work.geometry.solid(self.owner.shape).index
        while self.waiting:
            self.push_group(self.next_group())
        self.work.progress(0.8, "checking the result")
        if self.work.mode.checks:
            solid = self.work.geometry.solid(self.owner.shape)
            found = fault(solid.index, before, solid.volume.amount)
            if found:
                raise self.fail(found)
        return self.snapshot

    def reached(self) -> list[Body]:
        """Other solids that the faces, swept straight, would meet and join; the warnings tell those that stay apart."""
        index, owner = self.work.geometry.solid(self.owner.shape).index, self.owner
        sweeps = []
        for number in self.waiting:
            face = index.get("face", owner.faces.index(number))
            sweeps.append(prism(index, face, [self.asked.distance * c for c in plane_normal(face)]).shape)
        return self.touched(owner, sweeps)

    def next_group(self) -> list[_Pending]:
        """Faces that one operation can push at once: parallel ones, or ones that share no corner.  Faces that do
        share one go in turn, so that the second grows with the first and their corner fills."""
        owner = self.owner
        index = self.work.geometry.solid(owner.shape).index
        chosen: list[_Pending] = []
        corners: list[set[int]] = []
        for number in self.waiting:
            if number not in owner.faces:
                raise self.fail(f"face {text_id('face', number)} vanishes before it is its turn; push it alone")
            face = index.get("face", owner.faces.index(number))
            normal = plane_normal(face)
            own = {index.find("vertex", v) for v in parts_of(face, "vertex")}
            if all(
                _along(normal, other.normal) > 1 - 1e-9 or not own & theirs
                for other, theirs in zip(chosen, corners, strict=True)
            ):
                chosen.append(_Pending(number, face, normal))
                corners.append(own)
        taken = {p.number for p in chosen}
        self.waiting = [n for n in self.waiting if n not in taken]
        return chosen

    def push_group(self, group: list[_Pending]) -> None:
        owner, distance = self.owner, self.asked.distance
        solid = self.work.geometry.solid(owner.shape)
        leaning = sum(neighbours_not_square(solid.index, p.face, p.normal) for p in group)
        if leaning and self.asked.stepped:
            self.warnings.append(f"a step stays at {plural(leaning, 'neighbour')} not square to the face")
        others: list[Body] = []
        if distance > 0:
            sweeps = [prism(solid.index, p.face, [distance * c for c in p.normal]).shape for p in group]
            others = self.touched(owner, sweeps)
            self.joined |= {other.id for other in others}
        shapes = [body.shape for body in (owner, *others)]
        merged_or_apart(self.work, "prism", shapes, lambda merge: self.combine_group(owner, group, others, merge))
        self.drop_joined()

    def combine_group(self, owner: Body, group: list[_Pending], others: Sequence[Body], merge: bool) -> None:
        solid = self.work.geometry.solid(owner.shape)
        group = [p.in_shape(owner, solid.index) for p in group]
        distance = self.asked.distance
        prisms = [self.swept(solid, p) for p in group]
        joined = [ShapeIndex(self.in_place(owner, other)) for other in others]
        sources = [(solid.index, owner.ids()), *((i, o.ids()) for i, o in zip(joined, others, strict=True))]
        tools = [*(p.shape for p in prisms), *(i.shape for i in joined)]
        result, trace = combine("unite" if distance > 0 else "subtract", solid.shape, tools, merge=merge)
        pieces = len(parts_of(result, "solid"))
        if pieces != 1:
            raise self.fail(
                f"the body would fall into {pieces} pieces" if pieces else "nothing of the body would be left"
            )
        result = single_solid(result)
        ids = carry_ids(sources, _stand_ins(owner, solid.index, group, prisms), trace, ShapeIndex(result))
        self.snapshot = reshape_body(self.snapshot, self.work.geometry, owner, Solid(result), ids)

    def swept(self, solid: Solid, pending: _Pending) -> Prism:
        step = [self.asked.distance * c for c in pending.normal]
        if self.asked.stepped:
            return prism(solid.index, pending.face, step)
        topology, face = solid.topology, solid.index.find("face", pending.face)
        found = following(topology, face, np.array(step))
        if found is None:
            raise self.fail("its neighbours meet before it gets there; a shorter way works, or keeping its border")
        swept, left = found
        if left:
            self.warnings.append(f"a step stays at {plural(left, 'neighbour')} that cannot follow")
        return swept

    def in_place(self, owner: Body, other: Body) -> Shape:
        """Another body's shape in the coordinates of `owner`."""
        here, there = (self.snapshot.occurrences(b.id)[0].matrix for b in (owner, other))
        shape = self.work.geometry.solid(other.shape).shape
        return placed(shape, (here.inverse @ there))

    def drop_joined(self) -> None:
        nodes = {o.node.id for b in self.joined if b in self.snapshot.bodies for o in self.snapshot.occurrences(b)}
        if nodes:
            self.snapshot = self.snapshot.without_nodes(nodes)

    def touched(self, owner: Body, sweeps: Sequence[Shape]) -> list[Body]:
        """Other solids that the added matter meets over an area and joins; those that stay apart are told."""
        many = len(self.snapshot.occurrences(owner.id)) > 1
        found: list[Body] = []
        for other in self.snapshot.bodies.values():
            if other.id == owner.id or other.kind != "solid":
                continue
            shape = self.in_place(owner, other)
            near = [t for t in sweeps if rough_box(t).meets(rough_box(shape), TOUCHING)]
            if not any(len(parts_of(combine("unite", t, [shape], merge=False)[0], "solid")) == 1 for t in near):
                continue
            if not self.asked.joining:
                self.warnings.append(f"touches {other.name}, kept apart")
            elif other.locked:
                self.warnings.append(f"touches {other.name}, which is locked and stays apart")
            elif many or len(self.snapshot.occurrences(other.id)) > 1:
                self.warnings.append(f"touches {other.name}, kept apart: a part used in several places does not join")
            else:
                found.append(other)
        return found


def _stand_ins(
    owner: Body, index: ShapeIndex, group: Sequence[_Pending], prisms: Sequence[Prism]
) -> list[tuple[str, int, Shape]]:
    """Face, edges and corners at the far end of each prism carry on the ids of the pushed face."""
    found: list[tuple[str, int, Shape]] = []
    for pending, swept in zip(group, prisms, strict=True):
        found.append(("face", pending.number, swept.top))
        for kind, pairs in swept.top_parts.items():
            found += [(kind, owner.ids()[kind][index.find(kind, old)], new) for old, new in pairs]
    return found


def _along(point: Sequence[float], direction: Sequence[float]) -> float:
    return sum(p * d for p, d in zip(point, direction, strict=True))

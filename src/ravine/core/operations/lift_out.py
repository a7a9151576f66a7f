"""Lift a feature out into a solid of its own: the matter of a boss, the plug of a pocket, the pin of a hole."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..errors import CannotDo, EditError
from ..features.feature import Feature
from ..features.recogniser import features_of
from ..kernel.boolean import combine, single_solid
from ..kernel.check import fault
from ..kernel.shapes import Shape, parts_of
from ..kernel.volumes import volume_properties
from ..local.chamfers import chamfer_of
from ..local.features import Lifted, lift_parts
from ..local.fillets import fillet_of
from ..local.topology import SolidTopology
from ..model.foot import Foot
from ..model.records import FEET
from ..model.references import Reference
from ..model.snapshot import Body, Occurrence, Snapshot
from ..rigid import vec_of
from ..tolerances import AGREES, TOUCHING
from .bodies import beside, new_body
from .facts import change_facts
from .feature_size import feature_at
from .ladder import FAILURES, NothingWorked, first_that_works
from .remove import take_away
from .reshaping import refusal
from .work import Fact, Operation, Outcome, Work

WORDS = {"fillet": "Round", "hole": "Pin of a hole", "pocket": "Plug of a pocket", "slot": "Plug of a slot"}


@dataclass(frozen=True, kw_only=True)
class LiftOut(Operation):
    """faces: any of the features; way: cut (the part closes behind it) or copy (the part stays as it is)."""

    faces: tuple[Reference, ...]
    way: str = "cut"

    def do(self, work: Work) -> Outcome:
        snapshot, changed = work.snapshot, set[int]()
        for reference, faces, item in self._features(work):
            body, _ = reference.owner
            now = snapshot.body(body.id)
            here = {now.faces.index(f) for f in faces if f in now.faces}
            if len(here) < len(faces):
                raise EditError("one of the picked features went with another; lift them one by one", [reference])
            closed = take_away(work, snapshot, now, here)
            shape = lifted_shape(work, now, here, closed.body(now.id))
            snapshot = closed if self.way == "cut" else snapshot
            name = WORDS.get(item.kind, item.kind.capitalize())
            fresh, snapshot = new_body(work, snapshot, shape, _free(snapshot, f"{name} of {body.name}"), body)
            radius, plain = _without_foot_round(work, body, {body.faces.index(f) for f in faces}, item)
            foot = _foot(work, fresh, item, closed_volume=work.geometry.solid(closed.body(now.id).shape).volume_mm3,
                         volume=work.geometry.solid(now.shape).volume_mm3)  # fmt: skip
            foot = replace(foot, round=radius, plain=plain)
            snapshot = snapshot.with_kept(FEET, {**snapshot.kept(FEET), fresh.id: foot})
            snapshot = beside(snapshot, _place(snapshot, body, reference), fresh)
            changed |= {fresh.id, *([body.id] if self.way == "cut" else [])}
        names = ", ".join(snapshot.bodies[b].name for b in sorted(set(snapshot.bodies) - set(work.snapshot.bodies)))
        return Outcome(snapshot, (*change_facts(work, snapshot, changed), Fact("made", "made", names)))

    def _features(self, work: Work) -> list[tuple[Reference, list[int], Feature]]:
        """Each once: a face of it, all its faces (ids), and what it is."""
        found: dict[tuple[int, ...], tuple[Reference, list[int], Feature]] = {}
        for reference in self.faces:
            body, index = reference.owner
            topology = work.geometry.solid(body.shape).topology
            rows = [f for f in features_of(topology) if f.kind not in ("fillet", "chamfer")]
            number = feature_at(rows, index)
            if number is None:
                raise EditError(
                    f"{reference} belongs to no feature that could be lifted out", [reference], field="faces"
                )
            item = rows[number]
            whole = with_what_stands_on_it(rows, item)
            for piece in _pieces(topology, whole | _blends_at_its_border(topology, whole, item)):
                ids = [body.faces[f] for f in sorted(piece)]
                found.setdefault((body.id, *ids), (reference, ids, item))
        return list(found.values())


def lifted_shape(work: Work, body: Body, faces: set[int], closed: Body) -> Shape:
    """What the part and the closed part do not have in common; built from the faces where these bound it alone."""
    start, end = work.geometry.solid(body.shape), work.geometry.solid(closed.shape)
    change = end.volume_mm3 - start.volume_mm3

    def from_faces() -> Shape:
        return _whole(lift_parts(start.topology, faces))

    def by_difference() -> Shape:
        tools = (end.shape, start.shape) if change > 0 else (start.shape, end.shape)
        return single_solid(combine("subtract", tools[0], [tools[1]])[0])

    ways = [("from its faces", lambda: _checked(from_faces(), change)),
            ("by difference", lambda: _checked(by_difference(), change))]  # fmt: skip
    try:
        return first_that_works(work, "lift out", ways)
    except NothingWorked as nothing:
        raise refusal(work, body, nothing.first, "faces") from None


def with_what_stands_on_it(rows: Sequence[Feature], item: Feature) -> set[int]:
    """Its faces, and those of features that stand on nothing else, such as a blind hole in the top of a boss."""
    found = set(item.faces)
    while True:
        more = {f for row in rows if row.stands_on and set(row.stands_on) <= found for f in row.faces} - found
        if not more:
            return found
        found |= more


def _blends_at_its_border(topology: SolidTopology, faces: set[int], item: Feature) -> set[int]:
    """Rounds and chamfers between it and the faces that it starts from, such as at the mouth of a hole."""
    beside = {b for f in faces for b in topology.neighbours(f)} - faces
    found = set()
    for face in beside:
        blend = fillet_of(topology, face) or chamfer_of(topology, face)
        if blend is not None and set(blend.supports) & faces and set(blend.supports) & set(item.stands_on):
            found.add(face)
    return found


def _pieces(topology: SolidTopology, faces: set[int]) -> list[set[int]]:
    """What hangs together: the letters of a word come out one by one."""
    left, found = set(faces), []
    while left:
        piece, waiting = set[int](), [min(left)]
        while waiting:
            face = waiting.pop()
            if face in left:
                left.discard(face)
                piece.add(face)
                waiting += topology.neighbours(face)
        found.append(piece)
    return found


def _whole(parts: Sequence[Lifted]) -> Shape:
    """A boss without the holes that run from it."""
    shape: Shape = parts[0].shape
    for part in parts[1:]:
        shape = combine("unite" if part.matter is parts[0].matter else "subtract", shape, [part.shape])[0]
    return single_solid(shape)


def _foot(work: Work, fresh: Body, item: Feature, *, closed_volume: float, volume: float) -> Foot:
    """At the level of the face that it stood on: below what rises, above what was sunk."""
    rises = closed_volume < volume
    way, place = np.array(item.way), np.array(item.place)
    topology = work.geometry.solid(fresh.shape).topology
    edges = [e for e in range(topology.index.count("edge")) if topology.meeting(e) != "degenerate"]
    corners = np.concatenate([topology.samples(e, 9) for e in edges])
    heights = corners @ way
    level = float(heights.min() if rises else heights.max())
    return Foot(fresh.id, vec_of(place + (level - place @ way) * way), vec_of(way), rises)


def _without_foot_round(work: Work, body: Body, faces: set[int], item: Feature) -> tuple[float, str]:
    """Radius of the round by which a feature meets the face that it stands on, and the address of its shape without it;
    0 and empty where there is none, or none of one radius, or it does not go."""
    topology = work.geometry.solid(body.shape).topology
    feet = {
        f: found.radius for f in faces
        if (found := fillet_of(topology, f)) is not None and set(found.supports) & set(item.stands_on)
    }  # fmt: skip
    if not feet or max(feet.values()) - min(feet.values()) > TOUCHING:
        return 0.0, ""
    try:
        sharp = take_away(work, work.snapshot, body, set(feet)).body(body.id)
        own = {sharp.faces.index(body.faces[f]) for f in faces - feet.keys()}
        closed = take_away(work, work.snapshot.with_body(sharp), sharp, own).body(body.id)
        shape = lifted_shape(work, sharp, own, closed)
    except FAILURES:
        return 0.0, ""  # it is planted with the round as it is
    return next(iter(feet.values())), work.geometry.put_shape(shape)


def _checked(shape: Shape, change: float) -> Shape:
    """One sound solid with the volume that the part gains or loses.  Raises CannotDo."""
    pieces = len(parts_of(shape, "solid"))
    if pieces != 1:
        raise CannotDo(f"it would come out in {pieces} pieces")
    found = fault(shape)
    if found:
        raise CannotDo(found)
    volume = volume_properties(shape).amount
    if abs(volume - abs(change)) > AGREES * max(volume, abs(change)):
        raise CannotDo("what is lifted out does not fill what it leaves")
    return shape


def _place(snapshot: Snapshot, body: Body, reference: Reference) -> Occurrence:
    shown = snapshot.occurrences(body.id)
    return next((o for o in shown if o.node.id == reference.node), shown[0])


def _free(snapshot: Snapshot, name: str) -> str:
    taken = {b.name for b in snapshot.bodies.values()}
    return name if name not in taken else next(n for k in range(2, 10**6) if (n := f"{name} {k}") not in taken)

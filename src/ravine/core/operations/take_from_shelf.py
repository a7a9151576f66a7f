"""Parts from the shelf put where they belong: on holes with what goes with them, on faces, or by themselves."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from ..errors import EditError
from ..kernel.tessellate import mesh, view_deflection
from ..local.surfaces import Floats
from ..model.derive import blank_ids, reshape_body
from ..model.geometry import Solid
from ..model.joint import Joint
from ..model.part_data import PartData
from ..model.records import JOINTS, PARTS
from ..model.references import Reference
from ..model.snapshot import Body, Node, Snapshot, text_id
from ..rigid import IDENTITY, Rigid
from ..shelf.bodies import shape_of
from ..shelf.fitting import alike, bores_along, length_for, mouth_of, size_for, stack_of
from ..shelf.items import FAMILIES, Family, Item, asked, search, whole_item
from ..shelf.on_shafts import SHAFT_SEATS, ShaftSeat, depth_of, size_on
from .work import Fact, Operation, Outcome, Work

EXTRAS = {
    "none": "by itself",
    "washer": "with a washer",
    "nut": "with a nut",
    "nut and washers": "with a nut and two washers",
}
LEVEL = 1e-6


@dataclass(frozen=True, kw_only=True)
class TakeFromShelf(Operation):
    """item: an item's id (iso4762-m5x16), a family with or without a size (iso4762, iso4762-m5), of which holes tell
    the rest, or words to search by; on: faces or edges of holes, flat faces, grooves around shafts, ends of shafts;
    holes: one or alike; extras: of EXTRAS; real: with threads cut; joined: whether it stays on what it was put on."""

    item: str
    on: tuple[Reference, ...] = ()
    holes: str = "one"
    extras: str = "none"
    real: bool = False
    joined: bool = True

    def do(self, work: Work) -> Outcome:
        if not self.on:
            return self._alone(work)
        places = [p for r in self.on for p in (alike(work.geometry, r) if self.holes == "alike" else [r])]
        places = list({r.placed: r for r in places}.values())
        taking = Taking(work, self.joined, self.real)
        counts: dict[str, int] = {}
        for number, place in enumerate(places):
            work.progress(number / len(places), "putting in")
            for item in self._put(taking, place):
                counts[item.name] = counts.get(item.name, 0) + 1
        facts = tuple(Fact("taken", f"{count} ×", name) for name, count in counts.items())
        return Outcome(taking.snapshot, facts)

    def _alone(self, work: Work) -> Outcome:
        item = item_of(self.item)
        taking = Taking(work, False, self.real)
        taking.place(item, IDENTITY)
        return Outcome(taking.snapshot, (Fact("taken", "1 ×", item.name),))

    def _put(self, taking: Taking, place: Reference) -> list[Item]:
        work = taking.work
        family, size, length = _asked(self.item)
        if family.seat in SHAFT_SEATS:
            shaft = SHAFT_SEATS[family.seat](work.geometry, place)
            item = whole_item(family, size or size_on(family, shaft), length)
            taking.around(item, shaft)
            return [item]
        mouth = mouth_of(work.geometry, place)
        size = size or size_for(family, mouth)
        row = family.rows[size]
        extras = self.extras if family.seat in ("head", "flush") and family.kind == "screw" else "none"
        washer = Item(FAMILIES["iso7089"], size, None) if extras != "none" and "washer" in extras else None
        nut = Item(FAMILIES["iso4032"], size, None) if "nut" in extras else None
        stack = stack_of(bores_along(work.snapshot, work.geometry, mouth), row.get("d", 0.0) - 0.02)
        high = washer.row["h"] if washer is not None else 0.0
        under = high if family.seat == "head" else 0.0
        if nut is not None and stack.exit is None:
            raise EditError("the hole has no far side that a nut could sit on", self.on, field="extras")
        if length is None and family.lengths(size):
            behind = high if nut is not None else 0.0
            if "d" not in row:
                whole_item(family, size, None)  # nothing tells its length: it refuses, with those there are
            length = length_for(family, size, stack, nut.row["m"] if nut is not None else 0.0, under + behind)
        item = Item(family, size, length)
        taken = [item]
        seat = mouth.seat
        at = mouth.point
        if washer is not None and under:
            node = taking.seated(washer, at, mouth.way, mouth.wall, seat)
            seat, at = taking.top_of(washer, node), at + high * mouth.way
            taken.append(washer)
        taking.seated(item, at, mouth.way, mouth.wall, seat)
        screw_at = at
        if nut is not None:
            at, seat = mouth.point - stack.grip * mouth.way, stack.exit
            if washer is not None:
                node = taking.seated(washer, at, -mouth.way, mouth.wall, seat)
                seat, at = taking.top_of(washer, node), at - high * mouth.way
                taken.append(washer)
            turn = phase(item, screw_at, nut, at, mouth.way) if taking.cuts(nut) else 0.0
            taking.seated(nut, at, -mouth.way, mouth.wall, seat, turn)
            taken.append(nut)
        return taken


def item_of(text: str) -> Item:
    """That an id or words stand for.  Raises EditError."""
    return whole_item(*_asked(text))


def told_item(text: str) -> str:
    """In words, as far as it is said."""
    try:
        family, size, length = _asked(text)
    except EditError:
        return text
    if size is None:
        return f"{family.title} {family.standard}".strip()
    return Item(family, size, length).name


def _asked(text: str) -> tuple[Family, str | None, float | None]:
    """Family, and size and length where they are said; else what a search for the words comes upon first."""
    named = asked(text)
    if named is not None:
        return named
    found = search(text, limit=1)
    if not found:
        tried = f"the shelf has nothing for “{text[:40]}”"
        raise EditError(f"{tried}; try a kind and a size, such as socket M5x16", field="item")
    said = any(ch in text.lower() for ch in ("x", "×", "*")) or found[0].length is None
    return found[0].family, found[0].size, found[0].length if said else None


class Taking:
    """The state as parts are put in."""

    def __init__(self, work: Work, joined: bool, real: bool = False) -> None:
        self.work, self.joined, self.real, self.snapshot = work, joined, real, work.snapshot
        self.bodies = {(p.item, p.thread): p.body for p in work.snapshot.kept(PARTS).values() if p.item}

    def body(self, item: Item) -> Body:
        thread = "real" if self.cuts(item) else ""
        known = self.snapshot.bodies.get(self.bodies.get((item.id, thread), -1))
        if known is not None:
            return known
        self.work.progress(0.0, f"making {item.designation}")
        shape = shape_of(item, bool(thread))
        (number,), snapshot = self.snapshot.fresh(1)
        body = Body(number, item.designation, "solid", "", (), material=item.family.material)
        snapshot = reshape_body(snapshot, self.work.geometry, body, Solid(shape), blank_ids(shape))
        mesh(shape, view_deflection(shape))
        data = PartData(number, item=item.id, source="bought", thread=thread)
        self.snapshot = snapshot.with_kept(PARTS, {**snapshot.kept(PARTS), number: data})
        self.bodies[item.id, thread] = number
        return self.snapshot.body(number)

    def cuts(self, item: Item) -> bool:
        """Whether its thread is real."""
        return self.real and item.family.threaded

    def place(self, item: Item, matrix: Rigid) -> int:
        body = self.body(item)
        (number,), snapshot = self.snapshot.fresh(1)
        snapshot = snapshot.with_node(Node(number, item.designation, matrix, (), body.id))
        self.snapshot = replace(snapshot, roots=(*snapshot.roots, number))
        return number

    def seated(
        self, item: Item, at: Floats, way: Floats, wall: Reference | None, seat: Reference | None, turn: float = 0.0
    ) -> int:
        """On a seat, its axis along `way`, turned about it (radians); joined to the bore's wall and to the seat."""
        node = self.place(item, _upright(at, way) @ Rigid.about((0, 0, 0), (0, 0, 1), turn))
        if self.joined:
            level = item.family.seat in ("flush", "plug")
            axis, foot = self._axis_of(item), self._flat_of(item, 1.0 if level else -1.0, 0.0)
            if wall is not None and axis is not None:
                self._join("coaxial", node, axis, wall, way)
            if seat is not None and foot is not None:
                self._join("on", node, foot, seat, None, 1 if level else -1)
        return node

    def around(self, item: Item, seat: ShaftSeat) -> int:
        """A ring in a groove, in its middle where it is round itself; a cap over an end."""
        axis, foot = self._axis_of(item), self._flat_of(item, -1.0, 0.0)
        at = seat.middle if foot is None else seat.point - depth_of(item, seat) * seat.way
        node = self.place(item, _upright(at, seat.way))
        if self.joined:
            if axis is None:
                self._join("fixed", node, 0, seat.wall, None)
            else:
                self._join("coaxial", node, axis, seat.wall, seat.way)
            if foot is not None and seat.stop is not None:
                self._join("on", node, foot, seat.stop, None, -1)
        return node

    def top_of(self, item: Item, node: int) -> Reference | None:
        """The upper face of a washer, as a seat for what lies on it."""
        face = self._flat_of(item, 1.0, item.row["h"])
        return None if face is None else _placed(self.snapshot, node, face)

    def _axis_of(self, item: Item) -> int | None:
        """Number in its solid of the round face about its axis that is largest."""
        topology = self.work.geometry.solid(self.body(item).shape).topology
        rows = [f for f in range(topology.index.count("face")) if topology.surface(f).kind == "cylinder"]
        on = [f for f in rows if abs(float(topology.surface(f).axial.z[2])) > 1 - LEVEL
              and float(np.abs(topology.surface(f).axial.origin[:2]).max()) < LEVEL]  # fmt: skip
        return max(on, key=lambda f: float(np.ptp(topology.boxes[f][[2, 5]])), default=None)

    def _flat_of(self, item: Item, side: float, height: float) -> int | None:
        topology = self.work.geometry.solid(self.body(item).shape).topology
        for face in range(topology.index.count("face")):
            if topology.surface(face).kind == "plane":
                point, normal = topology.middle(face)
                if normal[2] * side > 1 - LEVEL and abs(point[2] - height) < LEVEL:
                    return face
        return None

    def _join(self, kind: str, node: int, face: int, to: Reference, way: Floats | None, sense: int = 1) -> None:
        of = _placed(self.snapshot, node, face)
        if kind == "coaxial":
            one, other = (self._direction(r) for r in (of, to))
            sense = 1 if float(one @ other) >= 0 else -1
        (number,), snapshot = self.snapshot.fresh(1)
        known = {j.name for j in snapshot.kept(JOINTS).values()}
        name = next(n for k in range(len(known) + 1, 10**6) if (n := f"J{k}") not in known)
        assert to.node is not None
        bodies = (of.owner[0].id, to.owner[0].id)
        pose = tuple(to.matrix.inverse @ of.matrix) if kind == "fixed" else ()
        joint = Joint(number, kind, (of.placed,), (to.placed,), (node, to.node), bodies, name, sense=sense, pose=pose)
        self.snapshot = snapshot.with_kept(JOINTS, {**snapshot.kept(JOINTS), number: joint})

    def _direction(self, reference: Reference) -> Floats:
        body, index = reference.owner
        surface = self.work.geometry.solid(body.shape).topology.surface(index)
        return np.array(reference.matrix.direction(surface.axial.z))


def _placed(snapshot: Snapshot, node: int, face: int) -> Reference:
    body = snapshot.body(snapshot.nodes[node].body or 0)
    found = Reference(text_id("face", body.faces[face]))
    found.kind, found.number = "face", body.faces[face]
    found.body, found.at, found.node, found.matrix = body, face, node, snapshot.nodes[node].placement
    return found


def phase(screw: Item, screw_at: Floats, nut: Item, nut_at: Floats, way: Floats) -> float:
    """Radians that a nut which looks against a screw is turned by so that its thread runs in the screw's.  Both are cut
    from a pitch below their own end, the screw's groove at the angle where the nut's is half a turn off."""
    apart = float((nut_at - screw_at) @ way) + (screw.length or 0.0)
    return -2 * math.pi * (apart / nut.row["pitch"])


def _upright(at: Floats, way: Floats) -> Rigid:
    x = np.cross(way, np.eye(3)[int(np.abs(way).argmin())])
    x /= np.linalg.norm(x)
    return Rigid.of(np.column_stack([x, np.cross(way, x), way]), at)

"""What laying a bend flat and bending it again share: a sheet cut apart beside a strip, what lies beyond it moved, and
both joined to the strip in its other shape."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import LineString

from ..errors import CannotDo
from ..kernel import build
from ..kernel.boolean import combine, single_solid
from ..kernel.check import fault
from ..kernel.history import Trace, carry_ids
from ..kernel.properties import area_properties
from ..kernel.shapes import Shape, ShapeIndex, parts_of
from ..local.surfaces import Floats
from ..local.topology import SolidTopology
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.laid_bend import LaidBend
from ..model.records import LAID_BENDS
from ..model.snapshot import Body, Snapshot
from ..rigid import Rigid
from ..sheet.outlines import Outlines, plane_polygon
from .ladder import merged_or_apart
from .work import Work

Flags = NDArray[np.bool_]
AT = 1e-5  # mm, within which a corner is on a border
TOUCHED = 1e-7  # share of the surface that may go missing where parts are joined
MISSING = 1e-6  # share of the volume of a strip that may be lost or found when it is cut out


@dataclass(frozen=True, eq=False)
class Apart:
    """A sheet without one strip.  near: what stays; far: what lies beyond; motion: of that."""

    near: Shape
    far: tuple[Shape, ...]
    motion: Rigid
    trace: Trace

    @property
    def moved(self) -> list[Shape]:
        return [build.moved(f, self.motion) for f in self.far]


@dataclass(frozen=True, eq=False)
class Strip:
    """The matter of a bend, flat or bent, which a hole may divide.  ends: mm² of its two cross-sections; stand_ins:
    faces that carry ids on; keep: edges that stay where nothing bends at them."""

    shapes: Sequence[Shape]
    ends: tuple[float, float]
    stand_ins: Sequence[tuple[str, int, Shape]]
    keep: Sequence[Shape] = ()


def strip_of(bend: LaidBend, shapes: Sequence[Shape], to_end: Rigid, heights: Callable[[Floats], Floats]) -> Strip:
    """to_end: of the frame of the bend, to the one where it ends; heights: of points (n, 3) in the frame over the side
    that is seen."""
    frames = [bend.frame.inverse, (bend.frame @ to_end).inverse]
    ends, sides, keep = [0.0, 0.0], [], []
    for number, shape in enumerate(shapes):
        topology = SolidTopology(ShapeIndex(shape))
        beside, on = set(), set()
        for face in range(topology.index.count("face")):
            edges = set(topology.edges_of(face))
            border = np.vstack([topology.samples(e, 3) for e in sorted(edges)])
            for k, back in enumerate(frames):
                there = back.points(border)
                if np.abs(there[:, 0]).max() < AT and np.abs(there[:, 2] + bend.depth / 2).max() < bend.depth:
                    ends[k] += area_properties(topology.index.get("face", face)).amount
                    beside |= edges
            up = heights(frames[0].points(border))
            for side, height in enumerate((0.0, -bend.depth)):
                if np.abs(up - height).max() < AT:
                    on |= edges
                    if number < len(bend.faces):
                        sides.append(("face", bend.faces[number][side], topology.index.get("face", face)))
        keep += [topology.index.get("edge", e) for e in sorted(beside & on)]
    return Strip(shapes, (ends[0], ends[1]), sides, keep)


def apart(
    work: Work, body: Body, tools: Sequence[Shape], amount: float, near: Callable[[Floats], Flags],
    far: Callable[[Floats], Flags], motion: Rigid, where: Sequence[str],
) -> Apart:  # fmt: skip
    """tools: that take the strip off; amount: mm³ of it; near, far: whether corners (n, 3) lie where it begins and
    where it ends.  Raises CannotDo."""
    solid = work.geometry.solid(body.shape)
    result, trace = combine("subtract", solid.shape, tools, merge=False)
    pieces = parts_of(result, "solid")
    left = sum(Solid(p).volume_mm3 for p in pieces)
    if abs(solid.volume_mm3 - left - amount) > MISSING * amount + 1e-9 * solid.volume_mm3:
        raise CannotDo("something else stands on the bend or lies in it", where)
    stay: list[Shape] = []
    go: list[Shape] = []
    for piece in pieces:
        corners = corners_of(piece)
        beside = bool(near(corners).any()), bool(far(corners).any())
        if all(beside):
            raise CannotDo("beside the bend both sides of it hang together; rip them apart there first", where)
        (go if beside[1] else stay).append(piece)
    if len(stay) != 1:
        raise CannotDo("without the bend nothing of the part stays in one piece", where)
    return Apart(stay[0], tuple(go), motion, trace)


def joined(work: Work, snapshot: Snapshot, body: Body, parts: Apart, strip: Strip, where: Sequence[str]) -> Snapshot:
    """The sheet in one again, ids carried.  Laid bends that lie on what moved go along.  Raises CannotDo."""
    solid, moved = work.geometry.solid(body.shape), parts.moved
    pairs = [(ShapeIndex(a), ShapeIndex(b)) for a, b in zip(parts.far, moved, strict=True)]
    own = [ShapeIndex(s) for s in strip.shapes]
    keep = [*strip.keep, *(e for s in (parts.near, *moved) for e in _divided(s))]

    def worked(merge: bool) -> tuple[Shape, Trace]:
        return combine("unite", parts.near, [*strip.shapes, *moved], merge=merge, keep=keep)

    result, further = merged_or_apart(work, "unite", [body.shape], worked)
    if len(parts_of(result, "solid")) != 1:
        raise CannotDo("the bend no longer meets what it joined", where)
    result = single_solid(result)
    index = ShapeIndex(result)
    found = fault(index, solid.index) if work.mode.checks else None
    if found:
        raise CannotDo(found, where)
    before = sum(area_properties(s).amount for s in (parts.near, *strip.shapes, *moved))
    hidden = 2 * (strip.ends[0] + (strip.ends[1] if moved else 0.0))
    if abs(before - hidden - area_properties(result).amount) > TOUCHED * before:
        raise CannotDo("there it would touch the sheet beside it; give the ends of the bend reliefs first", where)

    def trace(shape: Shape) -> Sequence[Shape]:
        if any(index.find("face", shape) >= 0 for index in own):
            return further(shape)
        return [b for a in parts.trace(shape) for b in further(_now(pairs, a))]

    ids = carry_ids([(solid.index, body.ids())], strip.stand_ins, trace, index)
    rows = snapshot.kept(LAID_BENDS)
    far = [SolidTopology(ShapeIndex(f)) for f in parts.far]
    along = {k for k, b in rows.items() if b.body == body.id and any(faces_under(b, topology) for topology in far)}
    after = {key: bend.moved(parts.motion) if key in along else bend for key, bend in rows.items()}
    snapshot = reshape_body(snapshot, work.geometry, body, Solid.mapped(index), ids)
    return snapshot.with_kept(LAID_BENDS, after) if rows else snapshot


def _divided(shape: Shape) -> list[Shape]:
    """Edges between faces in one plane, which were there before and stay."""
    topology = SolidTopology(ShapeIndex(shape))
    return [
        topology.index.get("edge", e) for e in range(topology.index.count("edge"))
        if {topology.surface(f).kind for f in topology.faces_of(e)} == {"plane"} and topology.meeting(e) == "same"
    ]  # fmt: skip


def _now(pairs: Sequence[tuple[ShapeIndex, ShapeIndex]], shape: Shape) -> Shape:
    for before, after in pairs:
        for kind in ("face", "edge", "vertex"):
            at = before.find(kind, shape)
            if at >= 0:
                return after.get(kind, at)
    return shape


def faces_under(bend: LaidBend, topology: SolidTopology, *, behind: bool = False) -> list[int]:
    """Plane faces on which the middle line of a laid bend lies, on the side that is seen or behind it."""
    height, way = (-bend.depth, -1.0) if behind else (0.0, 1.0)
    back, found, outlines = bend.frame.inverse, [], Outlines(topology)
    line = np.array([[bend.length / 2, bend.low], [bend.length / 2, bend.high]])
    for face in range(topology.index.count("face")):
        if topology.surface(face).kind != "plane":
            continue
        point, normal = topology.middle(face)
        if abs(back.point(point)[2] - height) > AT or way * back.direction(normal)[2] < 1 - 1e-7:
            continue
        shape = plane_polygon([back.points(loop)[:, :2] for loop in outlines.loops(face)])
        if shape.intersection(LineString(line)).length > AT:
            found.append(face)
    return found


def corners_of(shape: Shape) -> Floats:
    """(n, 3), mm."""
    topology = SolidTopology(ShapeIndex(shape))
    return np.array([topology.point(v) for v in range(topology.index.count("vertex"))])

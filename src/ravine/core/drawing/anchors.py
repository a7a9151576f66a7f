"""What picked things are in a view: places, lines, rounds; as seen, and as they are in space."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..dimensions.reading import anchor_of
from ..errors import EditError
from ..kernel.queries import edge_facts, vertex_point
from ..local.surfaces import Floats
from ..model.drawing_sheet import Point2
from ..model.geometry import GeometryStore, Solid
from ..model.references import Reference
from .projection import ViewFrame

ALONG = 1e-6  # sine, up to which a direction runs along the eye
FLAT = 1e-6
SAMPLES = 17  # along each edge of a face


@dataclass(frozen=True, eq=False)
class Seen:
    """kind: point, line or round; at: (2,) mm in the view's plane; ends: of a line, (2, 2); radius: of a round, as it
    is in space; depth: mm towards the eye, None of what runs along it; level: whether all of it lies parallel to the
    paper; wide: of a round thing seen from the side, its two outlines' distance, and axis the ends
    of its axis; reference: what was picked."""

    kind: str
    at: Floats
    reference: Reference
    ends: Floats | None = None
    radius: float | None = None
    depth: float | None = None
    level: bool = True
    wide: float | None = None
    axis: Floats | None = None
    hollow: bool = False

    @property
    def way(self) -> Floats:
        assert self.ends is not None
        off = self.ends[1] - self.ends[0]
        return np.asarray(off / np.hypot(*off))


def seen_as(geometry: GeometryStore, reference: Reference, frame: ViewFrame, near: Point2 | None = None) -> Seen:
    """near: where in the view it was picked, mm.  Raises EditError for what is neither flat, straight nor round."""
    if reference.kind == "vertex":
        body, index = reference.owner
        place = np.array(reference.matrix.point(vertex_point(geometry.solid(body.shape).index.get("vertex", index))))
        return Seen("point", frame.flat(place)[0], reference, depth=float(frame.depth(place)[0]))
    if reference.kind == "edge":
        return _edge(geometry, reference, frame)
    if reference.kind == "face":
        return _face(geometry, reference, frame, near)
    raise EditError(f"{reference} is a {reference.kind}; pick edges, corners or faces of parts", [reference])


def _edge(geometry: GeometryStore, reference: Reference, frame: ViewFrame) -> Seen:
    body, index = reference.owner
    facts = edge_facts(geometry.solid(body.shape).index.get("edge", index))
    if facts.axis is not None and facts.radius is not None:
        centre = np.array(reference.matrix.point(facts.axis[0]))
        axis = np.array(reference.matrix.direction(facts.axis[1]))
        return _round(reference, frame, centre, axis, facts.radius)
    if facts.direction is None:
        raise EditError(f"{reference} is neither straight nor round, so nothing can be measured to it", [reference])
    ends = np.array([reference.matrix.point(p) for p in facts.ends])
    return _straight(reference, frame, ends)


def _round(reference: Reference, frame: ViewFrame, centre: Floats, axis: Floats, radius: float) -> Seen:
    lean = abs(float(axis @ frame.eye))
    at, depth = frame.flat(centre)[0], float(frame.depth(centre)[0])
    if lean > 1 - ALONG:
        return Seen("round", at, reference, radius=radius, depth=depth)
    if lean < ALONG:  # from the side
        across = np.cross(axis, frame.eye)
        ends = frame.flat(np.array([centre - radius * across, centre + radius * across]))
        return Seen("line", at, reference, ends, radius, depth, wide=2 * radius)
    return Seen("point", at, reference, radius=radius, depth=depth)


def _straight(reference: Reference, frame: ViewFrame, ends: Floats) -> Seen:
    flat, depths = frame.flat(ends), frame.depth(ends)
    if float(np.hypot(*(flat[1] - flat[0]))) < ALONG * max(1.0, float(np.linalg.norm(ends[1] - ends[0]))):
        return Seen("point", flat[0], reference)
    level = abs(float(depths[1] - depths[0])) < FLAT * max(1.0, float(np.abs(depths).max()))
    return Seen("line", flat.mean(axis=0), reference, flat, depth=float(depths.mean()), level=level)


def _face(geometry: GeometryStore, reference: Reference, frame: ViewFrame, near: Point2 | None) -> Seen:
    body, index = reference.owner
    solid = geometry.solid(body.shape)
    surface = solid.topology.surface(index)
    anchor = anchor_of(geometry, reference)
    places = np.array([reference.matrix.point(p) for p in border_of(solid, index).tolist()])
    if anchor.normal is not None:
        if abs(float(anchor.normal @ frame.eye)) > ALONG:
            raise EditError(f"{reference} is flat and is not seen from its edge in this view", [reference])
        way = np.cross(anchor.normal, frame.eye)
        reach = (places - anchor.point) @ way
        ends = np.array([anchor.point + v * way for v in (reach.min(), reach.max())])
        found = _straight(reference, frame, ends)
        return Seen("line", found.at, reference, found.ends, depth=None)
    hollow = solid.topology.sign(index) < 0
    if anchor.axis is None:  # a ball
        assert anchor.radius is not None
        return Seen("round", frame.flat(anchor.point)[0], reference, radius=anchor.radius, hollow=hollow)
    if surface.kind == "cone":
        raise EditError(f"{reference} is a cone; pick its rims", [reference])
    radius, lean = float(anchor.radius or 0.0), abs(float(anchor.axis @ frame.eye))
    if lean > 1 - ALONG:
        return Seen("round", frame.flat(anchor.point)[0], reference, radius=radius, hollow=hollow)
    if lean > ALONG:
        raise EditError(f"{reference} is seen askew in this view; pick a rim of it, or another view", [reference])
    reach = (places - anchor.point) @ anchor.axis
    axis_ends = frame.flat(np.array([anchor.point + v * anchor.axis for v in (reach.min(), reach.max())]))
    if near is None:
        return Seen("line", axis_ends.mean(axis=0), reference, axis_ends, radius, wide=2 * radius, axis=axis_ends,
                    hollow=hollow)  # fmt: skip
    way = axis_ends[1] - axis_ends[0]
    side = np.array([-way[1], way[0]]) / np.hypot(*way)
    if (np.array(near) - axis_ends[0]) @ side < 0:
        side = -side
    ends = axis_ends + radius * side
    return Seen("line", ends.mean(axis=0), reference, ends, radius, wide=2 * radius, axis=axis_ends, hollow=hollow)


def border_of(solid: Solid, index: int) -> Floats:
    """Places around a face, (n, 3)."""
    return np.concatenate([solid.topology.samples(edge, SAMPLES) for edge in solid.index.edges_of_faces[index]])


def crossing_of(a: Seen, b: Seen) -> Floats:
    """Where two lines meet.  Raises EditError for parallel ones."""
    assert a.ends is not None
    assert b.ends is not None
    turn = float(a.way[0] * b.way[1] - a.way[1] * b.way[0])
    if abs(turn) < 1e-6:
        raise EditError("the two are parallel, so there is no angle between them", [a.reference, b.reference])
    off = b.ends[0] - a.ends[0]
    return np.asarray(a.ends[0] + a.way * float(off[0] * b.way[1] - off[1] * b.way[0]) / turn)


def measure_way(seen: Sequence[Seen], asked: str) -> Floats:
    """Unit direction along which a distance is measured: x or y of the view, or along the shortest way between the
    first two.  Raises EditError where what is picked has no distance in it."""
    if asked in ("x", "y"):
        way = np.array([1.0, 0.0] if asked == "x" else [0.0, 1.0])
        for one in seen:
            if one.kind == "line" and len(seen) > 1 and abs(float(one.way @ way)) > 1e-6:
                raise EditError(f"{one.reference} does not stand square to what is measured", [one.reference])
        return way
    first, *rest = seen
    if not rest:
        return first.way
    line = next((s for s in seen if s.kind == "line"), None)
    if line is not None:
        for other in seen:
            if other.kind == "line" and abs(float(line.way[0] * other.way[1] - line.way[1] * other.way[0])) > 1e-6:
                raise EditError("these two lines are not parallel; measure the angle between them",
                                [line.reference, other.reference])  # fmt: skip
        return np.array([-line.way[1], line.way[0]])
    off = rest[0].at - first.at
    size = math.hypot(*off)
    if size < 1e-9:
        raise EditError("the two lie on one another in this view", [first.reference, rest[0].reference])
    return np.asarray(off / size)

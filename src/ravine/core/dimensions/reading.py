"""What a dimension measures in a state: its value, and between which places along which direction."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..kernel.queries import edge_facts, vertex_point
from ..local.surfaces import Floats
from ..model.dimension import ANGLE, BodyDimension
from ..model.dimension import ARC as ALONG
from ..model.dimension import ROUND as ROUND_WAYS
from ..model.geometry import GeometryStore
from ..model.references import Reference, resolve
from ..model.snapshot import Snapshot
from ..tolerances import ONE_DIRECTION

AXES = {"x": (1.0, 0.0, 0.0), "y": (0.0, 1.0, 0.0), "z": (0.0, 0.0, 1.0)}
ALIGNED = 1e-6  # of two directions that have to be square or parallel
ROUND = ("cylinder", "cone")
ARC, ARM = 25, 0.7  # places along a drawn arc; its radius, of the nearer face's distance


@dataclass(frozen=True)
class Anchor:
    """One end, mm in the model.  normal: of something flat; axis: of something round or straight; radius: of something
    round."""

    reference: Reference
    point: Floats
    normal: Floats | None = None
    axis: Floats | None = None
    radius: float | None = None


@dataclass(frozen=True)
class Reading:
    """value: mm, or rad between two planes; ends: places in the model; way: unit direction from the first end to the
    second, of an angle the axis about which it grows; arc: places along what is drawn of an angle, or of a length of
    arc."""

    value: float
    ends: tuple[Floats, Floats]
    way: Floats
    anchors: tuple[Anchor, ...]
    arc: tuple[Floats, ...] = ()


def read_dimension(snapshot: Snapshot, geometry: GeometryStore, item: BodyDimension) -> Reading:
    """Raises EditError: UnknownId for an end that an edit ended, or where the ends do not fit one another."""
    return read_between(geometry, [resolve(snapshot, end) for end in item.ends], item.way)


def read_between(geometry: GeometryStore, ends: list[Reference], way: str) -> Reading:
    anchors = tuple(anchor_of(geometry, end) for end in ends)
    if way == ALONG:
        return _along(geometry, anchors)
    if way in ROUND_WAYS or len(anchors) == 1:
        return _across(anchors, way)
    first, second = anchors
    if way == ANGLE:
        return _angle(first, second)
    direction = np.array(AXES[way]) if way in AXES else _between(first, second)
    for anchor in anchors:
        _check_square(anchor, direction)
    span = float((second.point - first.point) @ direction)
    if span < 0:
        direction, span = -direction, -span
    start = _foot(first, second)
    return Reading(span, (start, start + span * direction), direction, anchors)


def anchor_of(geometry: GeometryStore, reference: Reference) -> Anchor:
    body, index = reference.owner
    matrix = reference.matrix
    solid = geometry.solid(body.shape)
    if reference.kind == "vertex":
        return Anchor(reference, np.array(matrix.point(vertex_point(solid.index.get("vertex", index)))))
    if reference.kind == "edge":
        facts = edge_facts(solid.index.get("edge", index))
        middle = np.array(matrix.point(facts.middle))
        if facts.axis is not None:
            centre, way = (np.array(v) for v in (matrix.point(facts.axis[0]), matrix.direction(facts.axis[1])))
            return Anchor(reference, centre, axis=way, radius=facts.radius)
        if facts.direction is not None:
            return Anchor(reference, middle, axis=np.array(matrix.direction(facts.direction)))
        raise EditError(f"{reference} is neither straight nor round, so nothing can be measured to it", [reference])
    surface = solid.topology.surface(index)
    if surface.kind == "plane":
        place, normal = solid.topology.middle(index)
        return Anchor(reference, np.array(matrix.point(place)), normal=np.array(matrix.direction(normal)))
    if surface.kind in ROUND:
        frame = surface.axial
        low, high = solid.topology.boxes[index].reshape(2, 3)
        along = float(((low + high) / 2 - frame.origin) @ frame.z)
        radius = surface.radius if surface.kind == "cylinder" else None
        point = frame.origin + along * frame.z
        return Anchor(reference, np.array(matrix.point(point)), axis=np.array(matrix.direction(frame.z)), radius=radius)
    if surface.kind == "sphere":
        return Anchor(reference, np.array(matrix.point(surface.axial.origin)), radius=surface.radius)
    raise EditError(f"{reference} is neither flat nor round, so nothing can be measured to it", [reference])


def leans(geometry: GeometryStore, ends: list[Reference]) -> bool:
    """Whether these are two flat faces between which there is an angle, and no distance."""
    if [e.kind for e in ends] != ["face", "face"]:
        return False
    normals = [anchor_of(geometry, e).normal for e in ends]
    if normals[0] is None or normals[1] is None:
        return False
    return 1 - abs(float(normals[0] @ normals[1])) > ONE_DIRECTION


def _angle(first: Anchor, second: Anchor) -> Reading:
    """About the line in which the two planes meet, from the middle of one face to that of the other."""
    both = [first.reference, second.reference]
    if first.normal is None or second.normal is None:
        raise EditError("an angle is that between two flat faces", both)
    line = np.cross(first.normal, second.normal)
    if float(np.linalg.norm(line)) < ALIGNED:
        raise EditError("the two are parallel, so there is no angle between them", both)
    line /= np.linalg.norm(line)
    rows = np.array([first.normal, second.normal, line])
    middle = (first.point + second.point) / 2
    apex = np.linalg.solve(rows, [first.normal @ first.point, second.normal @ second.point, line @ middle])
    arms = [a.point - apex - ((a.point - apex) @ line) * line for a in (first, second)]
    sizes = [float(np.linalg.norm(a)) for a in arms]
    if min(sizes) < ALIGNED:
        raise EditError("a face reaches across the line in which the two meet, so the angle is not told", both)
    one, other = (a / s for a, s in zip(arms, sizes, strict=True))
    value = float(np.arccos(np.clip(one @ other, -1, 1)))
    axis = np.cross(one, other)
    axis /= np.linalg.norm(axis)
    square = np.cross(axis, one)
    turns = np.linspace(0, value, ARC)
    arc = [apex + ARM * min(sizes) * (np.cos(t) * one + np.sin(t) * square) for t in turns]
    return Reading(value, (arc[0], arc[-1]), axis, (first, second), tuple(arc))


def _across(anchors: tuple[Anchor, ...], way: str) -> Reading:
    if len(anchors) != 1 or anchors[0].radius is None or anchors[0].axis is None:
        raise EditError(f"a {way} is that of one round face or edge", [a.reference for a in anchors])
    (anchor,) = anchors
    assert anchor.radius is not None
    assert anchor.axis is not None
    across = np.cross(anchor.axis, np.eye(3)[int(np.abs(anchor.axis).argmin())])
    across /= np.linalg.norm(across)
    ends = (anchor.point - anchor.radius * across, anchor.point + anchor.radius * across)
    if way == "radius":
        return Reading(anchor.radius, (anchor.point, ends[1]), across, anchors)
    return Reading(2 * anchor.radius, ends, across, anchors)


def _along(geometry: GeometryStore, anchors: tuple[Anchor, ...]) -> Reading:
    """Radius times angle, of a cylinder halfway along its axis."""
    anchor, body, index = anchors[0], *anchors[0].reference.owner
    topology = geometry.solid(body.shape).topology
    places = None
    if len(anchors) == 1 and anchor.radius is not None and anchor.axis is not None:
        if anchor.reference.kind == "edge":
            places = topology.samples(index, ARC)
            curve, first, last = topology.curve(index)
            turn = abs(last - first) if curve.kind == "circle" else 0.0
        else:
            u0, u1, v0, v1 = topology.bounds(index)
            turn = abs(u1 - u0)
            places = topology.surface(index).points(
                np.column_stack([np.linspace(u0, u1, ARC), np.full(ARC, (v0 + v1) / 2)])
            )
    if places is None or not turn:
        raise EditError("a length of arc is that of one round face or edge", [a.reference for a in anchors])
    assert anchor.radius is not None
    assert anchor.axis is not None
    arc = anchor.reference.matrix.points(places)
    return Reading(anchor.radius * turn, (arc[0], arc[-1]), anchor.axis, anchors, tuple(arc))


def _between(first: Anchor, second: Anchor) -> Floats:
    """Square to what is flat, else the shortest way between axes, corners."""
    flat = next((a for a in (first, second) if a.normal is not None), None)
    if flat is not None:
        assert flat.normal is not None
        return flat.normal
    off = second.point - first.point
    for anchor in (first, second):
        if anchor.axis is not None:
            off = off - (off @ anchor.axis) * anchor.axis
    size = float(np.linalg.norm(off))
    if size < 1e-9:
        raise EditError(
            "the two lie on one another, so there is nothing to measure", [first.reference, second.reference]
        )
    return np.asarray(off / size)


def _check_square(anchor: Anchor, way: Floats) -> None:
    """Something flat lies square to the direction, an axis runs across it: else the distance is none."""
    if anchor.normal is not None and 1 - abs(float(anchor.normal @ way)) > ONE_DIRECTION:
        raise EditError(f"{anchor.reference} is not square to the direction that is measured", [anchor.reference])
    if anchor.axis is not None and abs(float(anchor.axis @ way)) > ALIGNED:
        raise EditError(f"the axis of {anchor.reference} does not run across what is measured", [anchor.reference])


def _foot(first: Anchor, second: Anchor) -> Floats:
    """On the first end, beside the second where that is no loss."""
    if first.normal is not None and second.normal is None:
        return np.asarray(second.point - ((second.point - first.point) @ first.normal) * first.normal)
    return first.point

"""Flat walls that meet in a sharp fold of small angle, on both sides of the sheet: steps of a large bend, facets of a
transition.

Such a fold takes up no length: at small angles the neutral surface runs through the middle of the sheet, so walls
beside folds are laid flat as their middle planes meet one another.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from typing import TYPE_CHECKING

import numpy as np
from shapely.geometry import Point

from ..local.surfaces import Floats
from ..local.topology import SolidTopology
from ..sketch.plane_curves import PlaneCurve
from .development import Development
from .flat_curves import line
from .pairing import Back

if TYPE_CHECKING:
    from .reading import Joint, SheetReading

SHARPEST = math.radians(32)  # of a fold; from there on it is a corner that lacks its bend
NOTHING = 1e-6  # mm, up to which an edge has shrunk to a corner
PARALLEL = 1e-7
STEP = 1e-3  # of the thickness, beside an edge


def fold_at(topology: SolidTopology, edge: int, backs: Mapping[int, Sequence[Back]]) -> float:
    """rad, by which two flat walls are folded along an edge; 0 where they are not."""
    a, b = topology.faces_of(edge)
    if topology.surface(a).kind != "plane" or topology.surface(b).kind != "plane" or topology.meeting(edge) != "sharp":
        return 0.0
    there = [{e for k in backs.get(f, ()) for e in topology.edges_of(k.face)} for f in (a, b)]
    if not there[0] & there[1]:
        return 0.0
    cosine = float(np.array(topology.middle(a)[1]) @ np.array(topology.middle(b)[1]))
    angle = math.acos(max(-1.0, min(1.0, cosine)))
    return angle if angle < SHARPEST else 0.0


def opens_up(reading: SheetReading, joint: Joint) -> bool:
    """Whether the fold turns towards the side that is seen."""
    skin = reading.outlines.skin(joint.second)
    start, middle, end = skin.flat(reading.topology.samples(joint.edge, 3))
    way = end - start
    step = STEP * reading.thickness * np.array([-way[1], way[0]]) / np.hypot(*way)
    inwards = middle + step if reading.outlines.polygon(joint.second).contains(Point(middle + step)) else middle - step
    rise = skin.folded(np.array([middle, inwards]))
    return float((rise[1] - rise[0]) @ reading.outlines.skin(joint.first).z) > 0


def middle_points(reading: SheetReading, joint: Joint) -> Floats:
    """Points along a fold, in the middle of the sheet."""
    a, b = (reading.outlines.skin(f).z for f in (joint.first, joint.second))
    half = -np.array([reading.panels[f].depth for f in (joint.first, joint.second)]) / 2
    shares = np.linalg.solve(np.array([[1.0, a @ b], [a @ b, 1.0]]), half)
    return np.asarray(reading.topology.samples(joint.edge, 5) + shares[0] * a + shares[1] * b)


def middle_loop(
    reading: SheetReading,
    face: int,
    plan: Development,
    edges: tuple[int, ...],
    curves: Sequence[PlaneCurve],
    put: Callable[[Floats], Floats],
) -> tuple[list[PlaneCurve], list[int]]:
    """The border of a flat wall at half its depth, with the edge of each piece; -1 where pieces are joined that no
    longer meet.  edges, curves: the border as the side that is read has it in the flat; put: from the plan to there."""
    rows = [_line(reading, plan, face, e) for e in edges]
    turns = zip(edges[-1:] + edges[:-1], edges, rows[-1:] + rows[:-1], rows, strict=True)
    ends = put(np.array([_corner(reading.topology, plan, *turn) for turn in turns]))
    found: list[tuple[PlaneCurve, int]] = []
    for k, (edge, curve) in enumerate(zip(edges, curves, strict=True)):
        a, b = ends[k], ends[(k + 1) % len(edges)]
        if rows[k] is not None or curve.kind == "line":
            if np.hypot(*(b - a)) > NOTHING:
                found.append((line(a, b), edge))
            continue
        p, q = curve.at(np.array([curve.first, curve.last]))
        if np.hypot(*(p - a)) > np.hypot(*(q - a)):
            p, q = q, p
        found += [(line(x, y), -1) for x, y in ((a, p),) if np.hypot(*(y - x)) > NOTHING]
        found.append((curve, edge))
        found += [(line(x, y), -1) for x, y in ((q, b),) if np.hypot(*(y - x)) > NOTHING]
    return [c for c, _ in found], [e for _, e in found]


Line = tuple[Floats, float]  # normal (2,) and offset: normal · p = offset


def _line(reading: SheetReading, plan: Development, face: int, edge: int) -> Line | None:
    """Where another wall's middle plane, or a flat cut edge, crosses this wall's middle plane; None for what is
    neither."""
    topology = reading.topology
    other = topology.other_face(edge, face)
    if topology.surface(other).kind != "plane":
        return None
    point, normal = (np.array(v) for v in topology.middle(other))
    offset = float(normal @ point) - (reading.panels[other].depth / 2 if other in reading.panels else 0.0)
    flat = np.array([normal @ plan.x, normal @ plan.y])
    size = float(np.hypot(*flat))
    if size < PARALLEL:
        return None
    middle = plan.origin - reading.panels[face].depth / 2 * plan.z
    return flat / size, (offset - float(normal @ middle)) / size


def _corner(
    topology: SolidTopology, plan: Development, before: int, after: int, one: Line | None, other: Line | None
) -> Floats:
    (shared, *_) = set(topology.ends(before)) & set(topology.ends(after))
    samples = topology.samples(after, 2)
    place = plan.flat(samples)[0 if topology.ends(after)[0] == shared else 1]
    if one is not None and other is not None:
        rows = np.array([one[0], other[0]])
        if abs(np.linalg.det(rows)) > PARALLEL:
            return np.asarray(np.linalg.solve(rows, np.array([one[1], other[1]])))
    for row in (one, other):
        if row is not None:
            return np.asarray(place + (row[1] - row[0] @ place) * row[0])
    return np.asarray(place)

"""Legs of a cutting line whose slanting ones are turned into the plane of the section (aligned section, ISO 128-3).

Each leg shows what lies behind it, seen square to it, in a strip as wide as the leg; those at the ends go on.  The leg
that lies square to the eye stays, and the others are turned about the corners between them, so that all strips stand
side by side.  A leg that runs along the eye is a mere step between two parallel ones.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ...local.surfaces import Floats
from ...model.drawing_sheet import DrawnView, Point2
from ...rigid import IDENTITY, Rigid
from ..projection import ViewFrame

SQUARE = 1e-6  # sine, up to which a leg runs along the eye or square to it


@dataclass(frozen=True, eq=False)
class Leg:
    """motion: takes the model to where the leg shows it; low, high: mm along the section's own line, where its strip
    ends, infinite for one that goes on; level: mm towards the eye from the middle of the view, of its cut."""

    motion: Rigid
    low: float
    high: float
    level: float


def line_way(parent: ViewFrame, frame: ViewFrame) -> Floats:
    """Unit direction in the model along which the cutting line is laid out, seen level or upright in the section."""
    return np.cross(parent.eye, frame.eye)


def slants(cut: Sequence[Point2], toward: Floats) -> bool:
    """Whether a line has legs that a section turns.  toward: (2,) unit, to the eye, in the parent.  An end that runs
    off towards the eye is where a cut stops, and such a line turns nothing."""
    ways = _ways(cut)
    if len(ways) < 2 or any(_along(w, toward) and w @ toward > 0 for w in (-ways[0], ways[-1])):
        return False
    aslant = [abs(float(w @ toward)) > SQUARE for w in ways]
    return any(lean and (k in (0, len(ways) - 1) or not _along(ways[k], toward)) for k, lean in enumerate(aslant))


def legs_of(view: DrawnView, parent: DrawnView) -> list[Leg]:
    """In order along the line, without steps."""
    above, frame = ViewFrame.of(parent), ViewFrame.of(view)
    toward = above.way(frame.eye)
    way = above.way(line_way(above, frame))
    corners, ways = [np.array(p, float) for p in view.cut], _ways(view.cut)
    if float((corners[-1] - corners[0]) @ way) < 0:
        corners.reverse()
        ways = [-w for w in reversed(ways)]
    steps = [_along(w, toward) and 0 < k < len(ways) - 1 for k, w in enumerate(ways)]
    stays = max((k for k in range(len(ways)) if not steps[k]), key=lambda k: float(ways[k] @ way))
    # Carried outwards from the one that stays: the motion in the parent's plane, and where the next corner comes to lie
    flats = {stays: Rigid.about(above.place(corners[stays]), above.eye, _angle(ways[stays], way))}
    for order, corner in ((range(stays + 1, len(ways)), 0), (range(stays - 1, -1, -1), 1)):
        for k in order:
            before = flats[k - 1 if corner == 0 else k + 1]
            pivot = above.place(corners[k + corner])
            angle = 0.0 if steps[k] else _angle(ways[k], way)
            turned = Rigid.about(pivot, above.eye, angle)
            flats[k] = Rigid.slide(before.point(pivot) - np.array(pivot)) @ turned
    found = []
    for k, motion in flats.items():
        if steps[k]:
            continue
        ends = [np.array(motion.point(above.place(c))) - frame.about for c in corners[k : k + 2]]
        low, high = (float(e @ line_way(above, frame)) for e in ends)
        low = -math.inf if k == 0 else low
        high = math.inf if k == len(ways) - 1 else high
        found.append(Leg(motion, low, high, float(ends[0] @ frame.eye)))
    return sorted(found, key=lambda leg: leg.low)


@dataclass(frozen=True, eq=False)
class Strip:
    """As a Leg, of any cut; point, normal: of the plane before which nothing is left, where that is drawn; no normal
    where all is left."""

    motion: Rigid
    low: float
    high: float
    point: Floats
    normal: Floats | None


def strips_of(view: DrawnView, parent: DrawnView) -> list[Strip] | None:
    """What a section shows of what has no exact faces, side by side.  None for a line that runs back over itself."""
    above, frame = ViewFrame.of(parent), ViewFrame.of(view)
    if view.turned:
        return [Strip(leg.motion, leg.low, leg.high, frame.about + leg.level * frame.eye, frame.eye)
                for leg in legs_of(view, parent)]  # fmt: skip
    way = line_way(above, frame)
    corners = [above.place(np.array(c, float)) for c in view.cut]
    if float((corners[-1] - corners[0]) @ way) < 0:
        corners.reverse()
    spots = [float((c - frame.about) @ way) for c in corners]
    found = []
    for k, (a, b) in enumerate(itertools.pairwise(corners)):
        if spots[k + 1] - spots[k] < -SQUARE:
            return None
        if spots[k + 1] - spots[k] > SQUARE:
            found.append(
                Strip(IDENTITY, spots[k], spots[k + 1], a, np.cross((b - a) / np.linalg.norm(b - a), above.eye))
            )
    if not found:
        return None
    if view.half:
        outside = [
            Strip(IDENTITY, -math.inf, spots[0], corners[0], None),
            Strip(IDENTITY, spots[-1], math.inf, corners[-1], None),
        ]
        return [outside[0], *found, outside[1]]
    return [replace(s, low=-math.inf if k == 0 else s.low, high=math.inf if k == len(found) - 1 else s.high)
            for k, s in enumerate(found)]  # fmt: skip


def motion_at(legs: Sequence[Leg], frame: ViewFrame, parent: ViewFrame, place: Floats, near: Point2 | None) -> Rigid:
    """Of the leg that shows a place of the model.  near: where in the view it was picked, which tells more."""
    if not legs:
        return IDENTITY
    way = line_way(parent, frame)
    if near is not None:
        along = float(frame.way(way) @ np.array(near))
        return min(legs, key=lambda leg: max(leg.low - along, along - leg.high, 0.0)).motion

    def off(leg: Leg) -> float:
        moved = np.array(leg.motion.point(place)) - frame.about
        along, depth = float(moved @ way), float(moved @ frame.eye)
        return max(leg.low - along, along - leg.high, depth - leg.level, 0.0)

    return min(legs, key=off).motion


def _ways(cut: Sequence[Point2]) -> list[Floats]:
    return [np.subtract(b, a) / np.hypot(*np.subtract(b, a)) for a, b in itertools.pairwise(cut)]


def _along(way: Floats, toward: Floats) -> bool:
    return abs(float(way[0] * toward[1] - way[1] * toward[0])) < SQUARE


def _angle(way: Floats, onto: Floats) -> float:
    """rad, counterclockwise."""
    return math.atan2(float(way[0] * onto[1] - way[1] * onto[0]), float(way @ onto))

"""Where views go: the usual ones of a model on a sheet, and those that stand in line with others (ISO 5456-2)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from ..errors import EditError
from ..local.surfaces import Floats
from ..model.drawing_sheet import DrawnSheet, DrawnView
from ..model.geometry import GeometryStore
from ..model.snapshot import Snapshot
from ..rigid import Vec, vec_of
from .drawn_view import shown_in
from .paper import SCALES, TITLE, Paper
from .projection import ViewFrame

ROOT2, ROOT3 = math.sqrt(0.5), math.sqrt(1 / 3)
DIRECTIONS: dict[str, tuple[Vec, Vec]] = {  # eye, right
    "front": ((0.0, -1.0, 0.0), (1.0, 0.0, 0.0)),
    "back": ((0.0, 1.0, 0.0), (-1.0, 0.0, 0.0)),
    "left": ((-1.0, 0.0, 0.0), (0.0, -1.0, 0.0)),
    "right": ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0)),
    "top": ((0.0, 0.0, 1.0), (1.0, 0.0, 0.0)),
    "below": ((0.0, 0.0, -1.0), (1.0, 0.0, 0.0)),
    "corner": ((ROOT3, -ROOT3, ROOT3), (ROOT2, ROOT2, 0.0)),
    "other corner": ((-ROOT3, -ROOT3, ROOT3), (ROOT2, -ROOT2, 0.0)),
}
SIDES = {"above": (0, 1), "below": (0, -1), "left": (-1, 0), "right": (1, 0)}
ROOM = 34.0  # mm between views and around them, for sizes


def middle_of(snapshot: Snapshot, geometry: GeometryStore, nodes: Sequence[int] = ()) -> tuple[Floats, Floats]:
    """Corners of the box around what is shown, in the model.  Raises EditError where nothing is."""
    view = DrawnView(0, "plain", (0.0, 0.0, 1.0), (1.0, 0.0, 0.0), (0.0, 0.0, 0.0), (0.0, 0.0), 1.0, tuple(nodes))
    places = [
        p for o in shown_in(snapshot, view) for p in (o.matrix.point(c) for c in geometry.get(o.body.shape).box.corners)
    ]
    if not places:
        raise EditError("there is nothing to draw; bring a part in first")
    rows = np.array(places)
    return rows.min(axis=0), rows.max(axis=0)


def extent(low: Floats, high: Floats, eye: Vec, right: Vec) -> tuple[float, float]:
    """Width and height (mm) of a box as a view sees it."""
    frame = ViewFrame(np.array(right), np.cross(eye, right), np.array(eye), (low + high) / 2)
    corners = np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])])
    flat = frame.flat(corners)
    wide, tall = np.ptp(flat, axis=0).tolist()
    return wide, tall


def usual_views(snapshot: Snapshot, geometry: GeometryStore, size: str, first: bool, numbers: Sequence[int],
                nodes: Sequence[int] = ()) -> list[DrawnView]:  # fmt: skip
    """Front, top, from the side and a corner, as large as they fit beside the title block.  numbers: four ids."""
    low, high = middle_of(snapshot, geometry, nodes)
    about = vec_of((low + high) / 2)
    paper = Paper.of(size)
    side = "left" if first else "right"
    sizes = {name: extent(low, high, *DIRECTIONS[name]) for name in ("front", "top", side, "corner")}
    scale, corner_scale, spots = _places(paper, sizes, side, first)
    rows = []
    for number, name in zip(numbers, ("front", "top", side, "corner"), strict=True):
        eye, right = DIRECTIONS[name]
        parent = numbers[0] if name in ("top", side) else None
        own = corner_scale if name == "corner" else scale
        rows.append(DrawnView(number, "plain", eye, right, about, spots[name], own, tuple(nodes), parent))
    return rows


Spots = dict[str, tuple[float, float]]


def _places(paper: Paper, sizes: dict[str, tuple[float, float]], side: str, first: bool) -> tuple[float, float, Spots]:
    low_x, low_y, high_x, high_y = paper.room
    (fw, fh), (_, th), (sw, _), (cw, ch) = (sizes[n] for n in ("front", "top", side, "corner"))
    for scale in SCALES:
        x1 = low_x + ROOM + scale * fw / 2
        x2 = x1 + scale * fw / 2 + ROOM + scale * sw / 2
        rows = (high_y - ROOM - scale * fh / 2, high_y - ROOM - scale * fh - ROOM - scale * th / 2)
        front_y, top_y = (
            rows if first else (high_y - ROOM - scale * th - ROOM - scale * fh / 2, high_y - ROOM - scale * th / 2)
        )
        lowest = min(front_y - scale * fh / 2, top_y - scale * th / 2)
        side_low = front_y - scale * fh / 2  # the side view stands in the row of the front
        title_x, title_y = paper.title
        clear = title_y + TITLE[1] + 8.0
        left_ok = lowest > low_y + ROOM / 2 and (x1 + scale * fw / 2 + 8 < title_x or lowest > clear)
        side_ok = x2 + scale * sw / 2 + 8 < high_x and (x2 + scale * sw / 2 + 8 < title_x or side_low > clear)
        if not (left_ok and side_ok):
            continue
        spots = {"front": (x1, front_y), "top": (x1, top_y), side: (x2, front_y)}
        free = _corner_room(paper, x2 + scale * sw / 2 + ROOM, x1 + scale * fw / 2 + ROOM, (front_y, scale * fh), first)
        fitting = [(s, at) for s in SCALES if s <= scale for at in free
                   if s * cw <= at[2] and s * ch <= at[3]]  # fmt: skip
        if fitting:
            corner, (x, y, _, _) = max(fitting, key=lambda row: row[0])
            return scale, corner, {**spots, "corner": (x, y)}
    raise EditError(f"the model is too large to be drawn on {paper.name}; choose a larger sheet", nearest="A0")


def _corner_room(
    paper: Paper, right_of_side: float, right_of_front: float, front: tuple[float, float], first: bool
) -> list[tuple[float, float, float, float]]:  # fmt: skip
    """Free fields as middle x, y, width, height: beside the side view, and beside the top view."""
    _, _low_y, high_x, high_y = paper.room
    clear = paper.title[1] + TITLE[1] + 8.0
    middle, tall = front
    fields = [(right_of_side, clear, high_x - 6, high_y - 6)]
    if first:
        fields.append((right_of_front, clear, high_x - 6, middle - tall / 2 - ROOM / 2))
    else:
        fields.append((right_of_front, middle + tall / 2 + ROOM / 2, high_x - 6, high_y - 6))
    return [((a + c) / 2, (b + d) / 2, c - a, d - b) for a, b, c, d in fields if c > a and d > b]


def in_line(sheet: DrawnSheet, parent: DrawnView, side: str, number: int, at: tuple[float, float] | None,
            gap: tuple[float, float]) -> DrawnView:  # fmt: skip
    """What is seen from a side of a view, where the sheet's angle of projection puts it.  side: of the model as that
    view shows it, from which one looks; gap: mm from middle to middle, level and upright, where no place is said."""
    frame = ViewFrame.of(parent)
    x, y = SIDES[side]
    eye = x * frame.right + y * frame.up
    right = frame.right if y else -x * frame.eye
    sign = -1.0 if sheet.first else 1.0
    place = (parent.at[0] + sign * x * gap[0], parent.at[1] + sign * y * gap[1])
    if at is not None:
        place = (at[0], parent.at[1]) if x else (parent.at[0], at[1])
    return DrawnView(number, "plain", vec_of(eye), vec_of(right), parent.about, place, parent.scale, parent.nodes,
                     parent.id, parent.hidden, parent.smooth, apart=parent.apart)  # fmt: skip


def moved_views(sheet: DrawnSheet, number: int, step: tuple[float, float]) -> list[DrawnView]:
    """A view moved, with those in line with it: they go along across the line, and stay where they are along it.  A
    section may leave its line, since its letter says what it is of."""
    view = sheet.views[number]
    parent = sheet.views.get(view.parent or 0)
    dx, dy = step
    if parent is not None and view.kind != "section" and keeps_line(parent, view):
        level, upright = _line_axis(parent, view)
        dx, dy = (dx if level else 0.0), (dy if upright else 0.0)
    rows = [replace(view, at=(view.at[0] + dx, view.at[1] + dy))]
    waiting = [number]
    while waiting:
        above = waiting.pop()
        for child in sheet.views.values():
            if child.parent != above or not keeps_line(sheet.views[above], child):
                continue
            level, upright = _line_axis(sheet.views[above], child)
            rows.append(
                replace(child, at=(child.at[0] + (0.0 if level else dx), child.at[1] + (0.0 if upright else dy)))
            )
            waiting.append(child.id)
    return rows


def keeps_line(parent: DrawnView, view: DrawnView) -> bool:
    """Whether a view is seen square to its parent, at the same scale and about the same place, and stands in line."""
    if view.kind == "detail" or abs(parent.scale - view.scale) > 1e-9 or view.about != parent.about:
        return False
    level, upright = _line_axis(parent, view)
    off = abs(view.at[1] - parent.at[1]) if level else abs(view.at[0] - parent.at[0])
    return level != upright and off < 1e-6


def _line_axis(parent: DrawnView, view: DrawnView) -> tuple[bool, bool]:
    """Whether it may slide level, and upright."""
    way = ViewFrame.of(parent).way(np.array(view.eye))
    return abs(way[0]) > 0.999, abs(way[1]) > 0.999

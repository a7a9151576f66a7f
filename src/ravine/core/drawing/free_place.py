"""Free places for views: on the paper, clear of other views, of what is written and of the title block."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..local.surfaces import Floats
from ..model.drawing_sheet import DrawnSheet, Point2
from ..model.geometry import GeometryStore
from ..model.snapshot import Snapshot
from .ink import Letters
from .paper import TITLE, Paper
from .room import Box, letters_box
from .sheet import ink_sheet

CLEAR = (14.0, 5.0)  # mm around a view, as it should be and at the least
STEP = 4.0  # mm between places that are tried


def taken_on(snapshot: Snapshot, geometry: GeometryStore, sheet: DrawnSheet) -> list[Box]:
    """Of views, letters and the title block, on the paper (mm)."""
    ink = ink_sheet(snapshot, geometry, sheet)
    letters = [letters_box(m) for row in ink.items.values() for m in row if isinstance(m, Letters)]
    x, y = ink.paper.title
    return [*ink.boxes.values(), *letters, (x, y, x + TITLE[0], y + TITLE[1])]


def free_place(paper: Paper, taken: Sequence[Box], own: Box, wish: Point2, along: Point2 | None = None) -> Point2:
    """For a view whose lines reach over `own` around its place.  along: direction in which it stays in line from its
    wish as far as it finds a place there.  Where nothing is free, the wish, moved on to the paper as far as it goes."""
    low_x, low_y, high_x, high_y = paper.room
    reach = max(high_x - low_x, high_y - low_y)
    line = np.zeros((0, 2))
    if along is not None:
        line = np.array(wish) + np.arange(0.0, reach, STEP)[:, None] * np.array(along)
    xs, ys = np.arange(low_x, high_x, STEP), np.arange(low_y, high_y, STEP)
    grid = np.stack(np.meshgrid(xs, ys), axis=-1).reshape(-1, 2)
    for clear in CLEAR:
        for spots in (np.array([wish]), line, grid):
            free = spots[_free(spots, paper.room, taken, own, clear)]
            if len(free):
                x, y = free[np.argmin(np.hypot(*(free - wish).T))]
                return float(x), float(y)
    low, high = np.array([low_x - own[0], low_y - own[1]]), np.array([high_x - own[2], high_y - own[3]])
    x, y = np.maximum(np.minimum(wish, high), low)
    return float(x), float(y)


def _free(spots: Floats, room: Box, taken: Sequence[Box], own: Box, clear: float) -> np.ndarray:
    low, high = spots + np.subtract(own[:2], clear), spots + np.add(own[2:], clear)
    free = (low >= room[:2]).all(axis=1) & (high <= room[2:]).all(axis=1)
    for box in taken:
        free &= ((low >= box[2:]) | (high <= box[:2])).any(axis=1)
    return np.asarray(free)

"""What stands where on a sheet, so that what is new finds a free place."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from ..local.surfaces import Floats
from .ink import Letters, Mark, Stroke
from .paper import TITLE, Paper

MARGIN = 1.0  # mm around letters
INSIDE = 0.35  # mm: the line that a size stands on runs just below its letters
Box = tuple[float, float, float, float]


def letters_box(mark: Letters) -> Box:
    corners = mark.corners()
    (a, b), (c, d) = corners.min(axis=0), corners.max(axis=0)
    return float(a), float(b), float(c), float(d)


def segments_of(marks: Iterable[Mark]) -> Floats:
    """Strokes as straight pieces, (n, 4)."""
    rows = []
    for mark in marks:
        if isinstance(mark, Stroke) and mark.layer != "hatch":
            line = mark.curve.line[1]
            rows.append(np.column_stack([line[:-1], line[1:]]))
    return np.concatenate(rows) if rows else np.zeros((0, 4))


def crosses(segments: Floats, box: Box) -> bool:
    """Whether any piece runs through a box (Liang and Barsky's clipping)."""
    segments = near(segments, box)
    if not len(segments):
        return False
    a, d = segments[:, :2], segments[:, 2:] - segments[:, :2]
    low, high = np.zeros(len(a)), np.ones(len(a))
    alive = np.ones(len(a), dtype=bool)
    for k in (0, 1):
        level = np.abs(d[:, k]) < 1e-12
        alive &= ~level | ((a[:, k] > box[k]) & (a[:, k] < box[k + 2]))
        step = np.where(level, 1.0, d[:, k])
        t1, t2 = (box[k] - a[:, k]) / step, (box[k + 2] - a[:, k]) / step
        low = np.where(level, low, np.maximum(low, np.minimum(t1, t2)))
        high = np.where(level, high, np.minimum(high, np.maximum(t1, t2)))
    return bool((alive & (low < high - 1e-9)).any())


def meets(a: Box, b: Box) -> bool:
    return a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]


def around(segments: Floats) -> Box:
    low, high = np.minimum(segments[:, :2], segments[:, 2:]), np.maximum(segments[:, :2], segments[:, 2:])
    (a, b), (c, d) = low.min(axis=0), high.max(axis=0)
    return float(a), float(b), float(c), float(d)


def near(segments: Floats, box: Box) -> Floats:
    """Those that may reach into a box."""
    low, high = np.minimum(segments[:, :2], segments[:, 2:]), np.maximum(segments[:, :2], segments[:, 2:])
    return segments[((low <= box[2:]) & (high >= box[:2])).all(axis=1)]


def cross_one_another(one: Floats, other: Floats) -> bool:
    """Whether any piece of the one runs through any of the other."""
    if not len(one):
        return False
    other = near(other, around(one))
    if not len(other):
        return False
    a, u = one[:, None, :2], (one[:, 2:] - one[:, :2])[:, None]
    b, v = other[None, :, :2], (other[:, 2:] - other[:, :2])[None]
    turn = u[..., 0] * v[..., 1] - u[..., 1] * v[..., 0]
    gap = b - a
    safe = np.where(np.abs(turn) < 1e-12, np.inf, turn)
    t = (gap[..., 0] * v[..., 1] - gap[..., 1] * v[..., 0]) / safe
    s = (gap[..., 0] * u[..., 1] - gap[..., 1] * u[..., 0]) / safe
    return bool(((t > 1e-6) & (t < 1 - 1e-6) & (s > 1e-6) & (s < 1 - 1e-6) & np.isfinite(safe)).any())


class Room:
    """letters: boxes of what is written; segments: of what is drawn; written: of sizes and notes; keep: boxes that
    nothing new may cross."""

    def __init__(self, paper: Paper) -> None:
        self.inside = paper.room
        x, y = paper.title
        self.kept: list[Box] = [(x - 2, y - 2, x + TITLE[0] + 2, y + TITLE[1] + 4)]
        self.letters: list[Box] = []
        self.segments: list[Floats] = []
        self.written: list[Floats] = []
        self.views: dict[int, Floats] = {}

    def keep(self, box: Box) -> None:
        self.kept.append(box)

    def take(self, marks: Iterable[Mark], written: bool = False) -> None:
        rows = list(marks)
        self.letters += [letters_box(m) for m in rows if isinstance(m, Letters)]
        self.segments.append(segments_of(rows))
        if written:
            self.written.append(self.segments[-1])

    def take_view(self, number: int, marks: Iterable[Mark]) -> None:
        rows = list(marks)
        self.take(rows)
        self.views[number] = segments_of(rows)

    def tangled(self, marks: Iterable[Mark], view: int) -> bool:
        """Whether its lines cross those of what is written, or of other views."""
        lines = segments_of(marks)
        others = (row for number, row in self.views.items() if number != view)
        return any(cross_one_another(lines, row) for row in (*self.written, *others))

    def free_for(self, marks: Iterable[Mark]) -> bool:
        """Whether its letters lie in the frame and on nothing, and none of its lines runs through letters that are
        there."""
        rows = list(marks)
        boxes = [letters_box(m) for m in rows if isinstance(m, Letters)]
        low_x, low_y, high_x, high_y = self.inside
        for a, b, c, d in boxes:
            wide = (a - MARGIN, b - MARGIN, c + MARGIN, d + MARGIN)
            if a < low_x + 2 or b < low_y + 2 or c > high_x - 2 or d > high_y - 2:
                return False
            if any(meets(wide, k) for k in (*self.kept, *self.letters)):
                return False
            if any(crosses(s, wide) for s in self.segments):
                return False
        lines = segments_of(rows)
        inner = [(a + INSIDE, b + INSIDE, c - INSIDE, d - INSIDE) for a, b, c, d in boxes]
        return not any(crosses(lines, box) for box in (*self.letters, *inner))

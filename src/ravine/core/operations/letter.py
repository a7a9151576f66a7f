"""Raised or cut lettering on a flat face."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..errors import CannotDo, EditError
from ..kernel import build
from ..model.profiles import face_of
from ..model.references import Reference
from ..rigid import vec_of
from ..sketch.entities import Curve, Plane, Sketch
from ..sketch.lettering import width
from ..sketch.plane_curves import text_outlines
from ..sketch.regions import covers, regions
from .axes import face_middle
from .new_material import put, united
from .planes import plane_through
from .work import Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Letter(Operation):
    """Puts a line of text on a flat face, in its middle or off it, raised or cut in."""

    face: tuple[Reference, ...]
    words: str
    font: str = "sans"
    height: float = 5.0
    way: str = "raised"
    depth: float = 0.5
    across: float = 0.0
    up: float = 0.0
    angle: float = 0.0

    def do(self, work: Work) -> Outcome:
        middle, _ = face_middle(work, self.face[0])
        plane = plane_through(work, self.face, field="face")
        x, y = np.array(plane.x), np.array(plane.y)
        along = math.cos(self.angle) * x + math.sin(self.angle) * y
        upright = math.cos(self.angle) * y - math.sin(self.angle) * x
        long = width(self.words, self.font) * self.height
        start = middle + self.across * x + self.up * y - long / 2 * along - self.height / 2 * upright
        curve = Curve(3, "text", (1, 2), self.height, words=self.words, font=self.font)
        page = Plane(vec_of(start), vec_of(along), vec_of(upright))
        sketch = Sketch(0, "", page, {1: (0.0, 0.0), 2: (long, 0.0)}, {3: curve})
        rings = [np.concatenate([flat.line[1][:-1] for flat in row]) for row in text_outlines(sketch, curve)]
        filled = [a for a in regions(sketch) if _filled(rings, np.array(a.inside))]
        if not filled:
            raise EditError("there is nothing to letter in that text", field="words")
        step = (np.array(plane.normal) * (self.depth if self.way == "raised" else -self.depth)).tolist()
        work.progress(0.3, "pulling the letters")
        tools = [build.extrude(face_of(page, a), step) for a in filled]
        way = "joining" if self.way == "raised" else "cutting"
        try:
            return put(work, united(tools), way, self.words)
        except EditError as error:
            if error.field != "way":
                raise
            raise CannotDo("some letters lie beside the face; make them smaller or move them", self.face,
                            field="height") from None  # fmt: skip


def _filled(rings: list[np.ndarray], place: np.ndarray) -> bool:
    """By the winding rule of fonts: outlines run round what is filled one way, round what is open the other."""
    turns = 0
    for ring in rings:
        if covers(ring, place):
            x, y = ring.T
            turns += 1 if float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) > 0 else -1
    return turns != 0

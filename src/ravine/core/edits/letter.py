"""Raised or cut lettering on a flat face."""

from __future__ import annotations

import math

import numpy as np

from ..errors import EditError
from ..kernel import build
from ..model.profiles import face_of
from ..sketch.areas import areas, covers
from ..sketch.entities import FONTS, Curve, Plane, Sketch
from ..sketch.flats import text_outlines
from ..sketch.lettering import width
from .axes import face_middle
from .base import Edit, Outcome, Work, edit, gap
from .draw import LETTERS
from .gaps import AngleGap, ChoiceGap, Context, LengthGap, PickGap, TextGap
from .grown import put, united
from .planes import plane_through
from .shaping import triple


@edit
class Letter(Edit):
    name = "letter"
    title = "Lettering"
    sentence = (
        "Letter {face} with {words} in {font}, {height} high, {way} {depth} , {across} across, {up} up, "
        "turned by {angle}"
    )
    past = "Lettered {face} with {words}"
    help = (
        "Puts a line of text on a flat face, in its middle or off it, raised or cut in.  The height is that of the "
        "capitals."
    )
    offered_for = "face"
    rank = 27
    drawing = "letter"

    face: tuple[str, ...] = gap(PickGap("the face", "A flat face.", element="face", kinds=("plane",), maximum=1))
    words: str = gap(TextGap("the text", "What it says."))
    font: str = gap(ChoiceGap("the font", "Of those that ship.", default=FONTS[0], options=LETTERS))
    height: float = gap(LengthGap("the height", "Of the capitals.", minimum=0.2, default=5.0))
    way: str = gap(ChoiceGap("the way", "Standing out or cut in.", default="raised",
                             options={"raised": "raised by", "cut": "cut in by"}))  # fmt: skip
    depth: float = gap(LengthGap("the depth", "How far it stands out or goes in.", minimum=0.01, default=0.5))
    across: float = gap(LengthGap("the place across", "From the middle of the face.", default=0.0))
    up: float = gap(LengthGap("the place up", "From the middle of the face.", default=0.0))
    angle: float = gap(AngleGap("the angle", "On the face, counterclockwise.", default=0.0))

    def told(self, context: Context) -> str:
        way = "raised" if self.way == "raised" else "cut in"
        return f"Lettered {self.word('face', context)} with “{self.words}”, {way}"

    def apply(self, work: Work) -> Outcome:
        middle, _ = face_middle(work, self.face[0])
        plane = plane_through(work, self.face, field="face")
        x, y = np.array(plane.x), np.array(plane.y)
        along = math.cos(self.angle) * x + math.sin(self.angle) * y
        upright = math.cos(self.angle) * y - math.sin(self.angle) * x
        long = width(self.words, self.font) * self.height
        start = middle + self.across * x + self.up * y - long / 2 * along - self.height / 2 * upright
        curve = Curve(3, "text", (1, 2), self.height, words=self.words, font=self.font)
        page = Plane(triple(start), triple(along), triple(upright))
        sketch = Sketch(0, "", page, {1: (0.0, 0.0), 2: (long, 0.0)}, {3: curve})
        rings = [np.concatenate([flat.line[1][:-1] for flat in row]) for row in text_outlines(sketch, curve)]
        filled = [a for a in areas(sketch) if _filled(rings, np.array(a.inside))]
        if not filled:
            raise EditError("there is nothing to letter in that text", field="words")
        doing = f"Lettering {self.word('face', work.context())} with “{self.words}”"
        step = (np.array(plane.normal) * (self.depth if self.way == "raised" else -self.depth)).tolist()
        work.progress(0.3, "pulling the letters")
        tools = [build.extrude(face_of(page, a), step) for a in filled]
        way = "joining" if self.way == "raised" else "cutting"
        try:
            return put(work, united(tools, doing), way, doing, self.words)
        except EditError as error:
            if error.field != "way":
                raise
            raise EditError(f"{doing}: some letters lie beside the face; make them smaller or move them", self.face,
                            field="height") from None  # fmt: skip


def _filled(rings: list[np.ndarray], place: np.ndarray) -> bool:
    """By the winding rule of fonts: outlines run round what is filled one way, round what is open the other."""
    turns = 0
    for ring in rings:
        if covers(ring, place):
            x, y = ring.T
            turns += 1 if float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) > 0 else -1
    return turns != 0

"""What is drawn on paper: strokes, filled shapes and letters on named layers, mm from the lower left corner, y up.

Every page, file and print is written from this one list.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

import numpy as np

from ..formats.pdf import width_of
from ..sketch.plane_curves import TURN, ZERO, Floats, PlaneCurve

CAP = 0.729  # of the size of the font, how high its capitals are


@dataclass(frozen=True)
class LineStyle:
    """wide: whether of the wide lines of its group; dash: lengths in widths of the line (ISO 128-2), none for a whole
    line; colour: number by which CAD programs tell layers apart."""

    wide: bool = False
    dash: tuple[float, ...] = ()
    colour: int = 7


CENTRE_DASH = (24.0, 3.0, 0.5, 3.0)
LAYERS: dict[str, LineStyle] = {
    "frame": LineStyle(True),
    "title": LineStyle(),
    "visible": LineStyle(True),
    "smooth": LineStyle(colour=8),
    "hidden": LineStyle(dash=(12.0, 3.0), colour=8),
    "hatch": LineStyle(colour=8),
    "centre": LineStyle(dash=CENTRE_DASH, colour=1),
    "cutting": LineStyle(dash=CENTRE_DASH, colour=1),
    "cutting ends": LineStyle(True, colour=1),
    "bends": LineStyle(dash=CENTRE_DASH, colour=4),
    "dimensions": LineStyle(colour=3),
    "notes": LineStyle(colour=5),
    "tables": LineStyle(),
}
GROUPS = {"0.35": (0.35, 0.18), "0.5": (0.5, 0.25), "0.7": (0.7, 0.35), "1": (1.0, 0.5)}


@dataclass(frozen=True, eq=False)
class Stroke:
    """wide: instead of what its layer says; source: ids of what it is of in the model; item: what of the sheet it
    belongs to."""

    layer: str
    curve: PlaneCurve
    source: str = ""
    item: int = 0
    wide: bool | None = None

    @property
    def is_wide(self) -> bool:
        return LAYERS[self.layer].wide if self.wide is None else self.wide


@dataclass(frozen=True, eq=False)
class Fill:
    """places: (n, 2) around it."""

    layer: str
    places: Floats
    item: int = 0


@dataclass(frozen=True, eq=False)
class Letters:
    """at: on the base line; height: of capitals, mm; lean: rad; align: left, middle or right."""

    layer: str
    text: str
    at: tuple[float, float]
    height: float
    lean: float = 0.0
    align: str = "left"
    bold: bool = False
    item: int = 0

    @property
    def wide(self) -> float:
        return text_width(self.text, self.height, self.bold)

    def corners(self) -> Floats:
        """Around what it takes, (4, 2)."""
        back = {"left": 0.0, "middle": 0.5, "right": 1.0}[self.align] * self.wide
        low, high = -0.25 * self.height, 1.1 * self.height
        rows = np.array([[-back, low], [self.wide - back, low], [self.wide - back, high], [-back, high]])
        c, s = math.cos(self.lean), math.sin(self.lean)
        return rows @ np.array([[c, s], [-s, c]]) + self.at


Mark = Stroke | Fill | Letters


def beside(place: Sequence[float] | Floats, x: float, y: float) -> Floats:
    """So many mm to the right of a place, and above it."""
    return np.asarray(place, float) + np.array([x, y])


def text_width(text: str, height: float, bold: bool = False) -> float:
    return width_of(text, height / CAP, "bold" if bold else "plain")


@dataclass
class Pen:
    """Draws for one item of a sheet, on one layer unless another is named."""

    layer: str
    item: int = 0
    marks: list[Mark] = field(default_factory=list)

    def line(self, a: Sequence[float] | Floats, b: Sequence[float] | Floats, layer: str = "", wide: bool | None = None
             ) -> None:  # fmt: skip
        p, q = np.asarray(a, float), np.asarray(b, float)
        if math.hypot(*(q - p)) > 1e-6:
            self.curve(PlaneCurve(0, "line", 0.0, 1.0, p, q - p, ZERO), layer, wide)

    def path(self, places: Iterable[Sequence[float] | Floats], layer: str = "", wide: bool | None = None,
             closed: bool = False) -> None:  # fmt: skip
        rows = [np.asarray(p, float) for p in places]
        for p, q in zip(rows, [*rows[1:], *rows[:1]] if closed else rows[1:], strict=False):
            self.line(p, q, layer, wide)

    def box(
        self, low: Sequence[float] | Floats, high: Sequence[float] | Floats, layer: str = "", wide: bool | None = None
    ) -> None:
        self.path([low, (high[0], low[1]), high, (low[0], high[1])], layer, wide, True)

    def arc(self, centre: Sequence[float] | Floats, radius: float, first: float = 0.0, last: float = TURN,
            layer: str = "", wide: bool | None = None) -> None:  # fmt: skip
        """first, last: rad, counterclockwise."""
        middle = np.asarray(centre, float)
        x, y = np.array([radius, 0.0]), np.array([0.0, radius])
        self.curve(PlaneCurve(0, "round", first, last, middle, x, y), layer, wide)

    def curve(self, curve: PlaneCurve, layer: str = "", wide: bool | None = None, source: str = "") -> None:
        self.marks.append(Stroke(layer or self.layer, curve, source, self.item, wide))

    def fill(self, places: Iterable[Sequence[float] | Floats], layer: str = "") -> None:
        self.marks.append(Fill(layer or self.layer, np.array([np.asarray(p, float) for p in places]), self.item))

    def dot(self, at: Sequence[float] | Floats, radius: float) -> None:
        turns = np.linspace(0, TURN, 17)[:-1]
        self.fill(np.asarray(at, float) + radius * np.column_stack([np.cos(turns), np.sin(turns)]))

    def arrow(self, tip: Floats, way: Floats, size: float = 3.0) -> None:
        """Filled, 15 degrees wide in all (ISO 129-1); way: unit, towards the tip."""
        side = np.array([-way[1], way[0]]) * size * math.tan(math.radians(7.5))
        self.fill([tip, tip - size * way + side, tip - size * way - side])

    def text(self, text: str, at: Sequence[float] | Floats, height: float, align: str = "left", lean: float = 0.0,
             bold: bool = False, layer: str = "") -> Letters:  # fmt: skip
        x, y = (float(v) for v in at)
        found = Letters(layer or self.layer, text, (x, y), height, lean, align, bold, self.item)
        self.marks.append(found)
        return found

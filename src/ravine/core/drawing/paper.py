"""Sheets of paper: sizes (ISO 216, ANSI/ASME Y14.1), borders, centring marks, zones (ISO 5457), title block (ISO
7200)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..formats.pdf import fitted_text
from .ink import CAP, Mark, Pen

INCH = 25.4
SIZES: dict[str, tuple[float, float]] = {
    "A0": (1189.0, 841.0), "A1": (841.0, 594.0), "A2": (594.0, 420.0), "A3": (420.0, 297.0), "A4": (210.0, 297.0),
    "ANSI A": (11.0 * INCH, 8.5 * INCH), "ANSI B": (17.0 * INCH, 11.0 * INCH), "ANSI C": (22.0 * INCH, 17.0 * INCH),
    "ANSI D": (34.0 * INCH, 22.0 * INCH), "ANSI E": (44.0 * INCH, 34.0 * INCH),
}  # fmt: skip
LEFT, REST = 20.0, 10.0  # mm of border: on the left it is filed
ZONE = 50.0
LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ"  # without I and O
TITLE = (180.0, 56.0)  # of the title block
SCALES = (50.0, 20.0, 10.0, 5.0, 2.0, 1.0, 1 / 2, 1 / 5, 1 / 10, 1 / 20, 1 / 50, 1 / 100, 1 / 200)  # ISO 5455
FIELDS: dict[str, str] = {
    "owner": "Legal owner",
    "title": "Title",
    "number": "Drawing number",
    "revision": "Rev.",
    "date": "Date of issue",
    "creator": "Created by",
    "approver": "Approved by",
    "type": "Document type",
    "status": "Status",
    "material": "Material",
    "mass": "Mass",
    "scale": "Scale",
    "tolerances": "General tolerances",
    "sheet": "Sheet",
}


@dataclass(frozen=True)
class Paper:
    name: str
    wide: float
    high: float

    @classmethod
    def of(cls, name: str) -> Paper:
        return cls(name, *SIZES[name])

    @property
    def room(self) -> tuple[float, float, float, float]:
        """Inside the frame: low x, low y, high x, high y."""
        return LEFT, REST, self.wide - REST, self.high - REST

    @property
    def title(self) -> tuple[float, float]:
        """Lower left corner of the title block."""
        return self.wide - REST - TITLE[0], REST


def frame_marks(paper: Paper) -> list[Mark]:
    pen = Pen("frame")
    low_x, low_y, high_x, high_y = paper.room
    pen.box((low_x, low_y), (high_x, high_y))
    middle = (paper.wide / 2, paper.high / 2)
    for a, b in (
        ((middle[0], 0.0), (middle[0], low_y + 5)), ((middle[0], paper.high), (middle[0], high_y - 5)),
        ((0.0, middle[1]), (low_x + 5, middle[1])), ((paper.wide, middle[1]), (high_x - 5, middle[1])),
    ):  # fmt: skip
        pen.line(a, b)
    _zones(pen, paper)
    for x, way in ((0.0, 1.0), (paper.wide, -1.0)):  # trimming marks
        for y, up in ((0.0, 1.0), (paper.high, -1.0)):
            pen.fill([(x, y), (x + 10 * way, y), (x + 10 * way, y + 5 * up), (x + 5 * way, y + 5 * up),
                      (x + 5 * way, y + 10 * up), (x, y + 10 * up)])  # fmt: skip
    return pen.marks


def _zones(pen: Pen, paper: Paper) -> None:
    """Fields of 50 mm counted from the middle: numbers from the left, letters from the top."""
    low_x, low_y, high_x, high_y = paper.room
    small = paper.name == "A4"
    for across, size, low, high in ((True, paper.wide, low_x, high_x), (False, paper.high, low_y, high_y)):
        half = int((size / 2 - REST) // ZONE)
        marks = [size / 2 + k * ZONE for k in range(-half, half + 1)]
        marks = [m for m in marks if low < m < high]
        edges = [low, *marks, high]
        if len(edges) > 3 and edges[1] - edges[0] < 5:
            edges.pop(1)
        if len(edges) > 3 and edges[-1] - edges[-2] < 5:
            edges.pop(-2)
        names = list(range(1, len(edges))) if across else list(LETTERS[: len(edges) - 1])[::-1]
        sides = [high_y] if across and small else [low_y, high_y] if across else [high_x] if small else [low_x, high_x]
        for side in sides:
            out = -1.0 if side in (low_x, low_y) else 1.0
            for m in edges[1:-1]:
                if abs(m - size / 2) > 1e-6:
                    pen.line(
                        *(((m, side), (m, side + 5 * out)) if across else ((side, m), (side + 5 * out, m))), wide=False
                    )
            for name, a, b in zip(names, edges, edges[1:], strict=False):
                at = ((a + b) / 2, side + 2.5 * out - 1.25) if across else (side + 2.5 * out, (a + b) / 2 - 1.25)
                if b - a > 8:
                    pen.text(str(name), at, 2.5, "middle")


def title_block(paper: Paper, says: Mapping[str, str], first: bool) -> list[Mark]:
    """says: words of FIELDS by name."""
    pen = Pen("title")
    x, y = paper.title
    wide, high = TITLE
    pen.box((x, y), (x + wide, y + high), wide=True)
    rows: list[tuple[float, float, list[tuple[float, str, float]]]] = [
        (0.0, 12.0, [(60, "type", 2.5), (45, "status", 2.5), (35, "scale", 2.5), (40, "sheet", 2.5)]),
        (12.0, 16.0, [(60, "number", 5.0), (20, "revision", 5.0), (100, "title", 5.0)]),
        (28.0, 14.0, [(45, "creator", 2.5), (45, "approver", 2.5), (30, "date", 2.5), (60, "owner", 3.5)]),
        (42.0, 14.0, [(60, "material", 2.5), (30, "mass", 2.5), (60, "tolerances", 2.5)]),
    ]
    for low, tall, cells in rows:
        pen.line((x, y + low), (x + wide, y + low))
        at = x
        for size, name, letters in cells:
            if at > x:
                pen.line((at, y + low), (at, y + low + tall))
            pen.text(FIELDS[name], (at + 1.5, y + low + tall - 3.2), 1.8)
            text = fitted_text(says.get(name, ""), letters / CAP, size - 3)
            pen.text(text, (at + 1.5, y + low + 2.2), letters, bold=name in ("title", "number"))
            at += size
    pen.line((x + 150, y + 42), (x + 150, y + 56))
    _projection_sign(pen, (x + 165, y + 49), first)
    return pen.marks


def _projection_sign(pen: Pen, at: tuple[float, float], first: bool) -> None:
    """A cut-off cone from the side, and from its end (ISO 5456-2)."""
    h = 4.5
    cone, rings = (
        ((at[0] - 6.5, at[1]), (at[0] + 6.5, at[1])) if first else ((at[0] + 6.5, at[1]), (at[0] - 6.5, at[1]))
    )
    small, large = -1.0, 1.0
    ends = [(cone[0] + small * h, h / 2), (cone[0] + large * h, h)]
    pen.path([(ends[0][0], at[1] - ends[0][1]), (ends[1][0], at[1] - ends[1][1]), (ends[1][0], at[1] + ends[1][1]),
              (ends[0][0], at[1] + ends[0][1])], wide=True, closed=True)  # fmt: skip
    for radius in (h / 2, h):
        pen.arc(rings, radius, wide=True)
    pen.line((cone[0] - h - 1.5, at[1]), (cone[0] + h + 1.5, at[1]), "centre")
    pen.line((rings[0] - h - 1.5, at[1]), (rings[0] + h + 1.5, at[1]), "centre")
    pen.line((rings[0], at[1] - h - 1.5), (rings[0], at[1] + h + 1.5), "centre")

"""Rows of words and pictures down A4 pages, and on to the next."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from .pdf import Document, width_of

WIDE, HIGH = 210.0, 297.0  # mm
MARGIN, TOP, BOTTOM = 20.0, 24.0, 275.0
ROOM = WIDE - 2 * MARGIN
LINE = 5.2  # of letters of 3.4 mm


class RunningPages:
    """y: of the next base line, mm from the top."""

    def __init__(self, title: str, facts: Mapping[str, str] | None = None) -> None:
        self.document = Document(title, WIDE, HIGH, facts)
        self.document.page()
        self.y = TOP

    def room(self, high: float) -> None:
        """On a new page where less is left."""
        if self.y + high > BOTTOM + LINE:
            self.document.page(WIDE, HIGH)
            self.y = TOP

    def row(self, *cells: str, at: Sequence[float] = (0.0,), weight: str = "plain", size: float = 3.4) -> None:
        """at: of each cell, mm from the margin."""
        self.room(LINE)
        for x, cell in zip(at, cells, strict=False):
            self.document.text(MARGIN + x, self.y, cell, size, weight)
        self.y += LINE * size / 3.4

    def head(self, words: str) -> None:
        self.room(3 * LINE)
        self.y += 2.5
        self.row(words, weight="bold", size=4.0)
        self.document.line(MARGIN, self.y - 3.6, WIDE - MARGIN, self.y - 3.6, 0.18)
        self.y += 1.0

    def words(self, text: str, sign: str = "", indent: float = 0.0, size: float = 3.4) -> None:
        """As many rows as it takes.  sign: before the first."""
        for k, part in enumerate(broken(text, ROOM - indent, size)):
            self.row("" if k else sign, part, at=(0.0, indent), size=size)

    def picture(self, png: bytes, wide: float, high: float, at: float = 0.0) -> None:
        """mm; as large as it fits into that.  The row goes on below it only after `skip`."""
        self.document.image(MARGIN + at, self.y, wide, high, png)

    def skip(self, high: float) -> None:
        self.y += high


def broken(text: str, wide: float, size: float, font: str = "plain") -> list[str]:
    """Into rows of at most so many mm; what has no gaps is cut."""
    rows = [""]
    for word in text.split():
        longer = f"{rows[-1]} {word}".strip()
        if width_of(longer, size, font) <= wide:
            rows[-1] = longer
            continue
        if rows[-1]:
            rows.append("")
        while width_of(word, size, font) > wide:
            fit = max(1, next(k for k in range(len(word), 0, -1) if k == 1 or width_of(word[:k], size, font) <= wide))
            rows[-1] = word[:fit]
            rows.append("")
            word = word[fit:]
        rows[-1] = word
    return rows

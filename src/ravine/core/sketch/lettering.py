"""The outlines of letters, from the fonts that ship (OpenType, quadratic and cubic Bézier curves)."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ..errors import EditError
from ..lazy import later

if TYPE_CHECKING:
    from fontTools.ttLib import TTFont

tables, pens = later("fontTools.ttLib"), later("fontTools.pens.recordingPen")

Floats = NDArray[np.float64]
FILES = {"sans": "DejaVuSans", "bold": "DejaVuSans-Bold", "serif": "DejaVuSerif", "mono": "DejaVuSansMono"}
FOLDER = Path(__file__).parent.parent / "fonts"


@lru_cache(maxsize=len(FILES))
def _font(name: str) -> TTFont:
    return tables.TTFont(FOLDER / f"{FILES[name]}.ttf", lazy=True)


def _height(font: TTFont) -> float:
    """Of the capitals, font units: what the size of a text means."""
    return float(font["glyf"][font.getBestCmap()[ord("H")]].yMax)


@lru_cache(maxsize=64)
def outlines(words: str, font: str) -> tuple[tuple[Floats, ...], ...]:
    """Closed outlines, each of pieces (2, 2) for a line or (4, 2) for a cubic Bézier curve, for capitals one high,
    the base line along x from the origin.  Raises EditError for a letter that the font does not have."""
    face = _font(font)
    glyphs, known = face.getGlyphSet(), face.getBestCmap()
    missing = next((c for c in words if ord(c) not in known), None)
    if missing:
        raise EditError(f"the font {font} has no “{missing}”", field="words")
    scale = 1 / _height(face)
    found: list[tuple[Floats, ...]] = []
    for name, x in zip((known[ord(c)] for c in words), _starts(words, font), strict=False):
        pen = pens.DecomposingRecordingPen(glyphs)
        glyphs[name].draw(pen)
        found += [tuple(scale * (np.array(p) + np.array([x, 0.0])) for p in row) for row in _contours(pen.value)]
    return tuple(found)


def _starts(words: str, font: str) -> list[float]:
    """Where each letter begins, font units, and where the last one ends; pairs stand as close as the font says."""
    face = _font(font)
    known, glyphs = face.getBestCmap(), face.getGlyphSet()
    pairs = face["kern"].kernTables[0].kernTable if "kern" in face else {}
    names = [known[ord(c)] for c in words if ord(c) in known]
    found = [0.0]
    for k, name in enumerate(names):
        closer = pairs.get((name, names[k + 1]), 0) if k + 1 < len(names) else 0
        found.append(found[-1] + glyphs[name].width + closer)
    return found


def width(words: str, font: str) -> float:
    """Of a line of text, for capitals one high."""
    return _starts(words, font)[-1] / _height(_font(font))


def _contours(commands: list) -> list[list[list[tuple[float, float]]]]:
    found: list[list[list[tuple[float, float]]]] = []
    row: list[list[tuple[float, float]]] = []
    here = start = (0.0, 0.0)
    for command, at in commands:
        if command == "moveTo":
            here = start = at[0]
            row = []
        elif command == "lineTo":
            row.append([here, at[0]])
            here = at[0]
        elif command == "qCurveTo":
            if at[-1] is None:  # only control points: it begins midway between the last and the first
                here = start = _middle(at[-2], at[0])
                at = (*at[:-1], here)
            controls, end = at[:-1], at[-1]
            for k, c in enumerate(controls):
                to = _middle(c, controls[k + 1]) if k + 1 < len(controls) else end
                row.append([here, _share(here, c, 2 / 3), _share(to, c, 2 / 3), to])
                here = to
        elif command == "curveTo":
            row.append([here, *at])
            here = at[-1]
        elif command == "closePath":
            if here != start:
                row.append([here, start])
            found.append([p for p in row if p[0] != p[-1]])
    return [row for row in found if row]


def _share(a: tuple[float, float], b: tuple[float, float], share: float) -> tuple[float, float]:
    return (a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1]))


def _middle(a: tuple[float, float], b: tuple[float, float]) -> tuple[float, float]:
    return _share(a, b, 0.5)

"""Fits of shafts in holes: ISO 286-1:2010 (system of limits and fits) up to 500 mm, and defaults for printed parts.

All figures of the tables in µm, as the standard gives them; what is returned is in mm.
"""

from __future__ import annotations

import bisect
import re
from dataclasses import dataclass

from ..errors import EditError

UP_TO = (3, 6, 10, 18, 30, 50, 80, 120, 180, 250, 315, 400, 500)  # mm, each included
GRADES = {
    5: (4, 5, 6, 8, 9, 11, 13, 15, 18, 20, 23, 25, 27),
    6: (6, 8, 9, 11, 13, 16, 19, 22, 25, 29, 32, 36, 40),
    7: (10, 12, 15, 18, 21, 25, 30, 35, 40, 46, 52, 57, 63),
    8: (14, 18, 22, 27, 33, 39, 46, 54, 63, 72, 81, 89, 97),
    9: (25, 30, 36, 43, 52, 62, 74, 87, 100, 115, 130, 140, 155),
    10: (40, 48, 58, 70, 84, 100, 120, 140, 160, 185, 210, 230, 250),
    11: (60, 75, 90, 110, 130, 160, 190, 220, 250, 290, 320, 360, 400),
}
UPPER = {  # the upper deviation es of shafts that lie below the nominal size
    "d": (-20, -30, -40, -50, -65, -80, -100, -120, -145, -170, -190, -210, -230),
    "e": (-14, -20, -25, -32, -40, -50, -60, -72, -85, -100, -110, -125, -135),
    "f": (-6, -10, -13, -16, -20, -25, -30, -36, -43, -50, -56, -62, -68),
    "g": (-2, -4, -5, -6, -7, -9, -10, -12, -14, -15, -17, -18, -20),
    "h": (0,) * 13,
}
LOWER = {  # the lower deviation ei of shafts above it; k for grades 4 to 7
    "k": (0, 1, 1, 1, 2, 2, 2, 3, 3, 4, 4, 4, 5),
    "m": (2, 4, 6, 7, 8, 9, 11, 13, 15, 17, 20, 21, 23),
    "n": (4, 8, 10, 12, 15, 17, 20, 23, 27, 31, 34, 37, 40),
    "p": (6, 12, 15, 18, 22, 26, 32, 37, 43, 50, 56, 62, 68),
}
FINER_UP_TO = (3, 6, 10, 18, 30, 50, 65, 80, 100, 120, 140, 160, 180, 200, 225, 250, 280, 315, 355, 400, 450, 500)
FINER = {  # ei where the standard divides the ranges further
    "r": (10, 15, 19, 23, 28, 34, 41, 43, 51, 54, 63, 65, 68, 77, 80, 84, 94, 98, 108, 114, 126, 132),
    "s": (14, 19, 23, 28, 35, 43, 53, 59, 71, 79, 92, 100, 108, 122, 130, 140, 158, 170, 190, 208, 232, 252),
}
USUAL = {  # preferred fits of ISO 286-1, annex B, hole basis, from free to tight
    "H9/d9": "free running", "H8/f7": "running", "H7/g6": "sliding", "H7/h6": "slides by hand when oiled",
    "H7/k6": "located, tapped in", "H7/n6": "located, pressed lightly", "H7/p6": "pressed in", "H7/s6": "driven in hot",
}  # fmt: skip
# Clearance on the diameter for printed parts, mm: our own starting values for a machine that has not been measured.
PRINTED = {
    "filament, nozzle 0.4 mm": {"press": 0.10, "slide": 0.30, "free": 0.50},
    "resin": {"press": 0.05, "slide": 0.15, "free": 0.30},
    "powder": {"press": 0.10, "slide": 0.25, "free": 0.40},
}


@dataclass(frozen=True)
class Limits:
    """Deviations from the nominal size, mm."""

    low: float
    high: float


@dataclass(frozen=True)
class Fit:
    """name: as H7/g6; least, most: clearance on the diameter, mm; below zero the shaft is the larger."""

    name: str
    words: str
    hole: Limits
    shaft: Limits

    @property
    def least(self) -> float:
        return self.hole.low - self.shaft.high

    @property
    def most(self) -> float:
        return self.hole.high - self.shaft.low

    @property
    def kind(self) -> str:
        return "clearance" if self.least >= 0 else "interference" if self.most <= 0 else "transition"


def _row(size: float, ends: tuple[int, ...] = UP_TO) -> int:
    if not 0 < size <= ends[-1]:
        raise EditError(f"the tables go up to {ends[-1]} mm; this is {size:.6g} mm", nearest=f"{ends[-1]} mm")
    return bisect.bisect_left(ends, size)


def tolerance(size: float, grade: int) -> float:
    """Width of the zone, mm.  Raises EditError outside the tables."""
    if grade not in GRADES:
        raise EditError(f"grades from {min(GRADES)} to {max(GRADES)} are here, not {grade}")
    return GRADES[grade][_row(size)] / 1000


def limits(size: float, zone: str) -> Limits:
    """Of a zone such as H7 (capital: a hole) or g6, for a nominal size in mm."""
    found = re.fullmatch(r"([A-Za-z])([0-9]{1,2})", zone.strip())
    if found is None:
        raise EditError(f"“{zone[:10]}” is no tolerance zone; write one such as H7 or g6", nearest="H7")
    letter, grade = found[1], int(found[2])
    width, low = tolerance(size, grade), letter.lower()
    if letter.isupper():
        if low not in UPPER:
            raise EditError(f"holes {', '.join(k.upper() for k in UPPER)} are here, not {letter}", nearest="H7")
        least = -UPPER[low][_row(size)] / 1000  # the mirror image of the shaft of that letter
        return Limits(least, least + width)
    if low in UPPER:
        most = UPPER[low][_row(size)] / 1000
        return Limits(most - width, most)
    if low in LOWER and (low != "k" or 4 <= grade <= 7):
        least = LOWER[low][_row(size)] / 1000
    elif low == "k":
        least = 0.0
    elif low in FINER:
        least = FINER[low][_row(size, FINER_UP_TO)] / 1000
    else:
        known = ", ".join((*UPPER, *LOWER, *FINER))
        raise EditError(f"shafts {known} are here, not {letter}", nearest="g6")
    return Limits(least, least + width)


def fit(size: float, name: str) -> Fit:
    """size: nominal, mm; name: hole and shaft with a stroke between, as H7/g6."""
    hole, stroke, shaft = name.partition("/")
    if not stroke or not hole[:1].isupper() or not shaft[:1].islower():
        raise EditError(f"“{name[:20]}” is no fit; write hole and shaft, such as H7/g6", nearest="H7/g6")
    return Fit(name, USUAL.get(name, ""), limits(size, hole), limits(size, shaft))


def usual_fits(size: float) -> list[Fit]:
    return [fit(size, name) for name in USUAL]

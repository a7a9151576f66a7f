"""Tolerances of sizes as people write them, and the general ones where nobody wrote any.

ISO 2768-1:1989, table 1: permissible deviations of linear dimensions except for broken edges.
"""

from __future__ import annotations

import bisect
import re

from ..errors import EditError
from ..units import parse_length
from .iso286 import Limits, limits

GENERAL_UP_TO = (3, 6, 30, 120, 400, 1000, 2000, 4000)  # mm, each included; from 0.5
GENERAL = {
    "f": (0.05, 0.05, 0.1, 0.15, 0.2, 0.3, 0.5, None),
    "m": (0.1, 0.1, 0.2, 0.3, 0.5, 0.8, 1.2, 2.0),
    "c": (0.2, 0.3, 0.5, 0.8, 1.2, 2.0, 3.0, 4.0),
    "v": (None, 0.5, 1.0, 1.5, 2.5, 4.0, 6.0, 8.0),
}
CLASSES = {"f": "fine", "m": "medium", "c": "coarse", "v": "very coarse"}
LEAST = 0.5  # mm, below which the table says nothing


def general(size: float, grade: str) -> Limits:
    """For a size in mm.  Raises EditError where the table says nothing."""
    row = GENERAL[grade]
    at = bisect.bisect_left(GENERAL_UP_TO, abs(size))
    off = row[at] if LEAST <= abs(size) <= GENERAL_UP_TO[-1] else None
    if off is None:
        raise EditError(f"ISO 2768-{grade} gives nothing for {abs(size):.6g} mm; write a tolerance for it")
    return Limits(-off, off)


def read_tolerance(text: str, size: float, units: str = "mm") -> Limits:
    """±0.1, +0.2 -0.05, +0.1 (down to the size itself), or a zone of ISO 286 such as H7.  Raises EditError."""
    plain = text.strip().replace("−", "-").replace("+/-", "±").replace("+-", "±")
    if re.fullmatch(r"[A-Za-z][0-9]{1,2}", plain):
        return limits(abs(size), plain)
    if both := re.fullmatch(r"±\s*(\S.*)", plain):
        off = parse_length(both[1], units)
        return Limits(-abs(off), abs(off))
    ends = re.fullmatch(r"([+-][^+/-]+?)(?:\s*/?\s*([+-][^+/-]+))?", plain)
    if ends is None:
        raise EditError(f"“{text[:20]}” is no tolerance; write ±0.1, +0.2 -0.05 or a zone such as H7", nearest="±0.1")
    values = sorted(parse_length(end, units) for end in (ends[1], ends[2] or "0"))
    if values[0] == values[1]:
        raise EditError("both limits are the same, so there is no room", nearest="±0.1")
    return Limits(values[0], values[1])

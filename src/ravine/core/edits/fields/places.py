"""Places in a sketch, and planes."""

from __future__ import annotations

import dataclasses
import math
import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ... import units as u
from ...errors import EditError
from ...model.words import plural
from ...sketch.drawing import Spot
from ...sketch.entities import Point2
from .base import Context, Field


@dataclass(frozen=True)
class PlacesField(Field):
    """Places in a sketch, in order, as words apart:

    12,5        across and up, from the middle of the sketch's plane
    +40,0       from the place before
    40<30       that far from the place before, in that direction (degrees)
    60x40       the other corner: so wide and so tall from the place before
    p7          a point that is there
    p7+40,0     off a point that is there
    c9:12,5     on a curve, near that place
    m9          the middle of a line
    """

    single: bool = False
    counts: Mapping[str, tuple[int, int]] = dataclasses.field(
        default_factory=dict
    )  # by shape: least, most (0: any number)
    input = "places"

    def read(self, raw: Any, context: Context) -> tuple[Spot, ...]:
        if not isinstance(raw, str):
            raise EditError(f"{self.label} are written like 0,0 +40,0 or 40<30")
        found: list[Spot] = []
        for word in raw.replace("−", "-").split():
            found.append(self._spot(word, found[-1].place if found else None, context))
        if not found:
            raise EditError(f"{self.label}: give at least one place, such as 0,0")
        if self.single and len(found) > 1:
            raise EditError(f"{self.label} is one place; there are {len(found)}")
        if len(found) > 2000:
            raise EditError(f"{self.label}: {len(found)} places are too many; up to 2000 fit")
        return tuple(found)

    def _spot(self, word: str, last: Point2 | None, context: Context) -> Spot:
        if known := re.fullmatch(r"p([0-9]{1,11})", word):
            number = int(known[1])
            return Spot(context.snapshot.sketch_with("point", number).points[number], point=number)
        if known := re.fullmatch(r"p([0-9]{1,11})\+(.+)", word):
            x, y = context.snapshot.sketch_with("point", int(known[1])).points[int(known[1])]
            dx, dy = self._pair(known[2], context)
            return Spot((x + dx, y + dy))
        if known := re.fullmatch(r"m([0-9]{1,11})", word):
            sketch = context.snapshot.sketch_with("curve", int(known[1]))
            curve = sketch.curve(int(known[1]))
            if curve.kind != "line":
                raise EditError(f"c{curve.id} is no line, so it has no middle to draw at")
            (ax, ay), (bx, by) = sketch.places(curve)
            return Spot(((ax + bx) / 2, (ay + by) / 2), middle=curve.id)
        if known := re.fullmatch(r"c([0-9]{1,11}):(.+)", word):
            context.snapshot.sketch_with("curve", int(known[1]))
            return Spot(self._pair(known[2], context), on=int(known[1]))
        if "<" in word:
            size, _, angle = word.partition("<")
            if last is None:
                raise EditError(f"“{word}” is measured from the place before, and there is none yet")
            length = self._length(size, context)
            turn = u.parse_angle(angle, decimal_comma=context.decimal_comma)
            return Spot((last[0] + length * math.cos(turn), last[1] + length * math.sin(turn)))
        if sized := re.fullmatch(r"([^,;x×]+)[x×]([^,;x×]+)", word):
            if last is None:
                raise EditError(f"“{word[:30]}” is measured from the place before, and there is none yet")
            return Spot((last[0] + self._length(sized[1], context), last[1] + self._length(sized[2], context)))
        if word.startswith("+") and last is not None and "," in word:
            dx, dy = self._pair(word[1:], context)
            return Spot((last[0] + dx, last[1] + dy))
        return Spot(self._pair(word, context))

    def _pair(self, word: str, context: Context) -> Point2:
        parts = re.split(r"[;,]", word)
        if len(parts) != 2:
            raise EditError(f"“{word[:30]}” is no place; write it like 12,5 (across, up), +40,0, 60x40 or 40<30")
        return self._length(parts[0], context), self._length(parts[1], context)

    def _length(self, text: str, context: Context) -> float:
        value = u.parse_length(text, context.snapshot.units)
        if abs(value) > 1e6:
            raise EditError(f"“{text[:30]}” is farther out than a kilometre")
        return value

    def show(self, value: tuple[Spot, ...], context: Context) -> str:
        if len(value) > 2:
            return plural(len(value), "place")
        return " and ".join(self._words(s, context) for s in value)

    def _words(self, spot: Spot, context: Context) -> str:
        unit = u.LENGTHS[context.snapshot.units]
        return ", ".join(f"{round(v / unit, 4):g}" for v in spot.place)

    def edit_text(self, value: tuple[Spot, ...], context: Context) -> str:
        unit = u.LENGTHS[context.snapshot.units]
        found = []
        for spot in value:
            pair = ",".join(f"{round(v / unit, 9):.12g}" for v in spot.place)
            found.append(
                f"p{spot.point}" if spot.point else f"m{spot.middle}" if spot.middle
                else f"c{spot.on}:{pair}" if spot.on else pair
            )  # fmt: skip
        return " ".join(found)

    def schema(self) -> dict:
        return {"type": "string", "description": self.help, "examples": ["0,0 +40,0 +0,20"]}


@dataclass(frozen=True)
class PlaneField(Field):
    """A plane as six numbers: a point on it, mm, and the direction square to it.  Written `x 12.5 mm` or `-z 3` for one
    square to an axis of the model, else `0,0,10 along 0.3,0.5,0.6` with the point in the model's unit."""

    input = "text"

    def read(self, raw: Any, context: Context) -> tuple[float, ...]:
        text = raw.strip().lower().replace("−", "-") if isinstance(raw, str) else ""
        if square := re.fullmatch(r"([-+]?)([xyz])(?:\s+(.+))?", text):
            sign, axis = (-1.0 if square[1] == "-" else 1.0), "xyz".index(square[2])
            at = (
                u.parse_length(square[3], context.snapshot.units, decimal_comma=context.decimal_comma)
                if square[3]
                else 0.0
            )
            point, normal = [0.0] * 3, [0.0] * 3
            point[axis], normal[axis] = at, sign
            return (*point, *normal)
        number = r"\s*([-+0-9.e]+)\s*"
        found = re.fullmatch(rf"{number},{number},{number}along{number},{number},{number}", text)
        try:
            values = [float(v) for v in found.groups()] if found else []
        except ValueError:
            values = []
        if len(values) != 6 or not any(values[3:]) or not all(math.isfinite(v) for v in values):
            raise EditError(
                f"{self.label} is written like x 12.5 mm or -z 3, or 0,0,10 along 0,0.6,0.8 where it is tilted",
                nearest="x 0",
            )
        unit = u.LENGTHS[context.snapshot.units]
        return (*(v * unit for v in values[:3]), *values[3:])

    def show(self, value: tuple[float, ...], context: Context) -> str:
        axis = self._axis(value)
        return (
            f"{axis} {u.format_length(value['xyz'.index(axis[-1])], context.snapshot.units)}"
            if axis
            else "a tilted plane"
        )

    def edit_text(self, value: tuple[float, ...], context: Context) -> str:
        if self._axis(value):
            return self.show(value, context)
        unit = u.LENGTHS[context.snapshot.units]
        return "{},{},{} along {},{},{}".format(
            *(f"{v / unit:.12g}" for v in value[:3]), *(f"{v:.12g}" for v in value[3:])
        )

    def _axis(self, value: tuple[float, ...]) -> str:
        """`x`, `-y` and so on; empty for a tilted plane."""
        normal = value[3:]
        size = math.hypot(*normal)
        for k, letter in enumerate("xyz"):
            if abs(abs(normal[k]) - size) < 1e-12 * size:
                return ("-" if normal[k] < 0 else "") + letter
        return ""

    def schema(self) -> dict:
        return {"type": "string", "description": self.help}

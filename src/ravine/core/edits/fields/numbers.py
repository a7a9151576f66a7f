"""Lengths, angles, shares, factors and counts."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from typing import Any

from ... import units as u
from ...errors import EditError
from .base import Context, Field
from .reach import check_reach

MOST_TURNS = 100
_DEGREES = re.compile(r"°|[0-9.)\s](?:deg|rad|grad)\b")


@dataclass(frozen=True)
class LengthField(Field):
    """Length in mm inside the core."""

    minimum: float | None = None
    maximum: float | None = None
    nonzero: bool = False
    input = "length"

    def read(self, raw: Any, context: Context) -> float:
        if isinstance(raw, bool) or not isinstance(raw, (str, int, float)):
            raise EditError(f"{self.label} takes a length such as 12.5 mm")
        value = self._parse(raw, context)
        units = context.snapshot.units
        if self.nonzero and abs(value) < 1e-6:
            raise EditError(f"{self.label} is zero, so nothing would change")
        for bound, word in ((self.minimum, "smallest"), (self.maximum, "largest")):
            if bound is not None and (value < bound if word == "smallest" else value > bound):
                text = u.format_length(bound, units)
                raise EditError(
                    f"{self.label} cannot be {u.format_length(value, units)}; the {word} is {text}",
                    nearest=text,
                )
        check_reach(self.label, raw, value, context)
        return value

    def _parse(self, raw: str | float, context: Context) -> float:
        names, comma = context.snapshot.named_sizes(), context.decimal_comma
        return u.parse_length(raw, context.snapshot.units, decimal_comma=comma, names=names)

    def show(self, value: float, context: Context) -> str:
        return u.format_length(value, context.snapshot.units)

    def edit_text(self, value: float, context: Context) -> str:
        return u.editable_length(value, context.snapshot.units)

    def schema(self) -> dict:
        return {"type": ["string", "number"], "description": self.help, "examples": ["12.5 mm", "1/2 in + 3"]}


class Formula(float):
    """A length in mm that remembers how it was worked out; text is empty where no named size is in it.  angle: it was
    written as one, and is as many of the model's units as that has degrees."""

    text: str = ""
    angle: bool = False


@dataclass(frozen=True)
class FormulaField(LengthField):
    """A length that goes on following the named sizes in it."""

    def _parse(self, raw: str | float, context: Context) -> float:
        value = Formula(super()._parse(raw, context))
        if isinstance(raw, str) and u.names_in(raw, context.snapshot.named_sizes()):
            value.text = raw.strip()
        return value

    def read(self, raw: Any, context: Context) -> float:
        """Degrees, for a dimension that is an angle, are as many of the model's units, however small the model is."""
        angles = context.snapshot.named_angles()
        if not isinstance(raw, str) or not (_DEGREES.search(raw) or u.names_in(raw, angles)):
            return super().read(raw, context)
        turn = u.parse_angle(raw, decimal_comma=context.decimal_comma, names=angles)
        value = Formula(math.degrees(turn) * u.LENGTHS[context.snapshot.units])
        value.angle = True
        if u.names_in(raw, angles):
            value.text = raw.strip()
        return value

    def edit_text(self, value: float, context: Context) -> str:
        return getattr(value, "text", "") or super().edit_text(value, context)


@dataclass(frozen=True)
class AngleField(Field):
    """Angle in radians inside the core."""

    input = "angle"

    def read(self, raw: Any, context: Context) -> float:
        if isinstance(raw, bool) or not isinstance(raw, (str, int, float)):
            raise EditError(f"{self.label} takes an angle such as 15°")
        value = u.parse_angle(raw, decimal_comma=context.decimal_comma)
        if abs(value) > MOST_TURNS * math.tau:
            nearest = self.edit_text(math.copysign(MOST_TURNS * math.tau, value), context)
            raise EditError(f"{self.label} goes up to {MOST_TURNS} turns either way", nearest=nearest)
        return value

    def show(self, value: float, context: Context) -> str:
        return u.format_angle(value)

    def edit_text(self, value: float, context: Context) -> str:
        return u.format_angle(value).replace("−", "-").replace("\u202f", "")

    def schema(self) -> dict:
        return {"type": ["string", "number"], "description": self.help, "examples": ["15°", "0.5 rad"]}


@dataclass(frozen=True)
class QuantityField(Field):
    """A force, pressure and so on; kind: of units.QUANTITIES."""

    kind: str = "force"
    least: float | None = None
    input = "quantity"

    def read(self, raw: Any, context: Context) -> float:
        if isinstance(raw, bool) or not isinstance(raw, (str, int, float)):
            raise EditError(f"{self.label} takes a {self.kind}")
        value = u.parse_quantity(raw, self.kind, decimal_comma=context.decimal_comma)
        if not math.isfinite(value) or abs(value) > 1e15:
            raise EditError(f"{self.label} is beyond all measure")
        if self.least is not None and value < self.least:
            nearest = u.format_quantity(self.least, self.kind)
            raise EditError(f"{self.label} is at least {nearest}", nearest=nearest)
        return value

    def show(self, value: float, context: Context) -> str:
        return u.format_quantity(value, self.kind)

    def edit_text(self, value: float, context: Context) -> str:
        return u.format_quantity(value, self.kind).replace("−", "-")

    def schema(self) -> dict:
        unit = next(iter(u.QUANTITIES[self.kind]))
        return {"type": ["string", "number"], "description": self.help, "examples": [f"12 {unit}"]}


@dataclass(frozen=True)
class ShareField(Field):
    """A share between nothing and all: 0.4, 40 % or 2/5."""

    input = "share"

    def read(self, raw: Any, context: Context) -> float:
        value = _ratio(raw)
        if value is None:
            raise EditError(f"{self.label} is a share such as 40 %; got “{str(raw)[:40]}”")
        if not 0 < value <= 1:
            raise EditError(f"{self.label} lies above 0 and goes up to 100 %", nearest="100 %" if value > 1 else "1 %")
        return value

    def show(self, value: float, context: Context) -> str:
        return f"{100 * value:.4g} %"

    def schema(self) -> dict:
        return {"type": ["string", "number"], "description": self.help, "examples": ["40 %", "2/5"]}


@dataclass(frozen=True)
class FactorField(Field):
    """A factor above zero: 1.02, 102 % or 1/2."""

    input = "share"

    def read(self, raw: Any, context: Context) -> float:
        value = _ratio(raw)
        if value is None:
            raise EditError(f"{self.label} is a number such as 1.02; got “{str(raw)[:40]}”")
        if not 1e-4 <= value <= 1e4:
            raise EditError(f"{self.label} goes from 0.0001 to 10000", nearest="0.0001" if value < 1 else "10000")
        return value

    def show(self, value: float, context: Context) -> str:
        return f"{value:.8g}"

    def schema(self) -> dict:
        return {"type": ["string", "number"], "description": self.help, "examples": ["1.02", "102 %"]}


def _ratio(raw: Any) -> float | None:
    """A bare number, a percentage or a fraction; None for anything else."""
    text = str(raw).strip() if isinstance(raw, (str, int, float)) and not isinstance(raw, bool) else ""
    found = re.fullmatch(r"([0-9]*\.?[0-9]+)\s*(?:(%)|/\s*([0-9]*[1-9][0-9]*))?", text)
    return float(found[1]) / (100.0 if found[2] else float(found[3] or 1)) if found else None


@dataclass(frozen=True)
class CountField(Field):
    """A whole number, from 1 to `MOST`: what is more would only be computed to be refused."""

    MOST = 100_000
    input = "count"

    def read(self, raw: Any, context: Context) -> int:
        text = str(raw).strip() if isinstance(raw, (str, int)) and not isinstance(raw, bool) else ""
        if not re.fullmatch(r"[0-9]{1,9}", text) or int(text) < 1:
            raise EditError(f"{self.label} is a whole number from 1 up; got “{str(raw)[:40]}”")
        if int(text) > self.MOST:
            raise EditError(f"{self.label} is up to {self.MOST}; got {int(text):,}", nearest=str(self.MOST))
        return int(text)

    def schema(self) -> dict:
        return {"type": ["integer", "string"], "minimum": 1, "maximum": self.MOST, "description": self.help}

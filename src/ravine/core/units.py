"""Lengths and angles: reading what people type, writing what they read.

Inside the core every length is in millimetres and every angle in radians.  A bare number typed by the user is
in the model's own unit (lengths) or in degrees (angles).  Sums, products and fractions are allowed, each number
with its own unit: ``1/2 in + 3``, ``2*(3 mm + 1 in)``, ``1 1/2 ft``.  Sizes that have a name
stand in by it: ``2*wall + 1``.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from .errors import UnitError

# Exact by definition: international inch, ISO 80000-3.
LENGTHS = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "ft": 304.8, "µm": 0.001, "um": 0.001}
_LENGTH_ALIASES = {
    '"': "in",
    "″": "in",
    "inch": "in",
    "inches": "in",
    "'": "ft",
    "′": "ft",
    "feet": "ft",
    "foot": "ft",
}
ANGLES = {"deg": math.pi / 180.0, "rad": 1.0, "grad": math.pi / 200.0}
_ANGLE_ALIASES = {"°": "deg", "degree": "deg", "degrees": "deg", "gon": "grad"}
# coherent with mm, N, MPa, t, K, W; a bare number is in the first of each
QUANTITIES: dict[str, dict[str, float]] = {
    "force": {"N": 1.0, "kN": 1000.0, "lbf": 4.4482216152605},
    "pressure": {"MPa": 1.0, "kPa": 1e-3, "Pa": 1e-6, "bar": 0.1, "GPa": 1000.0, "psi": 6.894757293168e-3},
    "moment": {"N m": 1000.0, "N mm": 1.0, "kN m": 1e6, "lbf in": 112.98482902761},
    "speed": {"rpm": math.pi / 30, "rad/s": 1.0, "1/s": 2 * math.pi},
    "temperature": {"°C": 1.0},
    "power": {"W": 1.0, "kW": 1000.0},
    "film": {"W/(m² K)": 1.0, "W/m2K": 1.0},
    "ground": {"N/mm³": 1.0, "MPa/mm": 1.0},
}
MODEL_UNITS = ("mm", "cm", "m", "in", "ft")

_TOKEN = re.compile(
    r"\s*(?:(\d+\.?\d*(?:[eE][-+]?\d+)?|\.\d+(?:[eE][-+]?\d+)?)|([A-Za-zµ°\"'″′][A-Za-zµ°0-9_]*)|([-+*/()]))"
)
_MIXED_NUMBER = re.compile(r"(?<![\d.])(\d+)\s+(\d+)\s*/\s*(\d+)(?![\d.])")
_COMMA_NUMBER = re.compile(r"(\d+),(\d+)")


@dataclass(frozen=True)
class _Quantity:
    value: float
    power: int  # 0: bare number, 1: has a unit
    typed: str = ""


class _Reader:
    """Recursive descent over sum := product (('+'|'-') product)*; a unit closes the product before it, so that
    ``1/2 in`` is half an inch."""

    def __init__(
        self, text: str, units: dict[str, float], aliases: dict[str, str], what: str, names: Mapping[str, float]
    ) -> None:
        self.text, self.units, self.aliases, self.what, self.names = text, units, aliases, what, names
        self.tokens = self._split(text)
        self.at = 0

    def fail(self, why: str) -> UnitError:
        return UnitError(f"“{self.text.strip()}” is not {self.what}: {why}")

    def _split(self, text: str) -> list[tuple[str, str]]:
        text = _MIXED_NUMBER.sub(r"(\1+\2/\3)", text).rstrip()
        tokens, at = [], 0
        while at < len(text):
            match = _TOKEN.match(text, at)
            if not match:
                raise self.fail(f"“{text[at:].strip()[:1]}” has no meaning there")
            kind = ("number", "unit", "sign")[match.lastindex - 1 if match.lastindex else 0]
            tokens.append((kind, match.group(match.lastindex or 0)))
            at = match.end()
        return tokens

    def peek(self) -> tuple[str, str]:
        return self.tokens[self.at] if self.at < len(self.tokens) else ("end", "")

    def take(self) -> tuple[str, str]:
        token = self.peek()
        self.at += 1
        return token

    def unit(self, name: str) -> float:
        name = self.aliases.get(name, name)
        if name not in self.units:
            raise self.fail(f"“{name}” is no unit here; use {', '.join(k for k in self.units if k != 'um')}")
        return self.units[name]

    def sum(self, default: float) -> _Quantity:
        total = self.product(default)
        while self.peek()[1] in ("+", "-"):
            sign = 1.0 if self.take()[1] == "+" else -1.0
            term = self.product(default)
            if total.power != term.power:  # a bare number beside one with a unit takes the default unit
                total = _Quantity(total.value * (1 if total.power else default), 1)
                term = _Quantity(term.value * (1 if term.power else default), 1)
            total = _Quantity(total.value + sign * term.value, total.power)
        return total

    def product(self, default: float) -> _Quantity:
        left = self.factor(default)
        while True:
            kind, text = self.peek()
            if kind == "unit":
                if left.power:
                    raise self.fail("a number has two units")
                left = _Quantity(left.value * self.unit(self.take()[1]), 1)
            elif text in ("*", "/"):
                self.take()
                right = self.factor(default)
                if text == "*":
                    if left.power and right.power:
                        raise self.fail(
                            "two lengths multiplied make an area"
                            if self.units is LENGTHS
                            else "two angles cannot be multiplied"
                        )
                    left = _Quantity(left.value * right.value, left.power + right.power)
                else:
                    if right.value == 0:
                        raise self.fail("it divides by zero")
                    if right.power > left.power:
                        raise self.fail("a number cannot be divided by a length")
                    left = _Quantity(left.value / right.value, left.power - right.power)
            elif kind == "number" or text == "(":
                raise self.fail(f"a sign is missing before “{text}”")
            else:
                return left

    def factor(self, default: float) -> _Quantity:
        kind, text = self.take()
        if kind == "number":
            return _Quantity(float(text), 0)
        if text in ("+", "-"):
            inner = self.factor(default)
            return _Quantity(-inner.value if text == "-" else inner.value, inner.power)
        if text == "(":
            inner = self.sum(default)
            if self.take()[1] != ")":
                raise self.fail("a bracket is not closed")
            return inner
        if kind == "unit" and text in self.names:
            return _Quantity(self.names[text], 1)
        if kind == "unit" and self.aliases.get(text, text) not in self.units:
            known = ", ".join(self.names) or "none has one yet"
            raise self.fail(f"no size is called “{text}” ({known})")
        if kind == "end":
            raise self.fail("it stops in the middle" if self.tokens else "it is empty")
        raise self.fail(f"a number is missing before “{text}”")


def _read(
    text: str,
    default: float,
    units: dict[str, float],
    aliases: dict[str, str],
    what: str,
    decimal_comma: bool,
    names: Mapping[str, float],
) -> float:
    if len(text) > 200:
        raise UnitError(f"“{text[:20]}…” is not {what}: it is longer than 200 characters")
    comma = _COMMA_NUMBER.search(text)
    if comma:
        if not decimal_comma:
            raise UnitError(
                f"“{text.strip()}” could mean two numbers; write {comma.group(1)}.{comma.group(2)} with a point",
                nearest=_COMMA_NUMBER.sub(r"\1.\2", text).strip(),
            )
        text = _COMMA_NUMBER.sub(r"\1.\2", text)
    reader = _Reader(text, units, aliases, what, names)
    result = reader.sum(default)
    if reader.peek()[0] != "end":
        raise reader.fail(f"“{reader.peek()[1]}” is left over")
    value = result.value * (1.0 if result.power else default)
    if not math.isfinite(value):
        raise reader.fail("it is too large")
    return value


def parse_length(
    text: str | float, units: str = "mm", *, decimal_comma: bool = False, names: Mapping[str, float] | None = None
) -> float:
    """Length in mm from text or a bare number in `units`.

    A decimal comma is refused with a hint unless `decimal_comma` says that the person's locale writes one.
    `names` are lengths in mm that may be used by name.  Raises UnitError.
    """
    if isinstance(text, (int, float)):
        text = repr(float(text))
    return _read(text, LENGTHS[units], LENGTHS, _LENGTH_ALIASES, "a length", decimal_comma, names or {})


def names_in(text: str, names: Iterable[str]) -> list[str]:
    """Which of the names a formula uses."""
    words = set(re.findall(r"[A-Za-zµ°][A-Za-zµ°0-9_]*", text))
    return [name for name in names if name in words]


def check_name(name: str) -> None:
    """Raises UnitError for what formulas could not use as a name."""
    if not re.fullmatch(r"[A-Za-z][A-Za-z0-9_]{0,30}", name):
        raise UnitError(f"“{name[:40]}” is no name for a size: letters, digits and _ after a first letter")
    if name in LENGTHS or name in _LENGTH_ALIASES:
        raise UnitError(f"“{name}” is a unit, so no size can be called that")


def parse_quantity(text: str | float, kind: str, decimal_comma: bool = False) -> float:
    """kind: of QUANTITIES.  Raises UnitError, naming what there is."""
    units = QUANTITIES[kind]
    first = next(iter(units))
    if isinstance(text, (int, float)):
        return float(text) * units[first]
    plain = text.strip().replace("−", "-")
    found = re.fullmatch(r"([-+]?[0-9]*[.,]?[0-9]+(?:[eE][-+]?[0-9]+)?)\s*(.*)", plain)
    known = {re.sub(r"[\s·*]", "", u).lower(): v for u, v in units.items()}
    unit = re.sub(r"[\s·*]", "", found[2]).lower() if found else ""
    if found is None or (unit and unit not in known):
        raise UnitError(
            f"“{text.strip()[:40]}” is not a {kind}: it is written as 12 {first}; there is {', '.join(units)}"
        )
    number = float(found[1].replace(",", "."))
    return number * (known[unit] if unit else units[first])


def format_quantity(value: float, kind: str) -> str:
    first, scale = next(iter(QUANTITIES[kind].items()))
    return f"{value / scale:.6g} {first}".replace("-", "−")


def parse_angle(text: str | float, *, decimal_comma: bool = False, names: Mapping[str, float] | None = None) -> float:
    """Angle in radians from text or a bare number in degrees.  `names` are angles in radians that may be used by name.
    Raises UnitError."""
    if isinstance(text, (int, float)):
        text = repr(float(text))
    return _read(text, ANGLES["deg"], ANGLES, _ANGLE_ALIASES, "an angle", decimal_comma, names or {})


def spelled(value: float, decimals: int = 0) -> str:
    """With thin spaces between thousands and no trailing zeros."""
    if abs(value) >= LARGEST_SPELLED:
        return f"{value:.4g}".replace("-", "−").replace("e+", "e")
    text = f"{value:.{decimals}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    whole, _, part = text.lstrip("-").partition(".")
    if len(whole) > 4:
        whole = f"{int(whole):,}".replace(",", "\u202f")  # thin space between thousands, ISO 80000-1
    sign = "−" if text.startswith("-") and (whole.strip("0\u202f") or part.strip("0")) else ""
    return f"{sign}{whole}.{part}" if part else f"{sign}{whole}"


LARGEST_SPELLED = 1e12  # beyond it, digits say nothing
_DECIMALS = {"mm": 3, "cm": 4, "m": 6, "in": 4, "ft": 5}


def format_length(mm: float, units: str = "mm", *, decimals: int | None = None) -> str:
    """`12.5 mm`: at most a micrometre's worth of digits, no trailing zeros."""
    return f"{spelled(mm / LENGTHS[units], _DECIMALS[units] if decimals is None else decimals)} {units}"


def editable_length(mm: float, units: str = "mm") -> str:
    """As format_length, in plain ASCII that parse_length reads back."""
    return format_length(mm, units).replace("−", "-").replace("\u202f", "")


def format_angle(radians: float) -> str:
    return f"{spelled(math.degrees(radians), 3)}°"


def _significant(value: float, figures: int = 4) -> str:
    if value == 0:
        return "0"
    decimals = max(0, figures - 1 - math.floor(math.log10(abs(value))))
    return spelled(round(value, decimals), decimals)


def format_area(mm2: float, units: str = "mm") -> str:
    return f"{_significant(mm2 / LENGTHS[units] ** 2)} {units}²"


def format_volume(mm3: float, units: str = "mm", *, signed: bool = False) -> str:
    text = _significant(mm3 / LENGTHS[units] ** 3)
    return f"{'+' if signed and mm3 > 0 else ''}{text} {units}³"


def format_mass(kg: float, *, signed: bool = False) -> str:
    plus = "+" if signed and kg > 0 else ""
    if abs(kg) >= 1:
        return f"{plus}{_significant(kg, 3)} kg"
    return f"{plus}{_significant(kg * 1000, 3)} g"

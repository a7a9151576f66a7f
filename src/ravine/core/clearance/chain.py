"""A chain of toleranced sizes: what a length that is worked out from them comes to, at worst and as a rule.

The length is a formula over named sizes; each counts with its slope there.  Worst case: every size at the limit that
is worse.  Root sum square: sizes are independent and spread about the middle of their zones, whose limits lie equally
many standard deviations off; so is the result (e.g. Chase, Parkinson: A survey of research in the application of
tolerance analysis, 1991).
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..errors import EditError, UnitError
from ..model.records import TOLERANCES
from ..model.snapshot import Snapshot
from ..units import names_in, parse_length
from .size_tolerance import CLASSES, general, read_tolerance

STEP = 1e-4  # mm, by which a size is varied for its slope
STRAIGHT = 1e-6  # of slopes either side, above which the formula is no sum


@dataclass(frozen=True)
class Link:
    """slope: how much the length changes for a mm of this size; low, high: deviations, mm; text: as written, or the
    general class; share: of the variance, 0 to 1."""

    name: str
    size: float
    slope: float
    low: float
    high: float
    text: str
    share: float


@dataclass(frozen=True)
class Chain:
    """All mm.  nominal: from the sizes as they are; worst, likely: least and most; straight: the length is a plain sum
    of multiples, so that the worst case is exact."""

    nominal: float
    worst: tuple[float, float]
    likely: tuple[float, float]
    links: tuple[Link, ...]
    straight: bool


def chain_of(snapshot: Snapshot, formula: str, grade: str = "m") -> Chain:
    """grade: the general class of ISO 2768-1 for sizes with no tolerance of their own.  A size that has a formula and
    no tolerance stands for the sizes in it.  Raises EditError."""
    if grade not in CLASSES:
        raise EditError(f"general classes are {', '.join(CLASSES)}, not “{grade[:10]}”", field="general")
    sizes, texts = snapshot.named_sizes(), snapshot.formulas()
    written = {t.name: t.text for t in snapshot.kept(TOLERANCES).values()}
    derived = {name: text for name, text in texts.items() if name not in written}
    base = _base(formula, sizes, derived, ())
    if not base:
        known = ", ".join(sizes) or "none yet"
        raise EditError(f"no named size is in “{formula[:60]}”; there is {known}", field="formula")

    def length(**changed: float) -> float:
        return _worked_out(formula, {**sizes, **changed}, derived, snapshot.units)

    nominal, straight = length(), True
    rows = []
    for name in base:
        up, down = length(**{name: sizes[name] + STEP}), length(**{name: sizes[name] - STEP})
        slope = (up - down) / (2 * STEP)
        straight &= abs((up - nominal) - (nominal - down)) <= STRAIGHT * STEP * max(1.0, abs(slope))
        text = written.get(name) or f"ISO 2768-{grade}"
        try:
            off = read_tolerance(text, sizes[name], snapshot.units) if name in written else general(sizes[name], grade)
        except EditError as error:
            raise EditError(f"{name}: {error}", field="formula", nearest=error.nearest) from error
        rows.append((name, slope, off, text))
    low = sum(min(s * off.low, s * off.high) for _, s, off, _ in rows)
    high = sum(max(s * off.low, s * off.high) for _, s, off, _ in rows)
    middle = nominal + sum(s * (off.low + off.high) / 2 for _, s, off, _ in rows)
    squares = [(s * (off.high - off.low) / 2) ** 2 for _, s, off, _ in rows]
    spread, whole = math.sqrt(sum(squares)), sum(squares) or 1.0
    links = tuple(
        Link(name, sizes[name], s, off.low, off.high, text, square / whole)
        for (name, s, off, text), square in zip(rows, squares, strict=True)
    )
    return Chain(nominal, (nominal + low, nominal + high), (middle - spread, middle + spread), links, straight)


def _base(formula: str, sizes: dict[str, float], derived: dict[str, str], inside: tuple[str, ...]) -> list[str]:
    """Names of sizes that the formula comes down to, each once."""
    found: dict[str, None] = {}
    for name in names_in(formula, sizes):
        if name in derived and name not in inside:
            found |= dict.fromkeys(_base(derived[name], sizes, derived, (*inside, name)))
        else:
            found[name] = None
    return list(found)


def _worked_out(formula: str, sizes: dict[str, float], derived: dict[str, str], units: str) -> float:
    names = dict(sizes)
    left = dict(derived)

    def value(text: str) -> float:
        for name in names_in(text, sizes):
            if name in left:
                names[name] = value(left.pop(name))
        return parse_length(text, units, names=names)

    try:
        return value(formula)
    except UnitError as error:
        raise EditError(str(error), field="formula") from error

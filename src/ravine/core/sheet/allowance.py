"""How long a bend is when it is flat.

Allowance of a bend of angle φ (rad), inner radius r, thickness t: φ (r + K t).  The deduction is what the two outer
lengths, each to the outer corner, are longer together than the flat: 2 (r + t) tan(φ/2) less the allowance, up to 90°.
DIN 6935:2011 gives K = k/2 with k = 0.65 + log10(r/t)/2 for r/t up to 5, and k = 1 beyond.
"""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Sequence
from dataclasses import dataclass

from ..errors import EditError
from ..model.sheet_data import K_FACTOR, SheetData

RULES = {"k-factor": "one K-factor", "din 6935": "by DIN 6935", "table": "by a bend table"}
Row = tuple[float, float, float, float]
SAME = 0.02  # relative: a row of a table is for the thickness that it names, give or take this
COLUMNS = ("thickness", "radius", "angle", "deduction")


@dataclass(frozen=True)
class Allowance:
    """Callable: the K-factor for an inner radius, a thickness (mm) and an angle (rad)."""

    rule: str = "k-factor"
    k_factor: float = K_FACTOR
    table: tuple[Row, ...] = ()

    @classmethod
    def of(cls, data: SheetData | None) -> Allowance:
        return cls() if data is None else cls(data.rule, data.k_factor, data.table)

    def __call__(self, radius: float, thickness: float, angle: float) -> float:
        """Raises EditError where a table has no row for it."""
        if self.rule == "din 6935":
            return din_6935(radius, thickness)
        if self.rule == "table":
            return k_of_deduction(
                _looked_up(self.table, radius, thickness, math.degrees(angle)), radius, thickness, angle
            )
        return self.k_factor


def din_6935(radius: float, thickness: float) -> float:
    """K-factor; sharp bends have that of a tenth of the thickness."""
    ratio = max(radius / thickness, 0.1)
    return min(0.65 + 0.5 * math.log10(ratio), 1.0) / 2 if ratio <= 5 else 0.5


def deduction(k_factor: float, radius: float, thickness: float, angle: float) -> float:
    """mm."""
    return 2 * (radius + thickness) * math.tan(angle / 2) - angle * (radius + k_factor * thickness)


def k_of_deduction(value: float, radius: float, thickness: float, angle: float) -> float:
    return ((2 * (radius + thickness) * math.tan(angle / 2) - value) / angle - radius) / thickness


def read_table(text: str) -> tuple[Row, ...]:
    """From CSV with a line of heads: thickness, radius, angle, deduction (mm, degrees).  Raises EditError naming the
    line."""
    plain = text.lstrip("\ufeff")
    try:
        dialect = csv.Sniffer().sniff(plain[:2000], delimiters=",;\t")
    except csv.Error:
        dialect = csv.excel
    reader = csv.DictReader(io.StringIO(plain), dialect=dialect)
    heads = {h.strip().lower(): h for h in reader.fieldnames or ()}
    lacking = [c for c in COLUMNS if c not in heads]
    if lacking:
        raise EditError(f"a bend table has the columns {', '.join(COLUMNS)}; {', '.join(lacking)} is not there",
                        field="table")  # fmt: skip
    rows = []
    for number, line in enumerate(reader, 2):
        try:
            values = [float((line[heads[c]] or "").replace(",", ".")) for c in COLUMNS]
        except ValueError as error:
            raise EditError(
                f"line {number} of the bend table has something that is no number", field="table"
            ) from error
        if not all(math.isfinite(v) for v in values) or min(values[:3]) < 0 or not 0 < values[2] < 180:
            raise EditError(f"line {number} of the bend table is no bend: an angle is between 0 and 180", field="table")
        rows.append((values[0], values[1], values[2], values[3]))
    if not rows:
        raise EditError("the bend table has no rows", field="table")
    return tuple(sorted(rows))


def _looked_up(table: Sequence[Row], radius: float, thickness: float, degrees: float) -> float:
    """Between rows of this thickness: by angle at the nearest radii, then by radius."""
    rows = [r for r in table if abs(r[0] - thickness) <= SAME * thickness]
    if not rows:
        known = ", ".join(f"{t:g}" for t in sorted({r[0] for r in table}))
        raise EditError(f"the bend table has rows for {known} mm, not for {thickness:.4g} mm", field="table")
    by_radius: dict[float, list[tuple[float, float]]] = {}
    for _, r, a, value in rows:
        by_radius.setdefault(r, []).append((a, value))
    return _between([(r, _between(sorted(pairs), degrees)) for r, pairs in sorted(by_radius.items())], radius)


def _between(pairs: Sequence[tuple[float, float]], at: float) -> float:
    """Linear between the two nearest, and on beyond the last two."""
    if len(pairs) == 1:
        return pairs[0][1]
    upper = next((k for k, (x, _) in enumerate(pairs) if x >= at), len(pairs) - 1)
    (x0, y0), (x1, y1) = pairs[max(upper, 1) - 1], pairs[max(upper, 1)]
    return y0 + (y1 - y0) * (at - x0) / (x1 - x0)

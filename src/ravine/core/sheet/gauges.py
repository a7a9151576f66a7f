"""What sheet is usually stocked in, and the radii of the punches that a workshop has: two tables, to be edited."""

from __future__ import annotations

import csv
from functools import cache
from importlib.resources import files

USUAL = "structural steel"


@cache
def _table(name: str, key: str, values: str) -> dict[str, tuple[float, ...]]:
    text = files(__package__).joinpath(f"tables/{name}.csv").read_text(encoding="utf-8")
    return {row[key]: tuple(map(float, row[values].split())) for row in csv.DictReader(text.splitlines())}


def gauges(material: str | None) -> tuple[float, ...]:
    """mm, thicknesses of a material, of steel where none or another is said."""
    found = _table("gauges", "material", "thicknesses")
    return found.get(material or "", found[USUAL])


def radii() -> tuple[float, ...]:
    """mm, inner radii that there are punches for."""
    return _table("tools", "tool", "radii")["punch"]


def nearest(value: float, among: tuple[float, ...]) -> float:
    return min(among, key=lambda v: (abs(v - value), v))

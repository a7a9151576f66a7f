"""Machines that parts are printed on: one table, to be edited.  Lengths mm, angles degrees, speeds mm/s, flow mm³/s,
density g/cm³, rate: money per gram.  wall, gap, hole: the smallest that come out; overhang: degrees off upright that a
wall may lean without support, 0 where nothing needs any."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from ..errors import EditError

PROCESSES = ("filament", "resin", "powder")


@dataclass(frozen=True)
class Machine:
    name: str
    process: str
    long: float
    wide: float
    high: float
    nozzle: float
    layer: float
    wall: float
    gap: float
    hole: float
    overhang: float
    speed: float
    flow: float
    density: float
    rate: float


@cache
def machines() -> dict[str, Machine]:
    text = files(__package__).joinpath("tables/machines.csv").read_text(encoding="utf-8")
    rows = csv.DictReader(text.splitlines())
    return {
        row["name"]: Machine(row["name"], row["process"], *(float(v) for k, v in row.items() if k not in NAMES))
        for row in rows
    }


NAMES = ("name", "process")


def machine_for(process: str = "filament", name: str = "", nozzle: float | None = None) -> Machine:
    """The named one, else the first of a process, with the nearest nozzle where one is said.  Raises EditError."""
    known = machines()
    if name:
        if name not in known:
            raise EditError(f"there is no machine {name[:40]}; there is {', '.join(known)}", field="machine")
        return known[name]
    fit = [m for m in known.values() if m.process == process]
    if not fit:
        raise EditError(f"there is no process {process[:20]}; there is {', '.join(PROCESSES)}", field="process")
    return fit[0] if nozzle is None else min(fit, key=lambda m: abs(m.nozzle - nozzle))

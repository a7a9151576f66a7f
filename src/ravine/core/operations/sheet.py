"""A body taken as sheet metal, and how its bends are counted when flat."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..errors import EditError
from ..model.geometry import Solid
from ..model.records import SHEETS
from ..model.references import Reference
from ..model.sheet_data import SheetData
from ..model.snapshot import Body, Snapshot
from ..model.words import plural
from ..sheet.allowance import RULES, read_table
from ..sheet.faults import KINDS
from ..sheet.unfold import Flat
from ..sheet.views import all_faults, flat_of
from ..units import format_length
from .work import Fact, Operation, Outcome, Work

LEAST_K, MOST_K = 0.0, 1.0


@dataclass(frozen=True, kw_only=True)
class MakeSheet(Operation):
    """on: a flat face of the solid, which the flat is seen from, or the part; thickness: mm, measured when left out."""

    on: tuple[Reference, ...]
    thickness: float | None = None
    rule: str = "k-factor"
    k_factor: float = 0.44
    table: str | None = None

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        body, root = sheet_body(snapshot, self.on)
        if self.rule not in RULES:
            raise EditError(f"a rule is one of {', '.join(RULES)}", field="rule")
        if not LEAST_K < self.k_factor < MOST_K:
            raise EditError("a K-factor lies between 0 and 1", field="k_factor", nearest="0.44")
        known = snapshot.kept(SHEETS).get(body.id)
        table = read_table(self.table) if self.table else known.table if known else ()
        if self.rule == "table" and not table:
            raise EditError("a bend table has to come with it, as CSV", field="table")
        data = replace(known or SheetData(body.id), root=root or (known.root if known else 0), thickness=self.thickness,
                       rule=self.rule, k_factor=self.k_factor, table=table)  # fmt: skip
        after = snapshot.with_kept(SHEETS, {**snapshot.kept(SHEETS), body.id: data})
        flat = flat_of(after, work.geometry, body)
        return Outcome(
            after, sheet_facts(flat, snapshot.units), tuple(fault_words(flat, work.geometry.solid(body.shape)))
        )


def sheet_body(snapshot: Snapshot, picked: tuple[Reference, ...], field: str = "on") -> tuple[Body, int]:
    """The body, and the id of a face that was picked, 0 where it was the part; the only one where nothing is picked.
    Raises EditError."""
    if not picked and len(snapshot.bodies) == 1:
        return next(iter(snapshot.bodies.values())), 0
    if not picked:
        raise EditError("pick one part, or a flat face of it", field=field)
    first = picked[0]
    if first.kind == "node":
        bodies = {snapshot.nodes[n].body for n in snapshot.leaves_below(first.number)}
        if len(bodies) != 1:
            raise EditError("pick one part, or a flat face of it", picked, field=field)
        return snapshot.body(bodies.pop() or 0), 0
    return first.owner[0], first.number


def size_words(flat: Flat, units: str) -> str:
    long, wide = (format_length(v, units) for v in flat.size)
    return f"{long.removesuffix(f' {units}')} × {wide}"


def sheet_facts(flat: Flat, units: str) -> tuple[Fact, ...]:
    return (
        Fact("thickness", "thickness", flat.reading.thickness, "length"),
        Fact("bends", "bends", float(len(flat.bends)), "count"),
        Fact("flat", "flat", size_words(flat, units)),
    )


def fault_words(flat: Flat, solid: Solid) -> list[str]:
    """What is no sheet, a line a kind; and matter that no panel stands for."""
    counts: dict[str, int] = {}
    for fault in all_faults(flat):
        counts[fault.kind] = counts.get(fault.kind, 0) + 1
    told = [f"{KINDS[kind]}: {plural(count, 'place')}" for kind, count in counts.items()]
    if flat.clashes:
        told.append(f"the flat lies over itself in {plural(len(flat.clashes), 'place')}")
    left = solid.volume_mm3 - flat.volume
    if not counts and not flat.forms and abs(left) > (1e-4 if flat.reading.folds else 1e-5) * solid.volume_mm3:
        told.append(f"{left:.4g} mm³ of the part belong to no wall and no bend")
    return told

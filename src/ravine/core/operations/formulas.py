"""Sizes that follow other sizes by formula."""

from __future__ import annotations

from dataclasses import replace

from .. import units as u
from ..errors import EditError
from ..model.snapshot import Snapshot
from ..sketch.entities import Constraint
from ..sketch.solver import solve


def follow_formulas(snapshot: Snapshot) -> Snapshot:
    """With every dimension that has a formula at the value it gives now, and the sketches settled again.  Raises
    EditError for a formula that leads back to itself or that its sketch cannot follow."""
    _check_rings(snapshot)
    for _ in range(1 + sum(len(s.constraints) for s in snapshot.sketches.values())):
        before = snapshot
        for sketch in before.sketches.values():
            names = snapshot.named_sizes()
            fresh = {r.id: _at_value(r, snapshot, names) for r in sketch.constraints.values() if r.text}
            if all(abs((r.value or 0.0) - (sketch.constraints[n].value or 0.0)) < 1e-9 for n, r in fresh.items()):
                continue
            solved = solve(replace(sketch, constraints={**sketch.constraints, **fresh}))
            if not solved.holds:
                told = ", ".join(f"{r.name or 'a size'} = {r.text}" for r in fresh.values())
                raise EditError(f"{sketch.name} cannot follow {told}", [f"r{n}" for n in fresh], field="size")
            snapshot = snapshot.with_sketch(solved.sketch)
        if snapshot is before:
            return snapshot
    raise EditError("the formulas do not come to rest", field="size")


def _at_value(rule: Constraint, snapshot: Snapshot, names: dict[str, float]) -> Constraint:
    value = u.parse_length(rule.text, snapshot.units, names=names)
    if value < 1e-6 and rule.kind not in ("across", "upwards"):
        raise EditError(f"{rule.name or 'a size'} = {rule.text} would be {u.format_length(value, snapshot.units)}",
                        [f"r{rule.id}"], field="size")  # fmt: skip
    return replace(rule, value=value)


def settled_formulas(snapshot: Snapshot) -> tuple[Snapshot, tuple[str, ...]]:
    """With formulas whose names are gone turned into plain sizes, and what to say of it."""
    names, lost = snapshot.named_sizes(), []
    for sketch in snapshot.sketches.values():
        for rule in sketch.constraints.values():
            if not rule.text:
                continue
            try:
                u.parse_length(rule.text, snapshot.units, names=names)
            except u.UnitError:
                snapshot = snapshot.with_sketch(snapshot.sketch(sketch.id).with_constraints(replace(rule, text="")))
                lost.append(f"{rule.name or 'a size'} = {rule.text} keeps its value, since a size in it is gone")
    return snapshot, tuple(lost)


def _check_rings(snapshot: Snapshot) -> None:
    constraints = [r for s in snapshot.sketches.values() for r in s.constraints.values()]
    names = [r.name for r in constraints if r.name]
    needs = {r.name: u.names_in(r.text, names) for r in constraints if r.name}
    for name in names:
        seen, ahead = set(), list(needs[name])
        while ahead:
            here = ahead.pop()
            if here == name:
                raise EditError(f"the formula of “{name}” leads back to itself", field="size")
            if here not in seen:
                seen.add(here)
                ahead += needs[here]

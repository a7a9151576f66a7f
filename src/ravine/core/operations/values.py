"""Values that have a name: sizes in sketches, dimensions on solids, and those that are nothing but a value.

One that has a formula follows the others; a dimension follows by being driven.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

from .. import units as u
from ..dimensions.table import given, is_angle
from ..dimensions.upkeep import follow_dimensions
from ..errors import EditError, RavineError, UnknownId
from ..model.dimension import BodyDimension
from ..model.named_value import NamedValue
from ..model.records import DIMENSIONS, VALUES, VARIANTS
from ..model.snapshot import Snapshot
from ..sketch.entities import Constraint
from ..sketch.solver import solve
from .driving import STILL, Driving, Target
from .facts import change_facts
from .work import Fact, Operation, Outcome, Work

SIGNED = ("across", "upwards")  # sizes of sketches that may go the other way
SETTLING = 12  # rounds within which formulas come to rest, or never do


@dataclass(frozen=True, kw_only=True)
class SetValues(Operation):
    """rows: formulas or lengths as typed, by name."""

    rows: Mapping[str, str]

    def do(self, work: Work) -> Outcome:
        snapshot, bodies = set_values(work, work.snapshot, self.rows)
        return value_outcome(work, snapshot, self.rows, bodies)


@dataclass(frozen=True, kw_only=True)
class SetValue(Operation):
    """value: mm, which may carry the formula it came from; a name that is new becomes a value of its own."""

    called: str
    value: float

    def do(self, work: Work) -> Outcome:
        snapshot, angles = work.snapshot, work.snapshot.named_angles()
        if getattr(self.value, "angle", False) and self.called not in angles:
            what = "a length" if self.called in snapshot.named_sizes() else "no angle between faces, so it is a length"
            raise EditError(f"“{self.called}” is {what}", field="value")
        plain = f"{float(self.value) / u.LENGTHS[snapshot.units]!r}°" if self.called in angles else ""
        text = getattr(self.value, "text", "") or plain or f"{float(self.value)!r} mm"
        snapshot, bodies = set_values(work, snapshot, {self.called: text}, new=True)
        return value_outcome(work, snapshot, [self.called], bodies)


@dataclass(frozen=True, kw_only=True)
class KeepVariants(Operation):
    """In place of those that were kept."""

    rows: tuple[dict[str, str], ...]

    def do(self, work: Work) -> Outcome:
        return Outcome(work.snapshot.with_kept(VARIANTS, dict(enumerate(self.rows))))


def value_outcome(work: Work, snapshot: Snapshot, names: Iterable[str], bodies: set[int]) -> Outcome:
    known, sizes, angles = _known(work.snapshot), snapshot.named_sizes(), snapshot.named_angles()
    facts = [
        Fact("value", n, u.format_angle(angles[n]))
        if n in angles
        else Fact("value", n if n in known else f"{n}, new", sizes.get(n, 0.0), "length")
        for n in names
    ]
    return Outcome(snapshot, (*facts, *(change_facts(work, snapshot, bodies) if bodies else ())))


@dataclass(frozen=True, kw_only=True)
class ForgetValue(Operation):
    """One that is nothing but a value; formulas that use it keep what they give now."""

    called: str

    def do(self, work: Work) -> Outcome:
        rows = work.snapshot.kept(VALUES)
        if self.called not in rows:
            raise unknown(self.called, rows)
        left = {n: v for n, v in rows.items() if n != self.called}
        snapshot, lost = settled_formulas(work.snapshot.with_kept(VALUES, left))
        return Outcome(snapshot, (), lost)


def unknown(name: str, known: Iterable[str]) -> UnknownId:
    return UnknownId(f"no value is called “{name[:40]}”; there is {', '.join(known) or 'none yet'}", field="called")


def set_values(
    work: Work, snapshot: Snapshot, rows: Mapping[str, str], *, new: bool = False
) -> tuple[Snapshot, set[int]]:
    """The state after it and bodies that changed.  Raises EditError naming the value that cannot be."""
    start = snapshot
    for name, text in rows.items():
        if name not in _known(snapshot):
            if not new:
                raise unknown(name, _known(snapshot))
            u.check_name(name)
            snapshot = snapshot.with_kept(VALUES, {**snapshot.kept(VALUES), name: NamedValue(name, 0.0, text)})
        else:
            snapshot = _with_text(snapshot, name, text)
    _check_rings(snapshot)
    snapshot, bodies = _at_rest(work, snapshot, set(rows))
    snapshot = _plain_again(snapshot, set(rows))
    return snapshot, bodies | {b for b, x in snapshot.bodies.items() if start.bodies.get(b) is not x}


def _known(snapshot: Snapshot) -> dict[str, float]:
    """All that formulas know by name, lengths (mm) and angles (rad)."""
    return {**snapshot.named_sizes(), **snapshot.named_angles()}


def follow_values(work: Work, snapshot: Snapshot) -> tuple[Snapshot, set[int], tuple[str, ...]]:
    """After a value changed: everything that has a formula at what it gives now.  The state, bodies that changed, and
    warnings.  Raises EditError for formulas that lead back to themselves or that cannot be followed."""
    snapshot = follow_dimensions(work.geometry, work.snapshot, snapshot)
    if not snapshot.formulas() and not any(r.text for s in snapshot.sketches.values() for r in s.constraints.values()):
        return snapshot, set(), ()
    snapshot, lost = settled_formulas(snapshot)
    _check_rings(snapshot)
    snapshot, bodies = _at_rest(work, snapshot, set())
    return snapshot, bodies, lost


def settled_formulas(snapshot: Snapshot) -> tuple[Snapshot, tuple[str, ...]]:
    """With formulas whose names are gone turned into plain sizes, and what to say of it."""
    sizes, angles, lost = snapshot.named_sizes(), snapshot.named_angles(), []

    def broken(one: Constraint | BodyDimension | NamedValue) -> bool:
        if not one.text:
            return False
        try:
            if is_angle(one):
                u.parse_angle(one.text, names=angles)
            else:
                u.parse_length(one.text, snapshot.units, names=sizes)
        except u.UnitError:
            lost.append(f"{one.name or 'a size'} = {one.text} keeps its value, since a size in it is gone")
            return True
        return False

    for sketch in snapshot.sketches.values():
        for rule in sketch.constraints.values():
            if broken(rule):
                snapshot = snapshot.with_sketch(snapshot.sketch(sketch.id).with_constraints(replace(rule, text="")))
    for item in snapshot.kept(DIMENSIONS).values():
        if broken(item):
            rows = snapshot.kept(DIMENSIONS)
            snapshot = snapshot.with_kept(DIMENSIONS, {**rows, item.id: replace(item, text="")})
    for value in snapshot.kept(VALUES).values():
        if broken(value):
            snapshot = snapshot.with_kept(VALUES, {**snapshot.kept(VALUES), value.name: replace(value, text="")})
    return snapshot, tuple(lost)


# --- one after the other, until nothing changes --------------------------------------------------------------------


def _with_text(snapshot: Snapshot, name: str, text: str) -> Snapshot:
    values, dimensions = snapshot.kept(VALUES), snapshot.kept(DIMENSIONS)
    if name in values:
        return snapshot.with_kept(VALUES, {**values, name: replace(values[name], text=text)})
    found = next((d for d in dimensions.values() if d.name == name), None)
    if found is not None:
        return snapshot.with_kept(DIMENSIONS, {**dimensions, found.id: replace(found, text=text)})
    for sketch in snapshot.sketches.values():
        for rule in sketch.constraints.values():
            if rule.name == name and rule.kind == "angle":
                raise EditError(f"“{name}” is an angle of {sketch.name}; it is set there", field="called")
            if rule.name == name:
                return snapshot.with_sketch(sketch.with_constraints(replace(rule, text=text)))
    raise unknown(name, _known(snapshot))


def _plain_again(snapshot: Snapshot, names: set[str]) -> Snapshot:
    """A text without any name in it is no formula."""
    known = _known(snapshot)
    for name in names:
        if not u.names_in(snapshot.formulas().get(name, ""), known):
            snapshot = _with_text(snapshot, name, "")
    return snapshot


def _at_rest(work: Work, snapshot: Snapshot, first: set[str]) -> tuple[Snapshot, set[int]]:
    """first: names that are driven before what follows them."""
    bodies: set[int] = set()
    for _ in range(SETTLING):
        before = snapshot
        snapshot = _sketches(_values(snapshot))
        snapshot, more = _dimensions(work, snapshot, first)
        bodies |= more
        if snapshot == before:
            return snapshot, bodies
    raise EditError("the formulas do not come to rest", field="value")


def _values(snapshot: Snapshot) -> Snapshot:
    rows = snapshot.kept(VALUES)
    fresh = {n: replace(v, value=given(v, snapshot)) if v.text else v for n, v in rows.items()}
    return snapshot if fresh == rows else snapshot.with_kept(VALUES, fresh)


def _sketches(snapshot: Snapshot) -> Snapshot:
    for sketch in list(snapshot.sketches.values()):
        fresh = {r.id: _at_value(r, snapshot) for r in sketch.constraints.values() if r.text}
        if all(abs((r.value or 0.0) - (sketch.constraints[n].value or 0.0)) < STILL for n, r in fresh.items()):
            continue
        solved = solve(replace(sketch, constraints={**sketch.constraints, **fresh}))
        if not solved.holds:
            told = ", ".join(f"{r.name or 'a size'} = {r.text}" for r in fresh.values())
            raise EditError(f"{sketch.name} cannot follow {told}", [f"r{n}" for n in fresh], field="size")
        snapshot = snapshot.with_sketch(solved.sketch)
    return snapshot


def _at_value(rule: Constraint, snapshot: Snapshot) -> Constraint:
    value = given(rule, snapshot)
    if value < 1e-6 and rule.kind not in SIGNED:
        raise EditError(f"{rule.name or 'a size'} = {rule.text} would be {u.format_length(value, snapshot.units)}",
                        [f"r{rule.id}"], field="size")  # fmt: skip
    return replace(rule, value=value)


def _dimensions(work: Work, snapshot: Snapshot, first: set[str]) -> tuple[Snapshot, set[int]]:
    """All that are not where their formulas have them are driven together; the others with formulas stay."""
    rows = [d for d in snapshot.kept(DIMENSIONS).values() if d.text and d.value is not None]
    targets = [Target(d, given(d, snapshot)) for d in rows]
    off = [t for t in targets if abs(t.value - (t.item.value or 0.0)) > STILL * 10]
    if not off:
        return snapshot, set()
    for target in off:
        if target.value < 1e-6 or (is_angle(target.item) and target.value >= math.pi):
            told = (u.format_angle(target.value) if is_angle(target.item)
                    else u.format_length(target.value, snapshot.units))  # fmt: skip
            raise EditError(f"{target.item.name} = {target.item.text} would be {told}", field="value")
    off.sort(key=lambda t: t.item.name not in first)
    moving = {t.item.name for t in off}
    inputs = {n for text in snapshot.formulas().values() for n in u.names_in(text, _known(snapshot))} - moving
    stays = [d for d in snapshot.kept(DIMENSIONS).values()
             if d.value is not None and d.name not in moving and (d.text or d.name in inputs)]  # fmt: skip
    try:
        done = Driving(work, None).do(snapshot, off, stays)
    except RavineError as error:
        if isinstance(error, EditError):
            raise
        raise EditError(f"{off[0].item.name} = {off[0].item.text}: {error}", field="value") from error
    return follow_dimensions(work.geometry, snapshot, done.snapshot), done.bodies


def _check_rings(snapshot: Snapshot) -> None:
    known = _known(snapshot)
    needs = {name: u.names_in(text, known) for name, text in snapshot.formulas().items()}
    for name in needs:
        seen, ahead = set(), list(needs[name])
        while ahead:
            here = ahead.pop()
            if here == name:
                raise EditError(f"the formula of “{name}” leads back to itself", field="size")
            if here not in seen:
                seen.add(here)
                ahead += needs.get(here, [])

"""A size held in a sketch: the length of a line, a distance, an angle, a radius or diameter."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..errors import EditError
from ..model.references import Reference
from ..model.snapshot import Snapshot
from ..sketch.constraints import SIZE_WORDS, fit, measured
from ..sketch.entities import Constraint, Sketch
from ..sketch.solver import solve
from ..units import check_name, names_in
from .sketching import contradiction, numbers, sketch_facts, sketch_of, with_constraint
from .values import follow_values, settled_formulas
from .work import Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class DimensionSketch(Operation):
    """kind: one of SIZE_WORDS; size in mm, which may carry the formula it came from; angle in radians; called: the name
    that formulas know it by."""

    on: tuple[Reference, ...]
    kind: str = "distance"
    size: float | None = None
    angle: float | None = None
    called: str | None = None

    def do(self, work: Work) -> Outcome:
        sketch = sketch_of(work.snapshot, self.on, "on")
        form, order = fit(sketch, self.kind, numbers(self.on))
        value = self.angle if self.kind == "angle" else self.size
        if value is None:
            raise EditError(
                f"still empty: the {SIZE_WORDS[self.kind]}", field="angle" if self.kind == "angle" else "size"
            )
        if value < 1e-6 and form not in ("angle", "across", "upwards"):
            raise EditError(f"a {SIZE_WORDS[self.kind]} of zero would leave nothing", field="size")
        known, text = known_dimension(sketch, form, order), getattr(value, "text", "")
        value = float(value)
        name = self._name(work.snapshot, known)
        if known is None:
            sketch, snapshot = with_constraint(work.snapshot, sketch, form, order, "kind", value)
            known = known_dimension(sketch, form, order)
            assert known
        else:
            solved = solve(sketch.with_constraints(replace(known, value=value)))
            if not solved.holds:
                raise contradiction(sketch.without([known.id]), replace(known, value=value), "size")
            sketch, snapshot = solved.sketch, work.snapshot
        sketch = sketch.with_constraints(replace(known, value=value, text=text, name=name))
        snapshot, lost = settled_formulas(snapshot.with_sketch(sketch))
        snapshot, _, told = follow_values(work, snapshot)
        return Outcome(snapshot, sketch_facts(snapshot.sketch(sketch.id)), (*lost, *told))

    def _name(self, snapshot: Snapshot, known: Constraint | None) -> str:
        """What it is called from now on; a name that is in use elsewhere is refused."""
        before = known.name if known else ""
        if not self.called or self.called == before:
            return before
        check_name(self.called)
        if self.called in {**snapshot.named_sizes(), **snapshot.named_angles()}:
            raise EditError(f"another size is called “{self.called}”", field="called")
        if before and (users := _users(snapshot, before)):
            raise EditError(f"formulas use the name “{before}”: {', '.join(users)}", field="called")
        return self.called


def known_dimension(sketch: Sketch, form: str, order: tuple[int, ...]) -> Constraint | None:
    return next((r for r in sketch.constraints.values() if r.kind == form and set(r.on) == set(order)), None)


def size_now(sketch: Sketch, picked: Sequence[int]) -> tuple[str, str, str] | None:
    """Which kind of size these curves and points have, its text now and its name; None where they have none."""
    for kind in ("distance", "diameter", "radius"):
        try:
            form, order = fit(sketch, kind, picked)
        except EditError:
            continue
        known = known_dimension(sketch, form, order)
        text = (known and known.text) or f"{measured(sketch, form, order):.6g} mm"
        return kind, text, known.name if known else ""
    return None


def _users(snapshot: Snapshot, name: str) -> list[str]:
    constraints = (r for s in snapshot.sketches.values() for r in s.constraints.values())
    return [r.text for r in constraints if r.text and names_in(r.text, [name])]

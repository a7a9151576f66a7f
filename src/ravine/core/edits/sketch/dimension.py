"""Give a size to what is drawn, or change one."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from ...errors import EditError
from ...model.references import Reference
from ...operations import formulas, sketching
from ...operations.work import Outcome, Work
from ...sketch.constraints import fit, measured
from ...sketch.entities import Constraint, Sketch
from ...sketch.solver import solve
from ...units import check_name, names_in
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, FormulaField, PickField, TextField
from ..registry import edit

WORDS = {"distance": "distance", "across": "distance across", "upwards": "distance upwards", "angle": "angle",
         "radius": "radius", "diameter": "diameter"}  # fmt: skip


@edit
class Dimension(Edit):
    name = "dimension"
    title = "Dimension"
    sentence = "Dimension {on} with {kind} {size} {angle} called {called}"
    past = "Dimensioned {on}"
    help = (
        "Holds a size: the length of a line, the distance of points, lines, or a point from a line, across or upwards "
        "only, the angle between two lines, a radius or diameter.  Given again it changes the size; the rest of the "
        "sketch moves as little as it can.  A size with a name stands for its length in every formula: 2*wall + 1; a "
        "dimension given by a formula goes on following it."
    )
    offered_for = "curve"
    rank = 11
    drawing = '<path d="M3 5v8M17 5v8"/><path class="hot" d="M3 4h14M5 2.5 3 4l2 1.5M15 2.5 17 4l-2 1.5"/>'

    on: tuple[Reference, ...] = field(
        PickField(
            "what it is on", "One or two curves and points of one sketch.", element="curve", also=("point",), maximum=2
        )
    )
    kind: str = field(ChoiceField("what is held", "Between or of what is picked.", default="distance", options=WORDS))
    size: float | None = field(
        FormulaField(
            "the size",
            "A length.",
            minimum=0.0,
            default=None,
            instead="angle",
            only=("kind", "distance", "across", "upwards", "radius", "diameter"),
        )
    )
    angle: float | None = field(AngleField("the angle", "From the first line to the second.", default=None,
                                       only=("kind", "angle")))  # fmt: skip

    called: str | None = field(
        TextField("the name", "What formulas call it: letters and digits.", limit=31, default=None, blank="no name")
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("curve", "point") and pick.count <= 2

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        """With the size it has now."""
        sketch = sketching.sketch_of(work.snapshot, picked, "on")
        for kind in ("distance", "diameter", "radius"):
            try:
                form, order = fit(sketch, kind, sketching.numbers(picked))
            except EditError:
                continue
            known = _known(sketch, form, order)
            size = (known and known.text) or f"{measured(sketch, form, order):.6g} mm"
            return {"on": list(picked), "kind": kind, "size": size, **({"called": known.name} if known else {})}
        return {"on": list(picked)}

    def told(self, context: Context) -> str:
        size = self.word("angle" if self.kind == "angle" else "size", context)
        return f"Dimensioned {self.word('on', context)}: {WORDS[self.kind]} {size}"

    def apply(self, work: Work) -> Outcome:
        sketch = sketching.sketch_of(work.snapshot, self.on, "on")
        form, order = fit(sketch, self.kind, sketching.numbers(self.on))
        value = self.angle if self.kind == "angle" else self.size
        if value is None:
            raise EditError(f"still empty: the {WORDS[self.kind]}", field="angle" if self.kind == "angle" else "size")
        if value < 1e-6 and form not in ("angle", "across", "upwards"):
            raise EditError(f"a {WORDS[self.kind]} of zero would leave nothing", field="size")
        known, text = _known(sketch, form, order), getattr(value, "text", "")
        value = float(value)
        name = self._name(work, known)
        if known is None:
            sketch, snapshot = sketching.with_constraint(work.snapshot, sketch, form, order, "kind", value)
            known = _known(sketch, form, order)
            assert known
        else:
            solved = solve(sketch.with_constraints(replace(known, value=value)))
            if not solved.holds:
                raise sketching.contradiction(sketch.without([known.id]), replace(known, value=value), "size")
            sketch, snapshot = solved.sketch, work.snapshot
        sketch = sketch.with_constraints(replace(known, value=value, text=text, name=name))
        snapshot, lost = formulas.settled_formulas(snapshot.with_sketch(sketch))
        snapshot = formulas.follow_formulas(snapshot)
        return Outcome(snapshot, sketching.sketch_facts(snapshot.sketch(sketch.id)), lost)

    def _name(self, work: Work, known: Constraint | None) -> str:
        """What it is called from now on; a name that is in use elsewhere is refused."""
        before = known.name if known else ""
        if not self.called or self.called == before:
            return before
        check_name(self.called)
        if self.called in work.snapshot.named_sizes():
            raise EditError(f"another size is called “{self.called}”", field="called")
        if before and (users := _users(work, before)):
            raise EditError(f"formulas use the name “{before}”: {', '.join(users)}", field="called")
        return self.called


def _known(sketch: Sketch, form: str, order: tuple[int, ...]) -> Constraint | None:
    return next((r for r in sketch.constraints.values() if r.kind == form and set(r.on) == set(order)), None)


def _users(work: Work, name: str) -> list[str]:
    constraints = (r for s in work.snapshot.sketches.values() for r in s.constraints.values())
    return [r.text for r in constraints if r.text and names_in(r.text, [name])]

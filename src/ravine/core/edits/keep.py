"""Keep curves and points of a sketch parallel, level, tangent and so on."""

from __future__ import annotations

from ..errors import EditError
from ..model.snapshot import Snapshot
from ..sketch.entities import Rule, Sketch
from ..sketch.rules import FORMS, fit
from ..sketch.solver import against, freedom, solve
from .base import Edit, Outcome, PickSummary, Work, edit, gap
from .gaps import ChoiceGap, PickGap
from .sketching import numbers, sketch_facts, sketch_of

WORDS = {
    "together": "together", "level": "level", "upright": "upright", "parallel": "parallel",
    "square": "square to each other", "in line": "in one line", "equal": "equal", "one middle": "about one middle",
    "middle": "at the middle", "mirrored": "mirrored", "on": "on one another", "tangent": "tangent", "fixed": "fixed",
}  # fmt: skip
EACH = ("level", "upright")  # rules that many picks may take one by one


@edit
class Keep(Edit):
    name = "keep"
    title = "Keep"
    sentence = "Keep {on} {rule}"
    past = "Kept {on} {rule}"
    help = (
        "Makes a rule of it: lines level, upright, parallel, square, equal or in one line; rounds equal, tangent or "
        "about one middle; points together, on a curve, at a middle, mirrored about a line, or fixed.  What "
        "contradicts the rules that are there is refused, and they are named."
    )
    offered_for = "curve"
    rank = 12
    drawing = "keep"

    on: tuple[str, ...] = gap(PickGap("what it is about", "Curves and points of one sketch.", element="curve",
                                      also=("point",), maximum=200))  # fmt: skip
    rule: str = gap(ChoiceGap("the rule", "What is kept.", default="level", options=WORDS))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("curve", "point")

    def apply(self, work: Work) -> Outcome:
        sketch = sketch_of(work.snapshot, self.on, "on")
        picked = numbers(self.on)
        if self.rule == "fixed":  # a curve is fixed by its points
            found = (n if n in sketch.points else sketch.curve(n).points for n in picked)
            groups = [[p] for p in dict.fromkeys(q for n in found for q in ((n,) if isinstance(n, int) else n))]
        elif self.rule in EACH and not _pair(sketch, picked):
            groups = [[n] for n in picked]
        else:
            groups = _pairs(self.rule, picked)
        snapshot = work.snapshot
        for group in groups:
            form, order = fit(sketch, self.rule, group)
            same = next((r for r in sketch.rules.values() if r.kind == form and set(r.on) == set(order)), None)
            if same is None:
                sketch, snapshot = with_rule(snapshot, sketch, form, order)
        if sketch == work.snapshot.sketch(sketch.id):
            raise EditError("that is a rule of the sketch already", self.on, field="rule")
        return Outcome(snapshot, sketch_facts(sketch))


def _pair(sketch: Sketch, picked: list[int]) -> bool:
    return len(picked) == 2 and all(n in sketch.points for n in picked)


def _pairs(rule: str, picked: list[int]) -> list[list[int]]:
    """Several lines are made parallel, equal and so on with the first of them."""
    if rule in ("parallel", "equal", "in line", "one middle") and len(picked) > 2:
        return [[picked[0], other] for other in picked[1:]]
    return [picked]


def with_rule(
    snapshot: Snapshot, sketch: Sketch, form: str, on: tuple[int, ...], value: float | None = None, text: str = ""
) -> tuple[Sketch, Snapshot]:
    """The sketch with one more rule, settled.  Raises EditError that names the rules it contradicts, or that say the
    same already."""
    (number,), snapshot = snapshot.fresh(1)
    rule = Rule(number, form, on, value, text)
    solved = solve(sketch.with_rules(rule))
    if not solved.holds:
        raise contradiction(sketch, rule, "rule")
    if number in freedom(solved.sketch).needless:
        raise EditError("the other rules say that already", [f"r{number}"], field="rule")
    return solved.sketch, snapshot.with_sketch(solved.sketch)


def contradiction(sketch: Sketch, rule: Rule, field: str) -> EditError:
    """`sketch` without the rule."""
    barring = [sketch.rules[n] for n in against(sketch, rule)]
    told = ", ".join(rule_words(sketch, r) for r in barring[:4]) or "what the curves are"
    return EditError(f"that contradicts {told}", [f"r{r.id}" for r in barring], field=field)


def rule_words(sketch: Sketch, rule: Rule) -> str:
    """`c12 level`, `c12 40 mm long`."""
    names = " and ".join(f"p{n}" if n in sketch.points else f"c{n}" for n in rule.on)
    kind = FORMS[rule.kind]
    if not kind.unit:
        return f"{names} {kind.words}"
    value = rule.value or 0.0
    size = f"{value:.6g} mm" if kind.unit == "length" else f"{value * 57.29577951308232:.6g}°"
    return f"{names} {size} {kind.words}"

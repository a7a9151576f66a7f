"""What the edits on sketches share: which sketch is meant, new ids, and the facts of a sketch."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

from ..errors import EditError
from ..model.references import Reference
from ..model.sketch_regions import freedom_of_sketch, regions_of_sketch
from ..model.snapshot import Snapshot
from ..sketch.constraints import FORMS
from ..sketch.copying import about, copy
from ..sketch.drawing import Pen, Spot
from ..sketch.entities import Constraint, Point2, Sketch
from ..sketch.solver import against, freedom, solve
from .work import Fact, Outcome, Work


def sketch_of(snapshot: Snapshot, ids: Sequence[Reference], field: str) -> Sketch:
    """The one sketch that all these belong to.  Raises EditError when they belong to several."""
    found = set()
    for ident in ids:
        kind, number = ident.kind, ident.number
        found.add(number if kind in ("sketch", "area") else snapshot.sketch_with(kind, number).id)
    if len(found) > 1:
        names = ", ".join(snapshot.sketch(n).name for n in sorted(found))
        raise EditError(f"these belong to different sketches ({names}); one at a time", ids, field=field)
    return snapshot.sketch(found.pop())


def numbers(ids: Sequence[Reference]) -> list[int]:
    return [i.number for i in ids]


def with_ids(snapshot: Snapshot, change: Callable[[Iterator[int]], Sketch]) -> Snapshot:
    """The snapshot with a sketch that took fresh ids for what is new in it."""
    supply = itertools.count(snapshot.next_id)
    sketch = change(supply)
    return replace(snapshot, next_id=next(supply)).with_sketch(sketch)


def changed_at(
    work: Work,
    curve: Sequence[Reference],
    at: Sequence[Spot],
    change: Callable[[Sketch, int, Point2, Iterator[int]], Sketch],
) -> Outcome:
    """A curve of a sketch changed at a place."""
    sketch = sketch_of(work.snapshot, curve, "curve")
    (number,) = numbers(curve)
    after = with_ids(work.snapshot, lambda ids: change(sketch, number, at[0].place, ids))
    return Outcome(after, sketch_facts(after.sketch(sketch.id)))


def sketch_facts(sketch: Sketch) -> tuple[Fact, ...]:
    """How many ways it can still go, and what it closes."""
    found: list[Fact] = []
    free = freedom_of_sketch(sketch) if sketch.curves else None
    if free is not None:
        degrees = free.degrees
        words = "fully held" if not degrees else f"free in {degrees} way{'s' if degrees > 1 else ''}"
        found.append(Fact("freedom", "sketch", words))
    count = len(regions_of_sketch(sketch))
    if count:
        found.append(Fact("areas", "closed areas", float(count), "count"))
    return tuple(found)


def with_constraint(
    snapshot: Snapshot, sketch: Sketch, form: str, on: tuple[int, ...], field: str, value: float | None = None
) -> tuple[Sketch, Snapshot]:
    """The sketch with one more rule, settled; field: of the edit, that asks for it.  Raises EditError that names the
    constraints it contradicts, or that say the same already."""
    (number,), snapshot = snapshot.fresh(1)
    rule = Constraint(number, form, on, value)
    solved = solve(sketch.with_constraints(rule))
    if not solved.holds:
        raise contradiction(sketch, rule, field)
    if number in freedom(solved.sketch).needless:
        raise EditError("the other rules say that already", [f"r{number}"], field=field)
    return solved.sketch, snapshot.with_sketch(solved.sketch)


def contradiction(sketch: Sketch, rule: Constraint, field: str) -> EditError:
    """`sketch` without the rule."""
    barring = [sketch.constraints[n] for n in against(sketch, rule)]
    told = ", ".join(constraint_words(sketch, r) for r in barring[:4]) or "what the curves are"
    return EditError(f"that contradicts {told}", [f"r{r.id}" for r in barring], field=field)


def mirrored(sketch: Sketch, curves: Sequence[int], line: Reference, ids: Iterator[int]) -> Sketch:
    """With curves once more on the other side of a line, to which they then stay mirrored."""
    mirror = sketch.curve(line.number)
    if mirror.kind != "line":
        raise EditError(f"a mirror is a straight line; {line} is a {mirror.kind}", [line], field="line")
    pen = Pen(sketch, ids)
    copy(pen, [sketch.curve(c) for c in curves], about(*sketch.places(mirror)), mirror)
    return settled(pen.sketch)


def constraint_words(sketch: Sketch, rule: Constraint) -> str:
    """`c12 level`, `c12 40 mm long`."""
    names = " and ".join(f"p{n}" if n in sketch.points else f"c{n}" for n in rule.on)
    kind = FORMS[rule.kind]
    if not kind.unit:
        return f"{names} {kind.words}"
    value = rule.value or 0.0
    size = f"{value:.6g} mm" if kind.unit == "length" else f"{value * 57.29577951308232:.6g}°"
    return f"{names} {size} {kind.words}"


def settled(sketch: Sketch) -> Sketch:
    solved = solve(sketch)
    if not solved.holds:
        raise EditError("the rules of the sketch do not hold with the copies", field="curves")
    return solved.sketch

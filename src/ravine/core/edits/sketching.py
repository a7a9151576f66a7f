"""What the edits on sketches share: which sketch is meant, new ids, and the facts of a sketch."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

from ..errors import EditError
from ..model.profiles import areas_of_sketch, freedom_of_sketch
from ..model.snapshot import Snapshot, split_id
from ..sketch.drawing import Spot
from ..sketch.entities import Flat, Sketch
from .base import Fact, Outcome, Work


def sketch_of(snapshot: Snapshot, ids: Sequence[str], field: str) -> Sketch:
    """The one sketch that all these belong to.  Raises EditError when they belong to several."""
    found = set()
    for ident in ids:
        kind, number = split_id(ident)
        found.add(number if kind in ("sketch", "area") else snapshot.sketch_with(kind, number).id)
    if len(found) > 1:
        names = ", ".join(snapshot.sketch(n).name for n in sorted(found))
        raise EditError(f"these belong to different sketches ({names}); one at a time", ids, field=field)
    return snapshot.sketch(found.pop())


def numbers(ids: Sequence[str]) -> list[int]:
    return [split_id(i)[1] for i in ids]


def with_ids(snapshot: Snapshot, change: Callable[[Iterator[int]], Sketch]) -> Snapshot:
    """The snapshot with a sketch that took fresh ids for what is new in it."""
    supply = itertools.count(snapshot.next_id)
    sketch = change(supply)
    return replace(snapshot, next_id=next(supply)).with_sketch(sketch)


def changed_at(
    work: Work, curve: Sequence[str], at: Sequence[Spot], change: Callable[[Sketch, int, Flat, Iterator[int]], Sketch]
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
    count = len(areas_of_sketch(sketch))
    if count:
        found.append(Fact("areas", "closed areas", float(count), "count"))
    return tuple(found)

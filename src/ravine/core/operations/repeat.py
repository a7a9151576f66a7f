"""Repeat a feature in a row, a grid or around an axis."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from ..errors import EditError
from ..model.pattern import Layout, Pattern
from ..model.references import Reference
from ..model.snapshot import Body
from ..rigid import vec_of
from .axes import direction_of, face_middle, picked_axis
from .facts import change_facts
from .pattern_members import check_turn, lay
from .planting import reach
from .reshaping import faces_by_body, indices, place_of
from .work import Fact, Handle, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class PatternRows(Operation):
    """Plants copies of a hole, boss or pocket in a row or a grid; the count takes in the one that is there."""

    faces: tuple[Reference, ...]
    step: float
    count: int = 3
    along: str = "z"
    axis: tuple[Reference, ...] | None = None
    rows: int = 1
    across: str = "y"
    pitch: float | None = None

    def handle(self, work: Work) -> Handle | None:
        middle = vec_of(face_middle(work, self.faces[0])[0])
        if self.axis:
            return Handle("step", middle, vec_of(direction_of(work, self.along, self.axis)))
        ways = {word: vec_of(direction_of(work, word, None, self.faces[0])) for word in ("x", "y", "z", "normal")}
        return Handle("step", middle, ways[self.along], ways=ways, choice="along")

    def do(self, work: Work) -> Outcome:
        if self.rows > 1 and not self.pitch:
            raise EditError("the step between the rows is still empty", field="pitch")
        first = self.step * direction_of(work, self.along, self.axis, self.faces[0])
        second = (self.pitch or 0.0) * direction_of(work, self.across, None, self.faces[0])
        if self.rows > 1 and np.linalg.norm(np.cross(first, second)) < 1e-9:
            raise EditError("rows and members run the same way; choose another direction", field="across")

        def layout(body: Body) -> Layout:
            inside = place_of(self.faces, body).inverse
            ways = [inside.direction(v.tolist()) for v in (first, second)]
            return Layout("rows", self.count, ways[0], self.rows, ways[1])

        return repeat(work, self.faces, layout)


@dataclass(frozen=True, kw_only=True)
class PatternAround(Operation):
    """Plants copies of a hole, boss or pocket around an axis; without an angle they share the full turn evenly."""

    faces: tuple[Reference, ...]
    axis: tuple[Reference, ...]
    count: int = 6
    angle: float | None = None

    def do(self, work: Work) -> Outcome:
        axis = picked_axis(work, self.axis[0])
        assert axis.direction is not None
        step = self.angle if self.angle is not None else 2 * math.pi / self.count
        check_turn(self.count, step)
        direction = axis.direction

        def layout(body: Body) -> Layout:
            inside = place_of(self.faces, body).inverse
            return Layout("around", self.count, inside.direction(direction.tolist()),
                          point=inside.point(axis.point.tolist()), angle=step,
                          even=self.angle is None)  # fmt: skip

        return repeat(work, self.faces, layout)


def repeat(work: Work, faces: tuple[Reference, ...], layout: Callable[[Body], Layout]) -> Outcome:
    """Copies of the features of these faces, laid as `layout` says for a body, which remembers them."""
    snapshot = work.snapshot
    by_body = faces_by_body(snapshot, faces)
    made = 0
    for number, chosen in by_body.items():
        body = snapshot.body(number)
        solid = work.geometry.solid(body.shape)
        seed = tuple(body.faces[i] for i in sorted(reach(solid, indices(body, chosen), "feature")))
        (fresh,), snapshot = snapshot.fresh(1)
        start = Pattern(fresh, number, replace(layout(body), count=1, rows=1), {(0, 0): seed})
        snapshot = lay(work, snapshot, start, layout(body))
        made += len(snapshot.patterns[fresh].members) - 1
    copies = Fact("copies", "copies", float(made), "count", one="copy")
    return Outcome(snapshot, (*change_facts(work, snapshot, set(by_body)), copies))

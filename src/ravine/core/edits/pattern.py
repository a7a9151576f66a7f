"""Repeat a feature in a row, a grid or around an axis."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

import numpy as np

from ..errors import EditError
from ..model import placement
from ..model.pattern import Layout, Pattern
from ..model.snapshot import Body
from .axes import ALONG, AXIS, direction_of, face_middle, picked_axis
from .base import Edit, Fact, Handle, Outcome, PickSummary, Work, edit, gap
from .facts import change_facts
from .features import reach
from .gaps import AngleGap, ChoiceGap, Context, CountGap, LengthGap, PickGap
from .members import check_turn, lay
from .shaping import faces_by_body, indices, matrix_of, triple


def repeat(work: Work, faces: tuple[str, ...], layout: Callable[[Body], Layout], doing: str) -> Outcome:
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
        snapshot = lay(work, snapshot, start, layout(body), doing)
        made += len(snapshot.patterns[fresh].members) - 1
    copies = Fact("copies", "copies", float(made), "count", one="copy")
    return Outcome(snapshot, (*change_facts(work, snapshot, set(by_body)), copies))


@edit
class PatternRows(Edit):
    name = "pattern"
    title = "Repeat in rows"
    sentence = (
        "Repeat {faces} {count} times along {along} of {axis} every {step}, in {rows} rows along {across} every {pitch}"
    )
    past = "Repeated {faces} {count} times along {along} every {step}"
    help = (
        "Plants copies of a hole, boss or pocket in a row or a grid; the count takes in the one that is there.  The "
        "members are remembered: they can be recounted, and riders of the same pattern change together."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 18
    drawing = "pattern"

    faces: tuple[str, ...] = gap(PickGap("the feature", "A face of a hole, boss or pocket.", element="face"))
    count: int = gap(CountGap("the count", "Members in a row, with the first.", default=3))
    along: str = gap(ALONG)
    axis: tuple[str, ...] | None = gap(AXIS)
    step: float = gap(LengthGap("the step", "From member to member; negative goes back.", nonzero=True))
    rows: int = gap(CountGap("the rows", "Rows of the grid, with the first.", default=1))
    across: str = gap(ChoiceGap("the direction across", "In which the rows follow.", default="y",
                                options={"x": "X", "y": "Y", "z": "Z"}))  # fmt: skip
    pitch: float | None = gap(LengthGap("the row step", "From row to row.", default=None))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    def told(self, context: Context) -> str:
        words = f"Repeated {self.word('faces', context)} {self.count} times along "
        words += f"{self.word('axis' if self.axis else 'along', context)} every {self.word('step', context)}"
        if self.rows > 1:
            words += f", in {self.rows} rows along {self.word('across', context)} every {self.word('pitch', context)}"
        return words

    def handle(self, work: Work) -> Handle | None:
        direction = direction_of(work, self.along, self.axis, self.faces[0])
        return Handle("step", triple(face_middle(work, self.faces[0])[0]), triple(direction))

    def apply(self, work: Work) -> Outcome:
        if self.rows > 1 and not self.pitch:
            raise EditError("the step between the rows is still empty", field="pitch")
        first = self.step * direction_of(work, self.along, self.axis, self.faces[0])
        second = (self.pitch or 0.0) * direction_of(work, self.across, None, self.faces[0])
        if self.rows > 1 and np.linalg.norm(np.cross(first, second)) < 1e-9:
            raise EditError("rows and members run the same way; choose another direction", field="across")

        def layout(body: Body) -> Layout:
            inside = placement.inverse(matrix_of(work.snapshot, body))
            ways = [placement.direction(inside, v.tolist()) for v in (first, second)]
            return Layout("rows", self.count, ways[0], self.rows, ways[1])

        return repeat(work, self.faces, layout, f"Repeating {self.word('faces', work.context())}")


@edit
class PatternAround(Edit):
    name = "pattern around"
    title = "Repeat around"
    sentence = "Repeat {faces} {count} times around {axis} every {angle}"
    past = "Repeated {faces} {count} times around {axis}"
    help = "Plants copies of a hole, boss or pocket around an axis; without an angle they share the full turn evenly."
    offered_for = "face"
    stages = ("Shape",)
    rank = 19
    drawing = "pattern"

    faces: tuple[str, ...] = gap(PickGap("the feature", "A face of a hole, boss or pocket.", element="face"))
    count: int = gap(CountGap("the count", "Members, with the first.", default=6))
    axis: tuple[str, ...] = gap(
        PickGap("the axis", "A round face or edge, or a straight edge.", element="face", also=("edge",), maximum=1,
                changes=False, empty="an axis")
    )  # fmt: skip
    angle: float | None = gap(AngleGap("the angle", "From member to member; empty for even.", default=None))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    def apply(self, work: Work) -> Outcome:
        axis = picked_axis(work, self.axis[0])
        assert axis.direction is not None
        step = self.angle if self.angle is not None else 2 * math.pi / self.count
        check_turn(self.count, step)
        direction = axis.direction

        def layout(body: Body) -> Layout:
            inside = placement.inverse(matrix_of(work.snapshot, body))
            return Layout("around", self.count, placement.direction(inside, direction.tolist()),
                          point=placement.point(inside, axis.point.tolist()), angle=step,
                          even=self.angle is None)  # fmt: skip

        return repeat(work, self.faces, layout, f"Repeating {self.word('faces', work.context())}")

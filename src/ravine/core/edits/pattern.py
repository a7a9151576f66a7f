"""Repeat a feature in a row, a grid or around an axis."""

from __future__ import annotations

import math

import numpy as np

from ..errors import EditError
from ..local.failure import LocalFailure
from ..local.features import lift_out
from ..local.surfaces import Motion
from .axes import ALONG, AXIS, direction_of, face_middle, picked_axis
from .base import Edit, Fact, Handle, Outcome, PickSummary, Work, edit, gap
from .facts import change_facts
from .features import plant, reach
from .gaps import AngleGap, ChoiceGap, Context, CountGap, LengthGap, PickGap
from .shaping import faces_by_body, indices, into_body, refusal, triple

MOST = 400


def repeat(work: Work, faces: tuple[str, ...], motions: list[Motion], doing: str) -> Outcome:
    """Copies of the features of these faces at each motion (model coordinates)."""
    if not motions:
        raise EditError("a pattern of one is what is there already; give a higher count", field="count")
    if len(motions) > MOST:
        raise EditError(f"{len(motions) + 1} copies are too many for one edit; up to {MOST + 1} work", field="count",
                        nearest=str(MOST + 1))  # fmt: skip
    snapshot = work.snapshot
    by_body = faces_by_body(snapshot, faces)
    for number, chosen in by_body.items():
        body = snapshot.body(number)
        solid = work.geometry.solid(body.shape)
        try:
            feature = lift_out(solid.fabric, reach(solid, indices(body, chosen), "feature"))
        except LocalFailure as failure:
            raise refusal(work, body, doing, failure, "faces") from None
        own = [into_body(snapshot, body, m) for m in motions]
        work.progress(0.3, "planting the copies")
        snapshot = plant(work, snapshot, body, feature, own, doing)
    made = Fact("copies", "copies", float(len(motions)), "count")
    return Outcome(snapshot, (*change_facts(work, snapshot, set(by_body)), made))


@edit
class Pattern(Edit):
    name = "pattern"
    title = "Repeat in rows"
    sentence = (
        "Repeat {faces} {count} times along {along} of {axis} every {step}, in {rows} rows along {across} every {pitch}"
    )
    past = "Repeated {faces} {count} times along {along} every {step}"
    help = (
        "Plants copies of a hole, boss or pocket in a row or a grid; the count takes in the one that is there.  The "
        "members stay alike: riders of the same radius change them together."
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
        motions = [Motion.slide(i * first + j * second) for j in range(self.rows) for i in range(self.count) if i or j]
        return repeat(work, self.faces, motions, f"Repeating {self.word('faces', work.context())}")


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
        if abs(step) * (self.count - 1) > 2 * math.pi - 1e-9:
            raise EditError("the members would go around more than once and meet", field="angle",
                            nearest=f"{360 / self.count:.6g}°")  # fmt: skip
        motions = [Motion.about(axis.point, axis.direction, i * step) for i in range(1, self.count)]
        return repeat(work, self.faces, motions, f"Repeating {self.word('faces', work.context())}")

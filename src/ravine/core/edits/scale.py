"""Scale parts evenly."""

from __future__ import annotations

from ..kernel.history import carry_ids
from ..kernel.shapes import ShapeIndex
from ..kernel.transform import scaled
from ..model import placement
from ..model.derive import reshape_body
from ..model.geometry import Solid
from .base import Edit, Outcome, PickSummary, Work, edit, gap
from .bodies import each_body
from .facts import change_facts
from .gaps import ChoiceGap, FactorGap, PickGap


@edit
class Scale(Edit):
    name = "scale"
    title = "Scale"
    sentence = "Scale {parts} by {factor} about {centre}"
    past = "Scaled {parts} by {factor}"
    help = "Makes solids larger or smaller evenly: a shrink allowance of 1.005, inches read as millimetres by 25.4."
    offered_for = "node"
    stages = ("Shape",)
    rank = 27
    drawing = "scale"

    parts: tuple[str, ...] = gap(PickGap("the parts", "Solids.", element="node"))
    factor: float = gap(FactorGap("the factor", "Above 1 grows, below 1 shrinks."))
    centre: str = gap(ChoiceGap("the centre", "The point that stays.", default="middle",
                                options={"middle": "its own middle", "origin": "the origin of the model"}))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    def apply(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        places = each_body(work, self.parts)
        for place in places:
            solid = work.geometry.solid(place.body.shape)
            low, high = solid.box
            middle = [(a + b) / 2 for a, b in zip(low, high, strict=True)]
            origin = placement.point(placement.inverse(place.matrix), (0.0, 0.0, 0.0))
            shape, trace = scaled(solid.shape, origin if self.centre == "origin" else middle, self.factor)
            ids = carry_ids([(solid.index, place.body.ids())], [], trace, ShapeIndex(shape))
            snapshot = reshape_body(snapshot, work.geometry, place.body, Solid(shape), ids)
        return Outcome(snapshot, change_facts(work, snapshot, {p.body.id for p in places}))

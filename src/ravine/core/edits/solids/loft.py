"""A solid through areas of several sketches."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import loft
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, PickField
from ..fields.shared import WAY
from ..registry import edit


@edit
class Loft(Edit):
    name = "loft"
    title = "Loft"
    also = ("transition", "blend areas")
    sentence = "Loft through {areas} , {walls}, led by {guide} , {way}"
    past = "Lofted through {areas}"
    doing = "Lofting through {areas}"
    help = (
        "Lays smooth or straight walls through one area each of two or more sketches, in the order of the pick; "
        "holes of the areas run through as well.  "
        "A guide, of edges or sketched curves that follow one another, bends the way from the first to the last."
    )
    offered_for = "area"
    uses_up = True
    rank = 10
    drawing = '<path d="M2 14h10M6 3h5"/><path class="hot" d="M2 14C3 8 6 8 6 3M12 14c0-6-1-6-1-11"/>'
    folds = ("walls", "guide")

    areas: tuple[Reference, ...] = field(
        PickField("the areas", "One of each sketch, in order.", element="area", minimum=2)
    )
    walls: str = field(
        ChoiceField(
            "the walls",
            "Smooth through all, or straight from one to the next.",
            default="smooth",
            options={"smooth": "with smooth walls", "straight": "with straight walls"},
        )
    )
    guide: tuple[Reference, ...] | None = field(
        PickField("the guide", "Edges or curves that lead from one area to the next.", element="edge", also=("curve",),
                changes=False, default=None, empty="nothing", several=True)
    )  # fmt: skip
    way: str = field(WAY)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and pick.count > 1

    def told(self, context: object) -> str:
        return f"Lofted through {len(self.areas)} areas"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(loft.Loft, work)

"""Give features a size."""

from __future__ import annotations

from typing import Any

from ...model.references import Reference
from ...operations import feature_size
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, LengthField, PickField
from ..registry import edit

SIZES = (
    "diameter", "depth", "width", "length", "height", "thickness", "radius", "counterbore_diameter",
    "counterbore_depth", *(f"diameter_{k}" for k in range(1, 6)),
)  # fmt: skip


@edit
class FeatureSize(Edit):
    name = "feature size"
    title = "Set a size of the feature"
    also = ("set depth", "set width", "set length", "set height")
    sentence = "Set the {size} of {faces} {members} to {value}"
    past = "Set the {size} of {faces} to {value}"
    help = (
        "Sets one size of a hole, slot, pocket, step, groove, boss, rib, round or chamfer, as it is read from the "
        "faces: of this one, or of all members of its repeat at once."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 12
    drawing = '<path d="M2 13h5V6h6v7h5"/><path class="hot" d="M7 3h6M7 1v4M13 1v4"/>'
    folds = ("members",)

    value: float = field(LengthField("the value", "The new size.", minimum=1e-4))
    size: str = field(ChoiceField("the size", "Which size of the feature.", default="diameter",
                                  options={n: n.replace("_", " ") for n in SIZES}))  # fmt: skip
    faces: tuple[Reference, ...] = field(PickField("the features", "Any faces of them.", element="face"))
    members: str = field(ChoiceField("the members", "This one, or all that repeat it.", default="alone",
                                     options={"alone": "by itself", "alike": "and all like it"}))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        return {"faces": list(picked), **feature_size.suggested(work, picked[0])}

    def told(self, context: Context) -> str:
        alike = " and all like it" if self.members == "alike" else ""
        what = f"{self.word('size', context)} of {self.word('faces', context)}{alike}"
        return f"Set the {what} to {self.word('value', context)}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(feature_size.FeatureSize, work)

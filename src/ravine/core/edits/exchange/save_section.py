"""Save a section as a drawing file."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import save_section
from ...operations.work import Outcome, Work
from .. import drawings
from ..base import Edit
from ..declared import field
from ..fields import ChoiceField, PickField, PlaneField, TextField
from ..registry import edit


@edit
class SaveSection(Edit):
    name = "save section"
    title = "Save the section"
    also = ("section drawing",)
    sentence = "Save the section at {at} of {parts} as {format} , {hatching}"
    past = "Saved the section at {at} as {format}"
    help = (
        "Writes what a plane cuts, seen square on: the exact outlines in mm, a group or layer for each part.  The "
        "plane is square to an axis, written x 12.5 mm or -z 3, or tilted: a point, the word along, and a direction."
    )
    stages = ("Hand over",)
    rank = 82
    drawing = drawings.LEAVE

    at: tuple[float, ...] = field(PlaneField("the plane", "Such as x 12.5 mm, or 0,0,10 along 0,0.6,0.8."))
    parts: tuple[Reference, ...] | None = field(
        PickField(
            "the parts", "All where none is picked.", element="node", changes=False, default=None, empty="all parts"
        )
    )
    format: str = field(ChoiceField("the format", "SVG or DXF.", default="svg", options={"svg": "SVG", "dxf": "DXF"}))
    hatching: str = field(ChoiceField("the hatching", "Of the matter that is cut.", default="hatched",
                                  options={"hatched": "hatched", "plain": "outlines only"}))  # fmt: skip
    file_name: str = field(TextField("the file name", "Without ending.", default="section"))

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, object]:
        return {"at": "y 0"}

    def apply(self, work: Work) -> Outcome:
        return self.done_by(save_section.SaveSection, work)

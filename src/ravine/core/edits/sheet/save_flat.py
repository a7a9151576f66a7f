"""Save the flat of a sheet."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import save_flat
from ...operations.work import Outcome, Work
from .. import drawings
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, PickField, TextField
from ..registry import edit

FORMATS = {"dxf": "DXF", "svg": "SVG", "pdf": "PDF with the table of bends"}

FORMS = {
    "outline": "by their outline",
    "centre": "by their centre",
    "both": "by outline and centre",
    "none": "left out",
}


@edit
class SaveFlat(Edit):
    name = "save flat"
    title = "Save the flat"
    also = ("flat pattern", "unfold", "export flat")
    sentence = "Save the flat of {on} as {format} called {file_name} , forms {forms}"
    past = "Saved the flat of {on}"
    help = (
        "Writes the sheet laid flat, as seen from the picked face: outline, holes, and bend lines up and down, each on "
        "a layer of its own, exactly and in mm; as PDF to scale with the table of bends."
    )
    offered_for = "face"
    stages = ("Sheet", "Hand over")
    rank = 20
    drawing = drawings.LEAVE
    folds = ("file_name", "forms")

    on: tuple[Reference, ...] = field(
        PickField("the part", "A flat face that it is seen from, or the part.", element="face", also=("node",),
                  maximum=1, changes=False)
    )  # fmt: skip
    format: str = field(ChoiceField("the format", "Of the file.", default="dxf", options=FORMATS))
    file_name: str | None = field(
        TextField("the name", "Of the file.", default=None, limit=80, blank="that of the part")
    )
    forms: str = field(ChoiceField("the forms", "How what is pressed out later is shown.", default="outline",
                                   options=FORMS))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return (pick.kind == "node" or (pick.kind == "face" and pick.face_kinds == {"plane"})) and not pick.mesh

    def told(self, context: Context) -> str:
        return f"Saved the flat of {self.word('on', context)} as {FORMATS[self.format].split()[0]}"

    def apply(self, work: Work) -> Outcome:
        return save_flat.SaveFlat(on=self.on, format=self.format, file_name=self.file_name or "", forms=self.forms).do(
            work
        )

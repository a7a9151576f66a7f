"""Save parts, or the whole model, as a file."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import export
from ...operations.work import Outcome, Work
from .. import drawings
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, LengthField, PickField, TextField
from ..registry import edit

_KINDS = {"step": "STEP", "iges": "IGES", "brep": "kernel B-rep", "stl": "STL", "obj": "OBJ", "ply": "PLY",
          "3mf": "3MF", "glb": "GLB"}  # fmt: skip


@edit
class Export(Edit):
    name = "export"
    title = "Save as a file"
    also = ("save as", "write", "download")
    sentence = "Save {parts} as {format} in {units}, curves within {tolerance}"
    past = "Saved {parts} as {format}"
    help = (
        "Writes STEP or IGES (exact, with names and colours; STEP with the tree), the kernel's B-rep, or triangles: "
        "STL, OBJ and PLY in the chosen unit, 3MF in mm with names, GLB in metres with names and "
        "colours.  The tolerance is "
        "for triangles.  The model itself is not changed."
    )
    offered_for = "node"
    stages = ("Hand over", "Bring in", "Shape", "Assemble")
    rank = 80
    drawing = drawings.LEAVE
    folds = ("units", "tolerance")

    parts: tuple[Reference, ...] = field(
        PickField("the parts", "Parts or groups; all when nothing is picked.", element="node", minimum=0,
                changes=False, default=())
    )  # fmt: skip
    format: str = field(ChoiceField("the format", "Exact, or triangles.", default="step", options=_KINDS))
    units: str = field(
        ChoiceField("the unit", "For STL, OBJ and PLY, which carry none.", default="mm",
                  options={u: u for u in ("mm", "cm", "m", "in", "ft")})
    )  # fmt: skip
    tolerance: float = field(
        LengthField("the tolerance", "How far triangles may lie off the exact surface.", default=0.05,
                  minimum=0.001, maximum=10.0)
    )  # fmt: skip
    file_name: str = field(TextField("the file name", "Without ending; the part's name when left out.", default=None))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("node", "")

    def word(self, name: str, context: Context) -> str:
        if name == "parts" and not self.parts:
            return "the whole model"
        return super().word(name, context)

    def apply(self, work: Work) -> Outcome:
        return self.done_by(export.Export, work)

"""Bring a file into the model."""

from __future__ import annotations

from ...operations import import_file
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import ChoiceField, Context, FileField, LengthField, TextField
from ..registry import edit

WHAT = {"parts": "parts to work on", "locked": "a locked reference", "light": "a light locked reference of triangles"}
TREE = {"kept": "as in the file", "one": "in one part"}
HEAL = {"usual": "as usual for the format", "leave": "left as they are", "stitch": "stitched", "mend": "mended"}


@edit
class ImportFile(Edit):
    name = "import"
    title = "Bring in a file"
    as_found = True
    also = ("open", "bring in", "insert")
    sentence = "Bring in {path}"
    past = "Brought in {path}"
    help = (
        "Reads STEP and IGES with tree, names and colours, the kernel's B-rep, STL, OBJ, PLY, 3MF and glTF as meshes, "
        "IDF boards with their library; DXF and SVG drawings become sketches, and a PNG or JPEG picture lies behind an "
        "empty one.  STL, OBJ and PLY do not say their unit, so it must be given."
    )
    stages = ("Bring in",)
    rank = 5
    drawing = '<path d="M9 3h8v11H9"/><path class="hot" d="M1 8.5h10M8 5.5l3 3-3 3"/>'

    path: str = field(FileField("the file", "Path of a file of one of the formats that are read."))
    units: str = field(
        ChoiceField("the unit", "For formats that carry none, or instead of what a DXF says.", default=None,
                  options={u: u for u in ("mm", "cm", "m", "in", "ft")})
    )  # fmt: skip
    name_as: str = field(TextField("the name", "What the file is called; its own name when left out.", default=None))
    what: str = field(ChoiceField("what it becomes", "Parts to work on, or a reference that stays as it is.",
                              default="parts", options=WHAT))  # fmt: skip
    tree: str = field(ChoiceField("the tree", "The file's own, or all in one part.", default="kept", options=TREE))
    heal: str = field(ChoiceField("loose surfaces", "What becomes of faces that are no closed body.", default="usual",
                              options=HEAL))  # fmt: skip
    widest: float | None = field(
        LengthField(
            "the widest gap", "That is stitched or mended.", minimum=1e-6, default=None, blank="a 500th of the size"
        )
    )

    def told(self, context: Context) -> str:
        return f"Brought in {self.planned(import_file.ImportFile).title_of_file()}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(import_file.ImportFile, work)

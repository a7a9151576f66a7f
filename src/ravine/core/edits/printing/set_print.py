"""Say how parts are printed, and save what a printer takes."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import printing
from ...operations.work import Outcome, Work
from .. import drawings
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, PickField, TextField
from ..registry import edit

MACHINES = ("Desk printer", "Desk printer with a fine nozzle", "Large printer", "Resin printer", "Powder bed")
BEST = {"0": "as it lies", "1": "the best way up", "2": "the second best", "3": "the third", "4": "the fourth",
        "5": "the fifth"}  # fmt: skip


@edit
class SetPrint(Edit):
    name = "set print"
    title = "Say how it is printed"
    also = ("print settings", "orient for printing", "3d print", "printer")
    sentence = "Print {parts} on a {machine} , {best} , on {down}"
    past = "Printed {parts} on a {machine}"
    help = (
        "Which machine prints a part, and which way up: on a flat face, or one of the best of 500 ways by support, "
        "height and what it stands on.  Checks, layers and files go by it."
    )
    stages = ("Prove",)
    rank = 20
    drawing = '<path d="M3 14h14M5 14V9h10v5"/><path class="hot" d="M10 1v5M8 6h4l-2 3z"/>'
    folds = ("down",)

    parts: tuple[Reference, ...] = field(PickField("the parts", "Solids or meshes.", element="node", changes=False))
    machine: str = field(ChoiceField("the machine", "Of the table.", default=MACHINES[0],
                                     options={m: m.lower() for m in MACHINES}))  # fmt: skip
    best: str = field(ChoiceField("the way up", "By score.", default="0", options=BEST))
    down: tuple[Reference, ...] = field(
        PickField("the face", "A flat one that lies on the bed.", element="face", kinds=("plane",), minimum=0,
                  default=(), changes=False, empty="the side that is down")
    )  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node"

    def told(self, context: Context) -> str:
        how = f", {BEST[self.best]}" if self.best != "0" else f", on {self.word('down', context)}" if self.down else ""
        return f"Let {self.word('parts', context)} be printed on a {self.machine.lower()}{how}"

    def apply(self, work: Work) -> Outcome:
        return printing.SetPrint(parts=self.parts, machine=self.machine, down=self.down, best=int(self.best)).do(work)


@edit
class SavePrint(Edit):
    name = "save print"
    title = "Save for printing"
    also = ("print file", "3mf for printing", "slice")
    sentence = "Save {parts} for printing as {format} called {file_name}"
    past = "Saved {parts} for printing"
    help = (
        "Writes the parts as they lie on the bed, beside one another, on as many beds as it takes: 3MF with names and "
        "colours, or STL.  How far the triangles lie off the surface is told."
    )
    stages = ("Prove", "Hand over")
    rank = 21
    drawing = drawings.LEAVE
    folds = ("file_name",)

    parts: tuple[Reference, ...] = field(PickField("the parts", "Solids or meshes.", element="node", changes=False))
    format: str = field(ChoiceField("the format", "Of the file.", default="3mf", options={"3mf": "3MF", "stl": "STL"}))
    file_name: str | None = field(
        TextField("the name", "Of the file.", default=None, limit=80, blank="that of the part")
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node"

    def told(self, context: Context) -> str:
        return f"Saved {self.word('parts', context)} for printing as {self.format.upper()}"

    def apply(self, work: Work) -> Outcome:
        return printing.SavePrint(parts=self.parts, format=self.format, file_name=self.file_name or "").do(work)

"""Drive a dimension."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import drive
from ...operations.work import Handle, Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import ChoiceField, Context, FormulaField, NamesField, PickField, TextField
from ..registry import edit


@edit
class Drive(Edit):
    name = "drive"
    title = "Drive a dimension"
    also = ("change dimension", "set dimension")
    sentence = "Drive {dimension} to {value}, moving {side}, holding {held}, with {riders} and {line}"
    past = "Drove {dimension} to {value}"
    help = (
        "Gives a kept dimension another value: the faces and features at its end move, with what stands on them; held "
        "dimensions keep theirs, by the least motion.  A round or a stepped end follows as in a push."
    )
    offered_for = "dimension"
    stages = ("Shape",)
    rank = 14
    drawing = '<path d="M3 3v10"/><path class="hot" d="M13 3v10M3 8h10M10.5 6 13 8l-2.5 2M15 8h3"/>'
    folds = ("side", "held", "riders", "line")

    value: float = field(FormulaField("the value", "What it is to measure.", minimum=1e-4))
    dimension: str = field(TextField("the dimension", "Its name or id, such as d12.", limit=40))
    side: str = field(ChoiceField("the side", "Which end moves.", default="second",
                                  options={"second": "its second end", "first": "its first end",
                                           "both": "both ends evenly"}))  # fmt: skip
    held: tuple[str, ...] | None = field(
        NamesField("the held ones", "Dimensions that keep their values; a click on one in the view holds it.",
                   default=None, blank="nothing")
    )  # fmt: skip
    riders: tuple[Reference, ...] | None = field(
        PickField(
            "the riders", "More faces that go with its second end.", element="face", default=None, empty="nothing else"
        )
    )
    line: str = field(ChoiceField("the line", "Whether holes about one axis go together.", default="together",
                                  options={"together": "the holes in line", "alone": "no hole in line"}))  # fmt: skip

    def told(self, context: Context) -> str:
        return f"Drove {self.dimension} to {self.word('value', context)}"

    def handle(self, work: Work) -> Handle | None:
        return self.planned(drive.Drive).handle(work)

    def apply(self, work: Work) -> Outcome:
        return self.done_by(drive.Drive, work)

"""The forms of a mesh: as faces of it to pick, or as exact surfaces beside it."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import recognise
from ...operations.work import Outcome, Work
from .. import drawings
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context
from ..fields.shared import DEVIATION, PARTS
from ..registry import edit


@edit
class Recognise(Edit):
    name = "recognise"
    title = "Recognise forms"
    also = ("segment", "find forms")
    sentence = "Recognise the forms of {parts} within {deviation} as {what}"
    past = "Recognised the forms of {parts}"
    help = (
        "Finds planes, cylinders, cones, balls and rings in a mesh.  As faces, the mesh is told apart into them, so "
        "that they can be picked, measured and pushed up to; as surfaces, each is laid beside the mesh, exact, with "
        "its size and how far the corners of the mesh lie off on average.  Without a deviation, a mesh made by a "
        "program is read to the last digit, and a rough one within 0.3 % of its size."
    )
    offered_for = "node"
    stages = ("Mend",)
    rank = 59
    drawing = drawings.FACETS
    folds = ("deviation",)

    parts: tuple[Reference, ...] = field(PARTS)
    deviation: float | None = field(DEVIATION)
    what: str = field(ChoiceField("what comes of them", "Faces of the mesh, or surfaces beside it.", default="faces",
                              options={"faces": "faces to pick", "surfaces": "surfaces beside it"}))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node" and pick.mesh

    def told(self, context: Context) -> str:
        return f"Recognised the forms of {self.word('parts', context)} as {self.word('what', context)}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(recognise.Recognise, work)

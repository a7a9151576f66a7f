"""An exact solid from the forms of a mesh."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import mesh_to_solid
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField
from ..fields.shared import DEVIATION, PARTS
from ..registry import edit


@edit
class MeshToSolid(Edit):
    name = "mesh to solid"
    title = "Make a solid of a mesh"
    also = ("convert", "solidify")
    sentence = "Make a solid of {parts} from its forms within {deviation}, {place}"
    past = "Made a solid of {parts} from its forms"
    help = (
        "Recognises planes, cylinders, cones, balls and rings, crosses them where they meet, and makes the exact solid "
        "inside them; directions and sizes beside a plain number, closer than the mesh can tell, take that.  Where "
        "part of the mesh follows no form, cut it into sections and loft those instead."
    )
    offered_for = "node"
    stages = ("Mend",)
    rank = 58
    drawing = (
        '<path d="M2 12 5 5l4 6 3-7" stroke-dasharray="1.6 1.4"/>'
        '<path class="hot" d="M8 14V7l5-3 5 3v4l-5 3zM8 7l5 2 5-2M13 9v5"/>'
    )
    folds = ("deviation", "place")

    parts: tuple[Reference, ...] = field(PARTS)
    deviation: float | None = field(DEVIATION)
    place: str = field(ChoiceField("its place", "Whether the mesh stays.", default="instead",
                               options={"instead": "in its place", "beside": "the mesh staying"}))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node" and pick.mesh

    def apply(self, work: Work) -> Outcome:
        return self.done_by(mesh_to_solid.MeshToSolid, work)

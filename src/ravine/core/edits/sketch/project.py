"""Edges of the model taken into a sketch."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import project
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, PickField
from ..registry import edit


@edit
class Project(Edit):
    name = "project"
    title = "Take into a sketch"
    also = ("trace edges", "edges into the sketch")
    sentence = "Take {edges} into {sketch} as {role}"
    past = "Took {edges} into {sketch}"
    help = (
        "Draws the edges in a sketch, square to its plane: lines stay lines, arcs and circles that lie level with it "
        "stay such, all else becomes a spline through seventeen places.  A face stands for all its edges.  Their "
        "points are fixed; the sketch does not follow when the model changes later."
    )
    rank = 31
    drawing = (
        '<path d="M3 5V1h8v4"/><path d="M2 14h16" stroke-dasharray="1.6 1.4"/>'
        '<path class="hot" d="M3 7v6M11 7v6M3 13.5h8"/>'
    )

    edges: tuple[Reference, ...] = field(PickField("the edges", "Edges or faces.", element="edge", also=("face",),
                                         changes=False))  # fmt: skip
    sketch: tuple[Reference, ...] = field(PickField("the sketch", "Where they are drawn.", element="sketch",
                                          also=("curve", "area"), maximum=1, empty="a sketch"))  # fmt: skip
    role: str = field(ChoiceField("the role", "Outlines bound areas, helpers only guide.", default="outline",
                              options={"outline": "outline", "helper": "helpers"}))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("edge", "face") and not pick.mesh

    def apply(self, work: Work) -> Outcome:
        return self.done_by(project.Project, work)

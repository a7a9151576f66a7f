"""Merge faces that are one, or take edges out that divide one surface."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import merge
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import PickField
from ..registry import edit


@edit
class Merge(Edit):
    name = "merge"
    title = "Merge into one face"
    also = ("join faces",)
    sentence = "Merge {parts} with what continues on the same surface"
    past = "Merged {parts} with what continues on the same surface"
    help = (
        "Faces that continue one another on one surface become one: those picked with their neighbours, across the "
        "picked edges, or everywhere on the picked parts."
    )
    offered_for = "face"
    stages = ("Shape", "Mend")
    rank = 30
    drawing = '<path d="M2 4h15v9H2z"/><path class="hot" d="M9.5 4v9" stroke-dasharray="1.6 1.4"/>'

    parts: tuple[Reference, ...] = field(
        PickField(
            "the faces", "Faces, edges that divide a surface, or whole parts.", element="face", also=("edge", "node")
        )
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("face", "edge", "node") and not pick.locked and not pick.mesh

    def apply(self, work: Work) -> Outcome:
        return self.done_by(merge.Merge, work)

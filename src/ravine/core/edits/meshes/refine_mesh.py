"""Meshes with fewer triangles, or smoother."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import refine_mesh
from ...operations.work import Outcome, Work
from .. import drawings
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import CountField, ShareField
from ..fields.shared import PARTS
from ..registry import edit


@edit
class Decimate(Edit):
    name = "decimate"
    title = "Fewer triangles"
    also = ("reduce", "simplify mesh")
    sentence = "Keep {share} of the triangles of {parts}"
    past = "Kept {share} of the triangles of {parts}"
    help = (
        "Merges triangles where that changes the form least.  The line tells how many are left and how far the new "
        "corners lie off the old mesh at most."
    )
    offered_for = "node"
    stages = ("Mend",)
    rank = 62
    drawing = drawings.FACETS

    parts: tuple[Reference, ...] = field(PARTS)
    share: float = field(ShareField("the share", "Of the triangles that stay.", default=0.5))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node" and pick.mesh and not pick.locked

    def apply(self, work: Work) -> Outcome:
        return self.done_by(refine_mesh.Decimate, work)


@edit
class Smooth(Edit):
    name = "smooth"
    title = "Smooth"
    also = ("relax",)
    sentence = "Smooth {parts} with {rounds} rounds"
    past = "Smoothed {parts} with {rounds} rounds"
    help = "Evens out noise without shrinking the body; open borders stay where they are."
    offered_for = "node"
    stages = ("Mend",)
    rank = 63
    drawing = drawings.SIMPLIFY

    parts: tuple[Reference, ...] = field(PARTS)
    rounds: int = field(CountField("the rounds", "More even out more.", default=10))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node" and pick.mesh and not pick.locked

    def apply(self, work: Work) -> Outcome:
        return self.done_by(refine_mesh.Smooth, work)

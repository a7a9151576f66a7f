"""Lay a bend flat, and bend it again."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import bend_again, unbend
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import PickField
from ..registry import edit


@edit
class Unbend(Edit):
    name = "unbend"
    title = "Lay the bend flat"
    also = ("straighten bend", "open bend")
    sentence = "Lay {bends} flat"
    past = "Laid {bends} flat"
    doing = "Laying {bends} flat"
    help = (
        "Lays single bends of a sheet flat and lets all beyond them swing along, to cut or reshape the sheet there.  "
        "The strip is as long as the bend counts in the flat; the part keeps what is needed to bend it again."
    )
    offered_for = "face"
    stages = ("Sheet",)
    rank = 12
    drawing = '<path d="M2 13h6M8 13a6 6 0 0 0 6-6V2" opacity=".4"/><path class="hot" d="M8 13h10"/>'

    bends: tuple[Reference, ...] = field(
        PickField("the bends", "By a face, on either side.", element="face", kinds=("cylinder",))
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "face" and pick.face_kinds == {"cylinder"} and not pick.mesh and not pick.locked

    def apply(self, work: Work) -> Outcome:
        return self.done_by(unbend.Unbend, work)


@edit
class BendAgain(Edit):
    name = "bend again"
    title = "Bend it again"
    also = ("rebend", "fold back")
    sentence = "Bend what was laid flat in {on} again"
    past = "Bent {on} again"
    doing = "Bending {on} again"
    help = (
        "Bends again what was laid flat in a wall, about the same line, by the same angle and radius: holes cut across "
        "it, and borders that were moved, go round the bend."
    )
    offered_for = "face"
    stages = ("Sheet",)
    rank = 13
    drawing = '<path d="M2 13h16" opacity=".4"/><path class="hot" d="M8 13a6 6 0 0 0 6-6V2"/>'

    on: tuple[Reference, ...] = field(
        PickField("the walls", "The flat strips, or the walls they are in.", element="face", kinds=("plane",))
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "face" and pick.face_kinds == {"plane"} and not pick.mesh and not pick.locked

    def apply(self, work: Work) -> Outcome:
        return self.done_by(bend_again.BendAgain, work)

"""Bend sharp corners of a sheet, rip them, and mend what is no sheet."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import mend_sheet, sheet_corners
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, LengthField, PickField
from ..registry import edit

RIPS = {"first": "one wall running through", "second": "the other running through", "open": "neither running through"}
WHAT = {
    "all": "all that can be", "round": "rounded edges", "square": "edges that are not square",
    "thickness": "walls of another thickness", "wedge": "walls that are not parallel", "axis": "bends about two axes",
    "kink": "bends that do not run on",
}  # fmt: skip


@edit
class BendCorners(Edit):
    name = "bend edge"
    title = "Bend the corner"
    also = ("apply bend", "add bend")
    sentence = "Bend the corner {edges} with radius {radius}"
    past = "Bent the corner {edges}"
    doing = "Bending {edges}"
    help = (
        "Puts a bend in the place of a sharp corner between two walls, its inner and outer face about one axis.  Where "
        "it would run into a third wall, the corner is cut out for it; rip the other corners there."
    )
    offered_for = "edge"
    stages = ("Sheet",)
    rank = 7
    drawing = '<path d="M2 13h9M14 10V2"/><path class="hot" d="M11 13a3 3 0 0 0 3-3"/>'

    edges: tuple[Reference, ...] = field(PickField("the corners", "By an edge, inner or outer.", element="edge"))
    radius: float | None = field(
        LengthField("the radius", "On the inner side.", default=None, minimum=0.0, blank="the thickness")
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "edge" and not pick.mesh and not pick.locked

    def apply(self, work: Work) -> Outcome:
        return self.done_by(sheet_corners.BendCorners, work)


@edit
class RipCorners(Edit):
    name = "rip"
    title = "Rip the corner"
    also = ("rip corner", "open corner", "corner gap")
    sentence = "Rip the corner {edges} by {gap} , {way}"
    past = "Ripped the corner {edges}"
    doing = "Ripping {edges}"
    help = (
        "Parts two walls of a sheet that meet at a sharp corner: one of them runs through and covers the other's end, "
        "or neither does, and the corner stays open."
    )
    offered_for = "edge"
    stages = ("Sheet",)
    rank = 8
    drawing = '<path d="M2 13h12V9M14 6V2"/><path class="hot" d="M12 7.5h4"/>'

    edges: tuple[Reference, ...] = field(PickField("the corners", "By an edge, inner or outer.", element="edge"))
    gap: float = field(LengthField("the gap", "Between the two walls.", default=0.2, minimum=0.0))
    way: str = field(ChoiceField("the way", "Which wall covers the corner.", default="first", options=RIPS))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "edge" and not pick.mesh and not pick.locked

    def apply(self, work: Work) -> Outcome:
        return self.done_by(sheet_corners.RipCorners, work)


@edit
class MendSheet(Edit):
    name = "mend sheet"
    title = "Mend the sheet"
    also = ("fix sheet", "repair sheet")
    sentence = "Mend {on} : {what}"
    past = "Mended {on} : {what}"
    help = (
        "Puts right what keeps a part from being sheet: rounds are taken off its edges, edges turned square, walls "
        "brought to the thickness, and bends whose faces share no axis made anew about one."
    )
    offered_for = "face"
    stages = ("Sheet",)
    rank = 9
    drawing = '<path d="M2 13h9a3 3 0 0 0 3-3V6"/><path class="hot" d="M11 4l2.5 2.5L18 2"/>'

    on: tuple[Reference, ...] = field(
        PickField("the part", "Or a flat face of it.", element="face", also=("node",), maximum=1)
    )
    what: str = field(ChoiceField("what", "Which faults.", default="all", options=WHAT))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        flat = pick.kind == "face" and pick.face_kinds == {"plane"}
        return (pick.kind == "node" or flat) and not pick.mesh and not pick.locked

    def apply(self, work: Work) -> Outcome:
        return self.done_by(mend_sheet.MendSheet, work)

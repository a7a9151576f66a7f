"""How parts, or single faces, look: their surface and its colour."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from ...model.finishes import PLAIN_COLOUR, SURFACES, with_colour
from ...model.references import Reference
from ...model.snapshot import Snapshot
from ...operations.work import Outcome, Work
from .. import drawings
from ..base import Edit
from ..declared import field
from ..fields import ChoiceField, ColourField, PickField
from ..registry import edit

_COLOUR = ColourField("the colour", "Six hexadecimal digits, such as #7c8b86.", default=PLAIN_COLOUR)
_SURFACE = ChoiceField(
    "the surface", "Wood, metal, plastic or paint, with the colour it comes in; plain takes it away.", default="plain",
    options={"plain": "plain", **{name: name for name in SURFACES}},
)  # fmt: skip
Change = Callable[[str | None], str | None]


def _parts_finished(snapshot: Snapshot, parts: tuple[Reference, ...], change: Change) -> Snapshot:
    for ident in parts:
        for leaf in snapshot.leaves_below(ident.number):
            body = snapshot.bodies[snapshot.nodes[leaf].body or 0]
            snapshot = snapshot.with_body(replace(body, finish=change(body.finish)))
    return snapshot


def _faces_finished(snapshot: Snapshot, faces: tuple[Reference, ...], change: Change) -> Snapshot:
    for ident in faces:
        number = ident.number
        body = snapshot.body(ident.owner[0].id)
        finishes = dict(body.face_finishes)
        now = change(finishes.get(number, body.finish))
        if now is None:
            finishes.pop(number, None)
        else:
            finishes[number] = now
        snapshot = snapshot.with_body(replace(body, face_finishes=finishes))
    return snapshot


def _as_surface(name: str) -> Change:
    return lambda finish: None if name == "plain" else f"{SURFACES[name].colour} {name}"


@edit
class SetFinish(Edit):
    name = "set finish"
    title = "Finish"
    also = ("appearance", "texture")
    sentence = "Finish {parts} as {surface}"
    past = "Finished {parts} as {surface}"
    help = "Gives whole parts the look of a wood, metal, plastic or paint; faces with a finish of their own keep it."
    offered_for = "node"
    rank = 54
    drawing = drawings.FINISH

    parts: tuple[Reference, ...] = field(PickField("the parts", "The parts or groups.", element="node"))
    surface: str = field(_SURFACE)

    def apply(self, work: Work) -> Outcome:
        return Outcome(_parts_finished(work.snapshot, self.parts, _as_surface(self.surface)))


@edit
class SetFinishColour(Edit):
    name = "set finish colour"
    title = "Finish colour"
    also = ("paint", "colour")
    sentence = "Finish {parts} in {colour}"
    past = "Finished {parts} in {colour}"
    help = "Gives whole parts a colour on the surface they have; faces with a finish of their own keep it."
    offered_for = "node"
    rank = 55
    drawing = drawings.FINISH

    parts: tuple[Reference, ...] = field(PickField("the parts", "The parts or groups to colour.", element="node"))
    colour: str = field(_COLOUR)

    def apply(self, work: Work) -> Outcome:
        return Outcome(_parts_finished(work.snapshot, self.parts, lambda finish: with_colour(finish, self.colour)))


@edit
class SetFaceFinish(Edit):
    name = "set face finish"
    title = "Finish"
    also = ("face texture",)
    sentence = "Finish {faces} as {surface}"
    past = "Finished {faces} as {surface}"
    help = "Gives single faces a surface that differs from their part's; plain gives them their part's again."
    offered_for = "face"
    rank = 54
    drawing = drawings.FINISH

    faces: tuple[Reference, ...] = field(PickField("the faces", "The faces.", element="face"))
    surface: str = field(_SURFACE)

    def apply(self, work: Work) -> Outcome:
        return Outcome(_faces_finished(work.snapshot, self.faces, _as_surface(self.surface)))


@edit
class SetFaceFinishColour(Edit):
    name = "set face finish colour"
    title = "Finish colour"
    also = ("face colour",)
    sentence = "Finish {faces} in {colour}"
    past = "Finished {faces} in {colour}"
    help = "Gives single faces a colour that differs from their part's."
    offered_for = "face"
    rank = 55
    drawing = drawings.FINISH

    faces: tuple[Reference, ...] = field(PickField("the faces", "The faces to colour.", element="face"))
    colour: str = field(_COLOUR)

    def apply(self, work: Work) -> Outcome:
        return Outcome(_faces_finished(work.snapshot, self.faces, lambda finish: with_colour(finish, self.colour)))

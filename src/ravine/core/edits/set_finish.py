"""Set the finish colour of parts, or of single faces."""

from __future__ import annotations

from dataclasses import replace

from ..model.snapshot import split_id
from .base import Edit, Outcome, Work, edit, gap
from .gaps import ColourGap, PickGap

_COLOUR = ColourGap("the colour", "Six hexadecimal digits, such as #7c8b86.", default="#7c8b86")


@edit
class SetFinish(Edit):
    name = "set finish colour"
    title = "Finish colour"
    sentence = "Finish {parts} in {colour}"
    past = "Finished {parts} in {colour}"
    help = "Gives whole parts a colour; faces with a finish of their own keep it."
    offered_for = "node"
    rank = 55
    drawing = "finish"

    parts: tuple[str, ...] = gap(PickGap("the parts", "The parts or groups to colour.", element="node"))
    colour: str = gap(_COLOUR)

    def apply(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        for ident in self.parts:
            for leaf in snapshot.leaves_below(split_id(ident)[1]):
                body = snapshot.bodies[snapshot.nodes[leaf].body or 0]
                snapshot = snapshot.with_body(replace(body, finish=self.colour))
        return Outcome(snapshot)


@edit
class SetFaceFinish(Edit):
    name = "set face finish colour"
    title = "Finish colour"
    sentence = "Finish {faces} in {colour}"
    past = "Finished {faces} in {colour}"
    help = "Gives single faces a colour that differs from their part's."
    offered_for = "face"
    drawing = "finish"

    faces: tuple[str, ...] = gap(PickGap("the faces", "The faces to colour.", element="face"))
    colour: str = gap(_COLOUR)

    def apply(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        for ident in self.faces:
            number = split_id(ident)[1]
            body, _ = snapshot.owner_of("face", number)
            snapshot = snapshot.with_body(replace(body, face_finishes={**body.face_finishes, number: self.colour}))
        return Outcome(snapshot)

"""Split faces along areas drawn on them."""

from __future__ import annotations

from ..errors import EditError
from ..kernel.shapes import placed
from ..model import placement
from .base import Edit, Fact, Outcome, Work, edit, gap
from .face_splitting import with_split_faces
from .gaps import PickGap
from .grown import near_parts, profile_of, united_faces


@edit
class Imprint(Edit):
    name = "imprint"
    title = "Imprint"
    sentence = "Imprint {areas} on the faces they lie on"
    past = "Imprinted {areas}"
    help = (
        "Splits the flat faces that areas of a sketch lie on along the areas' outlines.  The solid stays as it is; "
        "each piece is then a face of its own to colour, to tilt, or to push with its border kept."
    )
    offered_for = "area"
    rank = 11
    drawing = "imprint"

    areas: tuple[str, ...] = gap(PickGap("the areas", "Closed areas of one sketch.", element="area"))

    def apply(self, work: Work) -> Outcome:
        doing = f"Imprinting {self.word('areas', work.context())}"
        stamp = united_faces(profile_of(work, self.areas).faces)
        snapshot, more = work.snapshot, 0
        for place in near_parts(work, stamp):
            here = placed(stamp, placement.inverse(place.matrix))
            snapshot, grown = with_split_faces(work, snapshot, place.body, [here], doing, "areas")
            more += grown
        if not more:
            raise EditError(f"{doing}: no flat face lies there that they would split", self.areas, field="areas")
        return Outcome(snapshot, (Fact("faces", "more faces", float(more), "count"),))

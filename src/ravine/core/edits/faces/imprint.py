"""Split faces along areas drawn on them."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import imprint
from ...operations.work import Outcome, Work
from .. import drawings
from ..base import Edit
from ..declared import field
from ..fields import PickField
from ..registry import edit


@edit
class Imprint(Edit):
    name = "imprint"
    title = "Imprint"
    also = ("scribe", "project area")
    sentence = "Imprint {areas} on the faces they lie on"
    past = "Imprinted {areas}"
    doing = "Imprinting {areas}"
    help = (
        "Splits the flat faces that areas of a sketch lie on along the areas' outlines.  The solid stays as it is; "
        "each piece is then a face of its own to colour, to tilt, or to push with its border kept."
    )
    offered_for = "area"
    rank = 11
    drawing = drawings.IMPRINT

    areas: tuple[Reference, ...] = field(PickField("the areas", "Closed areas of one sketch.", element="area"))

    def apply(self, work: Work) -> Outcome:
        return self.done_by(imprint.Imprint, work)

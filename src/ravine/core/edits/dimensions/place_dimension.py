"""Put the text of a dimension somewhere."""

from __future__ import annotations

from ...operations import dimensioning
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import Context, NumbersField, TextField
from ..registry import edit


@edit
class PlaceDimension(Edit):
    name = "place dimension"
    title = "Put a dimension elsewhere"
    also = ("move dimension text", "dimension text position")
    sentence = "Put {dimension} {off} mm off its middle"
    past = "Put {dimension} elsewhere"
    help = (
        "Where a kept dimension is written: X, Y and Z from the middle of what it measures, so that it goes along with "
        "edits.  Its value is dragged to a place in the view; without numbers it stands as fits."
    )
    offered_for = "dimension"
    stages = ("Shape",)
    rank = 16
    drawing = '<path d="M3 5v9M13 5v9M3 10h10"/><path class="hot" d="M8 10V3h7m-2.5-2 2.5 2-2.5 2"/>'

    dimension: str = field(TextField("the dimension", "Its name or id, such as d12.", limit=40))
    off: tuple[float, ...] | None = field(
        NumbersField("the way", "Three numbers, mm in the model; none as fits.", count=3, default=None)
    )

    def told(self, context: Context) -> str:
        return f"Put {self.dimension} {'elsewhere' if self.off else 'where it fits'}"

    def apply(self, work: Work) -> Outcome:
        off = (float(self.off[0]), float(self.off[1]), float(self.off[2])) if self.off else None
        return dimensioning.PlaceDimension(dimension=self.dimension, off=off).do(work)

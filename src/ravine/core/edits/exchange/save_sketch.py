"""Save a sketch as a drawing file."""

from __future__ import annotations

import re

from ... import formats
from ...errors import EditError
from ...model.references import Reference
from ...operations import sketching
from ...operations.work import Fact, Outcome, Work
from ...sketch.plane_curves import plane_curves
from .. import drawings
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, PickField
from ..registry import edit


@edit
class SaveSketch(Edit):
    name = "save sketch"
    title = "Save as a drawing"
    also = ("sketch drawing",)
    sentence = "Save {sketch} as {format}"
    past = "Saved {sketch} as {format}"
    help = "Writes the outlines of a sketch, in mm and without its helpers, as DXF or SVG.  Text goes as outlines."
    offered_for = "sketch"
    rank = 80
    drawing = drawings.LEAVE

    sketch: tuple[Reference, ...] = field(PickField("the sketch", "Whose curves are saved.", element="sketch",
                                          also=("curve", "area"), maximum=1))  # fmt: skip
    format: str = field(ChoiceField("the format", "DXF or SVG.", default="dxf", options={"dxf": "DXF", "svg": "SVG"}))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "sketch" and pick.count == 1

    def apply(self, work: Work) -> Outcome:
        sketch = sketching.sketch_of(work.snapshot, self.sketch, "sketch")
        drawing = plane_curves(sketch)
        if not drawing:
            raise EditError(f"{sketch.name} has no outlines to save", self.sketch, field="sketch")
        data = formats.writer(self.format)(drawing)
        stem = re.sub(r"[^\w.() -]+", "_", sketch.name).strip(". ") or "sketch"
        facts = (Fact("curves", "curves", float(len(drawing)), "count"),)
        return Outcome(work.snapshot, facts, files={f"{stem}.{self.format}": data})

"""Save a section as a drawing file."""

from __future__ import annotations

import re

from ..errors import EditError
from ..model.snapshot import split_id, text_id
from ..section.cut import section_plane
from ..section.drawing import dxf_of, svg_of
from ..section.exact import figures_of
from .base import Edit, Fact, Outcome, Work, edit, gap
from .gaps import ChoiceGap, PickGap, PlaneGap, TextGap


@edit
class SaveSection(Edit):
    name = "save section"
    title = "Save the section"
    sentence = "Save the section at {at} of {parts} as {format} , {hatching}"
    past = "Saved the section at {at} as {format}"
    help = (
        "Writes what a plane cuts, seen square on: the exact outlines in mm, a group or layer for each part.  The "
        "plane is square to an axis, written x 12.5 mm or -z 3, or tilted: a point, the word along, and a direction."
    )
    stages = ("Hand over",)
    rank = 82
    drawing = "leave"

    at: tuple[float, ...] = gap(PlaneGap("the plane", "Such as x 12.5 mm, or 0,0,10 along 0,0.6,0.8."))
    parts: tuple[str, ...] | None = gap(PickGap("the parts", "All where none is picked.", element="node", changes=False,
                                                default=None, empty="all parts"))  # fmt: skip
    format: str = gap(ChoiceGap("the format", "SVG or DXF.", default="svg", options={"svg": "SVG", "dxf": "DXF"}))
    hatching: str = gap(ChoiceGap("the hatching", "Of the matter that is cut.", default="hatched",
                                  options={"hatched": "hatched", "plain": "outlines only"}))  # fmt: skip
    file_name: str = gap(TextGap("the file name", "Without ending.", default="section"))

    @classmethod
    def suggest(cls, work: Work, picked: tuple[str, ...]) -> dict[str, object]:
        return {"at": "y 0"}

    def apply(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        wanted = {n for p in self.parts or () for n in snapshot.leaves_below(split_id(p)[1])}
        left_out = [text_id("node", o.node.id) for o in snapshot.occurrences() if wanted and o.node.id not in wanted]
        work.progress(0.2, "cutting")
        figures = figures_of(snapshot, work.geometry, section_plane(self.at), left_out)
        if not figures:
            raise EditError("the plane meets no part there; move it to where matter is", field="at")
        data = (svg_of if self.format == "svg" else dxf_of)(figures, self.hatching == "hatched")
        stem = re.sub(r"[^\w.() -]+", "_", self.file_name).strip(". ") or "section"
        facts = (
            Fact("parts", "parts", float(len(figures)), "count"),
            Fact("area", "cut area", sum(f.area for f in figures), "area"),
        )
        return Outcome(snapshot, facts, files={f"{stem}.{self.format}": data})

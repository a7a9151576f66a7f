"""Save a section as a drawing file."""

from __future__ import annotations

import re
from dataclasses import dataclass

from ..errors import EditError
from ..model.references import Reference
from ..model.snapshot import text_id
from ..section.cut import section_plane
from ..section.drawing import dxf_of, svg_of
from ..section.exact import figures_of
from .work import Fact, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class SaveSection(Operation):
    """Writes what a plane cuts, seen square on: the exact outlines in mm, a group or layer for each part."""

    at: tuple[float, ...]
    parts: tuple[Reference, ...] | None = None
    format: str = "svg"
    hatching: str = "hatched"
    file_name: str = "section"

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        wanted = {n for p in self.parts or () for n in snapshot.leaves_below(p.number)}
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

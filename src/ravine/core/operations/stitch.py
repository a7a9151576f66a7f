"""Sew loose surfaces along borders that run beside one another."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..errors import EditError
from ..kernel.shapes import ShapeIndex, compound, placed
from ..kernel.soup import open_edges
from ..mending.ladder import mended
from ..model.derive import blank_ids, reshape_body
from ..model.geometry import Solid
from ..model.references import Reference
from ..units import format_length
from .mended_bodies import bodies_of, sheet_facts, taken_over
from .reshaping import matrix_of
from .work import Fact, Operation, Outcome, Work

SEWING = frozenset(("gap", "turned face"))


@dataclass(frozen=True, kw_only=True)
class Stitch(Operation):
    """Makes one surface of faces whose borders run beside one another, across several parts as well."""

    parts: tuple[Reference, ...]
    tolerance: float = 0.01

    def do(self, work: Work) -> Outcome:
        bodies = bodies_of(work, self.parts)
        meshes = [b.name for b in bodies if b.kind == "mesh"]
        if meshes:
            raise EditError(f"{meshes[0]} is a mesh; mend its holes instead", self.parts, field="parts")
        first, *others = bodies
        inside = matrix_of(work.snapshot, first).inverse
        shapes = [placed(work.geometry.solid(b.shape).shape, (inside @ matrix_of(work.snapshot, b))) for b in others]
        before = work.geometry.solid(first.shape)
        whole = compound([before.shape, *shapes]) if shapes else before.shape
        open_before = len(open_edges(ShapeIndex(whole)))
        if not open_before:
            raise EditError(f"{first.name} has no open edge, so there is nothing to stitch", self.parts, field="parts")
        found = mended(whole, self.tolerance, SEWING, work.progress)
        if found.left >= open_before:
            within = format_length(self.tolerance, work.snapshot.units)
            raise EditError(f"no two borders run within {within} of one another; all {open_before} edges stay open",
                            self.parts, field="tolerance")  # fmt: skip
        snapshot = work.snapshot
        if others:
            snapshot = snapshot.without_nodes({o.node.id for b in others for o in snapshot.occurrences(b.id)})
            joined = reshape_body(snapshot, work.geometry, replace(first, kind="surface"), Solid(found.shape),
                                  blank_ids(found.shape))  # fmt: skip
            snapshot = taken_over(work, joined, first, found.shape, self.tolerance)
        else:
            snapshot = taken_over(work, snapshot, first, found.shape, self.tolerance)
        facts = (Fact("open_before", "open before", float(open_before), "count"), *sheet_facts(found))
        warnings = () if found.trouble is None else (f"{first.name} is no solid: {found.trouble}",)
        return Outcome(snapshot, facts, warnings)

"""Sew loose surfaces along borders that run beside one another."""

from __future__ import annotations

from dataclasses import replace

from ..errors import EditError
from ..kernel.shapes import ShapeIndex, compound, placed
from ..kernel.soup import open_edges
from ..mending.ladder import mended
from ..model.derive import blank_ids, reshape_body
from ..model.geometry import Solid
from ..model.placement import inverse, multiply
from .base import Edit, Fact, Outcome, PickSummary, Work, edit, gap
from .gaps import LengthGap, PickGap
from .mend import bodies_of, sheet_facts, taken_over
from .shaping import matrix_of

SEWING = frozenset(("gap", "turned face"))


@edit
class Stitch(Edit):
    name = "stitch"
    title = "Stitch"
    sentence = "Stitch {parts} where borders run within {tolerance}"
    past = "Stitched {parts} within {tolerance}"
    help = (
        "Makes one surface of faces whose borders run beside one another, across several parts as well; a solid where "
        "nothing stays open.  The line tells how many edges stay open as the tolerance changes."
    )
    offered_for = "node"
    stages = ("Mend",)
    rank = 61
    drawing = "stitch"

    parts: tuple[str, ...] = gap(PickGap("the parts", "Open surfaces, or parts to check.", element="node"))
    tolerance: float = gap(LengthGap("the tolerance", "Between borders that belong together.", minimum=1e-6,
                                     default=0.01))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node" and not pick.locked and not pick.mesh

    def apply(self, work: Work) -> Outcome:
        bodies = bodies_of(work, self.parts)
        meshes = [b.name for b in bodies if b.kind == "mesh"]
        if meshes:
            raise EditError(f"{meshes[0]} is a mesh; mend its holes instead", self.parts, field="parts")
        first, *others = bodies
        inside = inverse(matrix_of(work.snapshot, first))
        shapes = [
            placed(work.geometry.solid(b.shape).shape, multiply(inside, matrix_of(work.snapshot, b))) for b in others
        ]
        before = work.geometry.solid(first.shape)
        whole = compound([before.shape, *shapes]) if shapes else before.shape
        open_before = len(open_edges(ShapeIndex(whole)))
        if not open_before:
            raise EditError(f"{first.name} has no open edge, so there is nothing to stitch", self.parts, field="parts")
        found = mended(whole, self.tolerance, SEWING, work.progress)
        if found.left >= open_before:
            raise EditError(
                f"no two borders run within {self.word('tolerance', work.context())} of one another; all {open_before} "
                f"edges stay open", self.parts, field="tolerance",
            )  # fmt: skip
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

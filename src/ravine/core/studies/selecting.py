"""What else could be picked: like one face, or going on from it."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..edits.declared import field
from ..edits.fields import ChoiceField, FlagField, IdsField, ShareField, TextField
from ..model import alike, grow_selection
from ..operations.work import Work
from .base import Study, study


@study
class Alike(Study):
    name = "alike"
    help = "Criteria of one face or edge, each with everything that fits it."

    picked: str = field(TextField("the pick", "Id of a face or edge.", limit=20))
    tolerance: float = field(ShareField("the tolerance", "Share by which sizes may differ.", default=1e-4))
    everywhere: bool = field(FlagField("everywhere", "In all parts, not only the one it belongs to.", default=False))

    def run(self, work: Work) -> list[dict[str, Any]]:
        found = alike.alike(work.snapshot, work.geometry, self.picked, self.tolerance, self.everywhere)
        return [asdict(c) for c in found]


@study
class ReadAhead(Study):
    name = "read ahead"
    help = "Reads what alike searches, so that the first pick on a large part does not wait; the number of faces."
    keeps = False

    def run(self, work: Work) -> int:
        bodies = [b for b in work.snapshot.bodies.values() if b.kind != "mesh"]
        return sum(len(work.geometry.solid(b.shape).faces.kind) for b in bodies)


@study
class GrowSelection(Study):
    name = "grow selection"
    help = "Wider picks, the one meant most first: the loop of an edge, a tangent run, a chain between two."

    picked: tuple[str, ...] = field(IdsField("the pick", "Edges of one part, or faces of one part."))
    way: str = field(ChoiceField("the way", "How it goes on.", default="run",
                                 options={"loop": "loop", "run": "run", "chain": "chain"}))  # fmt: skip

    def run(self, work: Work) -> list[list[str]]:
        return grow_selection.grown_selection(work.snapshot, work.geometry, self.picked, self.way)

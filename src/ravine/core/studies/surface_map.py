"""Figures over the surface of a part."""

from __future__ import annotations

from ..edits.declared import field
from ..edits.fields import IdsField, TextField
from ..maps import body_map
from ..operations.work import Work
from .base import Study, study


@study
class SurfaceMap(Study):
    name = "map"
    help = "Thickness, draft, curvature, deviation or stripes over a part, packed as maps/body_map.py says."
    seconds = 300.0
    follows = True

    kind: str = field(TextField("the kind", "Which figure.", limit=20))
    nodes: tuple[str, ...] = field(IdsField("the parts", "The part, and for a deviation the one it is held against."))
    pull: str = field(TextField("the pull", "Direction of draft: x, -z and so on.", limit=8, default="z"))

    def run(self, work: Work) -> bytes:
        found = body_map.map_of(work.snapshot, work.geometry, self.kind, self.nodes, self.pull, work.progress)
        return found.packed()

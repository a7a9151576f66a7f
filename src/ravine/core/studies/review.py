"""Two states compared."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..edits.declared import field
from ..edits.fields import TextField
from ..operations.work import Work
from ..review import compare, words
from .base import Study, study


@study
class Compare(Study):
    name = "compare"
    help = (
        "What changed since another state: faces unchanged, moved, resized, new or gone, in words, with volumes and "
        "masses."
    )
    keeps = True

    before: str = field(TextField("the state before", "Address of its snapshot.", limit=80))

    def run(self, work: Work) -> dict[str, Any]:
        before = work.geometry.state(self.before)
        found = compare.compare(before, work.snapshot, work.geometry)
        return {
            "counts": found.counts(), "told": words.told(found, work.snapshot.units), "by_identity": found.by_identity,
            "faces": {f.face: f.kind for f in found.faces if f.kind != "gone"},
            "bodies": [asdict(b) for b in found.bodies],
            "gone": compare.gone_triangles(before, work.geometry, found),
        }  # fmt: skip

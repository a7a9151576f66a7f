"""What the faces of a part mean."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..edits.declared import field
from ..edits.fields import TextField
from ..errors import EditError
from ..features import recogniser, views
from ..model import query
from ..model.references import resolve
from ..operations import feature_size
from ..operations.work import Work
from .base import Study, study


@study
class Features(Study):
    name = "features"
    help = (
        "Holes, slots, pockets, steps, grooves, bosses, ribs, rounds, chamfers of a part, and which repeat one another."
    )

    part: str = field(TextField("the part", "Id of its place in the tree.", limit=20))

    def run(self, work: Work) -> dict[str, Any]:
        node = resolve(work.snapshot, self.part)
        body = work.snapshot.bodies.get(work.snapshot.nodes[node.number].body or 0) if node.kind == "node" else None
        if body is None:
            raise EditError("features are read from one part", [self.part], field="part")
        scope = query.Scope(work.snapshot, work.geometry, body, node.number)
        rows = recogniser.features_of(scope.solid.topology)
        features = [asdict(f) | {"settable": list(feature_size.settable(row))}
                    for f, row in zip(views.view_features(scope), rows, strict=True)]  # fmt: skip
        return {"name": body.name, "features": features, "repeats": [asdict(r) for r in views.view_repeats(scope)]}

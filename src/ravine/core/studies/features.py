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

PART = TextField("the part", "Id of its place in the tree.", limit=20)


@study
class Features(Study):
    name = "features"
    help = (
        "Holes, slots, pockets, steps, grooves, bosses, ribs, rounds, chamfers of a part, and which repeat one another."
    )

    part: str = field(PART)

    def run(self, work: Work) -> dict[str, Any]:
        scope = _scope(work, self.part)
        rows = recogniser.features_of(scope.solid.topology)
        features = [asdict(f) | {"settable": list(feature_size.settable(row))}
                    for f, row in zip(views.view_features(scope), rows, strict=True)]  # fmt: skip
        repeats = [asdict(r) for r in views.view_repeats(scope)]
        return {"name": scope.body.name, "features": features, "repeats": repeats}


@study
class Symmetry(Study):
    name = "symmetry"
    help = "Planes that a part is its own mirror image in, and these in words."

    part: str = field(PART)

    def run(self, work: Work) -> dict[str, Any]:
        planes = views.view_symmetries(_scope(work, self.part))
        words = views.told_symmetries(planes, work.snapshot.units)
        return {"planes": [asdict(p) for p in planes], "words": words}


def _scope(work: Work, part: str) -> query.Scope:
    node = resolve(work.snapshot, part)
    body = work.snapshot.bodies.get(work.snapshot.nodes[node.number].body or 0) if node.kind == "node" else None
    if body is None:
        raise EditError("features are read from one part", [part], field="part")
    return query.Scope(work.snapshot, work.geometry, body, node.number)

"""Take areas of a sketch along edges or curves."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import CannotDo, EditError
from ..kernel.queries import edge_facts
from ..kernel.shapes import Shape, placed
from ..kernel.sweep import swept
from ..model.profiles import curve_edge
from ..model.references import Reference
from .new_material import profile_of, put, united
from .work import Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Sweep(Operation):
    """Takes closed areas along edges of the model or curves of another sketch that follow one another."""

    areas: tuple[Reference, ...]
    along: tuple[Reference, ...]
    way: str = "joining"

    def do(self, work: Work) -> Outcome:
        profile = profile_of(work, self.areas)
        edges = [_edge(work, ident) for ident in self.along]
        plane = profile.sketch.plane
        facts = [edge_facts(e) for e in edges]
        places = np.array([p for f in facts for p in (*f.ends, f.middle)]) - plane.origin
        if np.abs(places @ np.array(plane.normal)).max() < 1e-6:
            raise CannotDo("the way lies in the plane of the areas, so no solid comes of it", self.along,
                            field="along")  # fmt: skip
        work.progress(0.2, "taking the areas along")
        tools = [swept(face, edges) for face in profile.faces]
        return put(work, united(tools), self.way, "Sweep")


def _edge(work: Work, ident: Reference) -> Shape:
    """In model coordinates."""
    kind, number = ident.kind, ident.number
    if kind == "edge":
        body, index = ident.owner
        return placed(work.geometry.solid(body.shape).index.get("edge", index), ident.matrix)
    sketch = work.snapshot.sketch_with("curve", number)
    found = curve_edge(sketch, sketch.curve(number))
    if found is None:
        raise EditError(f"c{number} is a {sketch.curve(number).kind}; a way is made of curves", [ident], field="along")
    return found

"""Take areas of a sketch along edges or curves."""

from __future__ import annotations

import numpy as np

from ..errors import EditError
from ..kernel.queries import edge_facts
from ..kernel.shapes import Shape, placed
from ..kernel.sweep import swept
from ..model.profiles import curve_edge
from ..model.snapshot import split_id
from .base import Edit, Outcome, Work, edit, gap
from .gaps import Context, PickGap
from .grown import WAY, profile_of, put, united
from .shaping import matrix_of


@edit
class Sweep(Edit):
    name = "sweep"
    title = "Sweep along"
    sentence = "Sweep {areas} along {along} , {way}"
    past = "Swept {areas} along {along}"
    help = "Takes closed areas along edges of the model or curves of another sketch that follow one another."
    offered_for = "area"
    rank = 10
    drawing = "sweep"

    areas: tuple[str, ...] = gap(PickGap("the areas", "Closed areas of one sketch.", element="area"))
    along: tuple[str, ...] = gap(PickGap("the way", "Edges, or curves of a sketch, in order.", element="curve",
                                         also=("edge",), changes=False, empty="curves or edges",
                                         several=True))  # fmt: skip
    way: str = gap(WAY)

    def told(self, context: Context) -> str:
        words = f"Swept {self.word('areas', context)} along {self.word('along', context)}"
        return words + {"joining": "", "apart": " as a part of its own", "cutting": ", cutting it out"}[self.way]

    def apply(self, work: Work) -> Outcome:
        profile = profile_of(work, self.areas)
        doing = f"Sweeping {self.word('areas', work.context())}"
        edges = [_edge(work, ident) for ident in self.along]
        plane = profile.sketch.plane
        facts = [edge_facts(e) for e in edges]
        places = np.array([p for f in facts for p in (*f.ends, f.middle)]) - plane.origin
        if np.abs(places @ np.array(plane.normal)).max() < 1e-6:
            raise EditError(f"{doing}: the way lies in the plane of the areas, so no solid comes of it", self.along,
                            field="along")  # fmt: skip
        work.progress(0.2, "taking the areas along")
        tools = [swept(face, edges, doing) for face in profile.faces]
        return put(work, united(tools, doing), self.way, doing, "Sweep")


def _edge(work: Work, ident: str) -> Shape:
    """In model coordinates."""
    kind, number = split_id(ident)
    if kind == "edge":
        body, index = work.snapshot.owner_of("edge", number)
        return placed(work.geometry.solid(body.shape).index.get("edge", index), matrix_of(work.snapshot, body))
    sketch = work.snapshot.sketch_with("curve", number)
    found = curve_edge(sketch, sketch.curve(number))
    if found is None:
        raise EditError(f"c{number} is a {sketch.curve(number).kind}; a way is made of curves", [ident], field="along")
    return found

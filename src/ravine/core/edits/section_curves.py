"""The curves in which sketch planes cut parts, fitted to lines, arcs, circles or splines."""

from __future__ import annotations

import numpy as np

from ..errors import EditError
from ..kernel.shapes import placed
from ..local.surfaces import Floats
from ..mending.sections import body_chains, mesh_chains
from ..model.geometry import Solid
from ..model.snapshot import split_id
from ..model.trimesh_body import TriangleMesh
from ..sketch.drawing import Pen
from ..sketch.entities import Plane, Sketch
from ..sketch.fitting import Wanted, fit
from ..sketch.strokes import lay
from .base import Edit, Fact, Outcome, PickSummary, Work, edit, gap
from .gaps import ChoiceGap, Context, LengthGap, PickGap
from .sketching import with_ids

MOST = 3000  # strokes in one sketch
WITH = {"arcs": "lines, arcs and circles", "lines": "lines", "splines": "splines"}


@edit
class SectionCurves(Edit):
    name = "section curves"
    title = "Cut parts with it"
    sentence = "Cut {parts} with {sketches} , drawn as {kinds} within {deviation} , leaving out below {shortest}"
    past = "Cut {parts} with {sketches}"
    help = (
        "Draws in each sketch where its plane cuts meshes and bodies, as few lines, arcs, circles or splines as keep "
        "within the deviation: a ring of many short lines becomes one circle.  The line tells how many curves there "
        "are and how far off they really lie, while the deviation changes."
    )
    offered_for = "sketch"
    stages = ()
    rank = 14
    drawing = "cutwith"

    sketches: tuple[str, ...] = gap(PickGap("the sketches", "One, or a row of them.", element="sketch"))
    parts: tuple[str, ...] | None = gap(PickGap("the parts", "All that are there where none is picked.", element="node",
                                                changes=False, default=None, empty="all parts"))  # fmt: skip
    kinds: str = gap(ChoiceGap("the kinds", "That may stand for short segments.", default="arcs", options=WITH))
    deviation: float = gap(LengthGap("the deviation", "How far a place may lie off.", minimum=1e-6, default=0.02))
    shortest: float = gap(LengthGap("the shortest", "Runs below it are left out.", minimum=0.0, default=0.0))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("sketch", "area", "curve", "point")

    @classmethod
    def suggest(cls, work: Work, picked: tuple[str, ...]) -> dict[str, list[str]]:
        sketches = []
        for ident in picked:
            kind, number = split_id(ident)
            owner = number if kind in ("sketch", "area") else work.snapshot.sketch_with(kind, number).id
            sketches.append(f"s{owner}")
        return {"sketches": list(dict.fromkeys(sketches))}

    def told(self, context: Context) -> str:
        return f"Cut {self.word('parts', context) or 'all parts'} with {self.word('sketches', context)}"

    def apply(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        wanted = Wanted(self.deviation, self.kinds != "lines", self.kinds == "splines", self.shortest)
        drawn, segments, off = 0, 0, 0.0
        for number, ident in enumerate(self.sketches):
            sketch = snapshot.sketch(split_id(ident)[1])
            work.progress(number / len(self.sketches), f"cutting with {sketch.name}")
            chains = self._chains(work, sketch.plane)
            found = fit(chains, wanted)
            if len(found.strokes) > MOST:
                many = f"{sketch.name} would take {len(found.strokes):,} curves"
                raise EditError(f"{many}; a larger deviation needs fewer", [ident], field="deviation")
            segments += sum(len(c) - 1 for c in chains)
            drawn += len(found.strokes)
            off = max(off, found.off)

            def laid(ids: object, sketch: Sketch = sketch, strokes: tuple = found.strokes) -> Sketch:
                pen = Pen(sketch, ids)  # type: ignore[arg-type]
                lay(pen, strokes)
                return pen.sketch

            snapshot = with_ids(snapshot, laid)
        if not drawn:
            raise EditError("no part lies in the plane of the sketch", self.sketches, field="sketches")
        facts = (
            Fact("curves", "curves", float(drawn), "count"),
            Fact("segments", "segments before", float(segments), "count", one="segment before"),
            Fact("off", "largest deviation", off, "length"),
        )
        return Outcome(snapshot, facts)

    def _chains(self, work: Work, plane: Plane) -> list[Floats]:
        snapshot = work.snapshot
        leaves = {n for p in self.parts or () for n in snapshot.leaves_below(split_id(p)[1])}
        chains: list[Floats] = []
        for place in snapshot.occurrences():
            if leaves and place.node.id not in leaves:
                continue
            geometry = work.geometry.get(place.body.shape)
            if isinstance(geometry, Solid):
                chains += body_chains(placed(geometry.shape, place.matrix), plane)
            else:
                rows = np.array(place.matrix).reshape(3, 4)
                moved = TriangleMesh(geometry.points @ rows[:, :3].T + rows[:, 3], geometry.triangles)
                chains += mesh_chains(moved, plane)
        return chains

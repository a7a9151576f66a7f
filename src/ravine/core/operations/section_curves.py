"""The curves in which sketch planes cut parts, fitted to lines, arcs, circles or splines."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..errors import EditError
from ..kernel.shapes import placed
from ..local.surfaces import Floats
from ..mending.sections import body_chains, mesh_chains
from ..model.geometry import Solid
from ..model.references import Reference
from ..model.trimesh_body import TriangleMesh
from ..sketch.drawing import Pen
from ..sketch.entities import Plane, Sketch
from ..sketch.fitting import Wanted, fit
from ..sketch.strokes import lay
from .sketching import with_ids
from .work import Fact, Operation, Outcome, Work

MOST = 3000  # strokes in one sketch


@dataclass(frozen=True, kw_only=True)
class SectionCurves(Operation):
    """Draws in each sketch where its plane cuts meshes and bodies, as few lines, arcs, circles or splines as
    keep within the deviation."""

    sketches: tuple[Reference, ...]
    parts: tuple[Reference, ...] | None = None
    kinds: str = "arcs"
    deviation: float = 0.02
    shortest: float = 0.0

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        wanted = Wanted(self.deviation, self.kinds != "lines", self.kinds == "splines", self.shortest)
        drawn, segments, off = 0, 0, 0.0
        for number, ident in enumerate(self.sketches):
            sketch = snapshot.sketch(ident.number)
            work.progress(number / len(self.sketches), f"cutting with {sketch.name}")
            chains = self._chains(work, sketch.plane)
            found = fit(chains, wanted)
            if len(found.strokes) > MOST:
                many = f"{sketch.name} would take {len(found.strokes):,} curves"
                raise EditError(f"{many}; a larger deviation needs fewer", [ident], field="deviation")
            segments += sum(len(c) - 1 for c in chains)
            drawn += len(found.strokes)
            off = max(off, found.off)

            def laid(ids: Iterator[int], sketch: Sketch = sketch, strokes: tuple = found.strokes) -> Sketch:
                pen = Pen(sketch, ids)
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
        leaves = {n for p in self.parts or () for n in snapshot.leaves_below(p.number)}
        chains: list[Floats] = []
        for place in snapshot.occurrences():
            if leaves and place.node.id not in leaves:
                continue
            geometry = work.geometry.get(place.body.shape)
            if isinstance(geometry, Solid):
                chains += body_chains(placed(geometry.shape, place.matrix), plane)
            else:
                moved = TriangleMesh(place.matrix.points(geometry.points), geometry.triangles)
                chains += mesh_chains(moved, plane)
        return chains

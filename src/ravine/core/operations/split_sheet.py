"""A wall of a sheet slit from border to border: where a closed one is to open, or a flat would lie over itself."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..local.surfaces import Floats
from ..model.references import Reference
from ..sheet.flat_curves import line
from ..sheet.flat_cut import cut_tools
from ..sheet.unfold import Flat
from ..sheet.views import flat_of
from .booleans import combined
from .facts import change_facts
from .work import Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class SplitSheet(Operation):
    """ends: an edge of a flat wall, which the slit crosses square at a share of its length; or two corners of one wall,
    between which it runs.  gap: mm."""

    ends: tuple[Reference, ...]
    share: float = 0.5
    gap: float = 0.2

    def do(self, work: Work) -> Outcome:
        body = self.ends[0].owner[0]
        if any(e.owner[0].id != body.id for e in self.ends):
            raise EditError("both ends are on one part", self.ends, field="ends")
        flat = flat_of(work.snapshot, work.geometry, body)
        face, start, end = self._line(flat)
        way = (end - start) / np.hypot(*(end - start))
        side = self.gap / 2 * np.array([-way[1], way[0]])
        over = work.geometry.solid(body.shape).topology.extent(face) * 1e-3 + flat.reading.thickness
        a, b = start - over * way, end + over * way
        ring = [a - side, b - side, b + side, a + side]
        loop = [line(p, q) for p, q in zip(ring, [*ring[1:], ring[0]], strict=True)]
        tools = cut_tools(flat, loop, only=face)
        snapshot = combined(work, work.snapshot, body, "subtract", tools, self.ends, "gap")
        return Outcome(snapshot, change_facts(work, snapshot, {body.id}))

    def _line(self, flat: Flat) -> tuple[int, Floats, Floats]:
        """The wall, and where in the flat the slit begins and ends."""
        topology = flat.reading.topology
        indices = [e.owner[1] for e in self.ends]
        if len(self.ends) == 2 and all(e.kind == "vertex" for e in self.ends):
            shared = set(topology.faces_at(indices[0])) & set(topology.faces_at(indices[1]))
            walls = [w.face for w in flat.reading.walls() if w.face in shared or shared & {b.face for b in w.backs}]
            if not walls:
                raise EditError("the two corners are on no wall together", self.ends, field="ends")
            points = np.array([topology.point(v) for v in indices])
            start, end = flat.panels[walls[0]].flat(points)
            return walls[0], start, end
        if len(self.ends) != 1 or self.ends[0].kind != "edge":
            raise EditError("pick one edge of a wall, or two corners of it", self.ends, field="ends")
        beside = set(topology.faces_of(indices[0]))
        walls = [w.face for w in flat.reading.walls() if beside & {w.face, *(b.face for b in w.backs)}]
        if not walls:
            raise EditError("this is no edge of a flat wall", self.ends, field="ends")
        laid = flat.panels[walls[0]]
        a, b = laid.flat(topology.samples(indices[0], 2))
        start = a + self.share * (b - a)
        way = np.array([-(b - a)[1], (b - a)[0]]) / np.hypot(*(b - a))
        ring = np.array(laid.shape.exterior.coords)
        far = (ring - start) @ way
        return walls[0], start, start + (far.max() if far.max() > -far.min() else far.min()) * way

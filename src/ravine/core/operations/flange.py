"""Flanges pulled out of the edges of a sheet."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..model.records import SHEETS
from ..model.references import Reference
from ..model.sheet_data import SheetData
from ..model.snapshot import Body, Snapshot
from ..rigid import vec_of
from ..sheet.flange import FlangeMatter, FlangeSizes, leg, mitred, setback
from ..sheet.rim import Rim, rim_of
from .booleans import combined
from .facts import change_facts
from .reshaping import place_of
from .work import Fact, Handle, Operation, Outcome, Work

SHAPES = {"flange": "flange", "hem": "hem", "step": "step"}


@dataclass(frozen=True, kw_only=True)
class Flange(Operation):
    """edges: straight ones of one sheet, each on the side that it folds to; the rest as in sheet.flange.FlangeSizes;
    shape: flange, hem (folded back by 180°) or step (there and back, so that what follows lies `length` higher, and
    goes on for `beyond`); corners: open or closed."""

    edges: tuple[Reference, ...]
    length: float = 20.0
    angle: float = math.pi / 2
    radius: float | None = None
    shape: str = "flange"
    beyond: float = 10.0
    counted: str = "outside"
    placed: str = "beyond"
    first: float = 0.0
    last: float = 0.0
    relief: str = "rectangular"
    wide: float | None = None
    deep: float | None = None
    corners: str = "open"
    gap: float = 0.2

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        bodies = {e.owner[0].id: e.owner[0] for e in self.edges}
        for body in bodies.values():
            edges = [e for e in self.edges if e.owner[0].id == body.id]
            snapshot = self._on(work, snapshot, body, edges)
        facts = (*change_facts(work, snapshot, set(bodies)), Fact("bends", "bends", float(self._count), "count"))
        return Outcome(snapshot, facts)

    @property
    def _count(self) -> int:
        return len(self.edges) * (2 if self.shape == "step" else 1)

    def _on(self, work: Work, snapshot: Snapshot, body: Body, edges: list[Reference]) -> Snapshot:
        topology = work.geometry.solid(body.shape).topology
        data = snapshot.kept(SHEETS).get(body.id)
        try:
            rims = [rim_of(topology, e.owner[1], data.thickness if data else None) for e in edges]
        except EditError as error:
            error.field = "edges"
            raise
        wall = body.faces[rims[0].wall]
        if self.shape == "step":
            matter = [self._step(rim) for rim in rims]
        else:
            matter = mitred(rims, self._sizes(rims[0]), self.gap, self.corners == "closed")
        work.progress(0.4, "joining it")
        cut = [shape for m in matter for shape in m.cut]
        if cut:
            snapshot = combined(work, snapshot, body, "subtract", cut, self.edges, "length")
            body = snapshot.body(body.id)
        added = [shape for m in matter for shape in m.added]
        snapshot = combined(work, snapshot, body, "unite", added, self.edges, "length")
        if data is None:
            root = wall if wall in snapshot.body(body.id).faces else 0
            snapshot = snapshot.with_kept(SHEETS, {**snapshot.kept(SHEETS), body.id: SheetData(body.id, root)})
        return snapshot

    def _radius(self, rim: Rim) -> float:
        return rim.thickness if self.radius is None else self.radius

    def _sizes(self, rim: Rim) -> FlangeSizes:
        angle = math.pi if self.shape == "hem" else self.angle
        return FlangeSizes(self.length, angle, self._radius(rim), self.counted, self.placed, self.first, self.last,
                           self.relief, self.wide, self.deep)  # fmt: skip

    def _step(self, rim: Rim) -> FlangeMatter:
        """Two bends of one angle, one way and back.  What follows lies `length` above the wall."""
        radius, t, angle = self._radius(rim), rim.thickness, self.angle
        rise = (2 * radius + t) * (1 - math.cos(angle))
        flat = (self.length - rise) / math.sin(angle)
        if flat < 1e-6 or not 0 < angle <= math.pi / 2:
            least = f"{rise + 1e-3:.4g} mm"
            raise EditError(f"two bends alone rise by {rise:.4g} mm", field="length", nearest=least)
        first = FlangeSizes(flat, angle, radius, "tangent", "beyond", self.first, self.last, self.relief, self.wide,
                            self.deep)  # fmt: skip
        (one,) = mitred([rim], first, self.gap, False)
        sine, cosine = math.sin(angle), math.cos(angle)
        tip = rim.point(0.0, (radius + t) * sine + flat * cosine, radius - (radius + t) * cosine + flat * sine)
        out = cosine * rim.out + sine * rim.up
        up = -(-sine * rim.out + cosine * rim.up)
        # the second rim looks from the outer face of the leg, so that the bend goes back
        start = tip + rim.length * rim.along
        back = Rim(rim.edge, rim.wall, rim.side, start, -rim.along, out, up, rim.length, t)
        second = FlangeSizes(self.beyond, angle, radius, "tangent", "beyond", self.last, self.first, "none")
        (two,) = mitred([back], second, self.gap, False)
        return FlangeMatter(one.cut, (*one.added, *two.added))

    def handle(self, work: Work) -> Handle | None:
        """In the middle of the first edge; the bead stands where the leg ends."""
        edge = self.edges[0]
        body, index = edge.owner
        topology = work.geometry.solid(body.shape).topology
        try:
            rim = rim_of(topology, index)
        except EditError:
            return None
        matrix = place_of(self.edges, body)
        angle = math.pi / 2 if self.shape == "step" else math.pi if self.shape == "hem" else self.angle
        way = math.cos(angle) * rim.out + math.sin(angle) * rim.up
        origin = rim.point(rim.length / 2, 0.0, 0.0)
        if self.shape == "flange":
            sizes = self._sizes(rim)
            try:
                flat, back = leg(sizes, rim.thickness), setback(sizes, rim.thickness)
            except EditError:
                flat, back = 0.0, 0.0
            radius = self._radius(rim)
            tip = (
                rim.point(rim.length / 2, -back + radius * math.sin(angle), radius * (1 - math.cos(angle))) + flat * way
            )
            origin = tip - self.length * way
        return Handle("length", vec_of(matrix.points(np.asarray(origin))), vec_of(matrix.turn @ way))

"""Merge faces that are one, or take edges out that divide one surface."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import EditError
from ..kernel.check import fault
from ..kernel.defeature import merge_faces
from ..kernel.history import carry_ids
from ..kernel.shapes import ShapeIndex
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot
from .work import Fact, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Merge(Operation):
    """Faces that continue one another on one surface become one."""

    parts: tuple[Reference, ...]

    def do(self, work: Work) -> Outcome:
        snapshot, count = work.snapshot, 0
        wanted: dict[int, set[int] | None] = {}
        for ident in self.parts:
            kind, number = ident.kind, ident.number
            if kind == "node":
                for leaf in snapshot.leaves_below(number):
                    wanted[snapshot.nodes[leaf].body or 0] = None
                continue
            body, index = ident.owner
            row = wanted.setdefault(body.id, set())
            if row is not None:
                topology = work.geometry.solid(body.shape).topology
                row |= {index} if kind == "edge" else set(topology.edges_of(index))
        for number, edges in wanted.items():
            body = snapshot.body(number)
            if body.kind == "mesh":
                raise EditError(f"{body.name} is a mesh of triangles; this edit needs exact faces")
            before = len(body.faces)
            snapshot = self._merge(work, snapshot, body, edges)
            count += before - len(snapshot.body(number).faces)
        if not count:
            raise EditError("nothing beside it continues on the same surface, so there is nothing to merge", self.parts)
        return Outcome(snapshot, (Fact("merged", "faces fewer", float(count), "count", one="face fewer"),))

    def _merge(self, work: Work, snapshot: Snapshot, body: Body, edges: set[int] | None) -> Snapshot:
        solid = work.geometry.solid(body.shape)
        topology = solid.topology
        open_ = {e for e in range(solid.index.count("edge")) if topology.meeting(e) == "same"}
        if edges is not None:
            open_ &= edges
        if not open_:
            return snapshot
        keep = [solid.index.get("edge", e) for e in range(solid.index.count("edge")) if e not in open_]
        shape, trace, copy = merge_faces(solid.shape, keep)
        found = fault(shape)
        if found:
            raise EditError(f"merging would not leave a sound body: {found}", self.parts)
        ids = carry_ids([(ShapeIndex(copy), body.ids())], [], trace, ShapeIndex(shape))
        return reshape_body(snapshot, work.geometry, body, Solid(shape), ids)

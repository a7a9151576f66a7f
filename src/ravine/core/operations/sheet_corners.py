"""Sharp corners between walls of a sheet: bent, or ripped apart."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..errors import EditError
from ..local.surfaces import Floats
from ..model.records import SHEETS
from ..model.references import Reference, references
from ..model.snapshot import Body, Snapshot, text_id
from ..sheet.corner import Corner, Corners, relief, rip
from ..tolerances import TOUCHING
from .booleans import combined
from .facts import change_facts
from .fillet_edges import FilletEdges
from .work import Fact, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class BendCorners(Operation):
    """edges: sharp ones between two walls, inner or outer; radius: mm on the inner side, the thickness when left out.
    Where a bend would run into a third wall, the corner is cut out for it."""

    edges: tuple[Reference, ...]
    radius: float | None = None

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        bodies = {e.owner[0].id for e in self.edges}
        count = 0
        for number in bodies:
            chosen = [e.number for e in self.edges if e.owner[0].id == number]
            snapshot, done = bent(work, snapshot, number, chosen, self.radius)
            count += done
        return Outcome(snapshot, (*change_facts(work, snapshot, bodies), Fact("bends", "bends", float(count), "count")))


def corners_at(work: Work, snapshot: Snapshot, number: int, edges: list[int]) -> list[Corner]:
    """Each once.  Raises EditError naming the edge that is no corner."""
    body = snapshot.body(number)
    data = snapshot.kept(SHEETS).get(number)
    corners = Corners(work.geometry.solid(body.shape).topology, data.thickness if data else None)
    found: dict[int, Corner] = {}
    for edge in edges:
        try:
            corner = corners.at(body.edges.index(edge))
        except EditError as error:
            raise EditError(str(error), [text_id("edge", edge)], field="edges") from error
        found[corner.outer] = corner
    return list(found.values())


def bent(work: Work, snapshot: Snapshot, number: int, edges: list[int], radius: float | None) -> tuple[Snapshot, int]:
    """Bends in place of the corners at edges (ids); and how many it was."""
    corners = corners_at(work, snapshot, number, edges)
    body = snapshot.body(number)
    size = corners[0].thickness if radius is None else max(radius, 1e-3 * corners[0].thickness)
    topology = work.geometry.solid(body.shape).topology
    outer = [topology.samples(c.outer, 2) for c in corners]
    inner = [_beside(topology.samples(c.inner, 2), line) for c, line in zip(corners, outer, strict=True)]
    cut = [relief(c, end, size) for c in corners for end in (0, 1) if not c.free[end]]
    if cut:
        snapshot = combined(work, snapshot, body, "subtract", cut, (), "edges")
    for lines, r in ((inner, size), (outer, size + corners[0].thickness)):
        there = replace(work, snapshot=snapshot)
        picked = references(snapshot, _edges_on(work, snapshot.body(number), lines))
        snapshot = FilletEdges(edges=picked, size=r, run="alone").do(there).snapshot
    return snapshot, len(corners)


def _beside(line: Floats, other: Floats) -> Floats:
    """A straight edge (2, 3) as far as another one beside it goes: a rip may have divided it."""
    along = (line[1] - line[0]) / np.linalg.norm(line[1] - line[0])
    return np.asarray(line[0] + ((other - line[0]) @ along)[:, None] * along)


def _edges_on(work: Work, body: Body, lines: Sequence[Floats]) -> list[str]:
    """What is left of straight edges (2, 3) after cuts, which may have divided them or given them other ids."""
    topology = work.geometry.solid(body.shape).topology
    found = []
    for edge in range(topology.index.count("edge")):
        if topology.curve(edge)[0].kind != "line":
            continue
        ends = topology.samples(edge, 2)
        for a, b in lines:
            length = float(np.linalg.norm(b - a))
            along = (b - a) / length
            shares = (ends - a) @ along
            off = np.linalg.norm(ends - a - shares[:, None] * along, axis=1)
            if off.max() < TOUCHING and shares.min() > -TOUCHING and shares.max() < length + TOUCHING:
                found.append(text_id("edge", body.edges[edge]))
                break
    return found


@dataclass(frozen=True, kw_only=True)
class RipCorners(Operation):
    """way: first or second (which wall runs through, the one beside the picked edge with the lower number first) or
    open; gap: mm."""

    edges: tuple[Reference, ...]
    way: str = "first"
    gap: float = 0.2

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        bodies: dict[int, Body] = {e.owner[0].id: e.owner[0] for e in self.edges}
        for body in bodies.values():
            chosen = [e.number for e in self.edges if e.owner[0].id == body.id]
            tools = [rip(c, self.way, self.gap) for c in corners_at(work, snapshot, body.id, chosen)]
            snapshot = combined(work, snapshot, body, "subtract", tools, self.edges, "gap")
        return Outcome(snapshot, change_facts(work, snapshot, set(bodies)))

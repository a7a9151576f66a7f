"""The local edit in one call: plan, corners, edge_curves, rebuild, check."""

from __future__ import annotations

import weakref
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from ..kernel.classify import boxes_of
from ..kernel.failures import KERNEL_FAILURES
from ..kernel.rebuild import NewEdge, NewVertex, Rebuild, tolerance_of
from ..kernel.shapes import Differences, Shape, ShapeIndex
from . import soundness
from .corners import Carried, move_corners
from .edge_curves import EdgeCurves
from .failure import LocalFailure, NoReading
from .imprints import imprints_of
from .pcurves import Pcurves
from .plan import Plan, Step
from .planning import make_plan
from .surfaces import Floats
from .topology import SolidTopology
from .volume_change import volume_change


@dataclass(frozen=True)
class Reshaped:
    """topology: the new solid, read as far as it did not change; faces: rebuilt ones by number, which stay;
    followed: fillets that came along; chamfers: those that did; stayed: chamfers that stayed since they
    could not; volume_change: mm³."""

    topology: SolidTopology
    faces: frozenset[int]
    moved: frozenset[int]
    followed: frozenset[int]
    volume_change: float
    chamfers: frozenset[int] = frozenset()
    stayed: frozenset[int] = frozenset()

    @property
    def shape(self) -> Shape:
        return self.topology.index.shape

    def settle(self) -> None:
        """Before it is kept: nothing hangs on the solid before any more, and the numbers are tried against the order
        in which the whole shape is stored.  Raises LocalFailure."""
        if not self.topology.settle():
            raise LocalFailure("the rebuilt solid came out in another order", sorted(self.moved))


def reshape(
    topology: SolidTopology, asked: Mapping[int, Step], *, check: bool = True, chamfers: bool = True
) -> Reshaped:
    """New surfaces for some faces; numbers of faces, edges and vertices stay.

    check: whether the result is tried for crossing faces; edges that vanish or turn round are always found.
    chamfers: whether they follow their walls; where they cannot, they stay and the walls go without them.
    Raises LocalFailure, after which nothing has changed.
    """
    plan = Plan()
    try:
        plan = make_plan(topology, asked, chamfers=chamfers)
        return carry_out(topology, plan, check=check)
    except NoReading:
        raise
    except LocalFailure as failure:
        planned = bool(plan.surfaces)
        if not chamfers or (planned and not plan.chamfers):
            raise
        try:
            without = carry_out(topology, make_plan(topology, asked, chamfers=False), check=check)
        except LocalFailure:
            raise failure from None
        return replace(without, stayed=frozenset(plan.chamfers | plan.stayed))


def carry_out(topology: SolidTopology, plan: Plan, *, check: bool = True) -> Reshaped:
    try:
        return _carry_out(topology, plan, check)
    except KERNEL_FAILURES:
        raise LocalFailure("an edge on it cannot be drawn any more", list(plan.surfaces)) from None


def _carry_out(topology: SolidTopology, plan: Plan, check: bool) -> Reshaped:
    plan.imprints = imprints_of(topology, plan)
    carried = Carried(topology, plan)
    places = move_corners(topology, plan, carried)
    edges = EdgeMaker(topology, plan, places, carried)
    build = Rebuild(topology.index)
    build.surfaces = {f: s.kernel for f, s in plan.surfaces.items()}
    touched: set[int] = set(plan.surfaces)
    for edge in edges.edge_curves.affected():
        touched.update(topology.faces_of(edge))
        build.edges[edge] = edges.new(edge)
    edges.finish(build, touched)
    if edges.pcurves.outgrown:
        plan.grow(topology, edges.pcurves.outgrown)
        return _carry_out(topology, plan, check)
    rebuilt = build.solid(touched)
    index = ShapeIndex(rebuilt.shape, like=topology.index, made=rebuilt.made)
    index.differences = Differences(
        weakref.ref(topology.index), frozenset(touched), frozenset(build.edges), frozenset(build.vertices)
    )
    index.polylines = {e: line for e, line in topology.index.polylines.items() if e not in build.edges}
    boxes_of(topology.index)  # now, so that the solid after this takes over those that stay
    after = topology.after(index, plan.surfaces, touched, set(build.edges), set(build.vertices))
    change = volume_change(topology, after, touched)
    if check:
        soundness.check(after, touched, topology)
    return Reshaped(
        after,
        frozenset(touched),
        frozenset(plan.surfaces.keys() - plan.grown),
        frozenset(plan.followed),
        change,
        frozenset(plan.chamfers),
        frozenset(plan.stayed),
    )


class EdgeMaker:
    """New edges with their curves on both faces, and the vertices that go with them."""

    def __init__(self, topology: SolidTopology, plan: Plan, places: dict[int, Floats], carried: Carried) -> None:
        self.topology = topology
        self.edge_curves = EdgeCurves(topology, plan, places, carried)
        self.pcurves = Pcurves(topology, plan)

    def new(self, edge: int) -> NewEdge:
        topology, border = self.topology, self.edge_curves.new(edge)
        faces = dict.fromkeys(topology.faces_of(edge))
        if border is None:
            _, first, last = topology.curve(edge)
            place: Floats = self.edge_curves.place(topology.ends(edge)[0])
            return NewEdge(None, first, last, flat={f: self.pcurves.of_point(edge, f, place) for f in faces})
        new = NewEdge(border.kernel, border.first, border.last, border.tolerance)
        if border.kept:
            new.tolerance = max(new.tolerance, tolerance_of(topology.index.get("edge", edge), "edge"))
        for face in faces:
            curves, miss = self.pcurves.of(edge, face, border)
            if curves:
                new.flat[face] = curves
            new.tolerance = max(new.tolerance, miss)
        return new

    def finish(self, build: Rebuild, touched: set[int]) -> None:
        """Vertices that moved, or that a looser edge ends at; an edge that keeps its curve but ends at a vertex made
        anew is made anew as well."""
        topology, places = self.topology, self.edge_curves.places
        loose: dict[int, float] = {}
        for edge, new in build.edges.items():
            for v in topology.ends(edge):
                if v >= 0:
                    loose[v] = max(loose.get(v, 0.0), new.tolerance)
        for vertex in set(loose) | set(places):
            place = self.edge_curves.place(vertex)
            moved = vertex in places and np.abs(place - topology.point(vertex)).max() > 1e-12
            if moved or loose.get(vertex, 0.0) > tolerance_of(topology.index.get("vertex", vertex), "vertex"):
                others = (tolerance_of(topology.index.get("edge", e), "edge") for e in topology.edges_at(vertex))
                build.vertices[vertex] = NewVertex(place.tolist(), max([1e-7, loose.get(vertex, 0.0), *others]))
        for vertex in build.vertices:
            for edge in topology.edges_at(vertex):
                if edge not in build.edges:
                    touched.update(topology.faces_of(edge))
                    build.edges[edge] = self.new(edge)

"""The local edit in one call: plan, corners, borders, rebuild, check."""

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
from .borders import Borders
from .corners import Carried, move_corners
from .fabric import Fabric
from .failure import LocalFailure, NoReading
from .flats import Flats
from .imprints import imprints_of
from .plan import Plan, Step
from .planning import make_plan
from .surfaces import Floats
from .volume import volume_change


@dataclass(frozen=True)
class Reshaped:
    """fabric: the new solid, read as far as it did not change; faces: rebuilt ones by number, which stay;
    followed: rounds that came along; chamfers: those that did; stayed: chamfers that stayed since they
    could not; volume_change: mm³."""

    fabric: Fabric
    faces: frozenset[int]
    moved: frozenset[int]
    followed: frozenset[int]
    volume_change: float
    chamfers: frozenset[int] = frozenset()
    stayed: frozenset[int] = frozenset()

    @property
    def shape(self) -> Shape:
        return self.fabric.index.shape

    def settle(self) -> None:
        """Before it is kept: nothing hangs on the solid before any more, and the numbers are tried against the order
        in which the whole shape is stored.  Raises LocalFailure."""
        if not self.fabric.settle():
            raise LocalFailure("the rebuilt solid came out in another order", sorted(self.moved))


def reshape(fabric: Fabric, asked: Mapping[int, Step], *, check: bool = True, chamfers: bool = True) -> Reshaped:
    """New surfaces for some faces; numbers of faces, edges and vertices stay.

    check: whether the result is tried for crossing faces; edges that vanish or turn round are always found.
    chamfers: whether they follow their walls; where they cannot, they stay and the walls go without them.
    Raises LocalFailure, after which nothing has changed.
    """
    plan = Plan()
    try:
        plan = make_plan(fabric, asked, chamfers=chamfers)
        return carry_out(fabric, plan, check=check)
    except NoReading:
        raise
    except LocalFailure as failure:
        planned = bool(plan.surfaces)
        if not chamfers or (planned and not plan.chamfers):
            raise
        try:
            without = carry_out(fabric, make_plan(fabric, asked, chamfers=False), check=check)
        except LocalFailure:
            raise failure from None
        return replace(without, stayed=frozenset(plan.chamfers | plan.stayed))


def carry_out(fabric: Fabric, plan: Plan, *, check: bool = True) -> Reshaped:
    try:
        return _carry_out(fabric, plan, check)
    except KERNEL_FAILURES:
        raise LocalFailure("an edge on it cannot be drawn any more", list(plan.surfaces)) from None


def _carry_out(fabric: Fabric, plan: Plan, check: bool) -> Reshaped:
    plan.imprints = imprints_of(fabric, plan)
    carried = Carried(fabric, plan)
    places = move_corners(fabric, plan, carried)
    edges = EdgeMaker(fabric, plan, places, carried)
    build = Rebuild(fabric.index)
    build.surfaces = {f: s.kernel for f, s in plan.surfaces.items()}
    touched: set[int] = set(plan.surfaces)
    for edge in edges.borders.affected():
        touched.update(fabric.faces_of(edge))
        build.edges[edge] = edges.new(edge)
    edges.finish(build, touched)
    if edges.flats.outgrown:
        plan.grow(fabric, edges.flats.outgrown)
        return _carry_out(fabric, plan, check)
    rebuilt = build.solid(touched)
    index = ShapeIndex(rebuilt.shape, like=fabric.index, made=rebuilt.made)
    index.differences = Differences(
        weakref.ref(fabric.index), frozenset(touched), frozenset(build.edges), frozenset(build.vertices)
    )
    index.polylines = {e: line for e, line in fabric.index.polylines.items() if e not in build.edges}
    boxes_of(fabric.index)  # now, so that the solid after this takes over those that stay
    after = fabric.after(index, plan.surfaces, touched, set(build.edges), set(build.vertices))
    change = volume_change(fabric, after, touched)
    if check:
        soundness.check(after, touched, fabric)
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

    def __init__(self, fabric: Fabric, plan: Plan, places: dict[int, Floats], carried: Carried) -> None:
        self.fabric = fabric
        self.borders = Borders(fabric, plan, places, carried)
        self.flats = Flats(fabric, plan)

    def new(self, edge: int) -> NewEdge:
        fabric, border = self.fabric, self.borders.new(edge)
        faces = dict.fromkeys(fabric.faces_of(edge))
        if border is None:
            _, first, last = fabric.curve(edge)
            place: Floats = self.borders.place(fabric.ends(edge)[0])
            return NewEdge(None, first, last, flat={f: self.flats.of_point(edge, f, place) for f in faces})
        new = NewEdge(border.kernel, border.first, border.last, border.tolerance)
        if border.kept:
            new.tolerance = max(new.tolerance, tolerance_of(fabric.index.get("edge", edge), "edge"))
        for face in faces:
            curves, miss = self.flats.of(edge, face, border)
            if curves:
                new.flat[face] = curves
            new.tolerance = max(new.tolerance, miss)
        return new

    def finish(self, build: Rebuild, touched: set[int]) -> None:
        """Vertices that moved, or that a looser edge ends at; an edge that keeps its curve but ends at a vertex made
        anew is made anew as well."""
        fabric, places = self.fabric, self.borders.places
        loose: dict[int, float] = {}
        for edge, new in build.edges.items():
            for v in fabric.ends(edge):
                if v >= 0:
                    loose[v] = max(loose.get(v, 0.0), new.tolerance)
        for vertex in set(loose) | set(places):
            place = self.borders.place(vertex)
            moved = vertex in places and np.abs(place - fabric.point(vertex)).max() > 1e-12
            if moved or loose.get(vertex, 0.0) > tolerance_of(fabric.index.get("vertex", vertex), "vertex"):
                others = (tolerance_of(fabric.index.get("edge", e), "edge") for e in fabric.edges_at(vertex))
                build.vertices[vertex] = NewVertex(place.tolist(), max([1e-7, loose.get(vertex, 0.0), *others]))
        for vertex in build.vertices:
            for edge in fabric.edges_at(vertex):
                if edge not in build.edges:
                    touched.update(fabric.faces_of(edge))
                    build.edges[edge] = self.new(edge)

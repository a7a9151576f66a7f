"""Edges in the surface parameters of the faces beside them.  Planes need none: the kernel works them out."""

from __future__ import annotations

import numpy as np

from ..kernel import carriers
from ..kernel.carriers import GeomHandle
from .edge_curves import FITS, LOOSEST, SAMPLES, EdgeCurve
from .failure import LocalFailure
from .plan import Plan
from .surfaces import Floats, Surface
from .topology import SolidTopology

INWARDS = 0.02  # share of the way to the middle of a face
SAME = 1e-12  # mm
STRAIGHT = 1e-10  # in parameters, scaled by the surface's radius


class Pcurves:
    def __init__(self, topology: SolidTopology, plan: Plan) -> None:
        self.topology, self.plan = topology, plan
        self.outgrown: set[int] = set()  # unchanged spline faces an edge of which now runs beyond their surface

    def of(self, edge: int, face: int, border: EdgeCurve) -> tuple[tuple[GeomHandle, ...], float]:
        """One curve, two at a seam, none on a plane; and the tolerance (mm) they need."""
        surface = self.plan.surfaces.get(face, self.topology.surface(face))
        if surface.kind == "plane":
            return (), 0.0
        shape, forward = self.topology.index.get("edge", edge), self._forward(face)
        uses = (False, True) if self.topology.meeting(edge) == "seam" else (self.topology.is_against(edge, face),)
        if border.kept and face not in self.plan.surfaces:
            old = tuple(carriers.plane_curve(_oriented(shape, u), forward) for u in uses)
            if all(carriers.covers(curve, border.first, border.last) for curve in old):
                return old, 0.0
        along = self._slides_along(face, surface, border)
        if along is not None:
            curves = [carriers.plane_curve(_oriented(shape, u), forward) for u in uses]
            return tuple(carriers.flat_slid(c, (0.0, along)) for c in curves), 0.0
        first = self.topology.curve(edge)[1]
        found, loosest = [], 0.0
        for against in uses:
            near = self._near(face, carriers.flat_start(_oriented(shape, against), forward, first))
            if border.contact is not None and border.contact[0] == face:
                curve, miss = _along_contact(surface, border, near), 0.0
            else:
                curve, miss = _flat(surface, border, near, self.topology.faces_of(edge))
            found.append(curve)
            if surface.kind == "spline" and face not in self.plan.surfaces:
                run = [curve.Value(float(t)) for t in border.parameters(SAMPLES)]
                if not self.topology.holds(face, np.array([(p.X(), p.Y()) for p in run])):
                    self.outgrown.add(face)
            loosest = max(loosest, miss)
        return tuple(found), loosest

    def _slides_along(self, face: int, surface: Surface, border: EdgeCurve) -> float | None:
        """How far a border that only moved slid along a cylinder, mm; None where it did otherwise."""
        moved = border.moved
        if moved is None or not moved.is_slide or surface.kind != "cylinder" or face in self.plan.surfaces:
            return None
        along = float(moved.shift @ surface.axial.z)
        return along if float(np.abs(moved.shift - along * surface.axial.z).max()) < SAME else None

    def of_point(self, edge: int, face: int, place: Floats) -> tuple[GeomHandle, ...]:
        """An edge shrunk to a point: it still runs around in the parameters, at the height of the tip."""
        surface = self.plan.surfaces.get(face, self.topology.surface(face))
        shape, forward = self.topology.index.get("edge", edge), self._forward(face)
        first, last = self.topology.curve(edge)[1:]
        used = _oriented(shape, self.topology.is_against(edge, face))
        start, end = (carriers.flat_start(used, forward, t) for t in (first, last))
        if surface.kind == "spline" and face not in self.plan.recast:
            return (carriers.plane_curve(used, forward),)
        if start is None or end is None or surface.kind not in ("cone", "sphere"):
            raise LocalFailure("an edge shrunk to a point on it cannot follow", [face])
        height = float(surface.parameters(place[None])[0, 1])
        if face in self.plan.recast:
            start, end = self._recast_ends(face, start, end)
        rate = (end[0] - start[0]) / (last - first)
        return (carriers.flat_line(np.array([start[0] - rate * first, height]), np.array([rate, 0.0])),)

    def _recast_ends(
        self, face: int, start: tuple[float, float], end: tuple[float, float]
    ) -> tuple[tuple[float, float], tuple[float, float]]:
        """Both ends of a point's edge on a recast face, by the edge_curves that run into them: a little away from the
        tip, square to the edge."""
        u0, u1, v0, v1 = self.topology.bounds(face)
        along = 0 if abs(end[0] - start[0]) > abs(end[1] - start[1]) else 1
        middle = ((u0 + u1) / 2, (v0 + v1) / 2)
        found = []
        for place, other in ((start, end), (end, start)):
            beside = list(place)
            beside[1 - along] += INWARDS * (middle[1 - along] - place[1 - along])
            inside = (beside[0] + INWARDS * (other[0] - beside[0]), beside[1] + INWARDS * (other[1] - beside[1]))
            near = self._near(face, inside)
            assert near is not None
            exact = self.plan.surfaces[face].parameters(self.topology.surface(face).points(np.array([beside])), near)[0]
            found.append((float(exact[0]), float(exact[1])))
        return found[0], found[1]

    def _near(self, face: int, start: tuple[float, float] | None) -> tuple[float, float] | None:
        """Where an edge begins in the parameters of its face.  On a recast face the old place, moved a little to
        the inside, is looked up on the new surface, so that it comes to lie on the right side of a seam."""
        if face not in self.plan.recast or start is None:
            return start
        old, new = self.topology.surface(face), self.plan.surfaces[face]
        u0, u1, v0, v1 = self.topology.bounds(face)
        middle = np.array([(u0 + u1) / 2, (v0 + v1) / 2])
        inside = np.array(start) + INWARDS * (middle - start)
        places = old.points(np.array([inside, middle]))
        item = self.plan.rolled.get(face)
        ball = item.ball if item else None
        carried = places if ball is None else ball.carried(places, self.topology.outward(face, places))
        if carried is None:
            raise LocalFailure("the round beside it cannot follow", [face])
        found = new.parameters(carried)
        for k, period in enumerate(new.periods):
            if period:  # both in the turn that has the middle of the face in its middle
                found[1, k] %= period
                found[0, k] += period * np.round((found[1, k] - found[0, k]) / period)
        return float(found[0, 0]), float(found[0, 1])

    def _forward(self, face: int) -> object:
        return carriers.forward(self.topology.index.get("face", face))


def _oriented(edge: object, against: bool) -> object:
    return carriers.oriented(edge, against)


def _along_contact(surface: Surface, border: EdgeCurve, near: tuple[float, float] | None) -> GeomHandle:
    assert border.contact is not None
    _, start, way = border.contact
    for k, period in enumerate(surface.periods):
        if period and near is not None:
            start[k] += period * np.round((near[k] - start[k]) / period)
    rate = np.array([0.0, way])
    return carriers.flat_line(start - rate * border.first, rate)


def flat_on(
    surface: Surface,
    border: EdgeCurve,
    faces: tuple[int, ...],
    middle: tuple[float, float],
    begin: tuple[float, float] | None = None,
) -> tuple[tuple[GeomHandle, ...], float]:
    """Of an edge that was not there before: none on a plane, else one curve, whose middle is in the turn nearest to
    `middle`, or that begins in the one nearest to `begin`."""
    if surface.kind == "plane":
        return (), 0.0
    near = begin or _begin(surface, border, middle)
    curve, miss = _flat(surface, border, near, faces)
    return (curve,), miss


def _begin(surface: Surface, border: EdgeCurve, middle: tuple[float, float]) -> tuple[float, float]:
    """Where a curve has to begin for its middle to lie nearest to these parameters."""
    uv = surface.parameters(border.points(SAMPLES))
    for k, period in enumerate(surface.periods):
        if period:
            uv[:, k] += period * np.round((middle[k] - uv[SAMPLES // 2, k]) / period)
    return float(uv[0, 0]), float(uv[0, 1])


def _flat(
    surface: Surface, border: EdgeCurve, near: tuple[float, float] | None, faces: tuple[int, ...]
) -> tuple[GeomHandle, float]:
    scale = np.array([surface.radius + sum(surface.numbers), 1.0]) if surface.numbers else np.ones(2)
    if surface.kind in ("sphere", "torus"):
        scale[1] = surface.radius
    if surface.kind == "spline":
        scale = surface.speeds(border.points(3))
    count = SAMPLES
    while True:
        values = border.parameters(count)
        uv = _parameters(surface, border.points(count), near)
        rate = (uv[-1] - uv[0]) / (values[-1] - values[0])
        bend = np.abs((uv - uv[0] - (values - values[0])[:, None] * rate) * scale).max()
        if bend < STRAIGHT * 100:
            if abs(float(rate @ rate) - 1) < 1e-9:
                return carriers.flat_line(uv[0] - rate * values[0], rate), 0.0
            return carriers.flat_spline_through(uv[[0, -1]], values[[0, -1]]), 0.0
        curve = carriers.flat_spline_through(uv, values)
        middles = (values[1:] + values[:-1]) / 2
        points = carriers.curve_points(border.curve, middles)
        exact = _parameters(surface, points, (float(uv[0, 0]), float(uv[0, 1])))
        run = np.array([(p.X(), p.Y()) for p in (curve.Value(float(t)) for t in middles)])
        miss = float(np.abs((run - exact) * scale).max())
        if miss < FITS or (count > 150 and miss < LOOSEST):
            return curve, 1.5 * miss
        if count > 150:
            raise LocalFailure("the new edge is too rough to follow on its neighbour", faces)
        count = 2 * count - 1


def _parameters(surface: Surface, points: Floats, near: tuple[float, float] | None) -> Floats:
    """As Surface.parameters, but at the tip of a cone and the poles of a sphere, where the turn is anything, it goes
    on as it came."""
    if surface.kind in ("cone", "sphere"):
        frame = surface.axial
        w = points - frame.origin
        tips = np.linalg.norm(w - (w @ frame.z)[:, None] * frame.z, axis=1) < 1e-7
        if tips.any() and not tips.all():
            uv = np.empty((len(points), 2))
            solid = np.flatnonzero(~tips)
            uv[~tips] = surface.parameters(points[~tips], near)
            uv[tips, 1] = surface.parameters(points[tips])[:, 1]
            for i in np.flatnonzero(tips):
                nearest = solid[np.argsort(np.abs(solid - i))[:2]]
                uv[i, 0] = uv[nearest[0], 0]
                if len(nearest) == 2 and nearest[0] != nearest[1]:
                    slope = (uv[nearest[0], 0] - uv[nearest[1], 0]) / (nearest[0] - nearest[1])
                    uv[i, 0] += slope * (i - nearest[0])
            return uv
    return surface.parameters(points, near)

"""The surfaces and curves that carry faces and edges, as plain numbers, and back into kernel geometry.

Lengths in mm, angles in rad.  A frame keeps the handedness it has in the kernel: `y` may be `-(z × x)`.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray
from OCP.BRep import BRep_Tool
from OCP.collections import HArray1_double, HArray1_gp_Pnt, HArray1_gp_Pnt2d
from OCP.Geom import (
    Geom_BSplineSurface,
    Geom_Circle,
    Geom_ConicalSurface,
    Geom_CylindricalSurface,
    Geom_Ellipse,
    Geom_Line,
    Geom_OffsetSurface,
    Geom_Plane,
    Geom_RectangularTrimmedSurface,
    Geom_SphericalSurface,
    Geom_ToroidalSurface,
)
from OCP.Geom2d import Geom2d_Line
from OCP.Geom2dAPI import Geom2dAPI_Interpolate
from OCP.GeomAdaptor import GeomAdaptor_Curve, GeomAdaptor_Surface
from OCP.GeomAPI import GeomAPI_Interpolate, GeomAPI_ProjectPointOnCurve
from OCP.gp import gp_Ax2, gp_Ax3, gp_Dir, gp_Dir2d, gp_Pnt, gp_Pnt2d, gp_Vec, gp_Vec2d
from OCP.ShapeAnalysis import ShapeAnalysis_Surface
from OCP.TopAbs import TopAbs_FORWARD, TopAbs_REVERSED
from scipy.spatial import cKDTree

from ..rigid import Rigid
from .queries import EDGE_KINDS, FACE_KINDS
from .shapes import Shape, as_edge, as_face, transform_of
from .spline_net import SMALL, SplineNet

Floats = NDArray[np.float64]
GeomHandle = Any  # a kernel surface or curve; opaque outside this package


@dataclass(frozen=True)
class Frame:
    """Origin and three unit vectors, each (3,)."""

    origin: Floats
    x: Floats
    y: Floats
    z: Floats

    @property
    def direct(self) -> bool:
        (a, b, c), (d, e, f), (g, h, i) = self.x.tolist(), self.y.tolist(), self.z.tolist()
        return a * (e * i - f * h) + b * (f * g - d * i) + c * (d * h - e * g) > 0  # faster than arrays this small


@dataclass(frozen=True)
class SurfaceData:
    """kind: plane (), cylinder (radius), cone (radius at the origin, half angle), sphere (radius),
    torus (major, minor radius) or spline (), with those numbers; handle: the kernel's own surface."""

    kind: str
    frame: Frame | None
    numbers: tuple[float, ...]
    handle: GeomHandle


@dataclass(frozen=True)
class CurveData:
    """kind: line (), circle (radius), ellipse (major, minor radius) along x and y, or spline ()."""

    kind: str
    frame: Frame | None
    numbers: tuple[float, ...]
    handle: GeomHandle = None


def _array(v: Any) -> Floats:
    return np.array((v.X(), v.Y(), v.Z()))


def _frame(position: Any) -> Frame:
    return Frame(
        _array(position.Location()),
        _array(position.XDirection()),
        _array(position.YDirection()),
        _array(position.Direction()),
    )


def has_surface(face: Shape) -> bool:
    """A damaged file may leave a face without one."""
    return BRep_Tool.Surface_s(as_face(face)) is not None


def read_surface(face: Shape) -> SurfaceData:
    return surface_data(BRep_Tool.Surface_s(as_face(face)))


def surface_data(handle: GeomHandle) -> SurfaceData:
    while isinstance(handle, Geom_RectangularTrimmedSurface):
        handle = handle.BasisSurface()
    surface = GeomAdaptor_Surface(handle)
    kind = FACE_KINDS.get(surface.GetType(), "spline")
    if kind == "plane":
        return SurfaceData(kind, _frame(surface.Plane().Position()), (), handle)
    if kind == "cylinder":
        cylinder = surface.Cylinder()
        return SurfaceData(kind, _frame(cylinder.Position()), (cylinder.Radius(),), handle)
    if kind == "cone":
        cone = surface.Cone()
        return SurfaceData(kind, _frame(cone.Position()), (cone.RefRadius(), cone.SemiAngle()), handle)
    if kind == "sphere":
        sphere = surface.Sphere()
        return SurfaceData(kind, _frame(sphere.Position()), (sphere.Radius(),), handle)
    if kind == "torus":
        torus = surface.Torus()
        return SurfaceData(kind, _frame(torus.Position()), (torus.MajorRadius(), torus.MinorRadius()), handle)
    return SurfaceData("spline", None, (), handle)


def _point(v: Floats) -> gp_Pnt:
    return gp_Pnt(float(v[0]), float(v[1]), float(v[2]))


def _direction(v: Floats) -> gp_Dir:
    return gp_Dir(float(v[0]), float(v[1]), float(v[2]))


def make_surface(kind: str, frame: Frame, numbers: tuple[float, ...]) -> GeomHandle:
    position = gp_Ax3(_point(frame.origin), _direction(frame.z), _direction(frame.x))
    if not frame.direct:
        position.YReverse()
    if kind == "plane":
        return Geom_Plane(position)
    if kind == "cylinder":
        return Geom_CylindricalSurface(position, numbers[0])
    if kind == "cone":
        return Geom_ConicalSurface(position, numbers[1], numbers[0])
    if kind == "sphere":
        return Geom_SphericalSurface(position, numbers[0])
    if kind == "torus":
        return Geom_ToroidalSurface(position, numbers[0], numbers[1])
    raise ValueError(kind)


def offset_surface(handle: GeomHandle, distance: float) -> GeomHandle:
    """Parallel to a surface, `distance` along its natural normal; parameters stay."""
    return Geom_OffsetSurface(handle, float(distance), True)


def equal_splines(a: GeomHandle, b: GeomHandle) -> bool:
    """One and the same surface, or copies of one."""
    if a is b:
        return True
    if not isinstance(a, Geom_BSplineSurface) or not isinstance(b, Geom_BSplineSurface) or a.Bounds() != b.Bounds():
        return False
    sizes = [(s.UDegree(), s.VDegree(), s.NbUPoles(), s.NbVPoles(), s.NbUKnots(), s.NbVKnots()) for s in (a, b)]
    if sizes[0] != sizes[1]:
        return False
    return all(
        a.Weight(i, j) == b.Weight(i, j) and a.Pole(i, j).Distance(b.Pole(i, j)) == 0
        for i in range(1, a.NbUPoles() + 1)
        for j in range(1, a.NbVPoles() + 1)
    )


def copied(handle: GeomHandle) -> GeomHandle:
    """A surface of its own for another face: an edge between two faces knows them apart by theirs."""
    return handle.Copy()


def turned_over(handle: GeomHandle) -> GeomHandle:
    """A surface with its first parameter counted backwards."""
    return handle.UReversed()


def moved_geometry(handle: GeomHandle, motion: Rigid) -> GeomHandle:
    """A surface or curve at another place."""
    return handle.Transformed(transform_of(motion))


def _close(a: Floats, b: Floats, size: float) -> bool:
    return bool(np.abs(a - b).max() < 0.02 * size)


FEW = 40  # points, up to which one after the other is faster than all at once
GRID = 24  # places along either parameter where a search may begin


class SurfaceReader:
    """Evaluates and projects on to a kernel surface that has no formula.

    Many points on a B-spline surface are worked as arrays (`spline_net`).  Else a projection starts
    from the nearest place of a grid (on a boundless surface from the parameters found last for a place near by), and
    goes the few steps from there by Newton's method on the squared distance; the kernel's own search, a hundred times
    slower, is the last resort.
    """

    def __init__(self, handle: GeomHandle) -> None:
        self.handle = handle
        self._finder = ShapeAnalysis_Surface(handle)
        surface = GeomAdaptor_Surface(handle)
        self.periods = (
            surface.UPeriod() if surface.IsUPeriodic() else 0.0,
            surface.VPeriod() if surface.IsVPeriodic() else 0.0,
        )
        self._bounds = handle.Bounds()
        self._known: list[tuple[float, float, float, float, float]] = []
        self._last: dict[int, tuple[Floats, Floats]] = {}  # points settle in small steps: the next begin from here
        self._net = SplineNet.read(handle) if isinstance(handle, Geom_BSplineSurface) else None

    def feet(self, points: Floats) -> tuple[Floats, Floats, Floats]:
        """Parameters (n, 2), places and natural unit normals (n, 3) of the nearest points."""
        if self._net is None:
            uv = self._each(points)
            return (uv, *self._tangent_planes(uv))
        last = self._last.get(len(points))
        near = last[1] if last and _close(last[0], points, self._net.size) else None
        uv = self._each(points, near) if len(points) < FEW else self._searched(points, near)
        self._last[len(points)] = (points.copy(), uv)
        return (uv, *(self._tangent_planes(uv) if len(points) < FEW else self._net.normals(uv)))

    def _searched(self, points: Floats, near: Floats | None = None) -> Floats:
        """Parameters (n, 2) of the feet of points; in the last resort by the kernel's own search."""
        uv, settled = np.zeros((len(points), 2)), np.zeros(len(points), bool)
        if self._net is not None:
            uv, settled = self._net.feet(points, near)
        for i in np.flatnonzero(~settled):
            found = self._finder.ValueOfUV(_point(points[i]), 1e-7)
            uv[i] = self._newton(points[i].tolist(), found.X(), found.Y()) or (found.X(), found.Y())
        return uv

    def _each(self, points: Floats, near: Floats | None = None) -> Floats:
        """Parameters (n, 2), one after the other."""
        if self._grid is None:
            return np.array([self._beside_known(p) for p in points.tolist()]).reshape(-1, 2)
        begin = near
        if begin is None:
            tree, starts = self._grid
            begin = starts[tree.query(points)[1]].reshape(-1, 2)
        found = [self._newton(p, u, v) for p, (u, v) in zip(points.tolist(), begin.tolist(), strict=True)]
        lost = [i for i, uv in enumerate(found) if uv is None]
        uv = np.array([(0.0, 0.0) if row is None else row for row in found]).reshape(-1, 2)
        if lost:
            uv[lost] = self._searched(points[lost])
        return uv

    def _beside_known(self, point: list[float]) -> tuple[float, float]:
        near = min(self._known, key=lambda k: math.dist(k[:3], point), default=None)
        found = self._newton(point, near[3], near[4]) if near else None
        if found is None:
            u, v = self._searched(np.array([point]))[0].tolist()
            found = (u, v)
        self._known.append((point[0], point[1], point[2], *found))
        del self._known[:-64]
        return found

    @cached_property
    def _grid(self) -> tuple[cKDTree, Floats] | None:
        """Places on the whole surface with their parameters (n, 2); None where it has no end."""
        if self._net is not None:
            return self._net.starts
        if max(map(abs, self._bounds)) > 1e6:
            return None
        u0, u1, v0, v1 = self._bounds
        rows = np.linspace(u0, u1, GRID), np.linspace(v0, v1, GRID)
        uv = np.stack(np.meshgrid(*rows, indexing="ij"), axis=-1).reshape(-1, 2)
        return cKDTree([_array(self.handle.Value(u, v)) for u, v in uv.tolist()]), uv

    def _newton(self, point: list[float], u: float, v: float) -> tuple[float, float] | None:
        """From u, v to the foot of the point; None where it does not settle inside the surface's bounds."""
        spot = gp_Pnt()
        du, dv, duu, dvv, duv = gp_Vec(), gp_Vec(), gp_Vec(), gp_Vec(), gp_Vec()
        target = gp_Pnt(*point)
        u0, u1, v0, v1 = self._bounds
        most_u, most_v = (u1 - u0) / 4, (v1 - v0) / 4
        step_u = step_v = 0.0
        off = math.inf
        for _ in range(25):
            self.handle.D2(u, v, spot, du, dv, duu, dvv, duv)
            gap = gp_Vec(target, spot)
            away = gap.SquareMagnitude()
            if away > off * (1 + 1e-9) + 1e-18:  # a step that led away is halved
                step_u, step_v = step_u / 2, step_v / 2
                u, v = u + step_u, v + step_v
                continue
            off = away
            f, g = gap.Dot(du), gap.Dot(dv)
            p, q, r = du.Dot(du), du.Dot(dv), dv.Dot(dv)
            a, b, c = p + gap.Dot(duu), q + gap.Dot(duv), r + gap.Dot(dvv)
            det = a * c - b * b
            if det <= 0 or a <= 0:  # no minimum near by: the first-order step leads towards one
                a, b, c = p, q, r
                det = a * c - b * b
                if det <= 1e-300:
                    return None
            step_u = min(max((c * f - b * g) / det, -most_u), most_u)
            step_v = min(max((a * g - b * f) / det, -most_v), most_v)
            if not self.periods[0] and not u0 <= u - step_u <= u1:  # beyond the border: its nearest place
                step_u = u - (u0 if u - step_u < u0 else u1)
                step_v = (g - b * step_u) / c if c > 1e-300 else 0.0
            if not self.periods[1] and not v0 <= v - step_v <= v1:
                step_v = v - (v0 if v - step_v < v0 else v1)
                step_u = (f - b * step_v) / a if a > 1e-300 else 0.0
                step_u = step_u if self.periods[0] else min(max(step_u, u - u1), u - u0)
            u, v = u - step_u, v - step_v
            if abs(step_u) < SMALL * (1 + abs(u)) and abs(step_v) < SMALL * (1 + abs(v)):
                return u, v
        return None

    def _tangent_planes(self, uv: Floats) -> tuple[Floats, Floats]:
        """Places and natural unit normals (n, 3), zero where there is none."""
        spot, du, dv = gp_Pnt(), gp_Vec(), gp_Vec()
        rows = []
        for u, v in uv.tolist():
            self.handle.D1(u, v, spot, du, dv)
            normal = du.Crossed(dv)
            rows.append((spot.X(), spot.Y(), spot.Z(), normal.X(), normal.Y(), normal.Z()))
        found = np.array(rows).reshape(-1, 6)
        size = np.linalg.norm(found[:, 3:], axis=1, keepdims=True)
        return found[:, :3], np.where(size > 1e-14, found[:, 3:] / np.maximum(size, 1e-14), 0.0)

    def points(self, uv: Floats) -> Floats:
        """Places (n, 3) at parameters (n, 2)."""
        return self._tangent_planes(uv)[0] if self._net is None else self._net.at(uv)[0]

    def speeds(self, uv: Floats) -> Floats:
        """mm (n, 2) by which a place moves for a unit of each parameter."""
        if self._net is not None:
            return np.stack([np.linalg.norm(d, axis=1) for d in self._net.at(uv, 1)[1:]], axis=1)
        spot, du, dv = gp_Pnt(), gp_Vec(), gp_Vec()
        rows = []
        for u, v in uv.tolist():
            self.handle.D1(u, v, spot, du, dv)
            rows.append((du.Magnitude(), dv.Magnitude()))
        return np.array(rows)

    def normals(self, uv: Floats) -> Floats:
        """Natural unit normals (n, 3) at parameters (n, 2)."""
        return self._tangent_planes(uv)[1] if self._net is None else self._net.normals(uv)[1]


def read_curve(edge: Shape) -> tuple[CurveData, float, float]:
    """The curve of an edge, in the edge's own direction of travel by rising parameter, and its range."""
    edge = as_edge(edge)
    handle = BRep_Tool.Curve_s(edge, 0.0, 0.0)
    first, last = BRep_Tool.Range_s(edge)
    if handle is None:
        return CurveData("none", None, ()), first, last
    curve = GeomAdaptor_Curve(handle)
    kind = EDGE_KINDS.get(curve.GetType(), "spline")
    if kind == "line":
        line = curve.Line()
        z = _array(line.Direction())
        return CurveData(kind, Frame(_array(line.Location()), z, z, z), (), handle), first, last
    if kind == "circle":
        circle = curve.Circle()
        return CurveData(kind, _frame(circle.Position()), (circle.Radius(),), handle), first, last
    if kind == "ellipse":
        ellipse = curve.Ellipse()
        numbers = (ellipse.MajorRadius(), ellipse.MinorRadius())
        return CurveData(kind, _frame(ellipse.Position()), numbers, handle), first, last
    return CurveData("spline", None, (), handle), first, last


def curve_points(curve: CurveData, parameters: Floats) -> Floats:
    """Points (n, 3)."""
    frame = curve.frame
    if frame is None:
        return np.array([_array(curve.handle.Value(float(t))) for t in parameters]).reshape(-1, 3)
    t = parameters[:, None]
    if curve.kind == "line":
        return frame.origin + t * frame.z
    a = curve.numbers[0]
    b = curve.numbers[-1]
    return frame.origin + a * np.cos(t) * frame.x + b * np.sin(t) * frame.y


def curve_parameter(curve: CurveData, point: Floats, near: float) -> float:
    """Parameter of the place on the curve nearest to `point`; on a closed conic the turn nearest to `near`."""
    frame = curve.frame
    if frame is None:
        found = GeomAPI_ProjectPointOnCurve(_point(point), curve.handle)
        if found.NbPoints() == 0:
            ends = (curve.handle.FirstParameter(), curve.handle.LastParameter())
            places = curve_points(curve, np.array(ends))
            return float(ends[int(np.argmin(np.linalg.norm(places - point, axis=1)))])
        return float(found.LowerDistanceParameter())
    w = point - frame.origin
    if curve.kind == "line":
        return float(w @ frame.z)
    angle = float(np.arctan2((w @ frame.y) / curve.numbers[-1], (w @ frame.x) / curve.numbers[0]))
    return angle + 2 * np.pi * round((near - angle) / (2 * np.pi))


def covers(handle: GeomHandle, first: float, last: float) -> bool:
    """Whether a curve has all parameters in between: lines, conics and periodic splines have, others have ends."""
    if handle.IsPeriodic():
        return True
    return bool(handle.FirstParameter() <= first + 1e-9 and handle.LastParameter() >= last - 1e-9)


def iso_curve(handle: GeomHandle, u: float) -> GeomHandle:
    """The line of a surface along which its first parameter stays."""
    return handle.UIso(float(u))


def period(curve: CurveData) -> float:
    """0 of a curve on a handle that is not closed in itself."""
    return float(curve.handle.Period()) if curve.handle.IsPeriodic() else 0.0


def backwards(curve: CurveData, values: Sequence[float]) -> tuple[CurveData, list[float]]:
    """A curve on a handle run the other way, and its parameters at the places of these."""
    return replace(curve, handle=curve.handle.Reversed()), [curve.handle.ReversedParameter(t) for t in values]


def cross(a: Floats, b: Floats) -> Floats:
    """Of two vectors (3,), ten times as fast as numpy's for rows."""
    (x, y, z), (u, v, w) = a.tolist(), b.tolist()
    return np.array((y * w - z * v, z * u - x * w, x * v - y * u))


def make_curve(curve: CurveData) -> GeomHandle:
    if curve.handle is not None:
        return curve.handle
    frame = curve.frame
    assert frame is not None
    if curve.kind == "line":
        return Geom_Line(_point(frame.origin), _direction(frame.z))
    position = gp_Ax2(_point(frame.origin), _direction(cross(frame.x, frame.y)), _direction(frame.x))
    if curve.kind == "circle":
        return Geom_Circle(position, curve.numbers[0])
    return Geom_Ellipse(position, curve.numbers[0], curve.numbers[1])


def spline_through(points: Floats, parameters: Floats) -> GeomHandle:
    """Cubic spline through points (n, 3) at rising parameters (n,)."""
    places, values = HArray1_gp_Pnt(1, len(points)), HArray1_double(1, len(points))
    for i, (p, t) in enumerate(zip(points, parameters, strict=True), 1):
        places.SetValue(i, _point(p))
        values.SetValue(i, float(t))
    maker = GeomAPI_Interpolate(places, values, False, 1e-12)
    maker.Perform()
    return maker.Curve()


def flat_spline_through(points: Floats, parameters: Floats) -> GeomHandle:
    """The same in the plane of surface parameters: points (n, 2)."""
    places, values = HArray1_gp_Pnt2d(1, len(points)), HArray1_double(1, len(points))
    for i, (p, t) in enumerate(zip(points, parameters, strict=True), 1):
        places.SetValue(i, gp_Pnt2d(float(p[0]), float(p[1])))
        values.SetValue(i, float(t))
    maker = Geom2dAPI_Interpolate(places, values, False, 1e-12)
    maker.Perform()
    return maker.Curve()


def flat_line(point: Floats, direction: Floats) -> GeomHandle:
    """Line in surface parameters whose place at parameter 0 is `point`; direction of unit length."""
    return Geom2d_Line(gp_Pnt2d(float(point[0]), float(point[1])), gp_Dir2d(float(direction[0]), float(direction[1])))


def flat_slid(curve: GeomHandle, step: tuple[float, float]) -> GeomHandle:
    """The same further on in the surface parameters."""
    return curve.Translated(gp_Vec2d(*step))


def flat_start(edge: Shape, face: Shape, parameter: float) -> tuple[float, float] | None:
    """Surface parameters of a place on an edge as used in `face`; None where the edge has no curve there."""
    curve = BRep_Tool.CurveOnSurface_s(as_edge(edge), as_face(face), 0.0, 0.0)
    if curve is None:
        return None
    spot = curve.Value(float(parameter))
    return spot.X(), spot.Y()


def plane_curve(edge: Shape, face: Shape) -> GeomHandle:
    return BRep_Tool.CurveOnSurface_s(as_edge(edge), as_face(face), 0.0, 0.0)


def is_reversed(shape: Shape) -> bool:
    return bool(shape.Orientation() == TopAbs_REVERSED)


def forward(shape: Shape) -> Shape:
    return shape.Oriented(TopAbs_FORWARD)


def oriented(shape: Shape, against: bool) -> Shape:
    return shape.Oriented(TopAbs_REVERSED if against else TopAbs_FORWARD)

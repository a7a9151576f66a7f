"""Plane faces from outlines drawn in a plane."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.collections import HArray1_double, HArray1_gp_Pnt
from OCP.Geom import Geom_Circle, Geom_Ellipse
from OCP.GeomAPI import GeomAPI_Interpolate
from OCP.gp import gp_Ax2, gp_Ax3, gp_Dir, gp_Pln, gp_Pnt, gp_Vec

from ..errors import EditError
from .shapes import Shape, as_edge

Floats = NDArray[np.float64]
Vec = Sequence[float]


@dataclass(frozen=True)
class Segment:
    """One piece of an outline, in the plane's coordinates, mm.

    line             places: start and end (2, 2)
    round, ellipse   places: middle, first and second half axis (3, 2); knots: angles of start and end, falling when
                     it runs backwards
    spline           places (n, 2) at rising knots (n,), slopes at both ends (2, 2); backwards: run the other way
    """

    kind: str
    places: Floats
    knots: Floats | None = None
    slopes: Floats | None = None
    backwards: bool = False


class _Sheet:
    def __init__(self, origin: Vec, x: Vec, y: Vec) -> None:
        self.origin, self.x, self.y = (np.array(v, float) for v in (origin, x, y))
        self.normal = np.cross(self.x, self.y)

    def vector(self, flat: Floats) -> Floats:
        return float(flat[0]) * self.x + float(flat[1]) * self.y

    def point(self, flat: Floats) -> gp_Pnt:
        return gp_Pnt(*(self.origin + self.vector(flat)).tolist())

    def edge(self, segment: Segment) -> Shape:
        if segment.kind == "line":
            return BRepBuilderAPI_MakeEdge(*(self.point(p) for p in segment.places)).Edge()
        if segment.kind == "spline":
            return self._spline(segment)
        middle, a, b = segment.places
        assert segment.knots is not None  # a round has them
        first, last = (float(t) for t in segment.knots)
        if float(np.hypot(*b)) > float(np.hypot(*a)):  # the kernel wants the longer half axis first
            a, b = b, -a
            first, last = first - np.pi / 2, last - np.pi / 2
        axes = gp_Ax2(self.point(middle), gp_Dir(*self.normal.tolist()), gp_Dir(*self.vector(a).tolist()))
        big, small = float(np.hypot(*a)), float(np.hypot(*b))
        curve = Geom_Circle(axes, big) if segment.kind == "round" else Geom_Ellipse(axes, big, small)
        low, high = min(first, last), max(first, last)
        edge = BRepBuilderAPI_MakeEdge(curve, low, high).Edge()
        return edge if last > first else edge.Reversed()

    def _spline(self, segment: Segment) -> Shape:
        assert segment.knots is not None
        assert segment.slopes is not None
        count = len(segment.places)
        places, values = HArray1_gp_Pnt(1, count), HArray1_double(1, count)
        for i, (p, t) in enumerate(zip(segment.places, segment.knots, strict=True), 1):
            places.SetValue(i, self.point(p))
            values.SetValue(i, float(t))
        maker = GeomAPI_Interpolate(places, values, False, 1e-9)
        maker.Load(*(gp_Vec(*self.vector(s).tolist()) for s in segment.slopes), False)
        maker.Perform()
        edge = BRepBuilderAPI_MakeEdge(maker.Curve()).Edge()
        return edge.Reversed() if segment.backwards else edge

    def wire(self, loop: Sequence[Segment]) -> Shape:
        maker = BRepBuilderAPI_MakeWire()
        for segment in loop:
            maker.Add(as_edge(self.edge(segment)))
            if not maker.IsDone():
                raise EditError("the outline of the area does not close")
        return maker.Wire()


def plane_edge(origin: Vec, x: Vec, y: Vec, segment: Segment) -> Shape:
    """One piece as an edge."""
    return _Sheet(origin, x, y).edge(segment)


def plane_face(origin: Vec, x: Vec, y: Vec, loops: Sequence[Sequence[Segment]]) -> Shape:
    """loops: the outer one counterclockwise, then holes clockwise."""
    sheet = _Sheet(origin, x, y)
    axes = gp_Ax3(gp_Pnt(*map(float, origin)), gp_Dir(*sheet.normal.tolist()), gp_Dir(*map(float, x)))
    maker = BRepBuilderAPI_MakeFace(gp_Pln(axes), sheet.wire(loops[0]), True)
    for loop in loops[1:]:
        maker.Add(sheet.wire(loop))
    if not maker.IsDone():
        raise EditError("the area makes no face")
    return maker.Face()

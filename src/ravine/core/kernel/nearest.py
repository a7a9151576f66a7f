"""The shortest way between two shapes."""

from __future__ import annotations

from OCP.BRepExtrema import BRepExtrema_DistShapeShape

from .queries import Vec
from .shapes import Shape


def nearest(a: Shape, b: Shape) -> tuple[float, Vec, Vec] | None:
    """Distance (mm) and the places on both where it is; None where the kernel finds none."""
    found = BRepExtrema_DistShapeShape(a, b)
    if not found.IsDone() or not found.NbSolution():
        return None
    p, q = found.PointOnShape1(1), found.PointOnShape2(1)
    return found.Value(), (p.X(), p.Y(), p.Z()), (q.X(), q.Y(), q.Z())

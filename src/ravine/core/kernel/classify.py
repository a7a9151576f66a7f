"""Where points lie: inside the bounds of a face or outside, and the boxes of faces."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import numpy as np
from numpy.typing import NDArray
from OCP.Bnd import Bnd_Box
from OCP.BOPTools import BOPTools_AlgoTools3D
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepClass3d import BRepClass3d_SolidClassifier
from OCP.BRepTools import BRepTools
from OCP.gp import gp_Pnt, gp_Pnt2d
from OCP.IntTools import IntTools_Context, IntTools_FClass2d
from OCP.TopAbs import TopAbs_IN

from .shapes import Shape, ShapeIndex, as_face

Floats = NDArray[np.float64]


def boxes_of(index: ShapeIndex) -> Floats:
    """(faces, 6), kept with the index; after an edit only what is new is read."""
    if index.boxes is None:
        known = index.differences
        base = known.of() if known else None
        if known and base and base.boxes is not None:
            rows = sorted(known.faces)
            index.boxes = base.boxes.copy()
            index.boxes[rows] = _boxes(index.get("face", f) for f in rows)
        else:
            index.boxes = _boxes(index.all("face"))
    boxes: Floats = index.boxes
    return boxes


def _boxes(shapes: Iterable[Shape]) -> Floats:
    """(n, 6): low and high corner of each in mm, as wide as its geometry, not its triangles."""
    rows = []
    for shape in shapes:
        box = Bnd_Box()
        BRepBndLib.Add_s(shape, box, False)
        low, high = box.CornerMin(), box.CornerMax()
        rows.append((low.X(), low.Y(), low.Z(), high.X(), high.Y(), high.Z()))
    return np.array(rows).reshape(-1, 6)


def edge_box(edge: Shape) -> Floats:
    """(6,): low and high corner of an edge in mm."""
    box: Floats = _boxes([edge])[0]
    return box


def parameter_box(face: Shape) -> tuple[float, float, float, float]:
    """Lowest and highest u, then lowest and highest v of a face."""
    u0, u1, v0, v1 = BRepTools.UVBounds_s(as_face(face))
    return u0, u1, v0, v1


def face_middle(face: Shape) -> Floats:
    """Place (3,) at the middle of the parameters of a face."""
    surface = BRepAdaptor_Surface(as_face(face))
    u0, u1, v0, v1 = BRepTools.UVBounds_s(as_face(face))
    spot = surface.Value((u0 + u1) / 2, (v0 + v1) / 2)
    return np.array((spot.X(), spot.Y(), spot.Z()))


def inner_place(face: Shape) -> Floats | None:
    """Some place (3,) within a face, off its border; None where the kernel finds none."""
    spot, flat = gp_Pnt(), gp_Pnt2d()
    if BOPTools_AlgoTools3D.PointInFace_s(as_face(face), spot, flat, IntTools_Context()) != 0:
        return None
    return np.array((spot.X(), spot.Y(), spot.Z()))


def holds(solid: Shape, place: Sequence[float]) -> bool:
    """Whether a place (mm) lies inside a solid, not on its skin."""
    return Inside(solid).holds(place)


class Inside:
    """A solid to be asked about many places."""

    def __init__(self, solid: Shape) -> None:
        self._classifier = BRepClass3d_SolidClassifier(solid)

    def holds(self, place: Iterable[float]) -> bool:
        """Whether a place (mm) lies inside, not on the skin."""
        self._classifier.Perform(gp_Pnt(*map(float, place)), 1e-7)
        return bool(self._classifier.State() == TopAbs_IN)


class FaceBounds:
    """The region of its surface that a face covers, in surface parameters."""

    def __init__(self, face: Shape, tolerance: float = 1e-7) -> None:
        face = as_face(face)
        self._classifier = IntTools_FClass2d(face, tolerance)
        self.box = parameter_box(face)

    def inside(self, uv: Iterable[float]) -> bool:
        """Strictly inside; a place on the border is not."""
        u, v = uv
        return bool(self._classifier.Perform(gp_Pnt2d(float(u), float(v)), True) == TopAbs_IN)

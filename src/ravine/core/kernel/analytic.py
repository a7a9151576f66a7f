"""Spline surfaces that are really planes, cylinders, cones, spheres or tori."""

from __future__ import annotations

import math

from OCP.BRep import BRep_Tool
from OCP.GeomAdaptor import GeomAdaptor_Surface
from OCP.GeomConvert import GeomConvert_SurfToAnaSurf

from .carriers import SurfaceData, surface_data
from .classify import parameter_box
from .failures import KERNEL_FAILURES
from .queries import FACE_KINDS
from .shapes import Shape, as_face

CLOSE = 1e-4  # mm by which the formula may miss the spline


def analytic_surface(face: Shape) -> SurfaceData | None:
    """The surface with a formula that a spline face really lies on, over the bounds of the face; None where there is
    none within 1e-4 mm."""
    handle = BRep_Tool.Surface_s(as_face(face))
    box, whole = parameter_box(face), handle.Bounds()
    # never beyond the surface, not even by a rounding error: the kernel gives up then
    u0, v0 = (max(box[k], whole[k]) for k in (0, 2))
    u1, v1 = (min(box[k], whole[k]) for k in (1, 3))
    if not all(map(math.isfinite, (u0, u1, v0, v1))):
        return None
    try:
        tool = GeomConvert_SurfToAnaSurf(handle)
        found = tool.ConvertToAnalytical(CLOSE, u0, u1, v0, v1)
        if found is None:
            found = tool.ConvertToAnalytical(CLOSE)
    except KERNEL_FAILURES:
        return None
    if found is None or tool.Gap() > CLOSE:
        return None
    data = surface_data(found)
    return data if data.kind != "spline" and GeomAdaptor_Surface(found).GetType() in FACE_KINDS else None

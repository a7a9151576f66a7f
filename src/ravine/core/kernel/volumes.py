"""Volume, centroid and inertia of solids."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from OCP.BRepGProp import BRepGProp
from OCP.GProp import GProp_GProps
from OCP.TopAbs import TopAbs_FACE
from OCP.TopExp import TopExp_Explorer

from .properties import MassProperties, read_properties
from .shapes import Shape, compound
from .spline_volume import cone_moments


def _faces(shape: Shape) -> list[Shape]:
    """As each solid uses them: one between two solids comes twice."""
    found, explorer = [], TopExp_Explorer(shape, TopAbs_FACE)
    while explorer.More():
        found.append(explorer.Current())
        explorer.Next()
    return found


def volume_properties(shape: Shape) -> MassProperties:
    """Of solids; by the kernel, but for faces that it integrates badly (see spline_volume)."""
    moments = cone_moments(_faces(shape))
    if moments is not None:
        return _from_moments(moments)
    props = GProp_GProps()
    BRepGProp.VolumeProperties_s(shape, props)
    return read_properties(props)


def _from_moments(moments: NDArray[np.float64]) -> MassProperties:
    mass, middle = float(moments[0]), moments[1:4] / (moments[0] or 1.0)
    xx, yy, zz, xy, xz, yz = moments[4:]
    second = np.array([[xx, xy, xz], [xy, yy, yz], [xz, yz, zz]]) - mass * np.outer(middle, middle)
    inertia = np.trace(second) * np.eye(3) - second
    x, y, z = middle.tolist()
    return MassProperties(mass, (x, y, z), tuple(tuple(row) for row in inertia.tolist()))


def volume_between(old: list[Shape], new: list[Shape], precise: bool = False) -> float:
    """Volume (mm³) that a solid gains when these faces of it become those.

    In one call, since the kernel counts the volume under each face from one reference point a call, wherever that
    is.  `precise` integrates to 1e-6; the usual number of points leaves errors of 1e-3 under spline faces.
    """
    rows = [*new, *(f.Reversed() for f in old)]
    moments = cone_moments(rows)
    if moments is not None:
        return float(moments[0])
    props = GProp_GProps()
    faces = compound(rows)
    if precise:
        BRepGProp.VolumeProperties_s(faces, props, 1e-6, False, False)
    else:
        BRepGProp.VolumeProperties_s(faces, props)
    return float(props.Mass())

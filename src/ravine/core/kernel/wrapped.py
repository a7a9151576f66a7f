"""Solids bounded by what is drawn on a cylinder or a cone: each loop between two radii, or cones, about one axis."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_MakeEdge,
    BRepBuilderAPI_MakeFace,
    BRepBuilderAPI_MakeSolid,
    BRepBuilderAPI_MakeWire,
    BRepBuilderAPI_Sewing,
)
from OCP.BRepFill import BRepFill
from OCP.BRepLib import BRepLib
from OCP.Geom import Geom_ConicalSurface, Geom_CylindricalSurface
from OCP.gp import gp_Ax3, gp_Dir, gp_Pnt
from OCP.TopoDS import TopoDS

from ..errors import EditError
from .carriers import GeomHandle, flat_line, flat_spline_through
from .shapes import Shape, as_edge, parts_of

Floats = NDArray[np.float64]
TOGETHER = 1e-5  # mm, within which borders are sewn


def wrapped_prism(origin: Floats, x: Floats, z: Floats, radii: tuple[float, float], loop: Sequence[Floats]) -> Shape:
    """loop: pieces that follow one another and close, each (n, 2) of angle from x (rad) and height (mm): a straight
    line where n is 2, else a spline through them.  The solid between both radii.  Raises EditError when the kernel
    gives up."""
    return _between([Geom_CylindricalSurface(_frame(origin, x, z), float(r)) for r in radii], [loop, loop])


def wrapped_on_cones(
    apexes: tuple[Floats, Floats], x: Floats, z: Floats, slope: float, loops: tuple[Sequence[Floats], Sequence[Floats]]
) -> Shape:
    """The same between two cones about one axis (unit z, from their apexes into them) of one half angle (rad); loops:
    on each, of angle and distance from its apex (mm)."""
    return _between([Geom_ConicalSurface(_frame(a, x, z), slope, 0.0) for a in apexes], loops)


def _frame(origin: Floats, x: Floats, z: Floats) -> gp_Ax3:
    return gp_Ax3(gp_Pnt(*origin.tolist()), gp_Dir(*z.tolist()), gp_Dir(*x.tolist()))


def _between(surfaces: Sequence[GeomHandle], loops: Sequence[Sequence[Floats]]) -> Shape:
    shells = []
    rims = []
    for surface, loop in zip(surfaces, loops, strict=True):
        edges = [_edge(surface, piece) for piece in loop]
        wire = BRepBuilderAPI_MakeWire()
        for edge in edges:
            wire.Add(edge)
        if not wire.IsDone():
            raise EditError("the outline does not close on the bend")
        face = BRepBuilderAPI_MakeFace(surface, wire.Wire(), True)
        if not face.IsDone():
            raise EditError("the outline bounds no area on the bend")
        shells.append(face.Face())
        rims.append(edges)
    walls = [BRepFill.Face_s(as_edge(a), as_edge(b)) for a, b in zip(*rims, strict=True)]
    sewing = BRepBuilderAPI_Sewing(TOGETHER)
    for part in (*shells, *walls):
        sewing.Add(part)
    sewing.Perform()
    found = parts_of(sewing.SewedShape(), "shell")
    if len(found) != 1:
        raise EditError("the cut across the bend could not be closed to a solid")
    solid = BRepBuilderAPI_MakeSolid(TopoDS.Shell(found[0])).Solid()
    BRepLib.OrientClosedSolid_s(solid)
    return solid


def _edge(surface: GeomHandle, piece: Floats) -> Shape:
    if len(piece) == 2:
        step = piece[1] - piece[0]
        length = float(np.hypot(*step))
        made = BRepBuilderAPI_MakeEdge(flat_line(piece[0], step / length), surface, 0.0, length)
    else:
        made = BRepBuilderAPI_MakeEdge(flat_spline_through(piece, np.arange(float(len(piece)))), surface)
    edge = made.Edge()
    BRepLib.BuildCurves3d_s(edge)
    return edge

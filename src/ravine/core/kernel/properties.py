"""Region, length, centroid and boxes by the kernel's own integration; volumes are in `volumes`."""

from __future__ import annotations

from dataclasses import dataclass

from OCP.Bnd import Bnd_Box
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepGProp import BRepGProp
from OCP.GCPnts import GCPnts_AbscissaPoint
from OCP.GProp import GProp_GProps

from ..box import Box
from .shapes import Shape, as_edge


@dataclass(frozen=True)
class MassProperties:
    """amount: mm³, mm² or mm; inertia: 3x3 about the centroid for unit density, amount × mm²."""

    amount: float
    centroid: tuple[float, float, float]
    inertia: tuple[tuple[float, float, float], ...]


def read_properties(props: GProp_GProps) -> MassProperties:
    centre = props.CentreOfMass()
    matrix = props.MatrixOfInertia()
    return MassProperties(
        props.Mass(),
        (centre.X(), centre.Y(), centre.Z()),
        tuple(tuple(matrix.Value(r, c) for c in (1, 2, 3)) for r in (1, 2, 3)),
    )


def area_properties(shape: Shape) -> MassProperties:
    props = GProp_GProps()
    BRepGProp.SurfaceProperties_s(shape, props)
    return read_properties(props)


def length_properties(shape: Shape) -> MassProperties:
    props = GProp_GProps()
    BRepGProp.LinearProperties_s(shape, props)
    return read_properties(props)


def edge_length(edge: Shape) -> float:
    """mm, to 1e-9; the kernel's integration of properties takes too few places on ellipses (7e-4 off)."""
    if BRep_Tool.Degenerated_s(as_edge(edge)):
        return 0.0
    return float(GCPnts_AbscissaPoint.Length_s(BRepAdaptor_Curve(as_edge(edge)), 1e-9))


def bounding_box(shape: Shape) -> Box:
    """Corners of the smallest axis-parallel box, exact on the geometry rather than its triangles."""
    box = Bnd_Box()
    BRepBndLib.AddOptimal_s(shape, box, False, False)
    low, high = box.CornerMin(), box.CornerMax()
    return Box((low.X(), low.Y(), low.Z()), (high.X(), high.Y(), high.Z()))


def rough_box(shape: Shape) -> Box:
    """A box that holds the shape, some tolerance wide; fast."""
    box = Bnd_Box()
    BRepBndLib.Add_s(shape, box, False)
    low, high = box.CornerMin(), box.CornerMax()
    return Box((low.X(), low.Y(), low.Z()), (high.X(), high.Y(), high.Z()))

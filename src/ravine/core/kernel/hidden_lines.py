"""Which edges and outlines of shapes are seen from a direction, and which lie hidden.

Two ways of the kernel: exactly, on the surfaces, and on triangles, which is ten times as fast and within a chord of
them. Both are traced: every line names the edge it is of, or the face whose outline it is.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt
from OCP.HLRAlgo import HLRAlgo_Projector
from OCP.HLRBRep import (
    HLRBRep_Algo,
    HLRBRep_FaceIterator,
)
from OCP.TopoDS import TopoDS

from .carriers import CurveData, Floats, read_curve
from .queries import is_degenerate
from .shapes import Shape, ShapeIndex

TANGENT_ANGLE = 2e-3  # rad, up to which faces meet without a kink
OFF_AXIS = 1e-3  # rad by which visibility is looked at askew: exactly along an axis spline faces take minutes
FINE = 1500.0  # of the size, the chord error of triangles


@dataclass(frozen=True, eq=False)
class TracedLine:
    """shape: number of the shape; edge: its number there, None of an outline; face: whose outline it is, or -1;
    smooth: faces meet in it without a kink; curve: in space, from first to last; seen: the stretches of that which are
    visible."""

    shape: int
    edge: int | None
    face: int
    smooth: bool
    curve: CurveData
    first: float
    last: float
    seen: tuple[tuple[float, float], ...]


@dataclass(frozen=True, eq=False)
class TracedChain:
    """The same of triangles: places (n, 3) mm in space."""

    shape: int
    edge: int | None
    face: int
    smooth: bool
    places: Floats
    visible: bool


def _projector(eye: Floats, right: Floats) -> HLRAlgo_Projector:
    return HLRAlgo_Projector(gp_Ax2(gp_Pnt(0, 0, 0), gp_Dir(*eye.tolist()), gp_Dir(*right.tolist())))


def traced_lines(indices: Sequence[ShapeIndex], eye: Floats, right: Floats) -> list[TracedLine]:
    """Exactly.  indices: of the shapes where they stand; eye: unit direction towards the one who looks; right: unit
    direction that lies level in the view."""
    askew = eye + OFF_AXIS * (0.731 * right + 0.682 * np.cross(eye, right))
    askew /= np.linalg.norm(askew)
    level = right - (right @ askew) * askew
    algorithm = HLRBRep_Algo()
    for index in indices:
        algorithm.Add(index.shape, 0)
    algorithm.Projector(_projector(askew, level / np.linalg.norm(level)))
    algorithm.Update()
    algorithm.Hide()
    data = algorithm.DataStructure()
    edges, known, faces = data.EDataArray(), data.EdgeMap(), data.FDataArray()
    outlines: set[int] = set()
    iterator = HLRBRep_FaceIterator()
    for number in range(1, data.NbFaces() + 1):
        iterator.InitEdge(faces.Value(number))
        while iterator.MoreEdge():
            if iterator.OutLine():
                outlines.add(iterator.Edge())
            iterator.NextEdge()
    parts = [algorithm.ShapeBounds(k).Shape().DataStructure() for k in range(1, len(indices) + 1)]
    found = []
    for number in range(1, data.NbEdges() + 1):
        record = edges.Value(number)
        edge = TopoDS.Edge(known.FindKey(number))
        owner = _owner(edge, indices, parts)
        if owner is None:
            continue
        shape, of_edge, of_face = owner
        if of_edge is not None and _is_seam(indices[shape], of_edge):
            if number not in outlines:
                continue
            of_face, of_edge = indices[shape].faces_of_edges[of_edge][0], None  # it only happens to lie there
        status = record.Status()
        low, _, high, _ = status.Bounds()
        pieces = (status.VisiblePart(k) for k in range(1, status.NbVisiblePart() + 1))
        seen = tuple((max(a, low), min(b, high)) for a, _, b, _ in pieces)
        curve, _, _ = read_curve(edge)
        smooth = (record.Rg1Line() or record.RgNLine()) and number not in outlines
        found.append(TracedLine(shape, of_edge, of_face, smooth, curve, low, high, seen))
    return found


def _owner(edge: Shape, indices: Sequence[ShapeIndex], parts: Sequence[Any]) -> tuple[int, int | None, int] | None:
    """Shape, edge or None, face or −1: what an edge of the algorithm was made of.  Some are pieces of an edge, outlines
    lie within a face."""
    for shape, index in enumerate(indices):
        at = index.find("edge", edge)
        if at >= 0:
            return shape, at, -1
    for shape, (index, part) in enumerate(zip(indices, parts, strict=True)):
        source = part.NewSOldS(edge)
        at = index.find("edge", source)
        if at >= 0:
            return shape, at, -1
        at = index.find("face", source)
        if at >= 0:
            return shape, None, at
    return None


def _is_seam(index: ShapeIndex, edge: int) -> bool:
    """Of one face with itself; what has no length is none either."""
    beside = index.faces_of_edges[edge]
    return (len(beside) == 2 and beside[0] == beside[1]) or is_degenerate(index.get("edge", edge))

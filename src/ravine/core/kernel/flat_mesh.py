"""Triangles of plane faces with many holes, by ear clipping on the polygons of their edges.

The kernel's mesher takes a hundred milliseconds for a plate's top with a hundred holes, which a preview cannot wait
for; clipping ears takes one.  Edges take their points from the triangles beside them where there are any, so that
faces stay watertight to the eye.
"""

from __future__ import annotations

from collections.abc import Iterable

import mapbox_earcut
import numpy as np
from numpy.typing import NDArray
from OCP.BRep import BRep_Builder
from OCP.TopAbs import TopAbs_FORWARD

from .carriers import read_surface
from .queries import face_kind
from .rebuild import edge_uses, wires_of
from .shapes import Shape, ShapeIndex, as_face
from .tessellate import edge_polyline, is_meshed, mesh_faces, stored_triangulation

Floats = NDArray[np.float64]

FEW = 24  # edges, up to which the kernel's own mesher is as quick
SLACK = 1e-3  # share of the area by which the triangles may miss the polygons


def mesh_for_view(index: ShapeIndex, deflection: float, faces: Iterable[int] | None = None) -> None:
    """Triangles for every face that has none, or for these (by number): the many-edged plane ones last and by ears.
    Faces whose loops are not simple to the polygon are left to the kernel's mesher."""
    numbers = range(index.count("face")) if faces is None else sorted(faces)
    bare = [n for n in numbers if not is_meshed(index.get("face", n))]
    large = [n for n in bare if _is_large(index, n)]
    mesh_faces([index.get("face", n) for n in bare if n not in set(large)], deflection)
    for number in large:
        _mesh(index, as_face(index.get("face", number)), deflection)
    mesh_faces([face for face in (index.get("face", n) for n in large) if not is_meshed(face)], deflection)


def _is_large(index: ShapeIndex, number: int) -> bool:
    face = index.get("face", number)
    return len(index.edges_of_faces[number]) > FEW and face.Location().IsIdentity() and face_kind(face) == "plane"


def _mesh(index: ShapeIndex, face: Shape, deflection: float) -> None:
    frame = read_surface(face).frame
    assert frame is not None
    rings = [_ring(index, wire, deflection) for wire in wires_of(face)]
    if any(len(r) < 3 for r in rings):
        return
    points = np.concatenate(rings)
    flat = np.column_stack([(points - frame.origin) @ frame.x, (points - frame.origin) @ frame.y])
    ends = np.cumsum([len(r) for r in rings]).astype(np.uint32)
    triangles = mapbox_earcut.triangulate_float64(flat, ends).reshape(-1, 3)
    a, b, c = (flat[triangles[:, k]] for k in range(3))
    areas = ((b - a)[:, 0] * (c - a)[:, 1] - (b - a)[:, 1] * (c - a)[:, 0]) / 2
    triangles[areas < 0] = triangles[areas < 0][:, ::-1]
    loops = _ring_areas(flat, ends)
    whole = float(loops[0] - loops[1:].sum())
    if abs(float(np.abs(areas).sum()) - whole) > SLACK * loops[0]:
        return  # loops that touch or cross as polygons
    if not frame.direct:
        triangles = triangles[:, ::-1]
    BRep_Builder().UpdateFace(face, stored_triangulation(points, triangles.astype(np.int32)))


def _ring(index: ShapeIndex, wire: Shape, deflection: float) -> Floats:
    """The polygon (n, 3) of a loop, in the order of travel."""
    uses = edge_uses(index, wire)
    lines = []
    for edge, against in uses:
        line = edge_polyline(index.get("edge", edge).Oriented(TopAbs_FORWARD), index, edge, deflection)
        if len(line):
            lines.append(line[::-1] if against else line)
    if not lines:
        return np.zeros((0, 3))
    ordered, waiting = [lines.pop(0)], lines
    while waiting:
        end = ordered[-1][-1]
        gaps = [abs(line[0, 0] - end[0]) + abs(line[0, 1] - end[1]) + abs(line[0, 2] - end[2]) for line in waiting]
        near = gaps.index(min(gaps))
        ordered.append(waiting.pop(near))
    return np.concatenate([line[:-1] for line in ordered])


def _ring_areas(flat: Floats, ends: NDArray[np.uint32]) -> Floats:
    """Of the polygons that lie one after another in `flat` (n, 2)."""
    starts = np.append(0, ends[:-1]).astype(np.int64)
    after = np.arange(1, len(flat) + 1)
    after[ends.astype(np.int64) - 1] = starts
    x, y = flat.T
    found: Floats = np.abs(np.add.reduceat(x * y[after] - y * x[after], starts)) / 2
    return found

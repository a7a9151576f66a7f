"""Triangles of plane faces with many holes, by ear clipping on the polygons of their edges.

The kernel's mesher takes a hundred milliseconds for a plate's top with a hundred holes, which a preview cannot wait
for; clipping ears takes one.  Edges take their points from the triangles beside them where there are any, so that
faces stay watertight to the eye.
"""

from __future__ import annotations

import mapbox_earcut
import numpy as np
from numpy.typing import NDArray
from OCP.BRep import BRep_Builder
from OCP.TopAbs import TopAbs_FORWARD

from .carriers import read_surface
from .queries import face_kind
from .rebuild import ends_of, loops_of
from .shapes import Loop, ShapeIndex, as_face
from .tessellate import edge_polyline, forget_others, is_meshed, mesh_faces, stored_triangulation

Floats = NDArray[np.float64]

NONE = np.zeros((0, 3))
FEW = 24  # edges, up to which the kernel's own mesher is as quick
SLACK = 1e-3  # share of the area by which the triangles may miss the polygons


def mesh_for_view(index: ShapeIndex, deflection: float, base: ShapeIndex | None = None) -> None:
    """Triangles for every face that has none: the many-edged plane ones last and by ears.  Faces whose loops are not
    simple to the polygon are left to the kernel's mesher.  base: what the shape differs from as its `differences`
    say, already meshed as finely, so that only what is new there is looked at."""
    known = index.differences if base else None
    faces = known.faces if known else None
    if faces is None:
        forget_others(index, deflection)
    numbers = range(index.count("face")) if faces is None else sorted(faces)
    bare = [n for n in numbers if not is_meshed(index.get("face", n))]
    large = [n for n in bare if _is_large(index, n)]
    mesh_faces([index.get("face", n) for n in bare if n not in set(large)], deflection)
    for number in large:
        _mesh(index, number, _rings(index, number, deflection, base))
    mesh_faces([face for face in (index.get("face", n) for n in large) if not is_meshed(face)], deflection)


def _is_large(index: ShapeIndex, number: int) -> bool:
    face = index.get("face", number)
    return len(index.edges_of_faces[number]) > FEW and face.Location().IsIdentity() and face_kind(face) == "plane"


def _rings(index: ShapeIndex, number: int, deflection: float, base: ShapeIndex | None = None) -> list[Floats]:
    """The polygons of a face's loops, the outer one first; those that are as in `base` are taken from there."""
    known = index.rings.get(number)
    if known is None:
        changed = index.differences.edges if index.differences else frozenset[int]()
        old = _rings(base, number, deflection) if base else None
        known = index.rings[number] = [
            old[k] if old and not any(e in changed for e, _ in loop) else _ring(index, loop, deflection)
            for k, loop in enumerate(loops_of(index, number).ordered)
        ]
    return known


def _mesh(index: ShapeIndex, number: int, rings: list[Floats]) -> None:
    face = as_face(index.get("face", number))
    frame = read_surface(face).frame
    assert frame is not None
    if any(len(r) < 3 for r in rings):
        return
    points = np.concatenate(rings)
    flat = np.column_stack([(points - frame.origin) @ frame.x, (points - frame.origin) @ frame.y])
    ends = np.cumsum([len(r) for r in rings]).astype(np.uint32)
    triangles = mapbox_earcut.triangulate_float64(flat, ends).reshape(-1, 3)
    a, b, c = (flat[triangles[:, k]] for k in range(3))
    areas = ((b - a)[:, 0] * (c - a)[:, 1] - (b - a)[:, 1] * (c - a)[:, 0]) / 2
    triangles[areas < 0] = triangles[areas < 0][:, ::-1]
    sizes = _ring_areas(flat, ends)
    whole = float(sizes[0] - sizes[1:].sum())
    if abs(float(np.abs(areas).sum()) - whole) > SLACK * sizes[0]:
        return  # loops that touch or cross as polygons
    if not frame.direct:
        triangles = triangles[:, ::-1]
    BRep_Builder().UpdateFace(face, stored_triangulation(points, triangles.astype(np.int32)))


def _ring(index: ShapeIndex, loop: Loop, deflection: float) -> Floats:
    """The polygon (n, 3) of a loop, in the order of travel; none where it passes a vertex twice."""
    leaving = {}
    for edge, against in loop:
        line = edge_polyline(index.get("edge", edge).Oriented(TopAbs_FORWARD), index, edge, deflection)
        lower, upper = ends_of(index, edge)
        if against:
            leaving[upper] = lower, line[::-1]
        else:
            leaving[lower] = upper, line
    at, line = leaving.popitem()[1] if leaving else (-1, NONE)
    ordered = [line]
    while at in leaving:
        at, line = leaving.pop(at)
        ordered.append(line)
    whole = len(ordered) == len(loop) and all(len(line) > 1 for line in ordered)
    return np.concatenate([line[:-1] for line in ordered]) if whole else NONE


def _ring_areas(flat: Floats, ends: NDArray[np.uint32]) -> Floats:
    """Of the polygons that lie one after another in `flat` (n, 2)."""
    starts = np.append(0, ends[:-1]).astype(np.int64)
    after = np.arange(1, len(flat) + 1)
    after[ends.astype(np.int64) - 1] = starts
    x, y = flat.T
    found: Floats = np.abs(np.add.reduceat(x * y[after] - y * x[after], starts)) / 2
    return found

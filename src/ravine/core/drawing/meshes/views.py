"""Meshes in views, and what stands before and behind them, by triangles."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ...kernel.flat_mesh import mesh_for_view
from ...kernel.shapes import Shape, ShapeIndex
from ...kernel.tessellate import deflection_of, face_mesh
from ...local.surfaces import Floats
from ...model.drawing_sheet import DrawnView
from ...model.geometry import GeometryStore
from ...model.snapshot import Occurrence
from ...section.rings import skin_of
from ...sketch.plane_curves import PlaneCurve
from ..projection import ViewFrame
from ..screen import Screen
from ..sections.legs import line_way, strips_of
from .cuts import MeshPiece, cut_mesh
from .lines import mesh_lines

Piece = tuple[Occurrence, MeshPiece]
NONE = np.zeros((0, 3, 3))


def mesh_pieces(
    geometry: GeometryStore, meshes: Sequence[Occurrence], view: DrawnView, parent: DrawnView | None
) -> tuple[list[Piece], tuple[str, ...]]:  # fmt: skip
    """What a view shows of meshes, and what is to be said of it.  parent: of a section."""
    names = ", ".join(dict.fromkeys(p.node.name for p in meshes))
    said: tuple[str, ...] = (f"{names}: drawn by its triangles",) if meshes else ()
    strips = strips_of(view, parent) if parent is not None and meshes else None
    if parent is not None and meshes and strips is None:
        said += (f"{names}: not cut, since the cutting line runs back over itself",)
    found: list[Piece] = []
    for place in meshes:
        skin = skin_of(geometry.get(place.body.shape))
        points = place.matrix.points(skin.points)
        if parent is None or strips is None or place.body.id in view.whole:
            found.append((place, MeshPiece(points, skin.triangles, NONE, (), np.zeros(len(points), dtype=bool))))
            continue
        frame = ViewFrame.of(view)
        way = line_way(ViewFrame.of(parent), frame)
        for strip in strips:
            piece = cut_mesh(points, skin.triangles, strip, way, frame)
            if len(piece.triangles):
                found.append((place, piece))
    open_ones = ", ".join(dict.fromkeys(place.node.name for place, piece in found if piece.ragged))
    if open_ones:
        said += (f"{open_ones}: not hatched where its skin has gaps in the cut; mend it first",)
    return found, said


def screen_of(pieces: Sequence[Piece], frame: ViewFrame, shapes: Sequence[Shape] = ()) -> Screen:
    """All of them, and solids where they stand."""
    rows = [r for _, p in pieces for r in (p.points[p.triangles], p.caps)]
    for shape in shapes:
        index = ShapeIndex(shape)
        mesh_for_view(index, deflection_of(index))
        for mesh in (face_mesh(face) for face in index.all("face")):
            rows.append(mesh.points[mesh.triangles])
    return Screen(np.concatenate(rows) if rows else NONE, frame.eye)


def lines_of_meshes(
    pieces: Sequence[Piece], screen: Screen, frame: ViewFrame, hidden: bool
) -> list[tuple[PlaneCurve, bool]]:  # fmt: skip
    found = []
    for _, piece in pieces:
        lines = mesh_lines(piece.points, piece.triangles, screen, frame, piece.seam)
        found += [(curve, visible) for curve, visible in lines if visible or hidden]
    return found


def cap_loops(pieces: Sequence[Piece]) -> list[tuple[int, tuple[Floats, ...]]]:
    """Cut areas with the bodies that they are of."""
    return [(place.body.id, loops) for place, piece in pieces for loops in piece.loops]

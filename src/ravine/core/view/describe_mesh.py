"""What the faces of a mesh are, by the forms that were recognised in it."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ..edits.base import PickSummary
from ..model.geometry import GeometryStore
from ..model.snapshot import Body, Snapshot
from ..model.trimesh_body import TriangleMesh
from ..model.words import KIND_WORDS, plural
from ..units import format_area, format_length
from .description import Description


def describe_mesh_faces(
    snapshot: Snapshot, geometry: GeometryStore, owners: Sequence[tuple[Body, int]], of: str
) -> Description:
    """owners: bodies with the index of a face, at least one of them a mesh."""
    units = snapshot.units
    meshes = [(geometry.get(body.shape), index) for body, index in owners]
    found = [(mesh, index) for mesh, index in meshes if isinstance(mesh, TriangleMesh)]
    locked = any(body.locked for body, _ in owners)
    summary = PickSummary("face", len(owners), frozenset({"mesh"}), locked, True)
    if len(found) < len(owners):
        return Description(plural(len(owners), "face"), f"{of}, some of a mesh.", (), summary)
    if not any(mesh.forms for mesh, _ in found):
        return Description("Mesh", f"{of}: triangles, not told apart into faces; recognise its forms.", (), summary)
    forms = [mesh.forms[index] for mesh, index in found]
    kinds = {form.surface.kind if form.surface else "mesh" for form in forms}
    word = KIND_WORDS[kinds.pop()] if len(kinds) == 1 else "face"
    rows = [("Area", format_area(sum(mesh.face_area(i) for mesh, i in found), units))]
    surface = forms[0].surface
    if len(forms) == 1 and surface is not None:
        if surface.kind == "torus":
            rows += [("Ring radius", format_length(surface.numbers[0], units))]
        if surface.kind in ("cylinder", "sphere", "torus"):
            rows += [("Radius", format_length(surface.radius, units))]
        if surface.kind in ("cylinder", "sphere"):
            rows += [("Diameter", f"Ø {format_length(2 * surface.radius, units)}")]
        if surface.kind == "cone":
            rows += [("Half angle", f"{math.degrees(abs(surface.numbers[1])):.3f}°")]
    if len(forms) == 1:
        mesh, index = found[0]
        rows += [("Triangles", f"{len(mesh.triangles_of_faces[index]):,}".replace(",", "\u202f"))]
    if surface is not None:
        rows += [("Corners off", f"{format_length(max(f.off for f in forms), units)} on average")]
    return Description(plural(len(owners), word), f"{of}, as recognised in the mesh.", tuple(rows), summary)

"""Directions and axes: words for those of the model, or a picked edge or face."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..kernel.queries import edge_facts, vertex_point
from ..local.surfaces import Floats
from ..model.references import Reference
from ..model.trimesh_body import TriangleMesh
from .reshaping import vector
from .work import Work

MODEL_AXES = {"x": (1.0, 0.0, 0.0), "y": (0.0, 1.0, 0.0), "z": (0.0, 0.0, 1.0)}


@dataclass(frozen=True)
class Placing:
    """Where the handle of a move stands: origin (3,), mm, and its X, Y and Z as rows (3, 3), model coordinates."""

    origin: Floats
    directions: Floats

    def along(self, word: str) -> Floats:
        return np.asarray(self.directions["xyz".index(word)])


@dataclass(frozen=True)
class Axis:
    """Through `point` (mm) along unit `direction`, model coordinates.  direction: None for a mere corner."""

    point: Floats
    direction: Floats | None


def picked_axis(work: Work, ident: Reference) -> Axis:
    """The line of a straight edge, the axis of a round edge or face, the normal of a flat face."""
    kind = ident.kind
    body, index = ident.owner
    matrix = ident.matrix
    geometry = work.geometry.get(body.shape)

    def axis(point: Sequence[float] | Floats, direction: Sequence[float] | Floats) -> Axis:
        return Axis(vector(matrix.point(point)), vector(matrix.direction(direction)))

    if isinstance(geometry, TriangleMesh):
        form = geometry.surface(index)
        if form is None or form.frame is None:
            raise EditError(
                f"face {ident} is a free face of a mesh and gives no axis; recognise its forms first", [ident]
            )
        return axis(form.frame.origin, form.frame.z)
    solid = geometry
    if kind == "vertex":
        return Axis(vector(matrix.point(vertex_point(solid.index.get("vertex", index)))), None)
    if kind == "edge":
        facts = edge_facts(solid.index.get("edge", index))
        if facts.direction is not None:
            return axis(facts.ends[0], facts.direction)
        if facts.axis is not None:
            return axis(*facts.axis)
        raise EditError(f"edge {ident} is neither straight nor round, so it gives no axis", [ident])
    surface = solid.topology.surface(index)
    if surface.frame is None:
        raise EditError(f"face {ident} is freeform and gives no axis; pick a straight or round edge", [ident])
    sign = solid.topology.sign(index) if surface.kind == "plane" else 1.0
    point = solid.topology.middle(index)[0] if surface.kind == "plane" else surface.frame.origin
    return axis(point, sign * surface.frame.z)


def placing(work: Work, set_on: tuple[Reference, ...] | None, middle: Floats) -> Placing:
    """Set on what was picked: Z along its axis or normal, X as near to the model's X as that allows; else in the
    middle (mm) of what is moved, along the model's axes."""
    if not set_on:
        return Placing(middle, np.eye(3))
    found = picked_axis(work, set_on[0])
    if found.direction is None:
        return Placing(found.point, np.eye(3))
    z = found.direction
    start = np.eye(3)[0 if abs(z[0]) < 0.9 else 1]
    x = start - (start @ z) * z
    x = x / np.linalg.norm(x)
    return Placing(found.point, np.array([x, np.cross(z, x), z]))


def face_middle(work: Work, ident: Reference) -> tuple[Floats, Floats]:
    """A point on a face and the outward normal there, model coordinates, mm."""
    body, index = ident.owner
    matrix = ident.matrix
    topology = work.geometry.solid(body.shape).topology
    surface = topology.surface(index)
    point, normal = topology.middle(index)
    if surface.kind == "cylinder":  # on the axis, where a hole's handle stands
        along = vector(point) - surface.axial.origin
        point = tuple((surface.axial.origin + (along @ surface.axial.z) * surface.axial.z).tolist())
    return vector(matrix.point(point)), vector(matrix.direction(normal))


def direction_of(work: Work, along: str, axis: tuple[Reference, ...] | None, face: Reference | None = None) -> Floats:
    """Unit direction, model coordinates; face: the one that `normal` is square to."""
    if axis:
        found = picked_axis(work, axis[0]).direction
        if found is not None:
            return found
    return face_normal(work, face) if along == "normal" and face is not None else np.array(MODEL_AXES[along])


def face_normal(work: Work, face: Reference) -> Floats:
    """The direction square to a face at its middle; along the axis of a round one."""
    body, index = face.owner
    topology = work.geometry.solid(body.shape).topology
    surface = topology.surface(index)
    if surface.frame is not None and surface.kind != "plane":
        return vector(face.matrix.direction(surface.frame.z.tolist()))
    return face_middle(work, face)[1]


def axes_beside(work: Work, face: Reference) -> list[str]:
    """x, y and z by how square they are to a face's axis or normal, the squarest first: a feature moves and is repeated
    in the face that it stands on."""
    way = face_normal(work, face)
    return sorted("xyz", key=lambda word: round(abs(float(way @ np.array(MODEL_AXES[word]))), 9))


def axis_line(work: Work, ident: Reference) -> tuple[Floats, Floats]:
    """Point and unit direction, model coordinates, of a line of a sketch, an edge or a round face."""
    kind = ident.kind
    if kind != "curve":
        found = picked_axis(work, ident)
        if found.direction is None:
            raise EditError("a corner gives no axis", [ident], field="axis")
        return found.point, found.direction
    sketch = work.snapshot.sketch_with("curve", ident.number)
    curve = sketch.curve(ident.number)
    if curve.kind != "line":
        raise EditError(f"an axis is a straight line; c{ident.number} is a {curve.kind}", [ident], field="axis")
    a, b = (vector(sketch.plane.place(p)) for p in sketch.places(curve))
    return a, (b - a) / np.linalg.norm(b - a)

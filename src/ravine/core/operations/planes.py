"""Planes through what is picked: for sketches and for splitting."""

from __future__ import annotations

import math

import numpy as np

from ..errors import EditError
from ..kernel.queries import curve_frame, place_on, vertex_point
from ..local.surfaces import Floats
from ..model.references import Reference
from ..model.trimesh_body import TriangleMesh
from ..rigid import vec_of
from ..sketch.entities import Plane
from .axes import face_middle, picked_axis
from .reshaping import vector
from .work import Work

TAKES = (
    "a plane is given by a flat face, by two parallel ones midway, by a round face or two of them through their axes, "
    "by three corners, by two straight or round edges, by an edge and a corner square to it, or by an edge at an angle "
    "to a face"
)


def plane_through(work: Work, picked: tuple[Reference, ...], angle: float = 0.0, field: str = "on") -> Plane:
    """Raises EditError for picks that give no plane."""
    kinds = sorted(p.kind for p in picked)
    if kinds == ["sketch"]:
        return work.snapshot.sketch(picked[0].number).plane
    faces = [p for p in picked if p[0] == "f"]
    edges = [p for p in picked if p[0] == "e"]
    corners = [corner_place(work, p) for p in picked if p[0] == "v"]
    if kinds == ["face"] and not _is_flat(work, faces[0]):
        return _along_axis(*_line(work, faces[0]))
    if kinds == ["face"]:
        return _upright(*_flat_face(work, faces[0], field))
    round_ = [f for f in faces if not _is_flat(work, f)]
    if kinds == ["face", "face"] and not round_:
        (p, n), (q, m) = (_flat_face(work, f, field) for f in faces)
        if abs(float(n @ m)) < 1 - 1e-9:
            raise EditError("the two faces are not parallel, so there is no plane midway", picked, field=field)
        return _upright((p + (p + float((q - p) @ n) * n)) / 2, n)
    if kinds == ["vertex"] * 3:
        a, b, c = corners
        normal = np.cross(b - a, c - a)
        if np.linalg.norm(normal) < 1e-9:
            raise EditError("the three corners lie on one line", picked, field=field)
        return _along(a, b - a, normal)
    if kinds == ["edge", "edge"] or len(round_) == 2 == len(picked):
        (p, u), (q, v) = (_line(work, e) for e in picked)
        normal = np.cross(u, v)
        if np.linalg.norm(normal) < 1e-9:
            normal = np.cross(u, q - p)
        size = float(np.linalg.norm(normal))
        if size < 1e-9 or abs(float((q - p) @ normal)) > 1e-6 * size:
            raise EditError("no plane runs through the two edges or axes", picked, field=field)
        return _along(p, u, normal)
    if kinds == ["edge", "vertex"]:
        body, index = edges[0].owner
        matrix = edges[0].matrix
        inside = matrix.inverse.point(corners[0].tolist())
        at, along = curve_frame(work.geometry.solid(body.shape).index.get("edge", index), inside)
        return _upright(vector(matrix.point(at)), vector(matrix.direction(along)))
    if kinds == ["edge", "face"]:
        point, way = _line(work, edges[0])
        _, normal = _flat_face(work, faces[0], field)
        if abs(float(way @ normal)) > 1e-6:
            raise EditError("the edge does not lie in the face", picked, field=field)
        turned = math.cos(angle) * normal + math.sin(angle) * np.cross(way, normal)
        return _along(point, way, turned)
    raise EditError(TAKES, picked, field=field)


def plane_along(work: Work, edge: Reference, share: float) -> Plane:
    """Square to an edge, its origin on the edge at a share of its length."""
    body, index = edge.owner
    matrix = edge.matrix
    at, along = place_on(work.geometry.solid(body.shape).index.get("edge", index), share)
    point = vector(matrix.point(at))
    plane = _upright(point, vector(matrix.direction(along)))
    return Plane(vec_of(point), plane.x, plane.y)


def corner_place(work: Work, ident: Reference) -> Floats:
    body, index = ident.owner
    place = vertex_point(work.geometry.solid(body.shape).index.get("vertex", index))
    return vector(ident.matrix.point(place))


def _line(work: Work, edge: Reference) -> tuple[Floats, Floats]:
    """A point and the direction of a straight edge, or of the axis of a round edge or face."""
    found = picked_axis(work, edge)
    assert found.direction is not None  # only a corner has none
    return found.point, found.direction


def _is_flat(work: Work, ident: Reference) -> bool:
    body, index = ident.owner
    geometry = work.geometry.get(body.shape)
    form = geometry.surface(index) if isinstance(geometry, TriangleMesh) else geometry.topology.surface(index)
    return form is not None and form.kind == "plane"


def _along_axis(point: Floats, axis: Floats) -> Plane:
    """Through an axis, seen from the front, or else from the side or above."""
    normal = next(n for n in np.array([[0.0, -1, 0], [1, 0, 0], [0, 0, 1]]) if abs(float(n @ axis)) < 0.8)
    return _upright(point, normal - float(normal @ axis) * axis)


def _flat_face(work: Work, ident: Reference, field: str) -> tuple[Floats, Floats]:
    if not _is_flat(work, ident):
        raise EditError(f"face {ident} is not flat; {TAKES}", [ident], field=field)
    return face_middle(work, ident)


def _upright(point: Floats, normal: Floats) -> Plane:
    """Its x level, where that says anything; the origin of the model, dropped on to it, in its middle."""
    z = normal / np.linalg.norm(normal)
    level = np.cross([0.0, 0.0, 1.0], z)
    x = level / np.linalg.norm(level) if np.linalg.norm(level) > 1e-9 else np.array([1.0, 0.0, 0.0])
    origin = float(point @ z) * z
    return Plane(vec_of(origin), vec_of(x), vec_of(np.cross(z, x)))


def _along(point: Floats, x: Floats, normal: Floats) -> Plane:
    x, z = x / np.linalg.norm(x), normal / np.linalg.norm(normal)
    return Plane(vec_of(point), vec_of(x), vec_of(np.cross(z, x)))

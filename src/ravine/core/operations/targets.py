"""`until`: how far a face has to go to reach a picked thing."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..errors import EditError
from ..kernel.boolean import combine, prism
from ..kernel.properties import bounding_box, rough_box
from ..kernel.queries import edge_facts, vertex_point
from ..kernel.shapes import parts_of, placed
from ..local.surfaces import Floats, Surface
from ..model.geometry import Solid
from ..model.references import Reference
from ..model.snapshot import Body, facet_number
from ..model.trimesh_body import TriangleMesh
from ..rigid import IDENTITY, Rigid
from ..tolerances import ALIGNED, ONE_DIRECTION
from .reshaping import vector
from .work import Work

NEARLY = 2e-3  # 1 − |cos|, about 3.6°: a flat face of a mesh is parallel only about


def distance_until(work: Work, face: Reference, target: Reference) -> float:
    """mm along the outward normal from a face to a picked face, edge, corner or part.

    A point-like target (corner, middle of a circle) is met by the face's own surface, so a hole's wall grows until
    it passes through the corner.  Raises EditError where the face cannot come to lie on the target.
    """
    kind = target.kind
    body, index = face.owner
    topology = work.geometry.solid(body.shape).topology
    surface, sign = topology.surface(index), topology.sign(index)
    if kind == "node":
        return _until_part(work, face, target.number)
    owner, place = target.owner
    there = _Other(face.matrix, target.matrix)
    if kind == "facet":
        point = there.point(_facet_middle(work, owner, place, target))
        return float(sign * surface.distance(point[None])[0][0])
    mesh = work.geometry.get(owner.shape)
    if isinstance(mesh, TriangleMesh):
        return _until_mesh_face(there, mesh, place, surface, sign, target)
    solid = work.geometry.solid(owner.shape)
    if kind == "vertex":
        point = there.point(vertex_point(solid.index.get("vertex", place)))
        return float(sign * surface.distance(point[None])[0][0])
    if surface.kind == "plane":
        normal = sign * surface.axial.z
        point = _plane_target(there, solid, kind, place, normal, target)
        return float((point - surface.axial.origin) @ normal)
    if kind == "edge":
        facts = edge_facts(solid.index.get("edge", place))
        point = there.point(facts.middle)
        return float(sign * surface.distance(point[None])[0][0])
    other = solid.topology.surface(place)
    if other.kind != surface.kind or not surface.numbers:
        raise EditError(f"{target} is no {surface.kind} whose size it could take; pick a corner or an edge", [target])
    return sign * (other.radius - surface.radius)


def distance_to(work: Work, origin: Floats, normal: Floats, target: Reference) -> float:
    """mm along a unit normal from a plane to a picked face, edge or corner, model coordinates.  Raises EditError where
    the plane cannot come to lie on it."""
    kind = target.kind
    owner, place = target.owner
    there = _Other(IDENTITY, target.matrix)
    mesh = work.geometry.get(owner.shape)
    if kind == "facet":
        return float((there.point(_facet_middle(work, owner, place, target)) - origin) @ normal)
    if isinstance(mesh, TriangleMesh):
        return _until_mesh_face(there, mesh, place, Surface.plane(origin, normal), 1.0, target)
    solid = work.geometry.solid(owner.shape)
    if kind == "vertex":
        point = there.point(vertex_point(solid.index.get("vertex", place)))
    else:
        point = _plane_target(there, solid, kind, place, normal, target)
    return float((point - origin) @ normal)


def _facet_middle(work: Work, owner: Body, place: int, target: Reference) -> Floats:
    mesh = work.geometry.get(owner.shape)
    if not isinstance(mesh, TriangleMesh):
        raise EditError(f"{owner.name} has exact faces and no facets; pick a face, an edge or a corner", [target])
    try:
        return mesh.facet(place, facet_number(target)).mean(axis=0)
    except IndexError:
        raise EditError(f"{owner.name} has no such facet any more; pick one again", [target]) from None


def _until_mesh_face(
    there: _Other, mesh: TriangleMesh, place: int, surface: Surface, sign: float, target: Reference
) -> float:
    """Until the form of a mesh's face; flat ones are met in their middle."""
    form = mesh.surface(place)
    if form is None:
        raise EditError(f"{target} is a free face of a mesh, which has no one height or size; pick a facet of it with "
                        "Alt, or recognise its forms first", [target], field="until")  # fmt: skip
    if surface.kind == "plane" and form.kind == "plane":
        if abs(there.direction(form.axial.z) @ surface.axial.z) < 1 - NEARLY:
            raise EditError(f"{target} is not parallel to the face; pick a facet of it with Alt", [target],
                            field="until")  # fmt: skip
        return float(sign * surface.distance(there.point(form.axial.origin)[None])[0][0])
    if surface.kind == form.kind and surface.numbers:
        return sign * (form.radius - surface.radius)
    raise EditError(f"{target} is no {surface.kind} that the face could come to lie on; pick a facet of it", [target],
                    field="until")  # fmt: skip


class _Other:
    """Points and directions of another body in coordinates that `here` takes to the model's."""

    def __init__(self, here: Rigid, there: Rigid) -> None:
        self.matrix = here.inverse @ there

    def point(self, p: Sequence[float] | Floats) -> Floats:
        return vector(self.matrix.point(p))

    def direction(self, d: Sequence[float] | Floats) -> Floats:
        return vector(self.matrix.direction(d))


def _plane_target(there: _Other, solid: Solid, kind: str, place: int, normal: Floats, target: Reference) -> Floats:
    """A point of the plane square to `normal` that the target lies in."""
    if kind == "face":
        surface = solid.topology.surface(place)
        if surface.kind == "plane" and abs(there.direction(surface.axial.z) @ normal) > 1 - ONE_DIRECTION:
            return there.point(surface.axial.origin)
        if surface.kind in ("cylinder", "cone") and abs(there.direction(surface.axial.z) @ normal) < 1e-6:
            return there.point(surface.axial.origin)  # the height of its axis
        if surface.kind == "sphere":
            return there.point(surface.axial.origin)
        raise EditError(
            f"{target} is not parallel to the face, so a push does not reach it evenly; pick a corner or an edge of "
            "it, or tilt the face first", [target])  # fmt: skip
    facts = edge_facts(solid.index.get("edge", place))
    if facts.direction is not None and abs(there.direction(facts.direction) @ normal) > 1e-6:
        raise EditError(f"edge {target} runs askew to the face; pick one of its corners", [target])
    if facts.axis is not None and abs(there.direction(facts.axis[1]) @ normal) < 1 - ONE_DIRECTION:
        return there.point(facts.axis[0])
    return there.point(facts.middle)


def _until_part(work: Work, picked: Reference, node: int) -> float:
    """Until a plane face first touches another part on its way out: the nearest matter within its sweep."""
    body, face = picked.owner
    topology = work.geometry.solid(body.shape).topology
    surface = topology.surface(face)
    if surface.kind != "plane":
        raise EditError("only a flat face can be pushed until a part; pick a face or corner of the part")
    normal = topology.sign(face) * surface.axial.z
    leaf = next(o for o in work.snapshot.occurrences() if o.node.id in work.snapshot.leaves_below(node))
    if leaf.body.id == body.id or leaf.body.kind == "mesh":
        raise EditError(f"{leaf.body.name} is not another solid part; pick one of its corners instead")
    other = work.geometry.solid(leaf.body.shape)
    matrix = picked.matrix.inverse @ leaf.matrix
    shape = placed(other.shape, matrix)
    corners = np.array(rough_box(shape))
    reach = max(float((np.where(normal > 0, corners[1], corners[0]) - surface.axial.origin) @ normal), 0.0)
    if reach > ALIGNED:
        sweep = prism(topology.index, topology.index.get("face", face), [float(c) for c in reach * normal])
        met, _ = combine("common", sweep.shape, [shape], merge=False)
        if parts_of(met, "solid"):
            turned = placed(met, _upright(surface.axial.origin, normal))
            return float(bounding_box(turned)[0][2])
    raise EditError(f"{leaf.body.name} does not lie ahead of the face")


def _upright(origin: Floats, normal: Floats) -> Rigid:
    """The placement that lays `origin` at zero and `normal` along z."""
    x = np.cross(normal, [1.0, 0, 0] if abs(normal[0]) < 0.9 else [0, 1.0, 0])
    x /= np.linalg.norm(x)
    turn = np.array([x, np.cross(normal, x), normal])
    return Rigid.of(turn, -turn @ origin)

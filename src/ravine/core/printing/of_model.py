"""A body of a model on the bed of its machine: triangles within a tolerance, its flat walls and its holes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..features.recogniser import features_of
from ..kernel.serial import from_bytes, to_bytes
from ..kernel.shapes import parts_of
from ..kernel.tessellate import face_mesh, mesh_afresh
from ..local.surfaces import Floats
from ..model.geometry import GeometryStore, Solid, TriangleMesh
from ..model.print_data import PrintData
from ..model.records import PRINTS
from ..model.snapshot import Body, Snapshot
from ..model.wall_thickness import wall_depths
from .findings import FlatWall, PrintFinding, RoundHole, open_edges, print_findings, with_marks
from .layers import Layers
from .machines import Machine, machine_for, machines
from .printed import Printed, laid_down

FINE = 0.05  # mm, that triangles may lie off the surface
ANGLE = 0.3  # rad
DEEPEST = 30.0  # mm, beyond which two faces are no wall


@dataclass(frozen=True, eq=False)
class Job:
    """A body as it is printed; off: mm that its triangles lie off the surface at most."""

    body: Body
    data: PrintData
    machine: Machine
    part: Printed
    off: float


def job_of(snapshot: Snapshot, geometry: GeometryStore, body: Body, data: PrintData | None = None) -> Job:
    """data: as it is kept, or usual, when left out.  Raises EditError for what is neither solid nor mesh."""
    if body.kind not in ("solid", "mesh"):
        raise EditError(f"{body.name} is neither a solid nor a mesh, so there is nothing to print")
    own = data or snapshot.kept(PRINTS).get(body.id) or PrintData(body.id, next(iter(machines())))
    corners, faces, off = geometry.remembered(("printed", body.shape, FINE), lambda: _triangles(geometry, body))
    return Job(body, own, machine_for(name=own.machine), laid_down(corners, faces, np.array(own.down)), off)


def _triangles(geometry: GeometryStore, body: Body) -> tuple[Floats, np.ndarray, float]:
    found = geometry.get(body.shape)
    if isinstance(found, TriangleMesh):
        labels = np.zeros(len(found.triangles), int) if found.labels is None else found.labels
        return found.points[found.triangles], labels, 0.0
    assert isinstance(found, Solid)
    shape = from_bytes(to_bytes(found.shape))  # so that the view keeps its coarser triangles
    mesh_afresh(shape, FINE, ANGLE)
    corners, faces, off = [], [], 0.0
    for number, face in enumerate(parts_of(shape, "face")):
        mesh = face_mesh(face)
        rows = mesh.points[mesh.triangles]
        corners.append(rows)
        faces.append(np.full(len(rows), number))
        surface = found.topology.surface(number)
        if len(rows) and surface.kind != "plane":
            off = max(off, float(np.abs(surface.distance(rows.mean(axis=1))[0]).max()))
    return np.concatenate(corners), np.concatenate(faces), off


def checked(snapshot: Snapshot, geometry: GeometryStore, job: Job) -> tuple[list[PrintFinding], Layers]:
    layers = job.part.layers(job.machine.layer)
    walls, holes, marks = [], [], []
    found = geometry.get(job.body.shape)
    if isinstance(found, Solid):
        walls, holes, marks = _walls(found), _holes(found), _marks(found)
    gaps = open_edges(job.part.corners) if isinstance(found, TriangleMesh) else 0
    rows = print_findings(job.part, layers, job.machine, walls, holes, gaps)
    return with_marks(rows, marks, job.part), layers


def _walls(solid: Solid) -> list[FlatWall]:
    topology = solid.topology
    planes = [f for f in range(topology.index.count("face")) if topology.surface(f).kind == "plane"]
    if not planes:
        return []
    middles = [topology.middle(f) for f in planes]
    depths = wall_depths(np.array([n for _, n in middles]), np.array([p for p, _ in middles]))
    found = []
    for face, (point, normal), depth in zip(planes, middles, depths.tolist(), strict=True):
        if not 0 < depth < DEEPEST:
            continue
        far = np.array(point) - depth * np.array(normal)
        if _is_opposite(topology.boxes, planes, middles, far, depth, np.array(normal)):
            found.append(FlatWall(face, depth, _three(np.array(point) - depth / 2 * np.array(normal))))
    return found


def _is_opposite(boxes: Floats, planes: list[int], middles: list, far: Floats, depth: float, normal: Floats) -> bool:
    """Whether a face that looks the other way lies there: its box holds the place."""
    for face, (point, other) in zip(planes, middles, strict=True):
        if (
            float(np.array(other) @ normal) > -0.999
            or abs(float((np.array(point) - far) @ normal)) > 1e-3 * depth + 1e-6
        ):
            continue
        box = boxes[face]
        if (far > box[:3] - 1e-6).all() and (far < box[3:] + 1e-6).all():
            return True
    return False


def _holes(solid: Solid) -> list[RoundHole]:
    found = []
    for feature in features_of(solid.topology):
        walls = [f for f in feature.faces if solid.topology.surface(f).kind == "cylinder"]
        if feature.kind == "hole" and walls:
            narrow = min(walls, key=lambda f: solid.topology.surface(f).radius)
            wide = 2 * solid.topology.surface(narrow).radius
            found.append(RoundHole(narrow, wide, _three(np.array(feature.place)), _three(np.array(feature.way))))
    return found


def _marks(solid: Solid) -> list[tuple[tuple[int, ...], Floats]]:
    rows = [f.faces for f in features_of(solid.topology) if f.kind == "cluster"]
    boxes = [solid.topology.boxes[list(faces)] for faces in rows]
    return [(faces, np.array([b[:, :3].min(axis=0), b[:, 3:].max(axis=0)]))
            for faces, b in zip(rows, boxes, strict=True)]  # fmt: skip


def _three(v: Floats) -> tuple[float, float, float]:
    x, y, z = v.tolist()
    return x, y, z

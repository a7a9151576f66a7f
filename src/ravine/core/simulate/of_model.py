"""A study of a model as a problem of statics: its parts meshed, its faces found again, its contacts looked for."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

import numpy as np
import scipy.sparse as sp
from scipy.spatial import cKDTree

from ..errors import EditError
from ..kernel.build import moved
from ..kernel.serial import to_text
from ..local.topology import SolidTopology
from ..model.geometry import GeometryStore
from ..model.materials import MATERIALS
from ..model.references import Reference, resolve
from ..model.simulation import Condition, Simulation
from ..model.snapshot import Occurrence, Snapshot
from ..rigid import Rigid
from . import heat, loads
from .assemble import Progress, still
from .contact import Tie, tie
from .elements import Floats, Ints, on_surface
from .material import Elastic
from .mesh import Mesh
from .meshing import MeshPart, mesh_parts
from .static import Problem
from .supports import Held

GRAVITY = 9806.65  # mm/s²
SHARES = 11  # elements along the diagonal of a part, unless said otherwise
MOST = 900_000  # unknowns
SAG = 0.12  # of an element, that the straight sides of two meshes of one curved face may lie apart
ROOM = 20.0  # °C, at which nothing is strained


@dataclass(frozen=True, eq=False)
class Part:
    """Of a study: where it stands, with the number of its first face in the mesh."""

    place: Occurrence
    topology: SolidTopology
    first: int

    @property
    def matrix(self) -> Rigid:
        return self.place.matrix

    def axis_of(self, face: int) -> tuple[Floats, Floats]:
        """Point and direction of a round face's axis, in the model."""
        axial = self.topology.surface(face).axial
        return np.array(self.matrix.point(axial.origin)), np.array(self.matrix.direction(axial.z))


@dataclass(eq=False)
class Setup:
    """parts in order of their bodies in the mesh; problem: what is solved."""

    parts: list[Part]
    problem: Problem
    rows: list[heat.Warm] = field(default_factory=list)

    @property
    def names(self) -> list[str]:
        return [p.place.node.name for p in self.parts]


def elastic_of(material: str) -> Elastic:
    found = MATERIALS[material]
    s = found.strength
    return Elastic(s.modulus, s.poisson, found.density * 1e-12, s.limit, s.expansion, s.conductivity)


def parts_of(snapshot: Snapshot, geometry: GeometryStore, study: Simulation) -> list[Part]:
    places = {o.node.id: o for o in snapshot.occurrences()}
    found: list[Part] = []
    first = 0
    for node in study.nodes:
        place = places[node]
        if place.body.material is None:
            raise EditError(f"{place.body.name} has no material any more", [f"n{node}"])
        topology = geometry.solid(place.body.shape).topology
        found.append(Part(place, topology, first))
        first += topology.index.count("face")
    return found


def usual_size(part: Part) -> float:
    """mm: so that a part has some elements along it, and its walls some across."""
    boxes = part.topology.boxes
    diagonal = float(np.linalg.norm(boxes[:, 3:].max(axis=0) - boxes[:, :3].min(axis=0)))
    return diagonal / SHARES


def mesh_of(snapshot: Snapshot, geometry: GeometryStore, study: Simulation, parts: list[Part], scale: float,
            finer: Mapping[int, float], progress: Progress) -> Mesh:  # fmt: skip
    """scale: by which all sizes are multiplied; finer: sizes (mm) by number of a face in the mesh."""
    own = {k: v * scale for k, v in _finer(snapshot, study, parts).items()}
    for k, v in finer.items():
        own[k] = min(v, own.get(k, v))
    rows = []
    for part in parts:
        count = part.topology.index.count("face")
        shape = geometry.solid(part.place.body.shape).shape
        text = to_text(moved(shape, part.matrix))
        size = (study.size or usual_size(part)) * scale
        here = {f - part.first: h for f, h in own.items() if part.first <= f < part.first + count}
        rows.append(MeshPart(part.place.node.name, text, count, size, here))
    key = ("simulation mesh", tuple((hash(r.brep), r.size, tuple(sorted(r.finer.items()))) for r in rows))
    mesh: Mesh = geometry.remembered(key, lambda: mesh_parts(rows, progress))
    if mesh.unknowns > MOST:
        raise EditError(
            f"{mesh.unknowns:,} unknowns are more than can be solved here ({MOST:,}); take larger elements",
            field="size",
        )
    return mesh


def _finer(snapshot: Snapshot, study: Simulation, parts: list[Part]) -> dict[int, float]:
    return {_number(snapshot, parts, ident): size for ident, size in study.finer.items()}


def _number(snapshot: Snapshot, parts: list[Part], ident: str) -> int:
    """Of a face in the mesh.  Raises UnknownId for one that is no more."""
    part, reference = _face(snapshot, parts, ident)
    return part.first + reference.at


def _face(snapshot: Snapshot, parts: list[Part], ident: str) -> tuple[Part, Reference]:
    reference = resolve(snapshot, ident)
    part = next((p for p in parts if p.place.node.id == reference.node), None)
    if part is None:
        raise EditError(f"{ident} is of no part of the study", [ident])
    return part, reference


def setup_of(
    snapshot: Snapshot, geometry: GeometryStore, study: Simulation, scale: float = 1.0,
    finer: Mapping[int, float] | None = None, progress: Progress = still,
) -> Setup:  # fmt: skip
    """Raises EditError for faces that are gone, and for what cannot be meshed."""
    parts = parts_of(snapshot, geometry, study)
    mesh = mesh_of(snapshot, geometry, study, parts, scale, finer or {}, lambda f, w: progress(0.4 * f, w))
    materials = [elastic_of(p.place.body.material or "") for p in parts]
    progress(0.42, "looking for contacts")
    ties = _ties(study, parts, mesh, materials)
    held, load = Held(), np.zeros_like(mesh.points)
    rise: Floats | None = None
    places: dict[str, Ints] = {}
    rows: list[heat.Warm] = []
    for condition in study.conditions:
        try:
            faces = [_face(snapshot, parts, ident) for ident in condition.on]
        except EditError as error:
            raise EditError(f"{condition.name} of {study.name}: {error}", list(condition.on)) from error
        numbers = [p.first + r.at for p, r in faces]
        triangles = mesh.of_faces(numbers)
        if condition.supports:
            places[condition.name] = np.unique(triangles)
            _support(condition, faces, mesh, held)
        elif condition.kind == "warmth":
            rise = np.full(len(mesh.points), condition.numbers.get("amount", ROOM) - ROOM)
        elif condition.kind in ("heat", "air"):
            kind = "flux" if condition.kind == "heat" else "air"
            rows.append(heat.Warm(triangles, kind, condition.numbers["amount"], condition.numbers.get("film", 10.0)))
        else:
            load += _load(condition, faces, mesh, materials, triangles)
        if condition.supports and "temperature" in condition.numbers:
            rows.append(heat.Warm(triangles, "held", condition.numbers["temperature"]))
    if rows:
        rise = heat.temperatures(mesh, materials, rows) - ROOM
    return Setup(parts, Problem(mesh, materials, held, load, ties, rise, places), rows)


def _vector(condition: Condition) -> list[float]:
    return [condition.numbers.get(a, 0.0) for a in "xyz"]


def _load(
    condition: Condition, faces: list[tuple[Part, Reference]], mesh: Mesh, materials: list[Elastic], triangles: Ints
) -> Floats:
    vector = _vector(condition)
    match condition.kind:
        case "force":
            return loads.force(mesh, triangles, vector)
        case "pressure":
            return loads.pressure(mesh, triangles, condition.numbers["amount"])
        case "bearing":
            part, reference = faces[0]
            return loads.bearing(mesh, triangles, part.axis_of(reference.at)[1].tolist(), vector)
        case "moment":
            return loads.moment(mesh, triangles, (0.0, 0.0, 0.0), vector)
        case "remote":
            at = [condition.numbers.get(f"at_{a}", 0.0) for a in "xyz"]
            return loads.remote(mesh, triangles, at, vector)
        case "weight":
            way = np.array(vector) / np.linalg.norm(vector)
            return loads.weight(mesh, materials, (GRAVITY * way).tolist())
        case "rotation":
            at = [condition.numbers.get(f"at_{a}", 0.0) for a in "xyz"]
            return loads.rotation(mesh, materials, at, vector, condition.numbers["speed"])
    raise EditError(f"there is no load {condition.kind}")


def _support(condition: Condition, faces: list[tuple[Part, Reference]], mesh: Mesh, held: Held) -> None:
    for part, reference in faces:
        triangles = mesh.of_faces([part.first + reference.at])
        nodes = np.unique(triangles)
        match condition.kind:
            case "fixed":
                held.fix(nodes)
            case "frictionless":
                held.hold(nodes, _normals(part, reference.at, mesh, triangles, nodes))
            case "cylindrical":
                radial, tangential, axial = _about(part, reference.at, mesh.points[nodes])
                for word, ways in (("radial", radial), ("tangential", tangential), ("axial", axial)):
                    if condition.numbers.get(word, 1.0):
                        held.hold(nodes, ways)
            case "displacement":
                for letter, way in zip("xyz", np.eye(3), strict=True):
                    amount = condition.numbers.get(letter)
                    if amount is not None:
                        held.hold(nodes, way, amount)
            case "elastic":
                held.springs.append(_ground(mesh, triangles, condition.numbers["ground"]))


def _normals(part: Part, face: int, mesh: Mesh, triangles: Ints, nodes: Ints) -> Floats:
    """Exact ones of planes and cylinders, else of the mesh, by area."""
    surface = part.topology.surface(face)
    if surface.kind == "plane":
        normal = np.array(part.matrix.direction(part.topology.middle(face)[1]))
        return np.tile(normal, (len(nodes), 1))
    if surface.kind == "cylinder":
        return _about(part, face, mesh.points[nodes])[0]
    _, areas, values = on_surface(mesh.points, triangles)
    found = np.zeros_like(mesh.points)
    np.add.at(found, triangles.ravel(), np.einsum("qa,eqi->eai", np.abs(values), areas).reshape(-1, 3))
    rows = found[nodes]
    return np.asarray(rows / np.linalg.norm(rows, axis=1)[:, None])


def _about(part: Part, face: int, points: Floats) -> tuple[Floats, Floats, Floats]:
    """Radial, tangential and axial directions (n, 3) at points about a face's axis."""
    origin, axis = part.axis_of(face)
    arms = points - origin
    out = arms - (arms @ axis)[:, None] * axis
    radial = out / np.linalg.norm(out, axis=1)[:, None]
    return radial, np.cross(axis, radial), np.tile(axis, (len(points), 1))


def _ground(mesh: Mesh, triangles: Ints, amount: float) -> sp.bsr_matrix:
    _, areas, values = on_surface(mesh.points, triangles)
    blocks = np.einsum("eq,qa,qb->eab", amount * np.linalg.norm(areas, axis=-1), values, values)
    index = np.broadcast_to(triangles[:, :, None], blocks.shape)
    count = len(mesh.points)
    plain = sp.csr_matrix((blocks.ravel(), (index.ravel(), index.transpose(0, 2, 1).ravel())), shape=(count, count))
    return sp.kron(plain, sp.eye_array(3)).tobsr((3, 3))


# --- contacts ----------------------------------------------------------------------------------------------------


def _ties(study: Simulation, parts: list[Part], mesh: Mesh, materials: list[Elastic]) -> list[Tie]:
    rules = {r.nodes: r for r in study.rules}
    found = []
    for i, one in enumerate(parts):
        for j in range(i + 1, len(parts)):
            pair = sorted((one.place.node.id, parts[j].place.node.id))
            rule = rules.get((pair[0], pair[1]))
            kind = rule.kind if rule else study.contact
            if kind == "none":
                continue
            gap = rule.gap if rule else 0.0
            found += _between(mesh, parts, (i, j), kind, gap, materials)
    return found


def _between(
    mesh: Mesh, parts: list[Part], pair: tuple[int, int], kind: str, gap: float, materials: list[Elastic]
) -> list[Tie]:
    """One for every face of the part with the finer mesh there, so that normals can be exact."""
    sides = [_skin(mesh, parts, k) for k in pair]
    near = [_near(mesh, sides[0], sides[1], gap), _near(mesh, sides[1], sides[0], gap)]
    if not len(near[0]) or not len(near[1]):
        return []
    sizes = [np.median(_edges(mesh, n)) for n in near]
    first = 0 if sizes[0] <= sizes[1] else 1
    slave, master = near[first], near[1 - first]
    part = parts[pair[first]]
    modulus = min(materials[k].modulus for k in pair)
    found = []
    faces = mesh.faces[np.isin(mesh.triangles[:, 0], slave[:, 0])]
    for face in np.unique(faces).tolist():
        own = mesh.triangles[mesh.faces == face]
        rows = own[(own[:, None, :] == slave[None, :, :]).all(axis=2).any(axis=1)] if len(own) < 4000 else own
        if not len(rows):
            continue
        local = face - part.first
        surface = part.topology.surface(local)
        sag = 1e-4 if surface.kind == "plane" else SAG * float(np.median(_edges(mesh, rows)))
        one = tie(
            mesh, rows, master, modulus, kind == "sliding", gap + sag, _exact(part, local), kind == "opening", sag
        )
        if one is not None and one.areas.sum() > 1e-9:
            found.append(one)
    return found


def _exact(part: Part, face: int) -> Callable[[Floats], Floats] | None:
    if part.topology.surface(face).kind != "cylinder":
        return None
    sense = float(part.topology.sign(face))
    return lambda places: sense * _about(part, face, places)[0]


def _skin(mesh: Mesh, parts: list[Part], k: int) -> Ints:
    first = parts[k].first
    last = first + parts[k].topology.index.count("face")
    return mesh.triangles[(mesh.faces >= first) & (mesh.faces < last)]


def _edges(mesh: Mesh, triangles: Ints) -> Floats:
    a, b = mesh.points[triangles[:, 0]], mesh.points[triangles[:, 1]]
    return np.asarray(np.linalg.norm(a - b, axis=1))


def _near(mesh: Mesh, one: Ints, other: Ints, gap: float) -> Ints:
    """Triangles of one side that have one of the other within reach."""
    middles = mesh.points[other[:, :3]].mean(axis=1)
    reach = gap + 1.2 * float(np.max(_edges(mesh, other)))
    far, _ = cKDTree(middles).query(mesh.points[one[:, :3]].mean(axis=1), distance_upper_bound=reach)
    return one[np.isfinite(far)]

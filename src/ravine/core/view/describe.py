"""What is picked, in a sentence and a few measures, for the panel under Actions."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from ..edits.base import PickSummary
from ..model.geometry import GeometryStore, Solid
from ..model.link import ModelLink
from ..model.materials import mass_kg
from ..model.measure import measure_body, volume_mm3
from ..model.query import ELEMENTS, Edge, Face, Scope, Vertex, hole_of, things_of
from ..model.records import LINKS
from ..model.separation import between
from ..model.snapshot import Body, Snapshot, split_id
from ..model.words import describe_nodes, plural, word_for
from ..operations.stand_in import PART_NUMBER
from ..tolerances import TOUCHING
from ..units import LENGTHS, format_angle, format_area, format_length, format_mass, format_volume
from .describe_mesh import describe_mesh_faces
from .describe_sketch import describe_sketch_pick
from .description import Description

_EDGE_WORDS = {"line": "straight edge", "circle": "round edge", "ellipse": "elliptic edge", "spline": "curved edge"}
_AXES = {(1, 0, 0): "X", (0, 1, 0): "Y", (0, 0, 1): "Z"}


def describe_pick(snapshot: Snapshot, geometry: GeometryStore, ids: Sequence[str]) -> Description:
    """`ids` are of one kind: faces, edges, vertices or nodes; or some of the first three.  Raises EditError for
    unknown ones."""
    if not ids:
        return _whole(snapshot, geometry)
    kinds = {split_id(i)[0] for i in ids}
    if len(kinds) > 1 and kinds <= ELEMENTS.keys():
        return _mixed(snapshot, geometry, ids)
    kind = split_id(ids[0])[0]
    if kind == "node":
        return _nodes(snapshot, geometry, ids)
    if kind in ("sketch", "point", "curve", "rule", "area"):
        return describe_sketch_pick(snapshot, ids)
    owners = [snapshot.owner_of(kind, split_id(i)[1]) for i in ids]
    locked = any(body.locked for body, _ in owners)
    names = list(dict.fromkeys(body.name for body, _ in owners))
    of = f"of {names[0]}" if len(names) == 1 else f"of {len(names)} bodies"
    if any(body.kind == "mesh" for body, _ in owners):
        return describe_mesh_faces(snapshot, geometry, owners, of)
    found = things_of(snapshot, geometry, ids)
    rims = kind == "edge" and all(isinstance(e, Edge) and hole_of(e) for e in found)
    summary = PickSummary(kind, len(ids), frozenset(), locked, rims=rims)
    if kind == "face":
        told = _faces(snapshot, [f for f in found if isinstance(f, Face)], of, locked)
    elif kind == "edge":
        told = _edges(snapshot, [e for e in found if isinstance(e, Edge)], of, summary)
    else:
        told = _vertices(snapshot, [v for v in found if isinstance(v, Vertex)], of, summary)
    return replace(told, rows=(*_between(snapshot, found), *told.rows)) if len(found) == 2 else told


def _mixed(snapshot: Snapshot, geometry: GeometryStore, ids: Sequence[str]) -> Description:
    """Faces, edges and corners together: nothing can be done with such a pick, but it is measured."""
    owners = [(split_id(i)[0], *snapshot.owner_of(*split_id(i))) for i in ids]
    locked = any(body.locked for _, body, _ in owners)
    summary = PickSummary("mixed", len(ids), frozenset(), locked)
    if any(body.kind == "mesh" for _, body, _ in owners):
        return Description(plural(len(ids), "thing"), "some of a mesh.", (), summary)
    found = things_of(snapshot, geometry, ids)
    counts = [(k, sum(kind == k for kind, _, _ in owners)) for k in ELEMENTS]
    words = " and ".join(plural(n, {"vertex": "corner"}.get(k, k)) for k, n in counts if n)
    rows = _between(snapshot, found) if len(found) == 2 else []
    return Description(words, "measured against one another." if rows else "", tuple(rows), summary)


def _between(snapshot: Snapshot, found: Sequence[Face | Edge | Vertex]) -> list[tuple[str, str]]:
    """Gap, angle and the like of two things."""
    told = between(*found)
    if told is None:
        return []
    unit, units = LENGTHS[snapshot.units], snapshot.units
    steps = [abs(b - a) for a, b in zip(*told.places, strict=True)]
    corners = all(isinstance(f, Vertex) for f in found)
    rows = [
        (
            "Distance" if corners else "Gap",
            format_length(told.gap * unit, units) if told.gap * unit > TOUCHING else "touching",
        )
    ]
    if told.gap * unit > TOUCHING and sum(s * unit > TOUCHING for s in steps) > 1:
        parts = " · ".join(format_length(s * unit, units).removesuffix(f" {units}") for s in steps)
        rows.append(("Along X · Y · Z", f"{parts} {units}"))
    if told.offset is not None and told.offset * unit > TOUCHING and abs(told.offset - told.gap) * unit > TOUCHING:
        rows.append(("Between planes", format_length(told.offset * unit, units)))
    if told.apart is not None and told.lean is not None:
        rows.append(("Axes apart", "none" if told.apart * unit < TOUCHING else format_length(told.apart * unit, units)))
        rows.append(("Axes lean", format_angle(told.lean)))
    elif told.angle is not None:
        rows.append(("Angle", format_angle(told.angle)))
    if told.centres is not None and told.apart is None and not corners:
        rows.append(("Centres apart", format_length(told.centres * unit, units)))
    return rows


def _axis_word(direction: Sequence[float]) -> str | None:
    for axis, word in _AXES.items():
        if abs(sum(a * b for a, b in zip(axis, direction, strict=True))) > 1 - 1e-9:
            return word
    return None


def _faces(snapshot: Snapshot, faces: list[Face], of: str, locked: bool) -> Description:
    unit, units = LENGTHS[snapshot.units], snapshot.units
    kinds = frozenset(f.kind for f in faces)
    patterned = any(snapshot.pattern_of(split_id(f.id)[1]) for f in faces[:50])
    surface = any(f.scope.body.kind == "surface" for f in faces)
    widths = {f.chamfer_widths for f in faces[:50]}
    hollow = {f.facts.hollow for f in faces}
    summary = PickSummary("face", len(faces), kinds, locked, patterned=patterned, surface=surface,
                          chamfers=None not in widths, hollow=hollow == {True})  # fmt: skip
    word = word_for(faces)
    rest = [of]
    rows: list[tuple[str, str]] = []
    first = faces[0]
    if kinds == {"plane"}:
        if len(faces) > 1 and _coplanar(faces):
            rest.append("coplanar")
        axis = _axis_word(first.normal)
        if axis and all(_axis_word(f.normal) == axis for f in faces):
            rest.append(f"square to {axis}")
        if len(faces) == 1:
            opposite = _to_opposite(first)
            rows.append(("To opposite", format_length(opposite * unit, units) if opposite else "nothing opposite"))
    elif len(kinds) == 1 and first.radius is not None:
        radii = {round(f.radius * unit, 6) for f in faces if f.radius is not None}
        if len(radii) == 1:
            radius = radii.pop()
            label = "Minor radius" if first.kind == "torus" else "Radius"
            if first.kind in ("cylinder", "sphere"):
                rows.append(("Diameter", f"Ø {format_length(2 * radius, units)}"))
            rows.append((label, format_length(radius, units)))
        if len(hollow) == 1:
            rest.append("hollow" if summary.hollow else "outer")
        axis = _axis_word(first.axis[1]) if first.axis else None
        if axis and first.kind != "sphere":
            rest.append(f"axis along {axis}")
    if summary.chamfers and len(widths) == 1:
        sides = dict.fromkeys(format_length(w * unit, units) for w in first.chamfer_widths or ())
        rows.append(("Chamfer", " by ".join(sides)))
    rows.append(("Area", format_area(sum(f.area for f in faces) * unit**2, units)))
    rows.append(("Perimeter", format_length(_rim(faces) * unit, units)))
    if kinds == {"plane"}:
        rows.append(("Also coplanar", _coplanar_others(faces)))
    if len(faces) == 1:
        neighbours, tangent = len(first.neighbours), len(first.tangent_neighbours)
        rows.append(("Neighbours", f"{neighbours}, {tangent} tangent" if tangent else str(neighbours)))
    return Description(plural(len(faces), word), ", ".join(rest) + ".", tuple(rows), summary)


def _rim(faces: list[Face]) -> float:
    """Around faces taken together, model units: edges that two of them share do not count, nor do seams."""
    sides: dict[str, int] = {}
    length: dict[str, float] = {}
    for face in faces:
        index = face.scope.solid.index
        beside = index.faces_of_edges
        for edge in face.edges:
            if len(set(beside[edge.index])) > 1 or len(beside[edge.index]) == 1:
                sides[edge.id] = sides.get(edge.id, 0) + 1
                length[edge.id] = edge.length
    return sum(length[e] for e, n in sides.items() if n == 1)


def _all_faces(face: Face) -> list[Face]:
    return [Face(face.scope, i) for i in range(len(face.scope.body.faces))]


def _coplanar(faces: list[Face]) -> bool:
    normal, origin = faces[0].normal, faces[0].centroid
    for other in faces[1:]:
        if sum(a * b for a, b in zip(normal, other.normal, strict=True)) < 1 - 1e-9:
            return False
        gap = sum(n * (a - b) for n, a, b in zip(normal, other.centroid, origin, strict=True))
        if abs(gap) > 1e-6:
            return False
    return True


def _coplanar_others(faces: list[Face]) -> str:
    """How many more of the body lie in the plane of the first."""
    known = {f.id for f in faces}
    others = (f for f in _all_faces(faces[0]) if f.kind == "plane" and f.id not in known)
    count = sum(1 for other in others if _coplanar([faces[0], other]))
    return str(count) if count else "none"


def _to_opposite(face: Face) -> float | None:
    """Distance into the body to the nearest plane face that looks the other way, model units."""
    depths = []
    for other in _all_faces(face):
        if other.kind == "plane" and sum(a * b for a, b in zip(face.normal, other.normal, strict=True)) < -1 + 1e-9:
            depth = sum(n * (a - b) for n, a, b in zip(face.normal, face.centroid, other.centroid, strict=True))
            if depth > 1e-6:
                depths.append(depth)
    return min(depths, default=None)


def _edges(snapshot: Snapshot, edges: list[Edge], of: str, summary: PickSummary) -> Description:
    unit, units = LENGTHS[snapshot.units], snapshot.units
    kinds = {e.kind for e in edges}
    word = _EDGE_WORDS[next(iter(kinds))] if len(kinds) == 1 else "edge"
    rows = [("Length", format_length(sum(e.length for e in edges) * unit, units))]
    rest = [of]
    if len(edges) == 1:
        if edges[0].radius is not None:
            rows.append(("Radius", format_length(edges[0].radius * unit, units)))
            rows.append(("Diameter", f"Ø {format_length(2 * edges[0].radius * unit, units)}"))
        rest.append({"open": "with one face only"}.get(edges[0].convexity, edges[0].convexity))
    return Description(plural(len(edges), word), ", ".join(rest) + ".", tuple(rows), summary)


def _vertices(snapshot: Snapshot, vertices: list[Vertex], of: str, summary: PickSummary) -> Description:
    unit, units = LENGTHS[snapshot.units], snapshot.units
    rows: list[tuple[str, str]] = []
    if len(vertices) == 1:
        rows = [
            (axis, format_length(value * unit, units)) for axis, value in zip("XYZ", vertices[0].point, strict=True)
        ]
    return Description(plural(len(vertices), "corner"), f"{of}.", tuple(rows), summary)


def _links_above(snapshot: Snapshot, numbers: Sequence[int]) -> list[ModelLink]:
    """Of picked places that come from another model."""
    rows = snapshot.kept(LINKS)
    if not rows:
        return []
    paths = {node.id: (node.id, *path) for node, _, path in snapshot.walk()}
    return [rows[k] for k in dict.fromkeys(n for number in numbers for n in paths[number]) if k in rows]


def _nodes(snapshot: Snapshot, geometry: GeometryStore, ids: Sequence[str]) -> Description:
    numbers = [split_id(i)[1] for i in ids]
    missing = next((n for n in numbers if n not in snapshot.nodes), None)
    if missing is not None:
        raise snapshot.gone("node", missing)
    leaves = list(dict.fromkeys(leaf for n in numbers for leaf in snapshot.leaves_below(n)))
    bodies = [snapshot.bodies[snapshot.nodes[leaf].body or 0] for leaf in leaves]
    summary = PickSummary(
        "node",
        len(ids),
        frozenset(),
        any(b.locked for b in bodies),
        any(b.kind == "mesh" for b in bodies),
        surface=any(b.kind == "surface" for b in bodies),
        linked=bool(_links_above(snapshot, numbers)),
        component=all(PART_NUMBER in snapshot.nodes[n].attributes for n in numbers),
    )
    rows = []
    rest = [f"from {link.title}, revision {link.revision}" for link in _links_above(snapshot, numbers)]
    if len(bodies) == 1:
        body = bodies[0]
        found = geometry.get(body.shape)
        rest.append({"solid": "a solid body", "surface": "an open surface body", "mesh": "a mesh"}[body.kind])
        if body.locked:
            rest.append("locked")
        low, high = found.box
        size = " × ".join(
            format_length(b - a, snapshot.units, decimals=2).removesuffix(f" {snapshot.units}")
            for a, b in zip(low, high, strict=True)
        )
        rows += [("Size", f"{size} {snapshot.units}")]
        if isinstance(found, Solid):
            rows.append(("Faces", str(len(body.faces))))
        else:
            rows.append(("Triangles", f"{len(found.triangles):,}".replace(",", "\u202f")))
        if len(numbers) == 1:
            rows += [(k.capitalize(), v) for k, v in snapshot.nodes[numbers[0]].attributes.items()]
        if body.kind == "surface":
            rows.append(("Area", format_area(found.area, snapshot.units)))
    else:
        rest.append(plural(len(bodies), "part"))
    rows += _weights(snapshot, geometry, leaves)
    if len(bodies) == 1:
        rows.append(("Material", bodies[0].material or "not set"))
        rows += _balance(snapshot, geometry, bodies[0])
    return Description(describe_nodes(snapshot, ids), ", ".join(rest) + ".", tuple(rows), summary)


def _balance(snapshot: Snapshot, geometry: GeometryStore, body: Body) -> list[tuple[str, str]]:
    """Middle of the volume, and the moments of inertia about it along the body's own axes."""
    if body.kind == "surface":
        return []
    unit, units = LENGTHS[snapshot.units], snapshot.units
    found = measure_body(Scope(snapshot, geometry, body))
    middle = " · ".join(format_length(v * unit, units, decimals=2).removesuffix(f" {units}") for v in found.centroid)
    rows = [("Surface", format_area(found.area * unit**2, units)), ("Centroid X · Y · Z", f"{middle} {units}")]
    if found.inertia is not None:
        moments = " · ".join(f"{found.inertia[k][k]:.4g}" for k in range(3))
        rows.append(("Inertia X · Y · Z", f"{moments} kg {units}²"))
    return rows


def _weights(snapshot: Snapshot, geometry: GeometryStore, leaves: Sequence[int]) -> list[tuple[str, str]]:
    bodies = [snapshot.bodies[snapshot.nodes[leaf].body or 0] for leaf in leaves]
    volumes = [volume_mm3(geometry.get(b.shape), b.kind) for b in bodies]
    masses = [mass_kg(v, b.material) for v, b in zip(volumes, bodies, strict=True)]
    rows = [("Volume", format_volume(sum(volumes), snapshot.units))] if sum(volumes) else []
    if all(m is not None for m in masses):
        rows.append(("Mass", format_mass(sum(m or 0.0 for m in masses))))
    return rows


def _whole(snapshot: Snapshot, geometry: GeometryStore) -> Description:
    if not snapshot.roots:
        return Description("Nothing here yet", "Bring in a STEP or STL file, or begin a sketch.")
    leaves = [o.node.id for o in snapshot.occurrences()]
    rows = [("Parts", str(len(leaves))), *_weights(snapshot, geometry, leaves)]
    return Description("Nothing picked", "Point at a face, an edge or a corner.", tuple(rows))

"""What a hole asks for: where a part sits in it, which size, and how long through all that lies behind."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from ..errors import EditError
from ..features.feature import Feature
from ..features.recogniser import features_of
from ..features.repeats import repeats_of
from ..local.surfaces import Floats
from ..model.geometry import GeometryStore, Solid
from ..model.holes import SCREWS
from ..model.references import Reference, part_of
from ..model.snapshot import Occurrence, Snapshot
from ..tolerances import ONE_DIRECTION
from .items import Family, Item

ON_AXIS = 0.6  # mm that holes of two parts may be beside one another and still take one screw
BESIDE = 0.6  # mm between two parts that one screw goes through
SLOT = 1.0  # times their diameter that two like bores of one part may be apart, as the ears of a clamp
NEAR = 0.06  # mm, within which a diameter is the one of a table
ENGAGED = 1.5  # times its diameter a screw goes into its thread, where there is room
OVER = 2.0  # pitches that a screw looks out of its nut


@dataclass(frozen=True)
class Mouth:
    """Where something sits: point on the axis in the plane of its seat (mm in the model), way outwards; wall: a face of
    the bore, None on a plain face; seat: the flat face that it sits on, None where there is none; diameter: of the
    bore, 0 on a plain face."""

    point: Floats
    way: Floats
    wall: Reference | None
    seat: Reference | None
    diameter: float = 0.0


@dataclass(frozen=True)
class Bore:
    """Of one part along an axis: from `near` to `far` mm behind the seat; face: its wall; exit: the flat face where it
    ends, None where it ends in the matter."""

    near: float
    far: float
    radius: float
    face: Reference
    exit: Reference | None


def mouth_of(geometry: GeometryStore, reference: Reference) -> Mouth:
    """Of the hole that a picked face or edge belongs to, else of a flat face.  A rim of a hole that goes through tells
    from which side.  Raises EditError for neither."""
    body, index = reference.owner
    solid = geometry.solid(body.shape)
    faces = solid.topology.faces_of(index) if reference.kind == "edge" else (index,)
    for face in faces:
        hole = _hole_with(solid, face)
        if hole is not None:
            found = _mouth(solid, hole, part_of(reference, "face", face))
            return _from_behind(solid, hole, reference, found) if reference.kind == "edge" else found
    flat = next((f for f in faces if solid.topology.surface(f).kind == "plane"), None)
    if flat is None:
        raise EditError(
            f"{reference} is neither a hole nor a flat face, so nothing sits on it", [reference], field="on"
        )
    point, normal = solid.topology.middle(flat)
    at, way = reference.matrix.point(point), reference.matrix.direction(normal)
    return Mouth(np.array(at), np.array(way), None, part_of(reference, "face", flat))


def _hole_with(solid: Solid, face: int) -> Feature | None:
    rows = [f for f in features_of(solid.topology) if f.kind == "hole" and face in f.faces]
    return min(rows, key=lambda f: len(f.faces), default=None)


def alike(geometry: GeometryStore, reference: Reference) -> list[Reference]:
    """A face of every hole of the repeat that a picked one belongs to, the picked one first; only itself without."""
    body, index = reference.owner
    solid = geometry.solid(body.shape)
    faces = solid.topology.faces_of(index) if reference.kind == "edge" else (index,)
    features = features_of(solid.topology)
    own = next((n for n, f in enumerate(features) if f.kind == "hole" and set(faces) & set(f.faces)), None)
    repeat = next((r for r in repeats_of(features) if own in r.members), None)
    if own is None or repeat is None:
        return [reference]
    members = [own, *(m for m in repeat.members if m != own)]
    return [part_of(reference, "face", features[m].faces[0]) for m in members]


def _mouth(solid: Solid, hole: Feature, reference: Reference) -> Mouth:
    topology = solid.topology
    place, way = np.array(hole.place), np.array(hole.way)
    deep = hole.sizes.get("counterbore_depth", 0.0)
    walls = [f for f in hole.faces if topology.surface(f).kind == "cylinder"]
    narrow = min(walls, key=lambda f: topology.surface(f).radius)
    level = float((place - deep * way) @ way)
    among = hole.faces if deep else hole.stands_on
    seat = next((f for f in among if _lies_at(solid, f, way, level)), None)
    matrix = reference.matrix
    point, out = np.array(matrix.point(place - deep * way)), np.array(matrix.direction(way))
    return Mouth(
        point, out, part_of(reference, "face", narrow), None if seat is None else part_of(reference, "face", seat),
        2 * topology.surface(narrow).radius,
    )  # fmt: skip


def _from_behind(solid: Solid, hole: Feature, rim: Reference, mouth: Mouth) -> Mouth:
    """The far mouth, where the rim lies in a flat face there."""
    topology = solid.topology
    way = np.array(hole.way)
    for face in topology.faces_of(rim.owner[1]):
        if face not in hole.faces and topology.surface(face).kind == "plane":
            point, normal = topology.middle(face)
            if float(np.array(normal) @ way) < ONE_DIRECTION - 1:
                at = np.array(hole.place) + float((np.array(point) - hole.place) @ way) * way
                seat = part_of(rim, "face", face)
                return replace(mouth, point=np.array(rim.matrix.point(at)), way=-mouth.way, seat=seat)
    return mouth


def _lies_at(solid: Solid, face: int, way: Floats, level: float) -> bool:
    topology = solid.topology
    if topology.surface(face).kind != "plane":
        return False
    point, normal = topology.middle(face)
    return float(np.array(normal) @ way) > 1 - ONE_DIRECTION and abs(float(np.array(point) @ way) - level) < 1e-4


# --- which size ------------------------------------------------------------------------------------------------------


def size_for(family: Family, mouth: Mouth) -> str:
    """The size of a family that a hole is for.  Raises EditError where there is none."""
    wide = mouth.diameter
    if not wide:
        raise EditError(
            f"say which size: a plain face does not tell it; there is {', '.join(family.rows)}", field="item"
        )
    rows = family.rows
    if family.kind == "bearing":
        fit = [s for s, row in rows.items() if abs(row["D"] - wide) < NEAR]
    elif family.kind == "pin":
        fit = [s for s, row in rows.items() if -1e-6 < wide - row["d"] < 0.3]
        fit.sort(key=lambda s: wide - rows[s]["d"])
    else:
        fit = [s for s in rows if s in SCREWS and _takes(s, wide)]
        fit.sort(key=lambda s: abs(SCREWS[s].clearance[1] - wide))
        low = [s for s, row in rows.items() if "d" in row and row["d"] < wide]
        fit = fit or low[-1:]
    if not fit:
        raise EditError(f"no {family.title.lower()} suits a hole of Ø {wide:g} mm", field="item")
    return fit[0]


def _takes(size: str, wide: float) -> bool:
    screw = SCREWS[size]
    return abs(screw.tap_drill - wide) < NEAR or any(abs(c - wide) < NEAR for c in screw.clearance)


# --- how long --------------------------------------------------------------------------------------------------------


def bores_along(snapshot: Snapshot, geometry: GeometryStore, mouth: Mouth) -> list[Bore]:
    """Of all solids whose holes lie on the axis behind the seat, one after the other as far as they follow."""
    found: list[Bore] = []
    for place in snapshot.occurrences():
        if place.body.kind == "solid":
            found += _bores_of(geometry, place, mouth)
    row: list[Bore] = []
    for bore in sorted(found, key=lambda b: (b.near, b.far)):
        end = row[-1].far if row else 0.0
        if bore.far > end + 1e-6 and bore.near < end + (_slot(row[-1], bore) if row else BESIDE):
            row.append(bore)
    return row


def _slot(one: Bore, other: Bore) -> float:
    """How far apart two bores that follow one another may be."""
    same = one.face.node == other.face.node and one.face.body is other.face.body
    like = same and abs(one.radius - other.radius) < NEAR / 2
    return max(BESIDE, SLOT * 2 * one.radius) if like else BESIDE


def _bores_of(geometry: GeometryStore, place: Occurrence, mouth: Mouth) -> Iterator[Bore]:
    solid = geometry.solid(place.body.shape)
    back = place.matrix.inverse
    origin, way = np.array(back.point(mouth.point)), np.array(back.direction(mouth.way))
    topology = solid.topology
    low, high = topology.boxes[:, :3], topology.boxes[:, 3:]
    middle = (low + high) / 2 - origin
    away = np.linalg.norm(middle - (middle @ way)[:, None] * way, axis=1)
    for face in np.flatnonzero(away < ON_AXIS).tolist():
        surface = topology.surface(face)
        if surface.kind != "cylinder" or topology.sign(face) > 0:
            continue
        if abs(float(surface.axial.z @ way)) < 1 - ONE_DIRECTION:
            continue
        points = np.concatenate([topology.samples(e) for e in topology.edges_of(face)])
        heights = (origin - points) @ way
        near, far = float(heights.min()), float(heights.max())
        if far > 1e-6:
            reference = _reference(place, face)
            yield Bore(max(near, 0.0), far, surface.radius, reference, _exit(solid, reference, face, way))


def _reference(place: Occurrence, face: int) -> Reference:
    found = Reference(f"f{place.body.faces[face]}")
    found.kind, found.number = "face", place.body.faces[face]
    found.body, found.at, found.node, found.matrix = place.body, face, place.node.id, place.matrix
    return found


def _exit(solid: Solid, reference: Reference, face: int, way: Floats) -> Reference | None:
    topology = solid.topology
    for beside in topology.neighbours(face):
        if topology.surface(beside).kind == "plane" and float(np.array(topology.middle(beside)[1]) @ way) < -0.999:
            return part_of(reference, "face", beside)
    return None


@dataclass(frozen=True)
class Stack:
    """What a screw goes through from its seat: grip mm of it clear; threaded: mm of thread behind, 0 without; exit:
    the far face for a nut, None where the last hole is blind or threaded."""

    grip: float
    threaded: float
    exit: Reference | None


def stack_of(bores: list[Bore], d: float) -> Stack:
    """For a screw of a nominal diameter: what is as wide as it is clear, what is narrower its thread."""
    clear = []
    for bore in bores:
        if 2 * bore.radius < d - 1e-6:
            break
        clear.append(bore)
    grip = clear[-1].far if clear else 0.0
    rest = bores[len(clear) :]
    threaded = rest[0].far - rest[0].near if rest and 2 * rest[0].radius > 0.7 * d else 0.0
    last = clear[-1] if clear else None
    return Stack(grip, threaded, last.exit if last is not None and not threaded else None)


def length_for(family: Family, size: str, stack: Stack, nut: float, washers: float) -> float:
    """Of those that it is made in, mm.  nut, washers: heights of what lies under the head and behind.  Raises EditError
    where none is long enough."""
    made, row = family.lengths(size), family.rows[size]
    grip = stack.grip + washers
    if nut:
        wanted = grip + nut + OVER * row["pitch"]
        fit = [v for v in made if v >= wanted - 1e-6]
    elif stack.threaded:
        most = grip + stack.threaded
        wanted = grip + min(ENGAGED * row["d"], stack.threaded)
        fit = sorted((v for v in made if grip + 0.8 * row["d"] <= v <= most + 1e-6), key=lambda v: abs(v - wanted))
    else:
        wanted = grip if family.kind == "pin" else grip + row["d"]
        fit = [v for v in made if v >= wanted - 1e-6]
    if not fit:
        raise EditError(
            f"no {family.title.lower()} {size} is made {wanted:.4g} mm long; it is made {made[0]:g} to {made[-1]:g} mm",
            field="item", nearest=Item(family, size, min(made, key=lambda v: abs(v - wanted))).designation,
        )  # fmt: skip
    return fit[0]

"""Which faces of two states are unchanged, moved, resized, new or gone: by their ids where the states are of one model,
else by place, size and carrier."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np
from scipy.spatial import cKDTree

from ..bill.masses import part_masses
from ..bill.rows import Totals, bill_rows, totals
from ..local.surfaces import Floats
from ..model.geometry import GeometryStore, Solid
from ..model.measure import volume_mm3
from ..model.snapshot import Occurrence, Snapshot, text_id
from .faces import FaceRows, face_rows, meshed_face

KINDS = ("unchanged", "moved", "resized", "new", "gone")
SAME = 1e-6  # of the size of the body, within which places and lengths are the same by identity
NEAR = 2e-4  # the same for files that have nothing in common but their form
STEEP = 1e-6  # 1 − cosine, of directions that are one


@dataclass(frozen=True)
class FaceChange:
    """face: id as it is now (as it was, of what is gone); kind: of KINDS; was: id before, where it goes by another;
    step: how far it moved, mm; radius, area: before and after, mm and mm²."""

    face: str
    kind: str
    body: str
    was: str
    step: tuple[float, float, float] = (0.0, 0.0, 0.0)
    radius: tuple[float, float] = (0.0, 0.0)
    area: tuple[float, float] = (0.0, 0.0)


@dataclass(frozen=True)
class BodyChange:
    """kind: unchanged, changed, moved, new, gone or mesh (whose triangles are not compared); volume: mm³; mass: kg,
    None while no material is said; before and after."""

    body: str
    name: str
    kind: str
    volume: tuple[float, float]
    mass: tuple[float | None, float | None]


@dataclass(frozen=True)
class Review:
    """faces: of what changed, and of all that did not; sizes: by name, mm before and after, None where there is none;
    sums: mass and price of all parts, before and after."""

    faces: tuple[FaceChange, ...]
    bodies: tuple[BodyChange, ...]
    sizes: Mapping[str, tuple[float | None, float | None]] = field(default_factory=dict)
    by_identity: bool = True
    sums: tuple[Totals, Totals] | None = None

    def counts(self) -> dict[str, int]:
        return {kind: sum(f.kind == kind for f in self.faces) for kind in KINDS}


def _volume(place: Occurrence | None, store: GeometryStore) -> float:
    return 0.0 if place is None else volume_mm3(store.get(place.body.shape), place.body.kind)


def compare(
    before: Snapshot, after: Snapshot, geometry: GeometryStore, other: GeometryStore | None = None,
    by_identity: bool | None = None,
) -> Review:  # fmt: skip
    """other: of the state before, where it is another store; by_identity: None where it is to be found out."""
    old_store = other or geometry
    old, new = _first_places(before), _first_places(after)
    if by_identity is None:
        by_identity = bool(_shared_faces(before, after))
    pairs = _by_id(old, new) if by_identity else _by_form(old, new, old_store, geometry)
    faces: list[FaceChange] = []
    bodies: list[BodyChange] = []
    masses = part_masses(before, old_store), part_masses(after, geometry)
    for was, now in pairs:
        found, kind = _body(was, now, old_store, geometry, by_identity)
        faces += found
        volumes = _volume(was, old_store), _volume(now, geometry)
        weights = (masses[0].get(was.node.id) if was else None, masses[1].get(now.node.id) if now else None)
        shown = now or was
        assert shown is not None
        bodies.append(BodyChange(text_id("body", shown.body.id), shown.body.name, kind, volumes, weights))
    sizes = before.named_sizes(), after.named_sizes()
    changed = {name: (sizes[0].get(name), sizes[1].get(name)) for name in {**sizes[0], **sizes[1]}
               if not _alike(sizes[0].get(name), sizes[1].get(name))}  # fmt: skip
    sums = totals(bill_rows(before, masses[0])), totals(bill_rows(after, masses[1]))
    return Review(tuple(faces), tuple(bodies), changed, by_identity, sums)


def gone_triangles(before: Snapshot, geometry: GeometryStore, review: Review) -> list[list[float]]:
    """Of each face that is gone: corners of its triangles as they stood, nine numbers each (mm in the model)."""
    gone = {f.was for f in review.faces if f.kind == "gone"}
    found = []
    for place in _first_places(before).values():
        body = geometry.get(place.body.shape)
        if not isinstance(body, Solid):
            continue
        for number, face in enumerate(place.body.faces):
            if text_id("face", face) in gone:
                mesh = meshed_face(body, number)
                corners = place.matrix.points(mesh.points)[mesh.triangles]
                found.append([round(float(v), 4) for v in corners.reshape(-1)])
    return found


def _alike(a: float | None, b: float | None) -> bool:
    return a is not None and b is not None and abs(a - b) < 1e-9


def _first_places(snapshot: Snapshot) -> dict[int, Occurrence]:
    found: dict[int, Occurrence] = {}
    for place in snapshot.occurrences():
        found.setdefault(place.body.id, place)
    return found


def _shared_faces(before: Snapshot, after: Snapshot) -> set[int]:
    """Ids that both have in one body: states of one model share most of them; of others none, or by chance few."""
    shared = set()
    total = 0
    for number, body in before.bodies.items():
        total += len(body.faces)
        if number in after.bodies:
            shared |= set(body.faces) & set(after.bodies[number].faces)
    return shared if 2 * len(shared) > total else set()


Pairs = list[tuple[Occurrence | None, Occurrence | None]]


def _by_id(old: Mapping[int, Occurrence], new: Mapping[int, Occurrence]) -> Pairs:
    rows: Pairs = [(old.get(b), place) for b, place in new.items()]
    return rows + [(place, None) for b, place in old.items() if b not in new]


def _by_form(
    old: Mapping[int, Occurrence], new: Mapping[int, Occurrence], old_store: GeometryStore, new_store: GeometryStore
) -> Pairs:
    """Of one name first, then those whose boxes lie nearest."""
    left, rows = dict(old), Pairs()
    waiting = []
    for place in new.values():
        match = next((b for b, p in left.items() if p.body.name == place.body.name), None)
        if match is None:
            waiting.append(place)
        else:
            rows.append((left.pop(match), place))
    for place in waiting:
        here = _box(new_store, place)
        gaps = {b: float(np.abs(_box(old_store, p) - here).max()) for b, p in left.items()}
        nearest = min(gaps, key=gaps.__getitem__, default=None)
        size = float(np.linalg.norm(here[3:] - here[:3]))
        rows.append((left.pop(nearest) if nearest is not None and gaps[nearest] < 0.3 * size else None, place))
    return rows + [(place, None) for place in left.values()]


def _box(store: GeometryStore, place: Occurrence) -> Floats:
    corners = place.matrix.points(np.array(store.get(place.body.shape).box.corners))
    return np.concatenate([corners.min(axis=0), corners.max(axis=0)])


def _body(
    was: Occurrence | None, now: Occurrence | None, old_store: GeometryStore, new_store: GeometryStore,
    by_identity: bool,
) -> tuple[list[FaceChange], str]:  # fmt: skip
    if was is None or now is None:
        place, kind = (now, "new") if now is not None else (was, "gone")
        assert place is not None
        body = text_id("body", place.body.id)
        faces = [text_id("face", f) for f in place.body.faces]
        return [FaceChange(f, kind, body, f) for f in faces], kind
    body = text_id("body", now.body.id)
    if by_identity and was.body.shape == now.body.shape and was.body.faces == now.body.faces:
        step = np.array(now.matrix.point((0.0, 0.0, 0.0))) - np.array(was.matrix.point((0.0, 0.0, 0.0)))
        still = was.matrix == now.matrix
        kind = "unchanged" if still else "moved"
        x, y, z = step.tolist()
        rows = [FaceChange(f, kind, body, f, (x, y, z)) for f in (text_id("face", i) for i in now.body.faces)]
        return rows, kind
    a, b = face_rows(old_store, was), face_rows(new_store, now)
    if a is None or b is None:
        return [], "unchanged" if was.body.shape == now.body.shape else "mesh"
    pairs = _paired_ids(a, b) if by_identity else _paired_forms(a, b)
    found = [_face(a, b, i, j, body, SAME if by_identity else NEAR) for i, j in pairs]
    gone, fresh = set(range(len(a))) - {i for i, _ in pairs}, set(range(len(b))) - {j for _, j in pairs}
    found += [
        FaceChange(text_id("face", b.ids[j]), "new", body, "", area=(0.0, float(b.area[j]))) for j in sorted(fresh)
    ]
    for i in sorted(gone):
        name = text_id("face", a.ids[i])
        found.append(FaceChange(name, "gone", body, name, area=(float(a.area[i]), 0.0)))
    return found, "unchanged" if all(f.kind == "unchanged" for f in found) else "changed"


def _size(rows: FaceRows) -> float:
    return max(1e-6, float(np.ptp(rows.middle, axis=0).max()), float(np.sqrt(rows.area.max())))


def _face(a: FaceRows, b: FaceRows, i: int, j: int, body: str, within: float) -> FaceChange:
    size = _size(b)
    step = b.middle[j] - a.middle[i]
    x, y, z = (0.0 if abs(v) < within * size else float(v) for v in step)
    same_size = (
        a.kind[i] == b.kind[j]
        and abs(a.radius[i] - b.radius[j]) < within * size
        and abs(np.sqrt(a.area[i]) - np.sqrt(b.area[j])) < within * size
    )
    turned = a.kind[i] == b.kind[j] and 1 - abs(float(a.way[i] @ b.way[j])) > STEEP and np.any(a.way[i])
    kind = "resized" if not same_size else "moved" if (x, y, z) != (0.0, 0.0, 0.0) or turned else "unchanged"
    return FaceChange(
        text_id("face", b.ids[j]), kind, body, text_id("face", a.ids[i]), (x, y, z),
        (float(a.radius[i]), float(b.radius[j])), (float(a.area[i]), float(b.area[j])),
    )  # fmt: skip


def _paired_ids(a: FaceRows, b: FaceRows) -> list[tuple[int, int]]:
    at = {face: i for i, face in enumerate(a.ids)}
    return [(at[face], j) for j, face in enumerate(b.ids) if face in at]


def _paired_forms(a: FaceRows, b: FaceRows) -> list[tuple[int, int]]:
    """What is the same first; then what lies on one carrier; then what has its size elsewhere; then what has its axis
    or direction and another size."""
    size = max(_size(a), _size(b))
    far = 10 * size
    left_a, left_b = np.arange(len(a)), np.arange(len(b))
    pairs: list[tuple[int, int]] = []

    def rows(r: FaceRows, *columns: Floats) -> Floats:
        return np.column_stack([far * r.kind, *columns])

    def unsigned(way: Floats) -> Floats:
        first = np.array(
            [row[np.flatnonzero(np.abs(row) > 1e-6)[0]] if np.abs(row).max() > 1e-6 else 1.0 for row in way]
        )
        return way * np.sign(first)[:, None]

    def same(r: FaceRows) -> Floats:
        return rows(r, r.middle, np.sqrt(r.area), r.radius, 0.1 * size * r.way)

    def carried_alike(r: FaceRows) -> Floats:
        return rows(r, r.offset, r.radius, size * unsigned(r.way))

    def sized_alike(r: FaceRows) -> Floats:
        return rows(r, far * np.sqrt(r.area) / size, far * r.radius / size, size * r.way, 1e-3 * r.middle)

    def directed_alike(r: FaceRows) -> Floats:
        return rows(r, np.where(r.radius[:, None] > 0, r.offset, 0.3 * r.middle), size * unsigned(r.way))

    steps = [
        (same, NEAR * size),
        (carried_alike, NEAR * size),
        (sized_alike, 2e-2 * size),
        (directed_alike, 0.1 * size),
    ]
    for columns, reach in steps:
        if not len(left_a) or not len(left_b):
            break
        one, other = columns(a)[left_a], columns(b)[left_b]
        gaps, at = cKDTree(one).query(other, k=min(4, len(one)))
        gaps, at = gaps.reshape(len(other), -1), at.reshape(len(other), -1)
        order = [
            (float(g), int(i), j) for j in range(len(other)) for g, i in zip(gaps[j], at[j], strict=True) if g < reach
        ]
        used_a: set[int] = set()
        used_b: set[int] = set()
        for _, i, j in sorted(
            order, key=lambda row: (row[0], float(np.linalg.norm(a.middle[left_a[row[1]]] - b.middle[left_b[row[2]]])))
        ):
            if i not in used_a and j not in used_b:
                used_a.add(i)
                used_b.add(j)
                pairs.append((int(left_a[i]), int(left_b[j])))
        left_a = np.delete(left_a, sorted(used_a))
        left_b = np.delete(left_b, sorted(used_b))
    return pairs

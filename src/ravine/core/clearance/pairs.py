"""The gap between every two parts that stand close together, and the room that both take up."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Collection
from dataclasses import dataclass, replace

import numpy as np
from scipy.spatial import cKDTree

from ..errors import RavineError
from ..kernel.boolean import combine
from ..kernel.classify import boxes_of, holds
from ..kernel.nearest import nearest
from ..kernel.shapes import Shape, ShapeIndex, compound, parts_of, placed
from ..kernel.tessellate import mesh_afresh, view_deflection, whole_mesh
from ..kernel.volumes import volume_properties
from ..local.surfaces import Floats
from ..model.geometry import GeometryStore, Solid
from ..model.snapshot import Occurrence, Snapshot, text_id
from ..rigid import Rigid, Vec
from ..section.rings import Ints, skin_of
from ..tolerances import NOTHING, TOUCHING
from .meshes import Skin, shared_place, way_between

KEPT_PAIRS = 20_000


@dataclass(frozen=True)
class PairGap:
    """nodes, names: of both; state: overlap, touching or clear; gap: mm, 0 but for clear ones; places: where it is, on
    both, mm in the model; volume: mm³ that both take up; about: measured on a mesh, so the true gap may
    be a little smaller, and how much two take up is not known."""

    nodes: tuple[str, str]
    names: tuple[str, str]
    state: str
    gap: float
    places: tuple[Vec, Vec]
    volume: float = 0.0
    about: bool = False


@dataclass(frozen=True, eq=False)
class _Standing:
    """A part where it stands: its triangles, and the box of each of its faces (n, 2, 3)."""

    place: Occurrence
    points: Floats
    triangles: Ints
    box: Floats
    face_boxes: Floats
    shape: Shape | None


def gaps_between(
    snapshot: Snapshot,
    geometry: GeometryStore,
    within: float,
    hidden: Collection[str] = (),
    progress: Callable[[float, str], None] = lambda fraction, words: None,
    moving: Collection[int] | None = None,
) -> tuple[list[PairGap], list[str]]:
    """All pairs nearer than `within` mm, overlaps first, then the narrowest; and in words the pairs that the kernel
    could not tell.  hidden: text ids of places that are left out; moving: places, one of which is in each pair."""
    places = [o for o in snapshot.occurrences() if text_id("node", o.node.id) not in hidden]
    places = [o for o in places if o.body.kind in ("solid", "mesh")]
    near = near_pairs(geometry, places, within)
    if moving is not None:
        near = [(i, j) for i, j in near if places[i].node.id in moving or places[j].node.id in moving]
    standing: dict[int, _Standing] = {}
    found, failed = [], []
    for number, (i, j) in enumerate(near):
        names = f"{places[i].node.name} and {places[j].node.name}"
        progress(number / len(near), names)
        try:
            pair = _known_pair(geometry, places[i], places[j], standing)
        except RavineError as error:
            failed.append(f"{names}: {error}")
            continue
        if pair.gap <= within:
            found.append(pair)
    found.sort(key=lambda p: ({"overlap": 0, "touching": 1, "clear": 2}[p.state], -p.volume, p.gap))
    return found, failed


def near_pairs(geometry: GeometryStore, places: list[Occurrence], within: float) -> list[tuple[int, int]]:
    """Numbers of those whose boxes come as near as that."""
    if not places:
        return []
    boxes = []
    for place in places:
        corners = place.matrix.points(np.array(geometry.get(place.body.shape).box.corners))
        boxes.append((corners.min(axis=0), corners.max(axis=0)))
    low, high = (np.array([b[k] for b in boxes]) for k in (0, 1))
    apart = np.maximum(low[:, None] - high[None], low[None] - high[:, None]).max(axis=2)
    return [(int(i), int(j)) for i, j in np.argwhere(np.triu(apart <= within, 1))]


_PAIRS: OrderedDict[tuple[str, str, tuple[float, ...]], PairGap] = OrderedDict()  # in the coordinates of the first


def _known_pair(geometry: GeometryStore, one: Occurrence, other: Occurrence, standing: dict[int, _Standing]) -> PairGap:
    """Two shapes that stand to one another as they did before need no measuring again."""
    relative = tuple(round(v, 9) for v in one.matrix.inverse @ other.matrix)
    key = (one.body.shape, other.body.shape, relative)
    pair = _PAIRS.get(key)
    if pair is None:
        for place in (one, other):
            if place.node.id not in standing:
                standing[place.node.id] = _standing(geometry, place)
        pair = _moved(_pair(standing[one.node.id], standing[other.node.id]), one.matrix.inverse)
        _PAIRS[key] = pair
        while len(_PAIRS) > KEPT_PAIRS:
            _PAIRS.popitem(last=False)
    else:
        _PAIRS.move_to_end(key)
    nodes = (text_id("node", one.node.id), text_id("node", other.node.id))
    return replace(_moved(pair, one.matrix), nodes=nodes, names=(one.node.name, other.node.name))


def _moved(pair: PairGap, matrix: Rigid) -> PairGap:
    return replace(pair, places=(matrix.point(pair.places[0]), matrix.point(pair.places[1])))


def gap_between(snapshot: Snapshot, geometry: GeometryStore, a: int, b: int, within: float) -> float | None:
    """Between two solids by their places in the tree, mm, 0 where they touch or overlap; None beyond `within`."""
    places = {o.node.id: o for o in snapshot.occurrences() if o.node.id in (a, b)}
    one, other = _standing(geometry, places[a]), _standing(geometry, places[b])
    if (one.box[0] > other.box[1] + within).any() or (other.box[0] > one.box[1] + within).any():
        return None
    return _pair(one, other).gap


def _standing(geometry: GeometryStore, place: Occurrence) -> _Standing:
    body = geometry.get(place.body.shape)
    skin = skin_of(body)
    points = place.matrix.points(skin.points)
    if not isinstance(body, Solid):
        box = np.array([points.min(axis=0), points.max(axis=0)])
        return _Standing(place, points, skin.triangles, box, box[None], None)
    shape = placed(body.shape, place.matrix)
    boxes = boxes_of(ShapeIndex(shape)).reshape(-1, 2, 3)
    box = np.array([boxes[:, 0].min(axis=0), boxes[:, 1].max(axis=0)])
    return _Standing(place, points, skin.triangles, box, boxes, shape)


def _pair(a: _Standing, b: _Standing) -> PairGap:
    nodes = (text_id("node", a.place.node.id), text_id("node", b.place.node.id))
    names = (a.place.node.name, b.place.node.name)
    if a.shape is None or b.shape is None:
        return _with_mesh(a, b, nodes, names)
    away, _ = cKDTree(b.points).query(a.points)
    found = nearest(*_near_faces(a, b, float(away.min())))
    if found is None:
        raise RavineError("the geometry kernel found no shortest way")
    gap, p, q = found
    inner = holds(b.shape, a.points[0].tolist()) or holds(a.shape, b.points[0].tolist())
    if gap > TOUCHING and not inner:
        return PairGap(nodes, names, "clear", gap, (p, q))
    shared = volume_properties(common_of(a.shape, b.shape))
    if shared.amount > NOTHING:
        x, y, z = shared.centroid
        return PairGap(nodes, names, "overlap", 0.0, ((x, y, z), (x, y, z)), shared.amount)
    return PairGap(nodes, names, "touching", 0.0, (p, q))


def common_of(a: Shape, b: Shape) -> Shape:
    """The matter that two solids both take up.  Raises EditError when the kernel gives up."""
    return combine("common", a, [b], merge=False)[0]


def _near_faces(a: _Standing, b: _Standing, reach: float) -> tuple[Shape, Shape]:
    """Only faces whose boxes come within reach of one another can hold the shortest way."""
    gaps = np.maximum(
        a.face_boxes[:, None, 0] - b.face_boxes[None, :, 1], b.face_boxes[None, :, 0] - a.face_boxes[:, None, 1]
    )
    near = np.linalg.norm(np.maximum(gaps, 0), axis=2) <= reach + 1e-6
    return _faces(a, near.any(axis=1)), _faces(b, near.any(axis=0))


def _faces(part: _Standing, wanted: Floats) -> Shape:
    assert part.shape is not None
    every = parts_of(part.shape, "face")
    return compound([every[k] for k in np.flatnonzero(wanted)])


def _with_mesh(a: _Standing, b: _Standing, nodes: tuple[str, str], names: tuple[str, str]) -> PairGap:
    one, other = (Skin.of(part.points, part.triangles) for part in (a, b))
    shared = shared_place(one, other)
    if shared is not None:
        return PairGap(nodes, names, "overlap", 0.0, (shared, shared), about=True)
    gap, p, q = way_between(one, other)
    return PairGap(nodes, names, "touching" if gap <= TOUCHING else "clear", gap, (p, q), about=True)


def shared_volume(snapshot: Snapshot, geometry: GeometryStore, nodes: Collection[str]) -> Floats:
    """Triangles (n, 3, 3), mm in the model, of what two solids both take up; none where they do not, or where one is a
    mesh, of which that is not known."""
    places = [o for o in snapshot.occurrences() if text_id("node", o.node.id) in nodes]
    if len(places) == 2 and "mesh" in (o.body.kind for o in places):
        return np.zeros((0, 3, 3))
    shapes = [placed(geometry.solid(o.body.shape).shape, o.matrix) for o in places if o.body.kind == "solid"]
    if len(shapes) != 2:
        raise RavineError("two solid parts are needed to show what both take up")
    shared = common_of(*shapes)
    if volume_properties(shared).amount <= NOTHING:
        return np.zeros((0, 3, 3))
    mesh_afresh(shared, view_deflection(shared), 0.35)
    points, triangles = whole_mesh(shared)
    return points[triangles]

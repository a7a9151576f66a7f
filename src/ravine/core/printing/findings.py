"""What of a part will not print, or not well: where, how much it has and how much it takes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components
from scipy.spatial import ConvexHull, QhullError
from shapely.geometry import MultiPoint, Point

from ..local.surfaces import Floats
from .layers import Layers
from .machines import Machine
from .orientation import BED
from .printed import Printed

KINDS = {
    "open": "the skin is not closed",
    "size": "it is larger than the machine",
    "wall": "a wall is thinner than prints",
    "gap": "a gap is narrower than stays open",
    "lettering": "letters or marks are too fine",
    "hole": "a hole is smaller than prints",
    "trapped": "a hollow is closed all round",
    "overhang": "it hangs over without support",
    "bridge": "a level underside is bridged far",
    "tips": "it tips over on the bed",
    "foot": "it stands on next to nothing",
    "nozzle": "a wall is no multiple of the nozzle's line",
}
STROKES = ("wall", "gap", "nozzle")  # kinds of what is found in letters
NEAR_MARK = 0.05  # mm
LOOKED = 40  # layers that are looked at for walls and gaps
SMALLEST = 0.3  # of a least wall, squared: what is smaller than that in a layer is no wall
BRIDGE = 12.0  # mm that a filament spans
LEVEL = 0.999  # cosine, from which an underside is level
LYING = 0.02  # sine, up to which a hole's axis lies level
TALL = 6.0  # times as high as its foot is wide, from which it tips


@dataclass(frozen=True)
class PrintFinding:
    """kind: of KINDS; has, least: mm, mm² or degrees; place: (x, y, z) on the bed, mm; faces: of the body; fix: an
    edit that would help, empty where none does."""

    kind: str
    has: float
    least: float
    place: tuple[float, float, float]
    faces: tuple[int, ...] = ()
    fix: str = ""


@dataclass(frozen=True)
class FlatWall:
    """Two flat faces of a body with matter between: depth mm, place where it stands in the model."""

    face: int
    depth: float
    place: tuple[float, float, float]


@dataclass(frozen=True)
class RoundHole:
    """face: its wall; wide: mm across; place, way: in the model."""

    face: int
    wide: float
    place: tuple[float, float, float]
    way: tuple[float, float, float]


def print_findings(
    part: Printed, layers: Layers, machine: Machine, walls: Sequence[FlatWall] = (), holes: Sequence[RoundHole] = (),
    open_edges: int = 0,
) -> list[PrintFinding]:  # fmt: skip
    """open_edges: of the skin, that no second triangle shares."""
    found = [*_whole(part, machine, open_edges), *_walls(part, walls, machine), *_holes(part, holes, machine)]
    found += _in_layers(part, layers, machine, {round(w.depth, 3) for w in walls})
    found += _hanging(part, machine, {h.face for h in holes if abs(float(np.array(h.way) @ part.turn[2])) < LYING})
    found += _standing(part, machine)
    order = list(KINDS)
    return sorted(found, key=lambda f: (order.index(f.kind), f.has))


def with_marks(
    found: Sequence[PrintFinding], marks: Sequence[tuple[tuple[int, ...], Floats]], part: Printed
) -> list[PrintFinding]:
    """What is too thin or too narrow within letters and other marks is one finding for each of these.  marks: faces,
    and the corners (2, 3) of their box in the model, mm."""
    left, told = list(found), []
    for faces, (low, high) in marks:
        own = [f for f in left if f.kind in STROKES and _is_within(f, faces, low, high, part)]
        if own:
            left = [f for f in left if f not in own]
            worst = min(own, key=lambda f: f.has)
            if worst.kind != "nozzle":
                told.append(PrintFinding("lettering", worst.has, worst.least, worst.place, faces))
    order = list(KINDS)
    return sorted([*left, *told], key=lambda f: (order.index(f.kind), f.has))


def _is_within(found: PrintFinding, faces: tuple[int, ...], low: Floats, high: Floats, part: Printed) -> bool:
    at = part.back(np.array([found.place]))[0]
    inside = bool((at > low - NEAR_MARK).all() and (at < high + NEAR_MARK).all())
    return set(found.faces) <= set(faces) if found.faces else inside


def _whole(part: Printed, machine: Machine, open_edges: int) -> list[PrintFinding]:
    found = []
    top = _point(part.corners.reshape(-1, 3)[part.corners.reshape(-1, 3)[:, 2].argmax()])
    if open_edges:
        found.append(PrintFinding("open", float(open_edges), 0.0, top, fix="mend"))
    sizes = sorted(part.size[:2].tolist(), reverse=True)
    bed = sorted((machine.long, machine.wide), reverse=True)
    for has, room in (*zip(sizes, bed, strict=True), (float(part.size[2]), machine.high)):
        if has > room:
            found.append(PrintFinding("size", has, room, top, fix="split"))
            break
    for group in shells(part.corners):
        rows = part.corners[group]
        volume = float(np.einsum("ij,ij->", rows[:, 0], np.cross(rows[:, 1], rows[:, 2])) / 6)
        if volume < -1e-6 and machine.process in ("resin", "powder"):
            found.append(PrintFinding("trapped", -volume, 0.0, _point(rows.reshape(-1, 3).mean(axis=0)),
                                      tuple(np.unique(part.faces[group]).tolist()), "drill"))  # fmt: skip
    return found


def shells(corners: Floats) -> list[np.ndarray]:
    """Triangles that hang together by corners, as groups of their numbers."""
    keys = np.round(corners.reshape(-1, 3) / 1e-5).astype(np.int64)
    _, number = np.unique(keys, axis=0, return_inverse=True)
    number = number.reshape(-1, 3)
    rows = np.concatenate([number[:, 0], number[:, 0]])
    columns = np.concatenate([number[:, 1], number[:, 2]])
    count = int(number.max()) + 1
    groups, label = connected_components(coo_array((np.ones(len(rows)), (rows, columns)), shape=(count, count)),
                                         directed=False)  # fmt: skip
    of = label[number[:, 0]]
    return [np.flatnonzero(of == g) for g in range(groups)]


def open_edges(corners: Floats) -> int:
    keys = np.round(corners.reshape(-1, 3) / 1e-5).astype(np.int64)
    _, number = np.unique(keys, axis=0, return_inverse=True)
    ring = number.reshape(-1, 3)[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2)
    ring = ring[ring[:, 0] != ring[:, 1]]
    forward = ring[:, 0].astype(np.int64) * (int(number.max()) + 1) + ring[:, 1]
    backward = ring[:, 1].astype(np.int64) * (int(number.max()) + 1) + ring[:, 0]
    one, many = np.unique(forward, return_counts=True)
    other, counts = np.unique(backward, return_counts=True)
    both = dict(zip(other.tolist(), counts.tolist(), strict=True))
    return sum(abs(n - both.get(e, 0)) for e, n in zip(one.tolist(), many.tolist(), strict=True))


def _walls(part: Printed, walls: Sequence[FlatWall], machine: Machine) -> list[PrintFinding]:
    found, told = [], set()
    for wall in sorted(walls, key=lambda w: w.depth):
        place = _on_bed(part, wall.place)
        key = (round(wall.depth, 4), tuple(round(v, 0) for v in place))
        if key in told:
            continue
        told.add(key)
        if wall.depth < machine.wall - 1e-6:
            found.append(PrintFinding("wall", wall.depth, machine.wall, place, (wall.face,), "push"))
        elif machine.nozzle and wall.depth < 4 * machine.nozzle:
            lines = wall.depth / machine.nozzle
            if abs(lines - round(lines)) > 0.1:
                least = max(2, math.ceil(lines)) * machine.nozzle
                found.append(PrintFinding("nozzle", wall.depth, least, place, (wall.face,), "push"))
    return found


def _holes(part: Printed, holes: Sequence[RoundHole], machine: Machine) -> list[PrintFinding]:
    return [
        PrintFinding("hole", h.wide, machine.hole, _on_bed(part, h.place), (h.face,), "resize")
        for h in holes if h.wide < machine.hole - 1e-6
    ]  # fmt: skip


def _in_layers(part: Printed, layers: Layers, machine: Machine, known: set[float]) -> list[PrintFinding]:
    """Walls and gaps that a layer's outline shows: what goes when it is drawn in and out again by half of the least."""
    count = len(layers.heights)
    found: list[PrintFinding] = []
    seen: list[tuple[str, Point]] = []
    for layer in np.unique(np.linspace(0, count - 1, min(count, LOOKED)).astype(int)).tolist():
        shape = layers.shape(layer)
        if shape.is_empty:
            continue
        height = float(layers.heights[layer])
        for kind, least, grown in (("wall", machine.wall, -1.0), ("gap", machine.gap, 1.0)):
            half = grown * (least / 2 - 1e-4)
            kept = shape.buffer(half, join_style="mitre").buffer(-half * 1.02, join_style="mitre")
            lost = shape.difference(kept) if kind == "wall" else kept.difference(shape)
            for piece in getattr(lost, "geoms", [lost]):
                if piece.area < SMALLEST * least**2 or piece.geom_type != "Polygon":
                    continue
                has = _width(piece)
                if has >= least - 1e-3 or (kind == "wall" and any(abs(has - k) < 0.02 for k in known)):
                    continue
                at = piece.representative_point()
                if any(kind == k and at.distance(p) < 4 * least for k, p in seen):
                    continue
                seen.append((kind, at))
                found.append(
                    PrintFinding(kind, has, least, (at.x, at.y, height), fix="thicken" if kind == "wall" else "")
                )
    return found


def _width(piece: shapely.Polygon) -> float:
    """Of a long thin area: of a strip of its length and area."""
    half = piece.length / 2
    root = max(half**2 - 4 * piece.area, 0.0) ** 0.5
    return (half - root) / 2


def _hanging(part: Printed, machine: Machine, lying: set[int]) -> list[PrintFinding]:
    """lying: faces of holes that lie level, which a roof would help."""
    if not machine.overhang:
        return []
    down = -part.normals[:, 2]
    on_bed = (part.corners[:, :, 2] < BED).all(axis=1)
    hangs = (down > math.sin(math.radians(machine.overhang)) + 1e-6) & ~on_bed & (part.areas > 0)
    rows = np.flatnonzero(hangs)
    found = []
    patches: dict[tuple, list[np.ndarray]] = {}  # of one face, as of a ring all round, they are one finding
    for group in shells(part.corners[rows]) if len(rows) else []:
        faces_of = tuple(np.unique(part.faces[rows[group]]).tolist())
        patches.setdefault((faces_of, bool((down[rows[group]] > LEVEL).all())), []).append(rows[group])
    for parts in patches.values():
        some = max(parts, key=len) if (down[parts[0]] > LEVEL).all() else np.concatenate(parts)
        area = float(part.areas[some].sum())
        if area < machine.wall**2:
            continue
        place = _point((part.corners[some].mean(axis=1) * part.areas[some][:, None]).sum(axis=0) / area)
        faces = tuple(np.unique(part.faces[some]).tolist())
        level = down[some] > LEVEL
        if level.all():
            span = _span(part.corners[some])
            if span <= BRIDGE and machine.process == "filament":
                continue
            found.append(PrintFinding("bridge", span, BRIDGE, place, faces))
        else:
            lean = math.degrees(math.asin(min(1.0, float(down[some].max()))))
            found.append(
                PrintFinding("overhang", lean, machine.overhang, place, faces, "teardrop" if set(faces) & lying else "")
            )
    return found


def _span(corners: Floats) -> float:
    """mm: the shorter side of the smallest rectangle around."""
    box = shapely.minimum_rotated_rectangle(MultiPoint(corners.reshape(-1, 3)[:, :2]))
    if box.geom_type != "Polygon":
        return 0.0
    ring = np.array(box.exterior.coords)
    sides = np.hypot(*np.diff(ring, axis=0).T)[:2]
    return float(sides.min())


def _standing(part: Printed, machine: Machine) -> list[PrintFinding]:
    if machine.process == "powder":
        return []
    foot = part.corners.reshape(-1, 3)
    foot = foot[foot[:, 2] < BED][:, :2]
    middle = _point(part.middle)
    lies = (part.corners[:, :, 2] < BED).all(axis=1)
    area = float(part.areas[lies].sum())
    if area < 4 * machine.wall**2:
        return [PrintFinding("foot", area, 4 * machine.wall**2, (middle[0], middle[1], 0.0))]
    try:
        hull = shapely.Polygon(foot[ConvexHull(foot).vertices])
    except QhullError:
        return [PrintFinding("foot", area, 4 * machine.wall**2, (middle[0], middle[1], 0.0))]
    inside = hull.contains(Point(middle[0], middle[1]))
    wide = _span(np.column_stack([foot, np.zeros(len(foot))])[None])
    if not inside or part.size[2] > TALL * wide:
        return [PrintFinding("tips", float(part.size[2]), TALL * wide if inside else 0.0, (middle[0], middle[1], 0.0))]
    return []


def _on_bed(part: Printed, place: tuple[float, float, float]) -> tuple[float, float, float]:
    return _point(np.array(place) @ part.turn.T + part.shift)


def _point(v: Floats) -> tuple[float, float, float]:
    x, y, z = np.asarray(v).tolist()
    return x, y, z

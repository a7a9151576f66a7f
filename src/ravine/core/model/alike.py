"""Everything like a picked face or edge, by one criterion after another."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..errors import EditError
from ..kernel.queries import edge_facts, is_degenerate
from ..local.features import feature_of
from ..units import format_area, format_length
from .face_table import FaceTable, Flags
from .geometry import GeometryStore, Solid
from .snapshot import Body, Snapshot, split_id, text_id
from .words import KIND_WORDS

TOLERANCE = 1e-4  # share by which sizes may differ
TURN = 1e-5  # sine between directions that are one
MOST_WALLS = 150  # plane faces, above which walls are looked for among the parallel ones only


@dataclass(frozen=True)
class Criterion:
    """code: stable; words: as the panel shows it; ids: everything that fits, the picked thing first."""

    code: str
    words: str
    ids: tuple[str, ...]


def alike(snapshot: Snapshot, geometry: GeometryStore, picked: str, tolerance: float = TOLERANCE) -> list[Criterion]:
    """Criteria that a face or edge of an exact body gives, each with at least one other that fits."""
    kind, number = split_id(picked)
    if kind not in ("face", "edge"):
        raise EditError("alike starts from one face or one edge", [picked])
    body, at = snapshot.owner_of(kind, number)
    if body.kind == "mesh":
        raise EditError(f"{body.name} is a mesh; alike looks among exact faces", [picked])
    solid = geometry.solid(body.shape)
    rows = (_faces if kind == "face" else _edges)(snapshot, body, solid, at, tolerance)
    found = []
    for code, words, flags in rows:
        flags[at] = True
        if flags.sum() > 1:
            others = [n for n in np.flatnonzero(flags).tolist() if n != at]
            ids = body.ids()[kind]
            found.append(Criterion(code, words, tuple(text_id(kind, ids[n]) for n in [at, *others])))
    return found


def _near(values: NDArray[np.float64], value: float, tolerance: float) -> Flags:
    return np.abs(values - value) <= tolerance * abs(value) + 1e-9


def _faces(snapshot: Snapshot, body: Body, solid: Solid, at: int, tolerance: float) -> Iterator[tuple[str, str, Flags]]:
    table, units = solid.faces, snapshot.units
    kind = str(table.kind[at])
    same = table.kind == kind
    yield "kind", f"every {KIND_WORDS[kind]}", same.copy()
    if not np.isnan(table.radius[at]):
        radius = float(table.radius[at])
        way = same & (table.inwards == table.inwards[at])
        side = "hollow" if table.inwards[at] else "outer"
        yield "radius", f"radius {format_length(radius, units)}, {side}", way & _near(table.radius, radius, tolerance)
        smaller = way & (table.radius <= radius * (1 + tolerance))
        yield "radius up to", f"radius up to {format_length(radius, units)}, {side}", smaller
    area = float(table.area[at])
    yield "area", f"area {format_area(area, units)}", same & _near(table.area, area, tolerance)
    if kind == "plane":
        cosine = np.abs(table.normal @ table.normal[at])
        square = cosine > 1 - TURN**2
        height = np.abs((table.point - table.point[at]) @ table.normal[at])
        yield "parallel", "parallel to it", square
        facing = table.normal @ table.normal[at] > 0
        yield "coplanar", "in its plane", square & facing & (height < 1e-6 * max(1.0, float(np.sqrt(area))))
        wall = _wall(table, at, square)
        if wall is not None:
            thick, flags = wall
            many = int((table.kind == "plane").sum()) > MOST_WALLS
            among = " among the parallel ones" if many else ""
            yield "wall", f"walls {format_length(thick, units)} thick{among}", flags(tolerance)
    elif not np.isnan(table.axis[at]).any() and kind != "sphere":
        off = table.point - table.point[at]
        along = off @ table.axis[at]
        apart = np.linalg.norm(off - along[:, None] * table.axis[at], axis=1)
        level = np.linalg.norm(np.cross(table.axis, table.axis[at]), axis=1) < TURN
        yield "coaxial", "about its axis", level & (apart < 1e-5)
        yield "axis along", "axis the same way", level & same
    colour = body.face_finishes.get(body.faces[at])
    colours = np.array([body.face_finishes.get(f) == colour for f in body.faces])
    if colour is not None:
        yield "colour", "its colour", colours
    feature = feature_of(solid.fabric, [at])
    if feature:
        yield "feature", "of its feature", np.isin(np.arange(len(body.faces)), list(feature))
    pattern = snapshot.pattern_of(body.faces[at])
    if pattern is not None:
        members = {f for m in pattern.members.values() for f in m}
        yield "pattern", "of its pattern", np.array([f in members for f in body.faces])


def _wall(table: FaceTable, at: int, square: Flags) -> tuple[float, Callable[[float], Flags]] | None:
    """Thickness to the nearest plane face behind this one, and which faces have one as far behind them."""

    def depth(face: int) -> float:
        behind = (table.point[face] - table.point) @ table.normal[face]
        opposite = (table.normal @ table.normal[face] < -1 + TURN**2) & (behind > 1e-6)
        return float(behind[opposite].min()) if opposite.any() else np.nan

    own = depth(at)
    if np.isnan(own):
        return None
    planes = np.flatnonzero(table.kind == "plane")
    if len(planes) > MOST_WALLS:
        planes = np.flatnonzero(square)

    def flags(tolerance: float) -> Flags:
        found = np.zeros(len(table.kind), bool)
        found[planes] = _near(np.array([depth(int(f)) for f in planes]), own, tolerance)
        return found

    return own, flags


def _edges(snapshot: Snapshot, body: Body, solid: Solid, at: int, tolerance: float) -> Iterator[tuple[str, str, Flags]]:
    units = snapshot.units
    facts = [None if is_degenerate(e) else edge_facts(e) for e in solid.index.all("edge")]
    own = facts[at]
    if own is None:
        return
    same = np.array([f is not None and f.kind == own.kind for f in facts])
    lengths = np.array([np.nan if f is None else f.length for f in facts])
    yield "length", f"length {format_length(own.length, units)}", same & _near(lengths, own.length, tolerance)
    if own.radius is not None:
        radii = np.array([np.nan if f is None or f.radius is None else f.radius for f in facts])
        yield "radius", f"radius {format_length(own.radius, units)}", same & _near(radii, own.radius, tolerance)
    if own.direction is not None:
        ways = np.array([[np.nan] * 3 if f is None or f.direction is None else f.direction for f in facts])
        yield "parallel", "parallel to it", np.linalg.norm(np.cross(ways, own.direction), axis=1) < TURN
    open_ = np.array([f is not None and len(b) == 1 and solid.fabric.meeting(n) == "open"
                      for n, (f, b) in enumerate(zip(facts, solid.index.faces_of_edges, strict=True))])  # fmt: skip
    if open_[at]:
        yield "gap", "every open edge", open_

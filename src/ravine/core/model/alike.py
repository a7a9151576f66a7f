"""Everything like a picked face or edge, by one criterion after another."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
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
from .wall_thickness import wall_depths
from .words import KIND_WORDS

TOLERANCE = 1e-4  # share by which sizes may differ
LOOSEST = 0.5
TURN = 1e-5  # sine between directions that are one


@dataclass(frozen=True)
class Criterion:
    """code: stable; words: as the panel shows it; ids: everything that fits, the picked thing first."""

    code: str
    words: str
    ids: tuple[str, ...]


def alike(
    snapshot: Snapshot, geometry: GeometryStore, picked: str, tolerance: float = TOLERANCE, everywhere: bool = False
) -> list[Criterion]:
    """Criteria that a face or edge of an exact body gives, each with at least one other that fits.

    tolerance: share by which sizes may differ; everywhere: faces of all exact parts, where they stand first
    """
    kind, number = split_id(picked)
    if kind not in ("face", "edge"):
        raise EditError("alike starts from one face or one edge", [picked])
    if not 0 <= tolerance <= LOOSEST:
        raise EditError(f"sizes may differ by up to {LOOSEST:.0%}", nearest=f"{LOOSEST:.0%}")
    body, at = snapshot.owner_of(kind, number)
    if body.kind == "mesh":
        raise EditError(f"{body.name} is a mesh; alike looks among exact faces", [picked])
    solid = geometry.solid(body.shape)
    if kind == "edge":
        return _told(_edges(snapshot, body, solid, at, tolerance), kind, body.edges, at)
    bodies = [body]
    if everywhere:
        bodies += [b for b in snapshot.bodies.values() if b.kind != "mesh" and b.id != body.id]
    among = _Among(bodies, _table(snapshot, geometry, bodies))
    return _told(_faces(snapshot, among, solid, at, tolerance), kind, among.ids, at)


def _told(rows: Iterator[tuple[str, str, Flags]], kind: str, ids: Sequence[int], at: int) -> list[Criterion]:
    found = []
    for code, words, flags in rows:
        flags[at] = True
        if flags.sum() > 1:
            others = [n for n in np.flatnonzero(flags).tolist() if n != at]
            found.append(Criterion(code, words, tuple(text_id(kind, ids[n]) for n in [at, *others])))
    return found


@dataclass(frozen=True)
class _Among:
    """The faces that are looked among: those of the picked one's body first."""

    bodies: Sequence[Body]
    table: FaceTable

    @property
    def ids(self) -> list[int]:
        return [f for b in self.bodies for f in b.faces]

    def of_own(self, flags: Flags) -> Flags:
        """Flags of the first body's faces as flags of all."""
        whole = np.zeros(len(self.table.kind), bool)
        whole[: len(flags)] = flags
        return whole


def _table(snapshot: Snapshot, geometry: GeometryStore, bodies: Sequence[Body]) -> FaceTable:
    """In model coordinates where there are several."""
    if len(bodies) == 1:
        return geometry.solid(bodies[0].shape).faces
    tables = []
    for body in bodies:
        places = snapshot.occurrences(body.id)
        table = geometry.solid(body.shape).faces
        tables.append(table.placed(places[0].matrix) if places else table)
    return FaceTable.joined(tables)


def _near(values: NDArray[np.float64], value: float, tolerance: float) -> Flags:
    return np.abs(values - value) <= tolerance * abs(value) + 1e-9


def _faces(
    snapshot: Snapshot, among: _Among, solid: Solid, at: int, tolerance: float
) -> Iterator[tuple[str, str, Flags]]:
    table, units, body = among.table, snapshot.units, among.bodies[0]
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
        cosine = table.normal @ table.normal[at]
        square = np.abs(cosine) > 1 - TURN**2
        height = np.abs((table.point - table.point[at]) @ table.normal[at])
        yield "parallel", "parallel to it", square
        yield "coplanar", "in its plane", square & (cosine > 0) & (height < 1e-6 * max(1.0, float(np.sqrt(area))))
        planes = np.flatnonzero(same)
        depths = np.full(len(table.kind), np.nan)
        depths[planes] = wall_depths(table.normal[planes], table.point[planes])
        if not np.isnan(depths[at]):
            thick = float(depths[at])
            yield "wall", f"walls {format_length(thick, units)} thick", _near(depths, thick, tolerance)
    elif not np.isnan(table.axis[at]).any() and kind != "sphere":
        off = table.point - table.point[at]
        along = off @ table.axis[at]
        apart = np.linalg.norm(off - along[:, None] * table.axis[at], axis=1)
        level = np.linalg.norm(np.cross(table.axis, table.axis[at]), axis=1) < TURN
        yield "coaxial", "about its axis", level & (apart < 1e-5)
        yield "axis along", "axis the same way", level & same
    colour = body.face_finishes.get(body.faces[at])
    if colour is not None:
        colours = [b.face_finishes.get(f) == colour for b in among.bodies for f in b.faces]
        yield "colour", "its colour", np.array(colours)
    feature = feature_of(solid.topology, [at])
    if feature:
        yield "feature", "of its feature", among.of_own(np.isin(np.arange(len(body.faces)), list(feature)))
    pattern = snapshot.pattern_of(body.faces[at])
    if pattern is not None:
        members = {f for m in pattern.members.values() for f in m}
        yield "pattern", "of its pattern", among.of_own(np.array([f in members for f in body.faces]))


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
    open_ = np.array([f is not None and len(b) == 1 and solid.topology.meeting(n) == "open"
                      for n, (f, b) in enumerate(zip(facts, solid.index.faces_of_edges, strict=True))])  # fmt: skip
    if open_[at]:
        yield "gap", "every open edge", open_

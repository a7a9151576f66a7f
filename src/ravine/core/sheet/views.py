"""Sheet metal of a body as scripts and pages see it: ids, lengths in units of the model, angles in degrees."""

from __future__ import annotations

import math
import os
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from ..errors import EditError
from ..model.geometry import GeometryStore
from ..model.records import SHEETS
from ..model.sheet_data import SheetData
from ..model.snapshot import Body, Snapshot, text_id
from ..units import LENGTHS, format_angle, format_length
from .allowance import Allowance
from .faults import KINDS, Fault
from .reading import SheetReading, read_sheet
from .unfold import Flat, unfold


@dataclass(frozen=True)
class WallView:
    """faces: ids of both sides, the one that is seen first."""

    faces: tuple[str, ...]
    area: float


@dataclass(frozen=True)
class BendView:
    """id: of its face on the side that is seen, by which the bend is known from edit to edit, or of the edge of a sharp
    fold; angle: degrees by which
    the sheet is bent; direction: up or down, as seen; cone: half angle in degrees, 0 for a cylinder."""

    id: str
    faces: tuple[str, ...]
    angle: float
    radius: float
    length: float
    allowance: float
    direction: str
    line: tuple[tuple[float, float], tuple[float, float]]
    cone: float = 0.0


@dataclass(frozen=True)
class FaultView:
    """kind: of sheet.faults.KINDS; size: in units of the model or degrees, 0 where none is told."""

    kind: str
    faces: tuple[str, ...]
    words: str
    size: float


@dataclass(frozen=True)
class SheetView:
    thickness: float
    walls: tuple[WallView, ...]
    bends: tuple[BendView, ...]
    faults: tuple[FaultView, ...]


@dataclass(frozen=True, eq=False)
class FlatView:
    """outline: closed loops of curves in the plane (mm), the outer one first; size: of the smallest rectangle around
    it; clashes: pairs of face ids with the area over which they lie; whole: all of it, for drawings."""

    outline: tuple[tuple[Any, ...], ...]
    area: float
    size: tuple[float, float]
    cut_length: float
    bends: tuple[BendView, ...]
    clashes: tuple[tuple[str, str, float], ...]
    whole: Flat = field(repr=False)
    writer: Callable[[str], bytes] | None = field(default=None, repr=False)

    def save(self, path: str | os.PathLike[str]) -> Path:
        """As dxf, svg or pdf, by the ending.  Raises EditError for another."""
        target = Path(path)
        assert self.writer is not None
        target.write_bytes(self.writer(target.suffix[1:].lower()))
        return target


def read_body(
    snapshot: Snapshot, geometry: GeometryStore, body: Body, wall: int | None = None
) -> tuple[SheetReading, SheetData]:
    """wall: id of the face to see it from.  Raises EditError for what is no solid, or no sheet at all."""
    if body.kind != "solid":
        raise EditError(f"{body.name} is no solid, so it has no two sides")
    data = snapshot.kept(SHEETS).get(body.id) or SheetData(body.id)
    seen = wall or data.root
    root = body.faces.index(seen) if seen in body.faces else None
    key = ("sheet", body.shape, root, data.thickness)
    topology = geometry.solid(body.shape).topology
    return geometry.remembered(key, lambda: read_sheet(topology, root, data.thickness)), data


def flat_of(snapshot: Snapshot, geometry: GeometryStore, body: Body, wall: int | None = None) -> Flat:
    """Raises EditError."""
    reading, data = read_body(snapshot, geometry, body, wall)
    allowance = Allowance.of(data)
    key = ("flat", body.shape, reading.root, reading.thickness, allowance)
    return geometry.remembered(key, lambda: unfold(reading, allowance))


def view_sheet(snapshot: Snapshot, geometry: GeometryStore, body: Body, wall: int | None = None) -> SheetView:
    flat = flat_of(snapshot, geometry, body, wall)
    reading, unit = flat.reading, LENGTHS[snapshot.units]
    walls = tuple(
        WallView(_ids(body, (p.face, *(b.face for b in p.backs))), flat.panels[p.face].area / unit**2)
        for p in reading.walls() if p.face in flat.panels
    )  # fmt: skip
    return SheetView(reading.thickness / unit, walls, view_bends(snapshot, body, flat),
                     tuple(view_fault(snapshot, body, f) for f in all_faults(flat)))  # fmt: skip


def view_flat(snapshot: Snapshot, geometry: GeometryStore, body: Body, wall: int | None = None) -> FlatView:
    flat = flat_of(snapshot, geometry, body, wall)
    unit = LENGTHS[snapshot.units]
    pairs = [(_ids(body, c.faces), c.area / unit**2) for c in flat.clashes]
    clashes = tuple((one, other, area) for (one, other), area in pairs)
    return FlatView(
        tuple(tuple(loop) for loop in flat.loops), flat.area / unit**2, (flat.size[0] / unit, flat.size[1] / unit),
        flat.cut_length / unit, view_bends(snapshot, body, flat), clashes, flat,
    )  # fmt: skip


def view_bends(snapshot: Snapshot, body: Body, flat: Flat) -> tuple[BendView, ...]:
    unit = LENGTHS[snapshot.units]
    found = []
    for b in flat.bends:
        faces = _ids(body, (b.face, *(k.face for k in flat.reading.panels[b.face].backs)))
        ident = faces[0] if b.edge is None else text_id("edge", body.edges[b.edge])
        ends = ((b.start[0] / unit, b.start[1] / unit), (b.end[0] / unit, b.end[1] / unit))
        found.append(BendView(ident, faces, math.degrees(b.angle), b.radius / unit, b.length / unit,
                              b.allowance / unit, b.direction, ends, math.degrees(b.cone)))  # fmt: skip
    return tuple(found)


def all_faults(flat: Flat) -> list[Fault]:
    """Of the folded sheet, and joints that close it on itself."""
    return [*flat.reading.faults, *(Fault("closed", r.faces, r.gap) for r in flat.rings)]


def view_fault(snapshot: Snapshot, body: Body, fault: Fault) -> FaultView:
    angle = fault.kind in ("square", "kink")
    told = ""
    if fault.size:
        size = format_angle(abs(fault.size)) if angle else format_length(abs(fault.size), snapshot.units)
        told = f", by {size}"
    unit = LENGTHS[snapshot.units]
    return FaultView(fault.kind, _ids(body, fault.faces), KINDS[fault.kind] + told,
                     math.degrees(fault.size) if angle else fault.size / unit)  # fmt: skip


def _ids(body: Body, faces: Sequence[int]) -> tuple[str, ...]:
    return tuple(text_id("face", body.faces[f]) for f in faces)

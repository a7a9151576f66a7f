"""Dimensions of plain solids: kept, forgotten, named."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from ..dimensions.reading import leans, read_between
from ..errors import EditError, UnknownId
from ..local import related_faces
from ..model.dimension import ANGLE, ROUND, BodyDimension
from ..model.records import DIMENSIONS
from ..model.references import Reference, part_of
from ..model.snapshot import Snapshot, text_id
from ..rigid import Vec
from ..units import check_name
from .values import settled_formulas
from .work import Fact, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class AddDimension(Operation):
    """ends: one round face or edge, one flat face (its wall), or two faces, edges or corners; way: of WAYS."""

    ends: tuple[Reference, ...]
    way: str = "straight"
    called: str | None = None

    def do(self, work: Work) -> Outcome:
        if not 1 <= len(self.ends) <= 2:
            raise EditError("a dimension is of one round thing, or between two", self.ends, field="ends")
        ends, way = _with_opposite(work, self.ends), self.way
        if len(ends) == 1:
            way = way if way in ROUND else "diameter"
        elif way == "straight" and leans(work.geometry, list(ends)):
            way = ANGLE
        reading = read_between(work.geometry, list(ends), way)
        used = {d.name for d in work.snapshot.kept(DIMENSIONS).values()} | set(work.snapshot.named_sizes())
        name = self.called or next(n for k in range(1, 10**6) if (n := f"D{k}") not in used)
        if name in used:
            raise EditError(f"there is something called {name} already", field="called")
        check_name(name)
        (number,), snapshot = work.snapshot.fresh(1)
        bodies = tuple(dict.fromkeys(end.owner[0].id for end in ends))
        item = BodyDimension(number, way, tuple(end.placed for end in ends), bodies, name, reading.value)
        snapshot = snapshot.with_kept(DIMENSIONS, {**snapshot.kept(DIMENSIONS), number: item})
        told = f"{math.degrees(reading.value):.6g}°" if way == ANGLE else reading.value
        return Outcome(snapshot, (Fact("dimension", item.name, told, "" if way == ANGLE else "length"),))


def _with_opposite(work: Work, ends: tuple[Reference, ...]) -> tuple[Reference, ...]:
    """Of one flat face the wall behind it; the face itself is the second, which moves."""
    if len(ends) != 1 or ends[0].kind != "face":
        return ends
    body, index = ends[0].owner
    found = related_faces.opposite(work.geometry.solid(body.shape).topology, index)
    return ends if found is None else (part_of(ends[0], "face", found[0]), ends[0])


@dataclass(frozen=True, kw_only=True)
class DropDimension(Operation):
    """Forgets one; the part stays as it is."""

    dimension: str

    def do(self, work: Work) -> Outcome:
        gone = find_dimension(work.snapshot, self.dimension)
        rows = {n: d for n, d in work.snapshot.kept(DIMENSIONS).items() if n != gone.id}
        snapshot, lost = settled_formulas(work.snapshot.with_kept(DIMENSIONS, rows))
        return Outcome(snapshot, (), lost)


@dataclass(frozen=True, kw_only=True)
class PlaceDimension(Operation):
    """off: mm in the model from the middle of its ends to where it is written, None as fits."""

    dimension: str
    off: Vec | None = None

    def do(self, work: Work) -> Outcome:
        item = find_dimension(work.snapshot, self.dimension)
        rows = {**work.snapshot.kept(DIMENSIONS), item.id: replace(item, off=self.off)}
        return Outcome(work.snapshot.with_kept(DIMENSIONS, rows))


def find_dimension(snapshot: Snapshot, text: str) -> BodyDimension:
    """By its id or name.  Raises UnknownId."""
    rows = snapshot.kept(DIMENSIONS)
    named: BodyDimension | None = next((d for d in rows.values() if d.name == text), None)
    if named is not None:
        return named
    found: BodyDimension | None = next((d for d in rows.values() if text_id("dimension", d.id) == text), None)
    if found is None:
        known = ", ".join(d.name for d in rows.values()) or "none yet"
        raise UnknownId(f"there is no dimension {text[:40]}; there is {known}", [text])
    return found

"""Drive a dimension to another value: faces and whole features move, held dimensions keep theirs, formulas follow."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from ..dimensions.reading import read_dimension
from ..errors import EditError
from ..model.dimension import ANGLE, ARC, BodyDimension
from ..model.records import DIMENSIONS
from ..model.references import Reference
from ..rigid import vec_of
from ..units import LENGTHS
from .dimensioning import find_dimension
from .driving import STILL, Driving, Target
from .facts import change_facts
from .values import follow_values
from .work import Fact, Handle, Mode, Operation, Outcome, Work


def angle_of(value: float, units: str) -> float:
    """rad, of what was typed as a bare number, which is read as a length.  Raises EditError."""
    degrees = value / LENGTHS[units]
    if not 0 < degrees < 180:
        raise EditError(f"an angle lies between 0° and 180°, not at {degrees:.6g}°", field="value")
    return math.radians(degrees)


@dataclass(frozen=True, kw_only=True)
class Drive(Operation):
    """dimension: its id or name; value: mm, which may carry the formula it came from; side: which end moves; held:
    dimensions that keep their values; riders: further faces that go with the second end; line: whether holes about
    one axis go together."""

    dimension: str
    value: float
    side: str = "second"
    held: tuple[str, ...] | None = None
    riders: tuple[Reference, ...] | None = None
    line: str = "together"

    def handle(self, work: Work) -> Handle | None:
        """Its wire runs from the end that stays; one that grows to both sides is pulled at its second.  An angle and a
        length of arc have none."""
        item = find_dimension(work.snapshot, self.dimension)
        if item.way in (ANGLE, ARC):
            return None
        reading = read_dimension(work.snapshot, work.geometry, item)
        start, way = (reading.ends[1], -reading.way) if self.side == "first" else (reading.ends[0], reading.way)
        return Handle("value", vec_of(start), vec_of(way))

    def do(self, work: Work) -> Outcome:
        item = find_dimension(work.snapshot, self.dimension)
        reading = read_dimension(work.snapshot, work.geometry, item)
        text = getattr(self.value, "text", "")
        if getattr(self.value, "angle", False) and item.way != ANGLE:
            raise EditError(f"{item.name} is a length, not an angle", field="value")
        value = angle_of(float(self.value), work.snapshot.units) if item.way == ANGLE else float(self.value)
        if abs(value - reading.value) < STILL and text == item.text:
            if work.mode is not Mode.COMMIT:
                return Outcome(work.snapshot)  # as the line opens: nothing is wrong with it yet
            raise EditError(f"{item.name} has this value already", field="value")
        driving = Driving(work, self.side, self.line == "together", self.riders or ())
        done = driving.do(work.snapshot, [Target(item, value)], self._held(work, item))
        rows = done.snapshot.kept(DIMENSIONS)
        snapshot = done.snapshot.with_kept(DIMENSIONS, {**rows, item.id: replace(rows[item.id], text=text)})
        snapshot, bodies, told = follow_values(work, snapshot)
        return Outcome(
            snapshot,
            (
                *change_facts(work, snapshot, done.bodies | bodies),
                Fact("moves", "moving", f"{done.moved} thing{'s' if done.moved != 1 else ''}"),
                *done.followed.facts,
            ),
            told,
        )

    def _held(self, work: Work, item: BodyDimension) -> list[BodyDimension]:
        found = [find_dimension(work.snapshot, text) for text in self.held or ()]
        if item in found:
            raise EditError(f"{item.name} is the one that is driven; it cannot be held as well", field="held")
        return found

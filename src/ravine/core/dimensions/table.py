"""All values that have a name, in one table."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from ..errors import EditError, RavineError, UnitError
from ..model.dimension import ANGLE, BodyDimension
from ..model.named_value import NamedValue
from ..model.records import DIMENSIONS, VALUES
from ..model.snapshot import Snapshot
from ..sketch.entities import Constraint
from ..units import LENGTHS, names_in, parse_angle, parse_length


@dataclass(frozen=True)
class ValueView:
    """value: in units of the model, or degrees; text: its formula, empty without one; kind: dimension, sketch or value;
    off: what the formula gives where it is not followed now; place: of whom it is, for a sketch its name; angle: it is
    one."""

    name: str
    value: float
    text: str
    kind: str
    place: str
    off: float | None
    angle: bool = False


def view_values(snapshot: Snapshot) -> list[ValueView]:
    unit = LENGTHS[snapshot.units]
    found = [_view(v, v.value, "value", "", snapshot) for v in snapshot.kept(VALUES).values()]
    for item in snapshot.kept(DIMENSIONS).values():
        if item.value is not None:
            place = ", ".join(snapshot.bodies[b].name for b in item.bodies)
            found.append(_view(item, item.value, "dimension", place, snapshot))
    for sketch in snapshot.sketches.values():
        for rule in sketch.constraints.values():
            if rule.name:
                found.append(_view(rule, rule.value or 0.0, "sketch", sketch.name, snapshot))
    scales = [math.radians(1) if v.angle else unit for v in found]
    return [
        replace(v, value=v.value / scale, off=None if v.off is None else v.off / scale)
        for v, scale in zip(found, scales, strict=True)
    ]


def _view(
    one: NamedValue | BodyDimension | Constraint, value: float, kind: str, place: str, snapshot: Snapshot
) -> ValueView:
    off = None
    if one.text:
        try:
            gives = given(one, snapshot)
        except RavineError:
            gives = value
        off = gives if abs(gives - value) > 1e-6 else None
    return ValueView(one.name, value, one.text, kind, place, off, is_angle(one))


def is_angle(one: NamedValue | BodyDimension | Constraint) -> bool:
    return isinstance(one, BodyDimension) and one.way == ANGLE


def given(one: NamedValue | BodyDimension | Constraint, snapshot: Snapshot) -> float:
    """What the formula of one gives, mm or rad, with what those in it give; an angle's is over angles.  Raises
    EditError where it cannot be read."""
    angle, texts = is_angle(one), snapshot.formulas()
    names = snapshot.named_angles() if angle else snapshot.named_sizes()

    def worked_out(name: str, text: str) -> float:
        for other in names_in(text, names):
            if other in texts and other != name:
                names[other] = worked_out(other, texts.pop(other))
        try:
            return parse_angle(text, names=names) if angle else parse_length(text, snapshot.units, names=names)
        except UnitError as error:
            raise EditError(f"{name or 'a size'}: {error}", field="value") from error

    return worked_out(one.name, one.text)

"""Which rows each kind of joint is."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np

from ..errors import EditError
from ..model.joint import Joint
from ..rigid import Rigid
from .equations import Row, System
from .frames import Frame, part_frame

Place = Callable[[Frame], int]


def likely_kind(a: Frame, b: Frame, others: int = 1) -> str:
    """What two ends are most likely joined as; others: how many the second end has."""
    if others > 1:
        return "centred"
    if {a.kind, b.kind} == {"plane", "axis"} and (a.radius or b.radius):
        return "tangent"
    return "coaxial" if a.kind == b.kind == "axis" else "on"


def add_joint(system: System, joint: Joint, ends: Sequence[Frame], place: Place) -> None:
    """ends: the frames of `of`, then of `to`, of a fixed one the parts' own coordinates; place: enters a frame in the
    system.  Raises EditError where the ends do not suit the kind."""
    if joint.kind == "fixed":
        system.add(joint.id, *_fixed(joint, ends, place))
        return
    a, b = _middle(ends[: len(joint.of)]), _middle(ends[len(joint.of) :])
    system.add(joint.id, *_rows(joint, a, b, place))


def _middle(frames: Sequence[Frame]) -> Frame:
    """One end of what has two: half-way between."""
    return frames[0] if len(frames) == 1 else frames[0].beside(np.mean([f.point for f in frames], axis=0))


def _fixed(joint: Joint, ends: Sequence[Frame], place: Place) -> list[Row]:
    """ends: the part's own coordinates, and those of what it is fixed to."""
    part, other = ends
    wanted = part_frame(Rigid(other_matrix(other)) @ Rigid(joint.pose), other.leaf)
    a, b = place(part), place(wanted)
    return [
        *(Row("reach", a, b, j=j) for j in range(3)),
        *(Row("cosine", a, b, i, j) for i, j in ((0, 1), (0, 2), (1, 2))),
    ]


def other_matrix(frame: Frame) -> Rigid:
    return Rigid.of(frame.axes.T, frame.point)


def _rows(joint: Joint, a: Frame, b: Frame, place: Place) -> list[Row]:
    kinds = (a.kind, b.kind)
    if joint.kind == "coaxial":
        if "plane" in kinds or "point" in kinds:
            raise EditError("coaxial are round or straight things", field="of")
        return _one_line(place(a), place(b))
    if joint.kind == "parallel":
        if "point" in kinds:
            raise EditError("a corner has no direction, so it is parallel to nothing", field="of")
        return _one_way(a, b, place)
    if joint.kind == "angle":
        return _at_angle(joint, a, b, place)
    if joint.kind == "tangent":
        return _tangent(joint, a, b, place)
    if joint.kind == "centred":
        return _centred(a, b, place)
    return _at_distance(joint, a, b, place)


def _one_way(a: Frame, b: Frame, place: Place) -> list[Row]:
    """Directions of one kind parallel; an axis runs along a plane."""
    p, q = place(a), place(b)
    if a.kind != b.kind:
        return [Row("cosine", p, q)]
    return [Row("cosine", p, q, 2, 0), Row("cosine", p, q, 2, 1)]


def _one_line(p: int, q: int) -> list[Row]:
    along = [Row("cosine", p, q, 2, j) for j in (0, 1)]
    return [*along, *(Row("reach", p, q, j=j) for j in (0, 1))]


def _at_angle(joint: Joint, a: Frame, b: Frame, place: Place) -> list[Row]:
    """Between directions; that of an axis to a plane is from the plane."""
    if "point" in (a.kind, b.kind):
        raise EditError("a corner has no direction, so there is no angle to it", field="of")
    mixed = a.kind != b.kind
    product = math.sin if mixed else math.cos
    if not mixed and joint.value is not None and abs(math.sin(joint.value)) < 1e-6:
        return _one_way(a, b, place)
    p, q = place(a), place(b)
    if joint.value is not None:
        return [Row("cosine", p, q, value=product(joint.value))]
    low, high = (None if v is None else product(v) for v in (joint.least, joint.most))
    if not mixed:
        low, high = high, low  # a cosine falls as the angle grows
    return [Row("cosine", p, q, least=low, most=high)]


def _tangent(joint: Joint, a: Frame, b: Frame, place: Place) -> list[Row]:
    """A round thing on a plane, or two round ones along parallel axes."""
    if a.kind == "plane" and b.radius is not None:
        a, b = b, a
    p, q = place(a), place(b)
    if a.radius is not None and b.kind == "plane":
        upright = [] if a.kind == "point" else [Row("cosine", p, q)]
        return [*upright, Row("reach", p, q, value=joint.side * a.radius)]
    if a.radius is None or b.radius is None or (a.kind, b.kind) != ("axis", "axis"):
        raise EditError("tangent are a round face and a flat one, or two round ones", field="of")
    far = a.radius + b.radius if joint.side > 0 else abs(a.radius - b.radius)
    along = [Row("cosine", p, q, 2, j) for j in (0, 1)]
    return [*along, Row("radial", p, q, value=far, over=(0, 1))]


def _centred(a: Frame, b: Frame, place: Place) -> list[Row]:
    if b.kind != "plane":
        raise EditError("what something is centred between are two flat faces", field="to")
    p, q = place(a), place(b)
    level = {"plane": [Row("cosine", p, q, 2, 0), Row("cosine", p, q, 2, 1)], "axis": [Row("cosine", p, q)]}
    return [*level.get(a.kind, []), Row("reach", p, q)]


def _at_distance(joint: Joint, a: Frame, b: Frame, place: Place) -> list[Row]:
    """On one another is a distance of nothing."""
    value = 0.0 if joint.kind == "on" else joint.value
    bounds = {"least": joint.least, "most": joint.most} if value is None else {"value": value}
    if b.kind != "plane" and a.kind == "plane":
        a, b = b, a
    p, q = place(a), place(b)
    if b.kind == "plane":
        level = {"plane": [Row("cosine", p, q, 2, 0), Row("cosine", p, q, 2, 1)], "axis": [Row("cosine", p, q)]}
        signed = bounds if a.kind == b.kind == "plane" or not value else {"value": joint.side * value}
        return [*level.get(a.kind, []), Row("reach", p, q, **signed)]
    if a.kind == b.kind == "axis":
        if value == 0.0:
            return _one_line(p, q)
        along = [Row("cosine", p, q, 2, j) for j in (0, 1)]
        return [*along, Row("radial", p, q, over=(0, 1), **bounds)]
    if a.kind == "axis":
        p, q = q, p
    over = (0, 1) if "axis" in (a.kind, b.kind) else (0, 1, 2)
    if value == 0.0:
        return [Row("reach", p, q, j=j) for j in over]
    return [Row("radial", p, q, over=over, **bounds)]

"""What constraints and dimensions say: residuals in mm that are zero where the rule holds.

Every form is a function of the parameters of the entities a rule is on, written for many constraints at once and for
complex numbers, so that the solver gets exact derivatives by the complex step (W. Squire, G. Trapp, "Using complex
variables to estimate derivatives of real functions", SIAM Review 40 (1998)): no `abs`, no `arctan2`, no `max`.

Shapes: the columns of `p` are the parameters in the order in which `RULES` lists the parts, one row a rule.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..errors import EditError
from .entities import Constraint, Sketch

Values = NDArray[np.complex128]
Floats = NDArray[np.float64]
ARM = 10.0  # mm: what an angle counts as beside lengths; a constant, so that no length takes part in an angle
Form = Callable[[Values, Floats], list[Values]]


def _size(x: Values, y: Values) -> Values:
    return np.sqrt(x * x + y * y + 1e-30)


def _line_gap(px: Values, py: Values, ax: Values, ay: Values, bx: Values, by: Values) -> Values:
    """Signed distance of points from lines."""
    ux, uy = bx - ax, by - ay
    return (ux * (py - ay) - uy * (px - ax)) / _size(ux, uy)


def _sign(v: Values) -> Floats:
    return np.where(v.real < 0, -1.0, 1.0)


def _same_place(p: Values, value: Floats) -> list[Values]:
    return [p[:, 0] - p[:, 2], p[:, 1] - p[:, 3]]


def _level(p: Values, value: Floats) -> list[Values]:
    return [p[:, 1] - p[:, 3]]


def _upright(p: Values, value: Floats) -> list[Values]:
    return [p[:, 0] - p[:, 2]]


def _turned(p: Values, value: Floats) -> list[Values]:
    """Two lines at an angle, counterclockwise from the first to the second."""
    ux, uy, vx, vy = p[:, 2] - p[:, 0], p[:, 3] - p[:, 1], p[:, 6] - p[:, 4], p[:, 7] - p[:, 5]
    u, v = _size(ux, uy), _size(vx, vy)
    cross, dot = (ux * vy - uy * vx) / (u * v), (ux * vx + uy * vy) / (u * v)
    return [(cross * np.cos(value) - dot * np.sin(value)) * ARM]


def _parallel(p: Values, value: Floats) -> list[Values]:
    return _turned(p, np.zeros(len(p)))


def _square(p: Values, value: Floats) -> list[Values]:
    return _turned(p, np.full(len(p), np.pi / 2))


def _in_line(p: Values, value: Floats) -> list[Values]:
    a = _line_gap(p[:, 4], p[:, 5], *(p[:, k] for k in range(4)))
    return [a, _line_gap(p[:, 6], p[:, 7], *(p[:, k] for k in range(4)))]


def _same_length(p: Values, value: Floats) -> list[Values]:
    return [_size(p[:, 2] - p[:, 0], p[:, 3] - p[:, 1]) - _size(p[:, 6] - p[:, 4], p[:, 7] - p[:, 5])]


def _same_radius(p: Values, value: Floats) -> list[Values]:
    return [p[:, 2] - p[:, 5]]


def _one_middle(p: Values, value: Floats) -> list[Values]:
    return [p[:, 0] - p[:, 3], p[:, 1] - p[:, 4]]


def _middle(p: Values, value: Floats) -> list[Values]:
    return [2 * p[:, 0] - p[:, 2] - p[:, 4], 2 * p[:, 1] - p[:, 3] - p[:, 5]]


def _mirrored(p: Values, value: Floats) -> list[Values]:
    """Two points about a line."""
    ux, uy = p[:, 6] - p[:, 4], p[:, 7] - p[:, 5]
    size = _size(ux, uy)
    along = ((p[:, 2] - p[:, 0]) * ux + (p[:, 3] - p[:, 1]) * uy) / size
    mx, my = (p[:, 0] + p[:, 2]) / 2, (p[:, 1] + p[:, 3]) / 2
    return [along, _line_gap(mx, my, *(p[:, k] for k in range(4, 8)))]


def _on_line(p: Values, value: Floats) -> list[Values]:
    return [_line_gap(p[:, 0], p[:, 1], *(p[:, k] for k in range(2, 6)))]


def _on_round(p: Values, value: Floats) -> list[Values]:
    return [_size(p[:, 0] - p[:, 2], p[:, 1] - p[:, 3]) - p[:, 4]]


def _touch_line(p: Values, value: Floats) -> list[Values]:
    gap = _line_gap(p[:, 4], p[:, 5], *(p[:, k] for k in range(4)))
    return [gap * _sign(gap) - p[:, 6]]


def _touch_line_end(p: Values, value: Floats) -> list[Values]:
    """Line and arc that share an end: there the line is square to the radius.  (The gap of the line to the circle has
    no slope then, since the shared end keeps it at nought.)"""
    ux, uy = p[:, 2] - p[:, 0], p[:, 3] - p[:, 1]
    return [(ux * (p[:, 7] - p[:, 4]) + uy * (p[:, 8] - p[:, 5])) / _size(ux, uy)]


def _touch_round_end(p: Values, value: Floats) -> list[Values]:
    """Arcs that share an end: both middles lie in one line with it."""
    ax, ay, bx, by = p[:, 6] - p[:, 0], p[:, 7] - p[:, 1], p[:, 6] - p[:, 3], p[:, 7] - p[:, 4]
    return [(ax * by - ay * bx) / np.sqrt(_size(ax, ay) * _size(bx, by))]


def _touch_round(p: Values, value: Floats) -> list[Values]:
    """From outside or from inside, whichever is nearer."""
    apart = _size(p[:, 3] - p[:, 0], p[:, 4] - p[:, 1])
    inner = p[:, 2] - p[:, 5]
    inner = inner * _sign(inner)
    outer = p[:, 2] + p[:, 5]
    nearer = (apart - outer).real ** 2 < (apart - inner).real ** 2
    return [np.where(nearer, apart - outer, apart - inner)]


def _fixed(p: Values, value: Floats) -> list[Values]:
    raise NotImplementedError  # the solver takes such points out of what may move


def _distance(p: Values, value: Floats) -> list[Values]:
    return [_size(p[:, 2] - p[:, 0], p[:, 3] - p[:, 1]) - value]


def _across(p: Values, value: Floats) -> list[Values]:
    gap = p[:, 2] - p[:, 0]
    return [gap * _sign(gap) - value]


def _upwards(p: Values, value: Floats) -> list[Values]:
    gap = p[:, 3] - p[:, 1]
    return [gap * _sign(gap) - value]


def _off_line(p: Values, value: Floats) -> list[Values]:
    gap = _line_gap(p[:, 0], p[:, 1], *(p[:, k] for k in range(2, 6)))
    return [gap * _sign(gap) - value]


def _lines_apart(p: Values, value: Floats) -> list[Values]:
    """Of parallel lines: of the first one's middle from the second."""
    mx, my = (p[:, 0] + p[:, 2]) / 2, (p[:, 1] + p[:, 3]) / 2
    gap = _line_gap(mx, my, *(p[:, k] for k in range(4, 8)))
    return [gap * _sign(gap) - value]


def _radius(p: Values, value: Floats) -> list[Values]:
    return [p[:, 2] - value]


def _diameter(p: Values, value: Floats) -> list[Values]:
    return [2 * p[:, 2] - value]


@dataclass(frozen=True)
class ConstraintKind:
    """takes: what it is on, in either order where the reverse is not listed by another form: point, line (two
    points), round (centre and radius); words: how it reads; unit: length or angle for a dimension"""

    form: Form
    takes: tuple[str, ...]
    words: str
    unit: str = ""


FORMS: dict[str, ConstraintKind] = {
    "together": ConstraintKind(_same_place, ("point", "point"), "in one place"),
    "level": ConstraintKind(_level, ("line",), "level"),
    "level points": ConstraintKind(_level, ("point", "point"), "level with one another"),
    "upright": ConstraintKind(_upright, ("line",), "upright"),
    "upright points": ConstraintKind(_upright, ("point", "point"), "one above the other"),
    "parallel": ConstraintKind(_parallel, ("line", "line"), "parallel"),
    "square": ConstraintKind(_square, ("line", "line"), "square to each other"),
    "in line": ConstraintKind(_in_line, ("line", "line"), "in one line"),
    "equal": ConstraintKind(_same_length, ("line", "line"), "of equal length"),
    "equal rounds": ConstraintKind(_same_radius, ("round", "round"), "of equal radius"),
    "one middle": ConstraintKind(_one_middle, ("round", "round"), "about one middle"),
    "middle": ConstraintKind(_middle, ("point", "line"), "at the middle"),
    "mirrored": ConstraintKind(_mirrored, ("point", "point", "line"), "mirrored"),
    "on": ConstraintKind(_on_line, ("point", "line"), "on the line"),
    "on round": ConstraintKind(_on_round, ("point", "round"), "on the round"),
    "tangent": ConstraintKind(_touch_line, ("line", "round"), "tangent"),
    "tangent rounds": ConstraintKind(_touch_round, ("round", "round"), "tangent"),
    "tangent end": ConstraintKind(_touch_line_end, ("line", "round", "point"), "tangent"),
    "tangent round end": ConstraintKind(_touch_round_end, ("round", "round", "point"), "tangent"),
    "fixed": ConstraintKind(_fixed, ("point",), "fixed"),
    "length": ConstraintKind(_distance, ("line",), "long", "length"),
    "distance": ConstraintKind(_distance, ("point", "point"), "apart", "length"),
    "across": ConstraintKind(_across, ("point", "point"), "apart along x", "length"),
    "upwards": ConstraintKind(_upwards, ("point", "point"), "apart along y", "length"),
    "off line": ConstraintKind(_off_line, ("point", "line"), "off the line", "length"),
    "lines apart": ConstraintKind(_lines_apart, ("line", "line"), "apart", "length"),
    "angle": ConstraintKind(_turned, ("line", "line"), "turned", "angle"),
    "radius": ConstraintKind(_radius, ("round",), "in radius", "length"),
    "diameter": ConstraintKind(_diameter, ("round",), "in diameter", "length"),
}

# what people ask for, and the forms it may take depending on what is picked
ASKED: dict[str, tuple[str, ...]] = {
    "together": ("together", "one middle"),
    "level": ("level", "level points"),
    "upright": ("upright", "upright points"),
    "parallel": ("parallel",),
    "square": ("square",),
    "in line": ("in line",),
    "equal": ("equal", "equal rounds"),
    "one middle": ("one middle",),
    "middle": ("middle",),
    "mirrored": ("mirrored",),
    "on": ("on", "on round"),
    "tangent": ("tangent", "tangent rounds"),
    "fixed": ("fixed",),
}
SIZES: dict[str, tuple[str, ...]] = {
    "distance": ("length", "distance", "off line", "lines apart"),
    "across": ("across",),
    "upwards": ("upwards",),
    "angle": ("angle",),
    "radius": ("radius",),
    "diameter": ("diameter",),
}
SIZE_WORDS = {kind: f"distance {kind}" if kind in ("across", "upwards") else kind for kind in SIZES}


def part_kind(sketch: Sketch, number: int) -> str:
    kind = sketch.owner_kind(number)
    return {"circle": "round", "arc": "round", "dot": "point"}.get(kind, kind)


def fit(sketch: Sketch, asked: str, on: Sequence[int]) -> tuple[str, tuple[int, ...]]:
    """The form that suits what is picked, with the picks in its order.  Raises EditError that says what it takes."""
    known = ASKED.get(asked) or SIZES.get(asked)
    if known is None:
        raise EditError(f"there is no rule “{asked[:30]}”; there is {', '.join([*ASKED, *SIZES])}", field="rule")
    picked = [_as_point(sketch, n) for n in on]
    if asked == "tangent" and len(picked) == 2 and all(n in sketch.curves for n in picked):
        shared = set(_ends(sketch, picked[0])) & set(_ends(sketch, picked[1]))
        if shared:
            known = ("tangent end", "tangent round end")
            picked.append(min(shared))
    kinds = [part_kind(sketch, n) for n in picked]
    for form in known:
        wanted = FORMS[form].takes
        if sorted(wanted) == sorted(kinds):
            rest, order = list(picked), []
            for kind in wanted:
                chosen = next(n for n in rest if part_kind(sketch, n) == kind)
                rest.remove(chosen)
                order.append(chosen)
            return form, tuple(order)
    takes = " or ".join(" and ".join(_words(FORMS[f].takes)) for f in known)
    got = " and ".join(_words(tuple(kinds))) if kinds else "nothing"
    raise EditError(f"“{asked}” takes {takes}; picked: {got}", [_text(sketch, n) for n in on], field="on")


def _ends(sketch: Sketch, number: int) -> tuple[int, ...]:
    """Points that a curve ends in."""
    curve = sketch.curves[number]
    return {"line": curve.points, "arc": curve.points[1:]}.get(curve.kind, ())


def _as_point(sketch: Sketch, number: int) -> int:
    found = sketch.curves.get(number)
    return found.points[0] if found and found.kind == "dot" else number


def _words(kinds: Sequence[str]) -> list[str]:
    words = {"round": "circle or arc"}
    return [("an " if words.get(k, k)[0] in "ae" else "a ") + words.get(k, k) for k in kinds]


def _text(sketch: Sketch, number: int) -> str:
    return f"p{number}" if number in sketch.points else f"c{number}"


def measured(sketch: Sketch, kind: str, on: Sequence[int]) -> float:
    """What a dimension would read now, mm or rad."""
    from .solver import Unknowns

    layout = Unknowns(sketch)
    row = layout.start[layout.columns(Constraint(0, kind, tuple(on)))][None].astype(complex)
    if kind == "angle":
        (ax, ay, bx, by, cx, cy, dx, dy) = row[0].real
        u, v = complex(bx - ax, by - ay), complex(dx - cx, dy - cy)
        return float(np.angle(v / u)) if u and v else 0.0
    return float(FORMS[kind].form(row, np.zeros(1))[0][0].real)

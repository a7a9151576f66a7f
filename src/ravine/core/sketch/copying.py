"""Copies of curves: along a way, around a place, or mirrored about a line."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

from ..errors import EditError
from .drawing import Pen
from .entities import Curve, Point2

Motion = Callable[[Point2], Point2]


def along(step: Point2, number: int) -> Motion:
    return lambda p: (p[0] + number * step[0], p[1] + number * step[1])


def around(middle: Point2, angle: float) -> Motion:
    """By `angle` rad, counterclockwise."""
    c, s = math.cos(angle), math.sin(angle)
    return lambda p: (
        middle[0] + c * (p[0] - middle[0]) - s * (p[1] - middle[1]),
        middle[1] + s * (p[0] - middle[0]) + c * (p[1] - middle[1]),
    )


def about(a: Point2, b: Point2) -> Motion:
    """Mirrored about the line through two places."""
    ux, uy = b[0] - a[0], b[1] - a[1]
    square = ux * ux + uy * uy
    if square < 1e-12:
        raise EditError("the line to mirror about has no length", field="line")

    def mirrored(p: Point2) -> Point2:
        share = ((p[0] - a[0]) * ux + (p[1] - a[1]) * uy) / square
        return (2 * (a[0] + share * ux) - p[0], 2 * (a[1] + share * uy) - p[1])

    return mirrored


def copy(pen: Pen, curves: Sequence[Curve], motion: Motion, mirror: Curve | None = None) -> None:
    """Curves once more at another place; rounds keep the size of their origin by a rule.

    mirror: the line the motion mirrors about; points then stay mirrored by constraints, and points on it are
            shared and stay on it
    """
    known: dict[int, int] = {}

    def point(number: int) -> int:
        if number not in known:
            here = pen.sketch.points[number]
            there = motion(here)
            if mirror is not None and math.dist(here, there) < 1e-9:
                known[number] = number
                if number not in mirror.points:
                    pen.constraint("on", number, mirror.id)
            else:
                known[number] = pen.point(there)
                if mirror is not None:
                    pen.constraint("mirrored", number, known[number], mirror.id)
        return known[number]

    for curve in curves:
        points = [point(p) for p in curve.points]
        if tuple(points) == curve.points and mirror is not None and curve.kind == "line":
            continue  # it lies on the mirror
        if curve.kind == "arc" and mirror is not None:
            points = [points[0], points[2], points[1]]  # counterclockwise again
        kept, pen.construction = pen.construction, curve.construction
        span = curve.span
        if curve.kind == "ellipse" and mirror is not None and span:
            span = (-span[1], -span[0])
        size = -curve.size if curve.kind == "text" and mirror is not None else curve.size
        made = pen.curve(curve.kind, *points, size=size, span=span, words=curve.words, font=curve.font)
        pen.construction = kept
        if curve.kind in ("circle", "arc"):
            pen.constraint("equal rounds", curve.id, made)

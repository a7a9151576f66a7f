"""Curves of a sketch that follow one another."""

from __future__ import annotations

from .entities import Curve, Sketch

LINKS = ("line", "arc", "spline")


def ends_of(curve: Curve) -> tuple[int, int]:
    """The points where a line, arc or spline begins and ends."""
    return (curve.points[1], curve.points[2]) if curve.kind == "arc" else (curve.points[0], curve.points[-1])


def chain_of(sketch: Sketch, start: Curve, kinds: tuple[str, ...] = LINKS) -> tuple[list[tuple[Curve, bool]], bool]:
    """Curves that follow one another through shared ends, run one way, and whether they close."""

    def onwards(curve: Curve, forward: bool, seen: set[int]) -> tuple[list[tuple[Curve, bool]], bool]:
        found: list[tuple[Curve, bool]] = []
        here, way = curve, forward
        while True:
            tip = ends_of(here)[1 if way else 0]
            near = [
                c
                for c in sketch.users(tip)
                if c.id != here.id
                and c.construction == start.construction
                and c.kind in kinds
                and not c.span
                and tip in ends_of(c)
            ]
            if len(near) != 1:
                return found, False
            here = near[0]
            if here.id == start.id:
                return found, True
            if here.id in seen:
                return found, False
            seen.add(here.id)
            way = ends_of(here)[0] == tip
            found.append((here, way))

    seen = {start.id}
    after, closed = onwards(start, True, seen)
    if closed:
        return [(start, True), *after], True
    before, _ = onwards(start, False, seen)
    return [*((c, not way) for c, way in reversed(before)), (start, True), *after], False

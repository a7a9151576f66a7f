"""Edges of the model taken into a sketch."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..kernel.carriers import curve_points, read_curve
from ..local.surfaces import Floats
from ..model.references import Reference
from ..sketch.drawing import Pen
from ..sketch.entities import Sketch
from .reshaping import matrix_of
from .sketching import sketch_facts, sketch_of, with_ids
from .work import Operation, Outcome, Work

SAMPLES = 17


class _Tracer:
    """Draws edges with shared ends; places that coincide become one point."""

    def __init__(self, pen: Pen) -> None:
        self.pen = pen
        self._known: dict[tuple[float, float], int] = {
            (round(x, 6), round(y, 6)): n for n, (x, y) in pen.sketch.points.items()
        }

    def point(self, flat: Floats) -> int:
        key = (round(float(flat[0]), 6), round(float(flat[1]), 6))
        if key not in self._known:
            self._known[key] = self.pen.point((float(flat[0]), float(flat[1])))
            self.pen.constraint("fixed", self._known[key])
        return self._known[key]

    def take(self, edge: object, matrix: Floats) -> None:
        curve, first, last = read_curve(edge)
        if curve.kind == "none":
            return
        plane = self.pen.sketch.plane
        places = curve_points(curve, np.linspace(first, last, SAMPLES)) @ matrix[:, :3].T + matrix[:, 3]
        flat = np.array([plane.flat(p) for p in places.tolist()])
        if float(np.ptp(flat, axis=0).max()) < 1e-6:
            return
        if curve.kind == "circle" and curve.frame is not None:
            axis = matrix[:, :3] @ np.cross(curve.frame.x, curve.frame.y)
            if abs(float(axis @ np.array(plane.normal))) > 1 - 1e-9:
                self._round(flat, np.array(plane.flat(_placed(matrix, curve.frame.origin))), last - first)
                return
        chord = flat[-1] - flat[0]
        off = np.abs(chord[0] * (flat - flat[0])[:, 1] - chord[1] * (flat - flat[0])[:, 0])
        if float(np.hypot(*chord)) > 1e-6 and float(off.max()) < 1e-7 * float(np.hypot(*chord)):
            self.pen.curve("line", self.point(flat[0]), self.point(flat[-1]))
            return
        closed = float(np.hypot(*chord)) < 1e-6
        ends = [self.point(p) for p in (flat[:-1] if closed else flat)]
        self.pen.curve("spline", *ends, *(ends[:1] if closed else ()))

    def _round(self, flat: Floats, middle: Floats, turn: float) -> None:
        radius = float(np.hypot(*(flat[0] - middle)))
        if abs(turn) > 2 * math.pi - 1e-9:
            circle = self.pen.curve("circle", self.point(middle), size=radius)
            self.pen.constraint("radius", circle, value=radius)
            return
        a, b = flat[0] - middle, flat[1] - middle
        left = float(a[0] * b[1] - a[1] * b[0]) > 0
        start, end = (flat[0], flat[-1]) if left else (flat[-1], flat[0])
        self.pen.arc(self.point(middle), self.point(start), self.point(end))


@dataclass(frozen=True, kw_only=True)
class Project(Operation):
    """Draws the edges in a sketch, square to its plane."""

    edges: tuple[Reference, ...]
    sketch: tuple[Reference, ...]
    role: str = "outline"

    def do(self, work: Work) -> Outcome:
        sketch = sketch_of(work.snapshot, self.sketch, "sketch")

        def drawn(ids: Iterator[int]) -> Sketch:
            tracer = _Tracer(Pen(sketch, ids, self.role == "helper"))
            for body, index in self._edges(work):
                matrix = np.array(matrix_of(work.snapshot, body)).reshape(3, 4)
                tracer.take(work.geometry.solid(body.shape).index.get("edge", index), matrix)
            return tracer.pen.sketch

        after = with_ids(work.snapshot, drawn)
        if len(after.sketch(sketch.id).curves) == len(sketch.curves):
            raise EditError("the edges stand square to the sketch, so they would be mere points", self.edges,
                            field="edges")  # fmt: skip
        return Outcome(after, sketch_facts(after.sketch(sketch.id)))

    def _edges(self, work: Work) -> list[tuple]:
        found: dict[tuple[int, int], tuple] = {}
        for ident in self.edges:
            kind = ident.kind
            body, index = ident.owner
            solid = work.geometry.solid(body.shape)
            for edge in [index] if kind == "edge" else solid.index.edges_of_faces[index]:
                found[body.id, edge] = (body, edge)
        return list(found.values())


def _placed(matrix: Floats, place: Floats) -> list[float]:
    return (matrix[:, :3] @ place + matrix[:, 3]).tolist()

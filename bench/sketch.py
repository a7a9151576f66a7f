"""Sketches: a drag step over 300 entities, areas of 500 curves, a thread of ten turns."""

from __future__ import annotations

import itertools
import statistics
import time

import numpy as np

from ravine.core import Model
from ravine.core.model.sketch_regions import regions_of_sketch
from ravine.core.model.snapshot import area_id
from ravine.core.sketch.entities import Constraint, Curve, Sketch
from ravine.core.sketch.regions import regions
from ravine.core.sketch.solver import freedom, solve


def ladder(squares: int) -> Sketch:
    """Squares in a row, each held to the one before: 4 lines and about 8 constraints a square, shaken a little."""
    rng = np.random.default_rng(0)
    ids = itertools.count(1)
    sketch = Sketch(0, "Ladder")
    last: list[int] = []
    corner = 0
    for k in range(squares):
        points = [next(ids) for _ in range(4)]
        places = [(12.0 * k + x, y) for x, y in ((0, 0), (10, 0), (10, 10), (0, 10))]
        shaken = {p: (x + rng.normal() * 0.1, y + rng.normal() * 0.1) for p, (x, y) in zip(points, places, strict=True)}
        lines = [next(ids) for _ in range(4)]
        sketch = sketch.with_points(shaken).with_curves(
            *(Curve(c, "line", (points[j], points[(j + 1) % 4])) for j, c in enumerate(lines))
        )
        constraints = [("level", lines[0]), ("level", lines[2]), ("upright", lines[1]), ("upright", lines[3])]
        sketch = sketch.with_constraints(*(Constraint(next(ids), kind, (on,)) for kind, on in constraints))
        sketch = sketch.with_constraints(Constraint(next(ids), "length", (lines[0],), 10.0))
        if last:
            sketch = sketch.with_constraints(
                Constraint(next(ids), "equal", (lines[1], last[1])),
                Constraint(next(ids), "across", (corner, points[0]), 2.0),
                Constraint(next(ids), "level points", (corner, points[0])),
            )
        last, corner = lines, points[1]
    return sketch


def boxes(count: int) -> Sketch:
    rng = np.random.default_rng(0)
    ids = itertools.count(1)
    sketch = Sketch(0, "Boxes")
    for _ in range(count):
        x, y, w, h = (*rng.uniform(0, 400, 2), *rng.uniform(5, 25, 2))
        corners = [(x, y), (x + w, y), (x + w, y + h), (x, y + h)]
        points = [next(ids) for _ in corners]
        sketch = sketch.with_points(dict(zip(points, corners, strict=True))).with_curves(
            *(Curve(next(ids), "line", (points[j], points[(j + 1) % 4])) for j in range(4))
        )
    return sketch


def timed(function: object, times: int = 9) -> float:
    row = []
    for _ in range(times):
        began = time.perf_counter()
        function()  # type: ignore[operator]
        row.append(time.perf_counter() - began)
    return statistics.median(row) * 1e3


def measure_sketch() -> None:
    sketch = solve(ladder(75)).sketch
    x, y = sketch.points[1]
    print(f"  drag step over {len(sketch.curves)} lines: {timed(lambda: solve(sketch, {1: (x + 1, y + 0.5)})):.0f} ms "
          f"(budget 50); freedom of all: {timed(lambda: freedom(sketch), 3):.0f} ms")  # fmt: skip
    many = boxes(125)
    print(
        f"  regions of {len(many.curves)} curves: {timed(lambda: regions(many)):.0f} ms for {len(regions(many))} "
        f"(budget 100)"
    )
    thread()


def thread() -> None:
    model = Model(units="mm")

    def begin(plane: str) -> str:
        model.do("sketch", plane=plane)
        return f"s{max(model.snapshot.sketches)}"

    def area(sketch: str) -> str:
        found = model.snapshot.sketch(int(sketch[1:]))
        return area_id(found.id, regions_of_sketch(found)[0].inside)

    disc = begin("xy")
    model.do("draw", sketch=[disc], shape="circle", places="0,0", size=8)
    model.do("extrude", areas=[area(disc)], distance=20)
    side = begin("xz")
    model.do("draw", sketch=[side], shape="line", places="0,-5 0,40", role="helper")
    axis = max(model.snapshot.sketch(int(side[1:])).curves)
    model.do("draw", sketch=[side], shape="line", places="8.3,-3 8.3,-1.6 7,-2 7,-2.6 8.3,-3")
    values = {"areas": [area(side)], "axis": [f"c{axis}"], "height": 40, "pitch": 2.0, "way": "cutting"}
    began = time.perf_counter()
    model.do("wind", **values)
    print(f"  thread of ten turns cut right through: {time.perf_counter() - began:.1f} s (budget 3)")

"""Where a plane cuts bodies and meshes, as chains of places in the plane."""

from __future__ import annotations

import numpy as np

from ..kernel.carriers import curve_points, read_curve
from ..kernel.cells import plane_section
from ..kernel.shapes import Shape
from ..local.surfaces import Floats
from ..model.trimesh_body import TriangleMesh
from ..section.rings import crossings, same_places
from ..sketch.entities import Plane

PER_TURN = 96  # places on a full circle of an exact body
MEET = 1e-5  # mm


def mesh_chains(mesh: TriangleMesh, plane: Plane) -> list[Floats]:
    """(n, 2) each; a closed one repeats its first place at the end."""
    rows, start, end = crossings(mesh.points, mesh.triangles.astype(np.int64), plane)
    return _by_places(list(np.stack([start, end], axis=1))) if len(rows) else []


def body_chains(shape: Shape, plane: Plane) -> list[Floats]:
    """The same for an exact shape."""
    origin, x, y = (np.array(v) for v in (plane.origin, plane.x, plane.y))
    lines: list[Floats] = []
    for edge in plane_section(shape, plane.origin, plane.normal):
        curve, first, last = read_curve(edge)
        count = 2
        if curve.kind in ("circle", "ellipse"):
            count = max(4, int(np.ceil(abs(last - first) / (2 * np.pi) * PER_TURN)) + 1)
        elif curve.kind != "line":
            count = PER_TURN
        spots = curve_points(curve, np.linspace(first, last, count)) - origin
        lines.append(np.column_stack([spots @ x, spots @ y]))
    return _by_places(lines)


def _by_places(lines: list[Floats]) -> list[Floats]:
    """Runs of places, (n, 2) each, put together where their ends meet."""
    if not lines:
        return []
    places = np.concatenate(lines)
    _, at, number = np.unique(same_places(places, MEET), return_index=True, return_inverse=True)
    starts = np.cumsum([0, *(len(row) for row in lines)])
    last = np.zeros(len(number), bool)
    last[starts[1:] - 1] = True
    begins = np.flatnonzero(~last)
    return chained(number[begins].tolist(), number[begins + 1].tolist(), places[at])


def chained(a: list[int], b: list[int], places: Floats) -> list[Floats]:
    """Segments between numbered places as runs from end to end."""
    beside: dict[int, list[int]] = {}
    for row, (p, q) in enumerate(zip(a, b, strict=True)):
        if p != q:
            beside.setdefault(p, []).append(row)
            beside.setdefault(q, []).append(row)
    used = [False] * len(a)
    found = []
    ends = [p for p, rows in beside.items() if len(rows) != 2]
    for start in (*ends, *beside):
        for row in beside[start]:
            if used[row]:
                continue
            run, here = [start], start
            step: int | None = row
            while step is not None:
                used[step] = True
                here = b[step] if a[step] == here else a[step]
                run.append(here)
                onward = [r for r in beside[here] if not used[r]]
                step = onward[0] if len(beside[here]) == 2 and onward else None
            found.append(places[run])
    return found

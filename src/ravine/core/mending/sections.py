"""Where a plane cuts bodies and meshes, as chains of places in the plane."""

from __future__ import annotations

import numpy as np

from ..kernel.carriers import curve_points, read_curve
from ..kernel.cells import plane_section
from ..kernel.shapes import Shape
from ..local.surfaces import Floats
from ..model.trimesh_body import TriangleMesh
from ..sketch.entities import Plane

PER_TURN = 96  # places on a full circle of an exact body
MEET = 1e-5  # mm


def mesh_chains(mesh: TriangleMesh, plane: Plane) -> list[Floats]:
    """(n, 2) each; a closed one repeats its first place at the end."""
    origin, x, y, z = (np.array(v) for v in (plane.origin, plane.x, plane.y, plane.normal))
    height = (mesh.points - origin) @ z
    height = np.where(np.abs(height) < 1e-9, 1e-9, height)  # a corner on the plane counts as above it
    triangles = mesh.triangles
    above = height[triangles] > 0
    mixed = triangles[above.any(axis=1) & ~above.all(axis=1)]
    if not len(mixed):
        return []
    up = height[mixed] > 0
    lone = np.where(up.sum(axis=1) == 1, np.argmax(up, axis=1), np.argmin(up, axis=1))
    rows = np.arange(len(mixed))
    tip, left, right = (mixed[rows, (lone + k) % 3] for k in range(3))

    def crossing(a: np.ndarray, b: np.ndarray) -> tuple[np.ndarray, Floats]:
        low, high = np.minimum(a, b), np.maximum(a, b)
        share = height[low] / (height[low] - height[high])
        spot = mesh.points[low] + share[:, None] * (mesh.points[high] - mesh.points[low]) - origin
        return low.astype(np.int64) * len(mesh.points) + high, np.column_stack([spot @ x, spot @ y])

    first, from_ = crossing(tip, left)
    second, to = crossing(tip, right)
    keys = np.concatenate([first, second])
    _, at, number = np.unique(keys, return_index=True, return_inverse=True)
    places = np.concatenate([from_, to])[at]
    number = number.reshape(2, -1)
    return chained(number[0].tolist(), number[1].tolist(), places)


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
    if not lines:
        return []
    places = np.concatenate(lines)
    _, at, number = np.unique(np.round(places / MEET), axis=0, return_index=True, return_inverse=True)
    number = number.reshape(-1)
    starts = np.cumsum([0, *(len(row) for row in lines)])
    a = np.concatenate([number[s : s + len(row) - 1] for s, row in zip(starts, lines, strict=False)])
    b = np.concatenate([number[s + 1 : s + len(row)] for s, row in zip(starts, lines, strict=False)])
    return chained(a.tolist(), b.tolist(), places[at])


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

"""Parts to measure on."""

from __future__ import annotations

from ravine.core.kernel import build
from ravine.core.kernel.shapes import Shape

HOLE_FREE = {(4, 2), (4, 3), (5, 2), (5, 3), (0, 0), (9, 0)}


def plate_375() -> Shape:
    """375 faces: a ribbed plate with 54 counterbored holes, notches and rounded corners."""
    body = build.box(260, 160, 14)
    body = build.fillet(body, 12, lambda e: e.kind == "line" and abs(e.length - 14) < 1e-9)
    tools = []
    for i in range(10):
        for j in range(6):
            if (i, j) in HOLE_FREE:
                continue
            x, y = 22 + 24 * i, 20 + 24 * j
            tools += [build.cylinder(3, 16, (x, y, -1)), build.cylinder(5.5, 6, (x, y, 9))]
    body = build.subtract(body, *tools)
    for i in range(9):
        body = build.unite(body, build.box(3, 120, 9, (32.5 + 24 * i, 20, 13)))
    for i in range(11):
        body = build.subtract(body, build.box(6, 5, 7, (20 + 20 * i, -1, -1)))
    body = build.fillet(body, 1, lambda e: e.kind == "line" and abs(e.middle[2] - 22) < 1e-6 and e.length > 50)
    for i in range(24):  # blind stepped holes along the edge
        x = 16 + 9.6 * i
        body = build.subtract(body, build.cylinder(1.2, 4, (x, 152, 10.5)), build.cylinder(2, 1.5, (x, 152, 13)))
    return body

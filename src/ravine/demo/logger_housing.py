"""The data logger's housing and lid: a moulded box with screw posts, gland bosses and mounting lugs.

The housing's bottom lies in z = 0; the lid is drawn in place on top of it.
"""

from __future__ import annotations

from collections.abc import Callable

from ravine.core.kernel import build
from ravine.core.kernel.queries import EdgeFacts
from ravine.core.kernel.shapes import Shape

LENGTH, WIDTH, HEIGHT, WALL, CORNER = 160.0, 104.0, 58.0, 3.5, 14.0
POSTS = [(x, y) for x in (-66.0, 66.0) for y in (-38.0, 38.0)]
LID = 7.0


def _upright(length: float) -> Callable[[EdgeFacts], bool]:
    return lambda e: e.kind == "line" and abs(e.length - length) < 1e-6 and abs(e.ends[0][2] - e.ends[1][2]) > 1e-6


def block(inset: float, low: float, high: float) -> Shape:
    """The housing's outside, drawn in by an inset, between two heights."""
    body = build.box(LENGTH - 2 * inset, WIDTH - 2 * inset, high - low, (-LENGTH / 2 + inset, -WIDTH / 2 + inset, low))
    return build.fillet(body, CORNER - inset, _upright(high - low))


def _lug(x: float) -> Shape:
    side = 1 if x > 0 else -1
    lug = build.box(26, 40, 6, (x - 13 + 6 * side, -20, 0))
    lug = build.fillet(lug, 8, lambda e: _upright(6)(e) and abs(e.middle[0]) > LENGTH / 2 + 5)
    slot = build.unite(
        build.box(5, 12, 8, (x + 8 * side - 2.5, -6, -1)),
        *(build.cylinder(2.5, 8, (x + 8 * side, y, -1)) for y in (-6, 6)),
    )
    return build.subtract(lug, slot)


def logger_housing() -> Shape:
    body = block(0, 0, HEIGHT)
    body = build.fillet(body, 4, lambda e: abs(e.middle[2]) < 1e-6)
    body = build.subtract(body, block(WALL, WALL, HEIGHT + 1))
    for x, y in POSTS:
        body = build.unite(body, build.cylinder(6, HEIGHT - 2 - WALL, (x, y, WALL - 0.5)))
    glands = [-36.0, 0.0, 36.0]
    for x in glands:
        body = build.unite(body, build.cylinder(13, 5, (x, -WIDTH / 2 + 0.5, 28), (0, -1, 0)))
    for x in (-40.0, 0.0, 40.0):
        body = build.unite(
            body, build.box(2.5, WIDTH - 2 * WALL + 1, 7, (x - 1.25, -WIDTH / 2 + WALL - 0.5, WALL - 0.5))
        )
    body = build.unite(body, _lug(-LENGTH / 2), _lug(LENGTH / 2))
    body = build.subtract(
        body,
        *(build.cylinder(8, 20, (x, -WIDTH / 2 + 8, 28), (0, -1, 0)) for x in glands),
        *(build.cylinder(1.6, 22, (x, y, HEIGHT - 22)) for x, y in POSTS),
    )
    return build.fillet(body, 1.2, _gland_rim)


def _gland_rim(e: EdgeFacts) -> bool:
    return e.kind == "circle" and e.radius is not None and abs(e.radius - 13) < 1e-6 and e.middle[1] < -WIDTH / 2 - 3


def logger_lid() -> Shape:
    body = block(0, HEIGHT, HEIGHT + LID)
    body = build.fillet(body, 3, lambda e: abs(e.middle[2] - HEIGHT - LID) < 1e-6)
    body = build.subtract(body, block(WALL + 1, HEIGHT - 1, HEIGHT + LID - 3))
    rim = build.subtract(block(WALL + 0.3, HEIGHT - 4, HEIGHT + 1), block(WALL + 2.3, HEIGHT - 5, HEIGHT + 2))
    body = build.unite(body, rim)
    for x, y in POSTS:
        body = build.unite(body, build.cylinder(6, LID - 0.5, (x, y, HEIGHT)))
    for x in (-30.0, -10.0, 10.0, 30.0):
        body = build.unite(body, build.box(4, 52, 2, (x - 2, -26, HEIGHT + LID - 0.5)))
    for x, y in POSTS:
        body = build.subtract(
            body,
            build.cylinder(7.2, 8, (x, y, HEIGHT - 8)),
            build.cylinder(2.1, 20, (x, y, HEIGHT - 5)),
            build.cylinder(4, 5, (x, y, HEIGHT + LID - 3.2)),
        )
    return body

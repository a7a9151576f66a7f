"""The mast clamp: an aluminium casting that grips a 50 mm mast, bolted down through four counterbores.

Bore along Y at height 62; the slot opens upwards; the bolt bosses stand along X.
"""

from __future__ import annotations

from ravine.core.kernel import build
from ravine.core.kernel.queries import EdgeFacts
from ravine.core.kernel.shapes import Shape

WIDTH, DEPTH, FOOT = 128.0, 84.0, 14.0
BORE, RING, HEIGHT = 25.0, 38.0, 62.0
HOLES = [(x, y) for x in (-49.0, 49.0) for y in (-27.0, 27.0)]


def _foot() -> Shape:
    plate = build.box(WIDTH, DEPTH, FOOT, (-WIDTH / 2, -DEPTH / 2, 0))
    plate = build.fillet(plate, 14, lambda e: e.kind == "line" and abs(e.length - FOOT) < 1e-6)
    for x, y in HOLES:
        plate = build.unite(plate, build.cylinder(12, 4, (x, y, FOOT)))
    return plate


def _saddle() -> Shape:
    """Ring, web under it and the two ears, as one profile pulled along Y."""
    y = -30.0
    web = build.outline(
        [(-40, y, 0), (40, y, 0), (RING, y, HEIGHT), (-RING, y, HEIGHT)],
        [None, None, (0, y, HEIGHT + RING), None],
    )
    body = build.extrude(web, (0, 60, 0))
    ears = build.box(36, 60, 52, (-18, -30, HEIGHT + 8))
    ears = build.fillet(ears, 8, lambda e: e.kind == "line" and abs(e.length - 36) < 1e-6 and e.middle[2] > HEIGHT + 50)
    return build.unite(body, ears)


def _rib(side: float) -> Shape:
    x0, x1 = 36 * side, 60 * side
    face = build.outline([(x0, -4, FOOT - 2), (x1, -4, FOOT - 2), (x1, -4, FOOT + 8), (x0, -4, HEIGHT - 6)])
    return build.extrude(face, (0, 8, 0))


def mast_clamp() -> Shape:
    body = build.unite(_foot(), _saddle(), _rib(-1), _rib(1))
    for y in (-15, 15):
        body = build.unite(body, build.cylinder(11, 58, (-29, y, HEIGHT + 42), (1, 0, 0)))
    body = build.subtract(
        body,
        build.cylinder(BORE, 70, (0, -35, HEIGHT), (0, 1, 0)),
        build.box(8, 70, 70, (-4, -35, HEIGHT)),
        build.box(26, 70, 22, (-13, -35, -1)),
        *(build.cylinder(5.5, 70, (-35, y, HEIGHT + 42), (1, 0, 0)) for y in (-15, 15)),
    )
    for x, y in HOLES:
        body = build.subtract(body, build.cylinder(4.5, 30, (x, y, -1)), build.cylinder(8.5, 6, (x, y, FOOT - 1)))
    body = build.fillet(body, 2, _rib_root)
    body = build.fillet(body, 1.5, _boss_rim)
    return build.chamfer(body, 1, _bore_rim)


def _rib_root(e: EdgeFacts) -> bool:
    return e.kind == "line" and abs(abs(e.middle[1]) - 4) < 1e-6 and abs(e.middle[2] - FOOT) < 0.1 and e.length > 5


def _boss_rim(e: EdgeFacts) -> bool:
    return (
        e.kind == "circle"
        and e.radius is not None
        and (
            (abs(e.radius - 11) < 1e-6 and abs(abs(e.middle[0]) - 29) < 1e-6)
            or (abs(e.radius - 12) < 1e-6 and abs(e.middle[2] - FOOT - 4) < 1e-6)
        )
    )


def _bore_rim(e: EdgeFacts) -> bool:
    return e.kind == "circle" and e.radius is not None and abs(e.radius - BORE) < 1e-6

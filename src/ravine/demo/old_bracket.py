"""The old bracket, as a surface file from another system left it: faces gone, one twice, one turned, a sliver."""

from __future__ import annotations

import random

from ravine.core.kernel import build
from ravine.core.kernel.damage import drop_faces, duplicate_faces, flip_faces, thin_strip
from ravine.core.kernel.queries import EdgeFacts
from ravine.core.kernel.shapes import Shape

LONG, WIDE, THICK, TALL = 90.0, 50.0, 8.0, 60.0


def _upright(edge: EdgeFacts) -> bool:
    return edge.kind == "line" and abs(abs((edge.direction or (0, 0, 0))[2]) - 1) < 1e-9 and edge.middle[0] > LONG - 1


def sound_bracket() -> Shape:
    """Foot with three holes, back with two, and a rib between them."""
    foot = build.fillet(build.box(LONG, WIDE, THICK), 12, _upright)
    back = build.box(THICK, WIDE, TALL)
    rib = build.extrude(build.outline([(THICK, 21, THICK), (LONG - 25, 21, THICK), (THICK, 21, TALL - 12)]), (0, 8, 0))
    body = build.unite(foot, back, rib)
    holes = [build.cylinder(4.5, 20, (x, y, -5)) for x, y in ((75, 12), (75, 38), (30, 10))]
    holes += [build.cylinder(5.5, 20, (-5, y, 45), (1, 0, 0)) for y in (12, 38)]
    return build.subtract(body, *holes)


def old_bracket() -> Shape:
    chance = random.Random(20)
    shape = sound_bracket()
    strip = thin_strip(shape, chance)
    shape = strip.shape if strip else shape
    for harm in (drop_faces, flip_faces, duplicate_faces):
        shape = harm(shape, chance, 2 if harm is drop_faces else 1).shape
    return shape

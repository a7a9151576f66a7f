"""Parts of several families with sizes drawn at random, the kinds that come from elsewhere: brackets, turned parts,
drafted castings, bent sheet, pipes, plastic shells, housings, balls, levers and cams.  Half of them have the faces
that their making left split."""

from __future__ import annotations

import math
import random
from collections.abc import Callable

from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.collections import HArray1_gp_Pnt
from OCP.GeomAPI import GeomAPI_Interpolate
from OCP.gp import gp_Pnt
from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain

from ravine.core.errors import EditError
from ravine.core.kernel import build
from ravine.core.kernel.boolean import combine, single_solid
from ravine.core.kernel.check import fault
from ravine.core.kernel.failures import KERNEL_FAILURES
from ravine.core.kernel.shapes import Shape
from ravine.core.rigid import Rigid

Draw = random.Random
Pick = Callable[..., bool]


def joined(body: Shape, *others: Shape) -> Shape:
    """With the faces left split as they come."""
    return single_solid(combine("unite", body, list(others), merge=False)[0])


def cut(body: Shape, *tools: Shape) -> Shape:
    return single_solid(combine("subtract", body, list(tools), merge=False)[0])


def rounded(body: Shape, radius: float, pick: Pick) -> Shape:
    """Where the kernel can; else as it was."""
    return _tried(build.fillet, body, radius, pick)


def bevelled(body: Shape, width: float, pick: Pick) -> Shape:
    return _tried(build.chamfer, body, width, pick)


def _tried(tool: Callable[[Shape, float, Pick], Shape], body: Shape, size: float, pick: Pick) -> Shape:
    try:
        return tool(body, size, pick)
    except (EditError, *KERNEL_FAILURES):  # no edge picked, or one too many
        return body


def frustum(x0: float, y0: float, x1: float, y1: float, z0: float, z1: float, draft: float) -> Shape:
    """A box that narrows upwards on all sides; its walls come as splines."""
    d = (z1 - z0) * math.tan(draft)
    low = build.outline([(x0, y0, z0), (x1, y0, z0), (x1, y1, z0), (x0, y1, z0)])
    high = build.outline([(x0 + d, y0 + d, z1), (x1 - d, y0 + d, z1), (x1 - d, y1 - d, z1), (x0 + d, y1 - d, z1)])
    return build.loft([low, high], ruled=True)


def bracket(r: Draw) -> Shape:
    t, w, h, long, inner = r.uniform(4, 8), r.uniform(30, 50), r.uniform(30, 45), r.uniform(45, 60), r.uniform(2, 5)
    body = joined(build.box(long, w, t), build.box(t, w, h))
    body = rounded(body, inner, lambda e: e.kind == "line" and math.dist(e.middle[::2], (t, t)) < 1e-6)
    body = rounded(body, r.uniform(3, 8), lambda e: abs(e.length - t) < 1e-6 and e.middle[0] > long - 1e-6)
    for i in range(2):
        x = t + inner + 8 + 14 * i
        sunk = build.cone(r.uniform(1.8, 2.2), 4.5, t + 0.02, (x, 0.7 * w, -0.01))
        body = cut(body, build.cylinder(r.uniform(2, 3.5), t + 2, (x, 0.3 * w, -1)), sunk)
    body = cut(body, build.cylinder(r.uniform(4, 8), t + 2, (-1, w / 2, 0.65 * h), (1, 0, 0)))
    s, at = r.uniform(2, 3), long - 20
    ends = [build.cylinder(s, t + 2, (x, w / 2, -1)) for x in (at, at + 8)]
    body = cut(body, joined(build.box(8, 2 * s, t + 2, (at, w / 2 - s, -1)), *ends))
    return bevelled(body, 0.8, lambda e: e.kind == "circle" and abs(e.middle[0]) < 1e-6)


def turned(r: Draw) -> Shape:
    x, z = r.uniform(8, 20), 0.0
    points: list[tuple[float, float, float]] = [(0, 0, 0), (x, 0, 0)]
    bulges: list[tuple[float, float, float] | None] = [None]
    for _ in range(r.randint(3, 6)):
        top, form = z + r.uniform(5, 14), r.choice(("straight", "cone", "arc", "cone"))
        bulges.append((x + r.uniform(0.8, 2), 0, (z + top) / 2) if form == "arc" else None)
        x = max(6.0, x + r.uniform(-3, 3)) if form == "cone" else x
        z = top
        step = max(6.0, x + r.choice((-4, -3, 3, 4)))
        points += [(x, 0, z), (step, 0, z)]
        bulges.append(None)
        x = step
    body = build.revolve(build.outline([*points[:-1], (0, 0, z)], [*bulges, None]))
    body = cut(body, build.cylinder(r.uniform(2, 4), z + 2, (0, 0, -1)))
    body = rounded(body, r.uniform(0.3, 0.8), lambda e: e.kind == "circle" and r.random() < 0.4)
    body = cut(body, build.box(6, 4, 0.4 * z, (4.5, -2, -0.1)))
    count = r.choice((0, 3, 5))
    for i in range(count):
        drill = build.cylinder(0.7, 40, (0, 0, 0.7 * z), (1, 0, 0))
        body = cut(body, build.moved(drill, Rigid.about((0, 0, 0), (0, 0, 1), 2 * math.pi * i / count)))
    return body


def casting(r: Draw) -> Shape:
    long, w, h, t = r.uniform(50, 80), r.uniform(35, 60), r.uniform(18, 30), r.uniform(2.5, 4)
    draft, corner = math.radians(r.uniform(1, 3)), r.uniform(4, 6)
    body = rounded(frustum(0, 0, long, w, 0, h, draft), corner, lambda e: abs(e.middle[2] - h / 2) < 1e-3)
    body = rounded(body, min(0.5 * corner, 2), lambda e: abs(e.middle[2] - h) < 1e-4)
    core = frustum(t, t, long - t, w - t, -1, h - t, draft)
    body = cut(body, rounded(core, corner - t + 1, lambda e: abs(e.middle[2] - (h - t - 1) / 2) < 1e-2))
    x, y, top = long * r.uniform(0.3, 0.6), w * r.uniform(0.35, 0.6), r.uniform(3, 5)
    body = joined(body, build.cone(top + (h + 6) * math.tan(draft), top, h + 5, (x, y, 1)))
    body = cut(body, build.cylinder(0.5 * top, h + 10, (x, y, h / 2)))
    return rounded(body, 0.8, lambda e: e.kind != "line" and e.middle[2] > h - 2)


def bent_sheet(t: float, inner: float, w: float, foot: float, wall: float) -> Shape:
    """Sheet of thickness t with one bend: the foot along X, the wall up from it."""
    outer, c = inner + t, math.sqrt(0.5)
    corners = [(0, 0), (foot, 0), (foot + outer, outer), (foot + outer, outer + wall), (foot + inner, outer + wall),
               (foot + inner, outer), (foot, t), (0, t)]  # fmt: skip
    bends = {1: (foot + outer * c, outer - outer * c), 5: (foot + inner * c, outer - inner * c)}
    bulges = [(bends[i][0], 0, bends[i][1]) if i in bends else None for i in range(8)]
    return build.extrude(build.outline([(x, 0, z) for x, z in corners], bulges), (0, w, 0))


def sheet(r: Draw) -> Shape:
    t, inner, w, foot, wall = (
        r.uniform(1, 2.5),
        r.uniform(1, 3),
        r.uniform(20, 40),
        r.uniform(15, 30),
        r.uniform(15, 25),
    )
    outer, body = inner + t, bent_sheet(t, inner, w, foot, wall)
    for i in range(r.randint(1, 3)):
        body = cut(body, build.cylinder(r.uniform(1, 2), t + 2, (4 + 5 * i, w / 2, -1)))
    body = cut(body, build.cylinder(r.uniform(2, 4), 10, (foot + inner - 2, w / 2, outer + wall / 2), (1, 0, 0)))
    return rounded(body, r.uniform(2, 4), lambda e: e.kind == "line" and abs(e.length - t) < 1e-6 and r.random() < 0.8)


def pipe(r: Draw) -> Shape:
    bend, a, t = r.uniform(15, 25), r.uniform(5, 8), r.uniform(1, 2)

    def elbow(radius: float) -> Shape:
        ends = [(bend + radius, 0, 0), (bend - radius, 0, 0)]
        return build.revolve(build.outline(ends, [(bend, 0, radius), (bend, 0, -radius)]), angle=math.pi / 2)

    def at_ends(radius: float, length: float) -> tuple[Shape, Shape]:
        low = build.cylinder(radius, length, (bend, -length, 0), (0, 1, 0))
        return low, build.cylinder(radius, length, (-length, bend, 0), (1, 0, 0))

    body = cut(joined(elbow(a), *at_ends(a + 6, 4)), joined(elbow(a - t), *at_ends(a - t, 5)))
    for i in range(4):
        c, s = ((a + 3.3) * f(i * math.pi / 2 + 0.6) for f in (math.cos, math.sin))
        body = cut(body, build.cylinder(1.4, 6, (bend + c, -5, s), (0, 1, 0)),
                   build.cylinder(1.4, 6, (-5, bend + c, s), (1, 0, 0)))  # fmt: skip
    return rounded(body, r.uniform(0.5, 1.2), lambda e: abs(e.length - 2 * math.pi * a) < 1e-3)


def shell(r: Draw) -> Shape:
    long, w, h, t, corner = r.uniform(50, 70), r.uniform(30, 45), r.uniform(12, 20), 1.8, r.uniform(4, 7)
    body = rounded(build.box(long, w, h), corner, lambda e: abs(e.length - h) < 1e-6)
    body = rounded(body, r.uniform(1.9, 3), lambda e: abs(e.middle[2]) < 1e-6)
    core = build.box(long - 2 * t, w - 2 * t, h, (t, t, t))
    body = cut(body, rounded(core, corner - t, lambda e: abs(e.length - h) < 1e-6))
    for x in (corner + 1, long - corner - 1):
        for y in (corner + 1, w - corner - 1):
            body = joined(body, build.cylinder(2.6, h - t - 2, (x, y, t)))
            body = cut(body, build.cylinder(1.1, h - t - 3, (x, y, t + 1)))
    body = joined(body, build.box(1, w - 2 * t, 4, (long / 2, t, t - 0.2)))
    for k in range(4):
        body = cut(body, build.box(1.2, 0.4 * w, 5, (0.3 * long + 3 * k, 0.3 * w, -1)))
    return rounded(body, 0.5, lambda e: e.kind == "circle" and abs(e.middle[2] - t) < 1e-6)


def housing(r: Draw) -> Shape:
    body = joined(build.box(60, 40, 30), build.cylinder(r.uniform(10, 14), 50, (30, 20, -5)),
                  build.cylinder(r.uniform(6, 9), 20, (55, 20, 15), (1, 0, 0)))  # fmt: skip
    body = cut(body, build.cylinder(r.uniform(5, 8), 60, (30, 20, -10)))
    body = cut(body, build.cylinder(r.uniform(3, 5), 60, (30, 20, 15), (1, 0, 0)))
    for x in (6, 54):
        for y in (6, 34):
            body = cut(body, build.cylinder(2, 12, (x, y, 20)), build.cone(0, 2, 1.2, (x, y, 18.8)))
    body = rounded(body, r.uniform(1.5, 3), lambda e: e.kind == "line" and abs(e.length - 30) < 1e-6)
    body = rounded(
        body, r.uniform(0.8, 2), lambda e: e.length > 50 and min(abs(e.middle[2]), abs(e.middle[2] - 30)) < 1e-6
    )
    return rounded(body, r.uniform(0.8, 1.5), lambda e: e.kind == "circle" and abs(e.middle[0] - 60) < 1e-6)


def ball(r: Draw) -> Shape:
    body = joined(build.sphere(r.uniform(12, 16)), build.cylinder(r.uniform(4, 6), 30))
    body = joined(body, build.cone(r.uniform(5, 6), 3, 22, (0, 0, 0), (1, 0, 0)))
    body = cut(body, build.box(60, 60, 20, (-30, -30, -28)), build.cylinder(2, 60, (0, 0, -30)))
    body = cut(body, build.torus(14, 1.2, (0, 0, 2)))
    return rounded(body, r.uniform(0.5, 1.5), lambda e: e.kind == "circle" and abs(e.middle[2]) > 8)


def tangent_web(big: float, small: float, apart: float, thick: float) -> Shape:
    """A plate with two round ends and flat sides that touch both."""
    s = (big - small) / apart
    c = math.sqrt(1 - s * s)
    corners = [
        (big * s, -big * c, 0),
        (apart + small * s, -small * c, 0),
        (apart + small * s, small * c, 0),
        (big * s, big * c, 0),
    ]
    return build.extrude(build.outline(corners, [None, (apart + small, 0, 0), None, (-big, 0, 0)]), (0, 0, thick))


def lever(r: Draw | None = None) -> Shape:
    """Two hubs with a tangent web between them."""
    r = r or random.Random("lever1")
    big, small, apart, t = r.uniform(8, 12), r.uniform(5, 7), r.uniform(35, 55), r.uniform(4, 6)
    web = tangent_web(big, small, apart, t)
    body = joined(web, build.cylinder(big, t + 8, (0, 0, -4)), build.cylinder(small, t + 4, (apart, 0, -2)))
    body = cut(body, build.cylinder(0.6 * big, 40, (0, 0, -20)), build.cylinder(0.5 * small, 40, (apart, 0, -20)))
    body = cut(body, build.box(0.5 * big, 2.4, 40, (0.4 * big, -1.2, -20)))
    return bevelled(body, 0.5, lambda e: e.kind == "circle" and abs(e.middle[2] - t - 4) < 1e-6)


def cam(r: Draw) -> Shape:
    places = HArray1_gp_Pnt(1, 8)
    for i in range(8):
        size, angle = 16 + r.uniform(-2, 3), math.pi * i / 4
        places.SetValue(i + 1, gp_Pnt(size * math.cos(angle), size * math.sin(angle), 0))
    curve = GeomAPI_Interpolate(places, True, 1e-7)
    curve.Perform()
    wire = BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(curve.Curve()).Edge()).Wire()
    body = joined(build.extrude(BRepBuilderAPI_MakeFace(wire).Face(), (0, 0, 10)), build.cylinder(7, 16))
    body = cut(body, build.cylinder(4, 20, (0, 0, -1)))
    return bevelled(body, 0.6, lambda e: e.kind == "circle" and e.middle[2] > 15)


FAMILIES: dict[str, Callable[[Draw], Shape]] = {
    make.__name__: make for make in (bracket, turned, casting, sheet, pipe, shell, housing, ball, lever, cam)
}


def varied(family: str, seed: int) -> Shape | None:
    """One part; None where the kernel did not build it soundly."""
    shape = FAMILIES[family](random.Random(f"{family}{seed}"))
    if seed % 2 == 0:
        unify = ShapeUpgrade_UnifySameDomain(shape, True, True, False)
        unify.Build()
        shape = single_solid(unify.Shape())
    return None if fault(shape) else shape

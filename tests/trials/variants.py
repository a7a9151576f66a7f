"""The same part as other hands leave it."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from OCP.BRepBuilderAPI import BRepBuilderAPI_NurbsConvert, BRepBuilderAPI_Transform
from OCP.gp import gp_Pnt, gp_Trsf
from OCP.ShapeUpgrade import ShapeUpgrade_ShapeDivideAngle

from ravine.core.kernel import build
from ravine.core.kernel.boolean import single_solid
from ravine.core.kernel.shapes import Shape
from ravine.core.rigid import Rigid

from .family import Point


def _same(shape: Shape) -> Shape:
    return shape


def _in_halves(shape: Shape) -> Shape:
    tool = ShapeUpgrade_ShapeDivideAngle(math.pi, shape)
    tool.Perform()
    return single_solid(tool.Result())


def _as_splines(shape: Shape) -> Shape:
    return single_solid(BRepBuilderAPI_NurbsConvert(shape, True).Shape())


def _scaled(factor: float) -> Callable[[Shape], Shape]:
    def way(shape: Shape) -> Shape:
        change = gp_Trsf()
        change.SetScale(gp_Pnt(0, 0, 0), factor)
        return single_solid(BRepBuilderAPI_Transform(shape, change, True).Shape())

    return way


_TURN = Rigid.about((0, 0, 0), (0.36, -0.48, 0.8), 1.234)
_ODDLY = Rigid((*_TURN[:3], 531.7, *_TURN[4:7], -88.31, *_TURN[8:11], 12.9))


@dataclass(frozen=True)
class Variant:
    """change: of the shape; factor: what its lengths are multiplied by; place: where it stands then."""

    change: Callable[[Shape], Shape] = _same
    factor: float = 1.0
    place: Rigid | None = None
    units: str = "mm"

    def shape(self, shape: Shape) -> Shape:
        shape = self.change(shape)
        return build.moved(shape, self.place) if self.place else shape

    def target(self, shape: Shape) -> Shape:
        """A shape where and as large as this makes it, otherwise as it is."""
        shape = _scaled(self.factor)(shape) if self.factor != 1 else shape
        return build.moved(shape, self.place) if self.place else shape

    def point(self, at: Point) -> Point:
        x, y, z = (self.factor * c for c in at)
        if not self.place:
            return x, y, z
        m = self.place
        return tuple(m[4 * i] * x + m[4 * i + 1] * y + m[4 * i + 2] * z + m[4 * i + 3] for i in range(3))

    def length(self, value: float) -> str:
        return f"{self.factor * value:.12g} mm"


VARIANTS = {
    "plain": Variant(),
    "halves": Variant(_in_halves),
    "splines": Variant(_as_splines),
    "placed": Variant(place=_ODDLY),
    "inch": Variant(units="in"),
    "tiny": Variant(_scaled(1e-3), 1e-3),
    "huge": Variant(_scaled(1e3), 1e3),
}

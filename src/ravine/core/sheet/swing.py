"""What a round bend does to the sheet beyond it: laid flat and bent again, about the line where it begins.

A bend keeps the length of its neutral surface: angle times (r + K t) (DIN 6935).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import CannotDo
from ..kernel.boolean import combine, single_solid
from ..kernel.shapes import Shape
from ..local.surfaces import Floats
from ..local.topology import SolidTopology
from ..rigid import IDENTITY, Rigid
from ..sketch.plane_curves import PlaneCurve
from .band import pieces_of
from .flat_curves import flat_curve
from .flat_cut import OVER, wound, wound_strip
from .outlines import walked

STRAIGHT = 1e-9  # rad, of a bend that is none


@dataclass(frozen=True)
class Swing:
    """In a frame with its origin on the line where the bend begins, x into it, z out of the side that is read (at the
    height 0).  length: mm of flat; angle: rad; neutral: height of the neutral surface, mm (not above 0); up: 1.0 where
    it bends towards z, else -1.0."""

    length: float
    angle: float
    neutral: float
    up: float

    @property
    def radius(self) -> float:
        """mm, of the neutral surface."""
        return self.length / self.angle if self.angle > STRAIGHT else math.inf

    @property
    def motion(self) -> Rigid:
        """Of all that lies beyond the bend, from flat to bent."""
        if not math.isfinite(self.radius):
            return IDENTITY
        c, s = math.cos(self.angle), math.sin(self.angle)
        turn = np.array([[c, 0, -self.up * s], [0, 1, 0], [self.up * s, 0, c]])
        centre = np.array([0.0, 0.0, self.neutral + self.up * self.radius])
        return Rigid.of(turn, centre - turn @ (centre + np.array([self.length, 0.0, 0.0])))

    def heights(self, points: Floats) -> Floats:
        """Of points (n, 3) in the bent sheet, in the frame, over the side that is read."""
        middle = self.neutral + self.up * self.radius
        reach = np.hypot(points[:, 0], points[:, 2] - middle)
        return np.asarray(self.neutral + self.up * (self.radius - reach))


def bent_strip(swing: Swing, frame: Rigid, depth: float, loops: Sequence[Sequence[PlaneCurve]]) -> Shape:
    """A flat strip as the bend that it becomes: its borders (in x and y of the frame, the outer one first) wound round
    the axis.  frame: to where it stands.  Raises EditError when the kernel gives up."""
    up, far = swing.up, swing.radius
    inner, outer = sorted(far - up * (height - swing.neutral) for height in (0.0, -depth))
    y, z = (np.array(frame.direction(v)) for v in ((0, 1, 0), (0, 0, 1)))
    axis = (np.array(frame.point((0, 0, swing.neutral + up * far))), -up * z, -up * y)

    def place(places: Floats) -> Floats:
        return np.column_stack([places[:, 0] / far, -up * places[:, 1]])

    border, *holes = loops
    bend = wound_strip(border, place, axis, (inner, outer))
    if holes:
        roomy = (inner - min(OVER, inner / 2), outer + OVER)
        bend = combine("subtract", bend, [wound(pieces_of(h), place, axis, roomy) for h in holes])[0]
    return single_solid(bend)


def strip_borders(piece: SolidTopology, frame: Rigid) -> list[list[PlaneCurve]]:
    """Of a flat piece of sheet, those of its side at the height 0, the outer one first.  Raises CannotDo where it has
    no such side, or more than one face there."""
    back = frame.inverse
    faces = []
    for face in range(piece.index.count("face")):
        if piece.surface(face).kind == "plane":
            point, normal = piece.middle(face)
            if abs(back.point(point)[2]) < 1e-6 and back.direction(normal)[2] > 1 - 1e-9:
                faces.append(face)
    if len(faces) != 1:
        raise CannotDo("the strip that was bent is no single flat face any more")
    return [
        [flat_curve(piece, e, lambda points: back.points(points)[:, :2]) for e, _ in walked(piece, wire)]
        for wire in piece.wires(faces[0])
    ]

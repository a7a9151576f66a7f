"""Carrier surfaces of faces as signed distance fields.

`distance` is positive on the side the gradient points to: along `z` of a plane, away from the axis, centre or spine
of the others.  Points are (n, 3) arrays in mm.  Formulas follow from the definitions of the surfaces in ISO 10303-42.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..kernel.carriers import (
    Frame,
    GeomHandle,
    SurfaceData,
    SurfaceReader,
    equal_splines,
    make_surface,
    moved_geometry,
    offset_surface,
    turned_over,
)
from ..kernel.extension import Box, basis_of, extended
from ..rigid import IDENTITY, Rigid

Floats = NDArray[np.float64]
TINY = 1e-300
ROUNDING = 1e-10  # mm


def moved_frame(motion: Rigid, frame: Frame) -> Frame:
    return Frame(motion.points(frame.origin), motion.turn @ frame.x, motion.turn @ frame.y, motion.turn @ frame.z)


@dataclass(frozen=True)
class Surface:
    """kind and numbers as in kernel.carriers.SurfaceData.

    side: -1 on the far nappe of a cone or the inner part of a spindle torus, where the distance from the axis counts
          negative; offset: how far a spline surface runs along its natural normal from the one in `handle`
    """

    kind: str
    frame: Frame | None
    numbers: tuple[float, ...]
    handle: GeomHandle = None
    side: float = 1.0
    offset: float = 0.0

    @classmethod
    def read(cls, data: SurfaceData, inside: Floats | None = None) -> Surface:
        """inside: a point (3,) on the face, which tells the side."""
        if data.kind == "spline":
            handle, offset = basis_of(data.handle)
            return cls(data.kind, None, (), handle, offset=offset)
        found = cls(data.kind, data.frame, data.numbers, data.handle)
        if data.kind in ("cone", "torus") and inside is not None and abs(found._both_sides(inside)) > 0:
            flipped = replace(found, side=-1.0)
            if abs(flipped.distance(inside[None])[0][0]) < abs(found.distance(inside[None])[0][0]) - 1e-9:
                return flipped
        return found

    @classmethod
    def plane(cls, point: Floats, normal: Floats) -> Surface:
        """Through a point (mm) square to a direction."""
        z = normal / np.linalg.norm(normal)
        x = np.cross(z, np.eye(3)[int(np.abs(z).argmin())])
        x = x / np.linalg.norm(x)
        return cls("plane", Frame(point, x, np.cross(z, x), z), ())

    def _both_sides(self, point: Floats) -> float:
        frame = self.frame
        assert frame is not None
        w = point - frame.origin
        return float(np.linalg.norm(w - (w @ frame.z) * frame.z))

    # --- what it is ------------------------------------------------------------------------------------------------

    @property
    def axial(self) -> Frame:
        if self.frame is None:
            raise ValueError("a spline surface has no axis")
        return self.frame

    @property
    def radius(self) -> float:
        """Of the cylinder, sphere or tube; the minor one of a torus."""
        return self.numbers[1] if self.kind == "torus" else self.numbers[0]

    @property
    def natural(self) -> float:
        """+1 where the kernel's own normal runs along the gradient."""
        if self.frame is None:
            return 1.0
        return (1.0 if self.frame.direct else -1.0) * self.side

    @property
    def periods(self) -> tuple[float, float]:
        turn = 2 * np.pi
        if self.kind == "spline":
            return self._reader.periods
        return {"plane": (0.0, 0.0), "torus": (turn, turn)}.get(self.kind, (turn, 0.0))

    @cached_property
    def _reader(self) -> SurfaceReader:
        return SurfaceReader(self.handle)

    @cached_property
    def kernel(self) -> GeomHandle:
        """The kernel's surface."""
        if self.kind == "spline":
            return offset_surface(self.handle, self.offset) if self.offset else self.handle
        if self.handle is not None:
            return self.handle
        return make_surface(self.kind, self.axial, self.numbers)

    # --- distance --------------------------------------------------------------------------------------------------

    def distance(self, points: Floats) -> tuple[Floats, Floats]:
        """Signed distances (n,) and their gradients (n, 3), of unit length."""
        if self.kind == "plane":
            frame = self.axial
            slopes = np.empty_like(points)
            slopes[:] = frame.z
            return (points - frame.origin) @ frame.z, slopes
        if self.kind == "spline":
            return self._spline_distance(points)
        frame = self.axial
        w = points - frame.origin
        if self.kind == "sphere":
            size = np.sqrt(np.einsum("ij,ij->i", w, w))
            return size - self.numbers[0], w / (size[:, None] + TINY)
        height = w @ frame.z
        out = w - height[:, None] * frame.z
        size = np.sqrt(np.einsum("ij,ij->i", out, out))
        away = out / (size[:, None] + TINY)
        if self.kind == "cylinder":
            return size - self.numbers[0], away
        size, away = self.side * size, self.side * away
        if self.kind == "cone":
            radius, angle = self.numbers
            sine, cosine = np.sin(angle), np.cos(angle)
            return (size - radius) * cosine - height * sine, cosine * away - sine * frame.z
        major, minor = self.numbers
        across = size - major
        tube = np.sqrt(across**2 + height**2)
        return tube - minor, (across[:, None] * away + height[:, None] * frame.z) / (tube[:, None] + TINY)

    def _spline_distance(self, points: Floats) -> tuple[Floats, Floats]:
        _, spots, normals = self._reader.feet(points)
        return np.einsum("ij,ij->i", points - spots, normals) - self.offset, normals

    # --- parameters ------------------------------------------------------------------------------------------------

    def parameters(self, points: Floats, near: tuple[float, float] | None = None) -> Floats:
        """Surface parameters (n, 2), without jumps along the row; the first one in the turn nearest to `near`."""
        if self.kind == "spline":
            uv = self._reader.feet(points)[0]
        else:
            uv = self._formula_parameters(points)
        for k, period in enumerate(self.periods):
            if not period:
                continue
            uv[:, k] = np.unwrap(uv[:, k], period=period)
            if near is not None:
                uv[:, k] += period * np.round((near[k] - uv[0, k]) / period)
        return uv

    def _formula_parameters(self, points: Floats) -> Floats:
        frame = self.axial
        w = points - frame.origin
        x, y, z = w @ frame.x, w @ frame.y, w @ frame.z
        if self.kind == "plane":
            return np.column_stack([x, y])
        u = np.arctan2(self.side * y, self.side * x)
        if self.kind == "cylinder":
            return np.column_stack([u, z])
        if self.kind == "sphere":
            return np.column_stack([u, np.arctan2(z, np.hypot(x, y))])
        size = self.side * np.hypot(x, y)
        if self.kind == "cone":
            radius, angle = self.numbers
            return np.column_stack([u, (size - radius) * np.sin(angle) + z * np.cos(angle)])
        return np.column_stack([u, np.arctan2(z, size - self.numbers[0])])

    def points(self, uv: Floats) -> Floats:
        """Places (n, 3) at surface parameters (n, 2)."""
        if self.kind == "spline":
            return self._reader.points(uv) + self.offset * self._reader.normals(uv)
        frame = self.axial
        u, v = uv[:, :1], uv[:, 1:]
        if self.kind == "plane":
            return frame.origin + u * frame.x + v * frame.y
        out = np.cos(u) * frame.x + np.sin(u) * frame.y
        if self.kind == "cylinder":
            return frame.origin + self.numbers[0] * out + v * frame.z
        if self.kind == "cone":
            radius, angle = self.numbers
            return frame.origin + (radius + v * np.sin(angle)) * out + v * np.cos(angle) * frame.z
        if self.kind == "sphere":
            return frame.origin + self.numbers[0] * (np.cos(v) * out + np.sin(v) * frame.z)
        major, minor = self.numbers
        return frame.origin + (major + minor * np.cos(v)) * out + minor * np.sin(v) * frame.z

    def speeds(self, points: Floats) -> Floats:
        """mm by which a place moves for a unit of each parameter (2,), the largest at these points (n, 3)."""
        uv = self.parameters(points)
        if not self.offset:
            return self._reader.speeds(uv).max(axis=0)
        u0, u1, v0, v1 = self.handle.Bounds()
        step = 1e-5 * np.array([u1 - u0, v1 - v0])
        ways = [(self.points(uv + s) - self.points(uv - s)) / (2 * s.sum()) for s in np.diag(step)]
        return np.array([np.linalg.norm(w, axis=1).max() for w in ways])

    # --- changes ---------------------------------------------------------------------------------------------------

    def moved(self, motion: Rigid) -> Surface:
        if self.kind == "spline":
            return replace(self, handle=moved_geometry(self.handle, motion))
        return replace(self, frame=moved_frame(motion, self.axial), handle=None)

    def extended(self, box: Box, length: float) -> Surface:
        """With room of about `length` mm around a face that takes up `box` of its parameters; the very surface where
        there is room enough."""
        if self.kind != "spline":
            return self
        handle = extended(self.handle, box, length)
        return self if handle is self.handle else replace(self, handle=handle)

    def reaches(self, uv: Floats) -> bool:
        """Whether the kernel's surface has all these parameters (n, 2)."""
        u0, u1, v0, v1 = self.handle.Bounds() if self.kind == "spline" else (-np.inf, np.inf, -np.inf, np.inf)
        periods = self.periods
        return all(
            bool(period) or bool(row.min() > low - 1e-9 and row.max() < high + 1e-9)
            for row, low, high, period in ((uv[:, 0], u0, u1, periods[0]), (uv[:, 1], v0, v1, periods[1]))
        )

    def flipped(self) -> Surface:
        """The same surface with its natural normal turned round, by another handedness of its frame; of a spline, with
        its first parameter counted backwards."""
        if self.kind == "spline":
            return replace(self, handle=turned_over(self.handle), offset=-self.offset)
        frame = self.axial
        if self.kind == "plane":
            return replace(self, frame=replace(frame, y=-frame.y, z=-frame.z), handle=None)
        return replace(self, frame=replace(frame, y=-frame.y), handle=None)

    def parallel(self, distance: float) -> Surface | None:
        """Offset by `distance` along the gradient; None where a radius would vanish."""
        if self.kind == "plane":
            return self.moved(Rigid.slide(distance * self.axial.z))
        if self.kind == "spline":
            return replace(self, offset=self.offset + distance)
        if self.kind == "cone":
            radius, angle = self.numbers
            return self._shifted_cone(radius + distance / np.cos(angle), angle)
        numbers = (*self.numbers[:-1], self.numbers[-1] + distance)
        return replace(self, numbers=numbers, handle=None) if numbers[-1] > 1e-6 else None

    def _shifted_cone(self, radius: float, angle: float) -> Surface:
        """The kernel wants no negative radius at the origin of a cone: the origin moves along the axis instead."""
        frame = self.axial
        if radius >= 0:
            return replace(self, numbers=(radius, angle), handle=None)
        step = (1.0 - radius) / np.tan(angle)
        frame = replace(frame, origin=frame.origin + step * frame.z)
        return replace(self, frame=frame, numbers=(radius + step * np.tan(angle), angle), handle=None)

    def same(self, other: Surface, size: float) -> bool:
        """One and the same unbounded surface, within the kernel's tolerance over `size` mm."""
        if self.kind != other.kind:
            return False
        if self.kind == "spline":
            return self.offset == other.offset and equal_splines(self.handle, other.handle)
        if self.side != other.side or any(
            abs(a - b) > 1e-6 for a, b in zip(self.numbers[:1], other.numbers[:1], strict=True)
            if self.kind != "cone"
        ):  # fmt: skip
            return False
        a, b = self.axial, other.axial
        along = float(a.z @ b.z)
        gap = b.origin - a.origin
        if self.kind == "sphere":
            return float(np.linalg.norm(gap)) < 1e-6
        if 1 - abs(along) > 0.5 * (1e-6 / max(size, 1.0)) ** 2 + 1e-15:
            return False
        if self.kind == "plane":
            return abs(float(gap @ a.z)) < 1e-6
        if float(np.linalg.norm(gap - (gap @ a.z) * a.z)) > 1e-6:
            return False
        if self.kind == "cylinder":
            return True
        if self.kind == "torus":
            return abs(float(gap @ a.z)) < 1e-6 and abs(self.numbers[1] - other.numbers[1]) < 1e-6
        here = self.numbers[0] + float(gap @ a.z) * np.tan(self.numbers[1])
        return (
            abs(here - other.numbers[0]) < 1e-6
            and abs(self.numbers[1] - np.sign(along) * other.numbers[1]) * max(size, 1.0) < 1e-6
        )

    def keeps(self, motion: Rigid) -> bool:
        """Whether the whole surface comes to lie on itself under the motion."""
        return self.arrives(self, motion)

    def arrives(self, new: Surface, motion: Rigid) -> bool:
        """Whether the motion lays this surface on `new`, to rounding."""
        if self.kind == "spline":
            return self.same(new, 1.0) and motion.same(IDENTITY)
        if self.kind != new.kind or self.side != new.side:
            return False
        if any(abs(a - b) > 1e-12 for a, b in zip(self.numbers, new.numbers, strict=True)):
            return False
        moved, there = moved_frame(motion, self.axial), new.axial
        gap = there.origin - moved.origin
        if self.kind != "sphere" and float(moved.z @ there.z) < 1 - 1e-14:
            return False
        if self.kind == "plane":
            return abs(float(gap @ there.z)) < ROUNDING
        if self.kind == "cylinder":
            gap = gap - (gap @ there.z) * there.z
        return float(np.abs(gap).max()) < ROUNDING


__all__ = ["IDENTITY", "Floats", "Rigid", "Surface"]

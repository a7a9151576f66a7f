"""The one rigid motion: where a part stands, how a face moves, what takes one frame to another.

x ↦ turn @ x + shift, lengths in mm.  It is its twelve numbers, the three rows of a 3x4 matrix, so that it is stored,
hashed, compared and handed to the kernel as it is; arrays for many points are worked out on first use.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Vec = tuple[float, float, float]


def vec_of(v: Floats) -> Vec:
    """Of an array of three."""
    x, y, z = v.tolist()
    return x, y, z


def cross_rows(a: Floats, b: Floats) -> Floats:
    """Cross products of rows (…, 3): as numpy's own, without what that spends on rows that are few."""
    x, y, z = a[..., 0], a[..., 1], a[..., 2]
    u, v, w = b[..., 0], b[..., 1], b[..., 2]
    return np.stack([y * w - z * v, z * u - x * w, x * v - y * u], axis=-1)


class Rigid(tuple[float, ...]):
    """Twelve numbers, row by row.  `a @ b` is a after b."""

    def __new__(cls, rows: Iterable[float]) -> Rigid:
        found = super().__new__(cls, (float(v) for v in rows))
        if len(found) != 12:
            raise ValueError(f"a rigid motion is twelve numbers, not {len(found)}")
        return found

    # --- ways to make one --------------------------------------------------------------------------------------

    @classmethod
    def of(cls, turn: Floats, shift: Floats) -> Rigid:
        """turn (3, 3), shift (3,)."""
        return cls(np.column_stack([turn, shift]).reshape(-1).tolist())

    @classmethod
    def slide(cls, step: Sequence[float] | Floats) -> Rigid:
        x, y, z = (float(v) for v in step)
        return cls((1.0, 0.0, 0.0, x, 0.0, 1.0, 0.0, y, 0.0, 0.0, 1.0, z))

    @classmethod
    def about(cls, point: Sequence[float] | Floats, axis: Sequence[float] | Floats, angle: float) -> Rigid:
        """Turn by `angle` rad about an axis through `point` (Rodrigues' formula)."""
        x, y, z = np.asarray(axis, float) / np.linalg.norm(axis)
        cross = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
        turn = np.eye(3) + np.sin(angle) * cross + (1 - np.cos(angle)) * cross @ cross
        foot = np.asarray(point, float)
        return cls.of(turn, foot - turn @ foot)

    # --- its parts ---------------------------------------------------------------------------------------------

    @cached_property
    def matrix(self) -> Floats:
        """(3, 4)."""
        return np.array(self).reshape(3, 4)

    @property
    def turn(self) -> Floats:
        """(3, 3)."""
        return self.matrix[:, :3]

    @property
    def shift(self) -> Floats:
        """(3,)."""
        return self.matrix[:, 3]

    @property
    def is_slide(self) -> bool:
        return bool(np.abs(self.turn - np.eye(3)).max() < 1e-14)

    def same(self, other: Rigid) -> bool:
        return self.near(other, 1e-12)

    def near(self, other: Rigid, level: float = 1e-7) -> bool:
        """Whether two motions are one, but for what a rounded number leaves."""
        return max(abs(a - b) for a, b in zip(self, other, strict=True)) < level

    # --- what it does ------------------------------------------------------------------------------------------

    def __matmul__(self, other: Rigid) -> Rigid:
        rows: list[float] = []
        for r in (0, 4, 8):
            a, b, c, d = self[r : r + 4]
            rows += (
                a * other[0] + b * other[4] + c * other[8],
                a * other[1] + b * other[5] + c * other[9],
                a * other[2] + b * other[6] + c * other[10],
                a * other[3] + b * other[7] + c * other[11] + d,
            )
        return Rigid(rows)

    @property
    def inverse(self) -> Rigid:
        """The transposed turn, and the shift turned back."""
        rows = [(self[c], self[4 + c], self[8 + c]) for c in range(3)]
        x, y, z = self[3], self[7], self[11]
        return Rigid(v for a, b, c in rows for v in (a, b, c, -(a * x + b * y + c * z)))

    @property
    def squared(self) -> Rigid:
        """With its turn exactly orthonormal again, as far as it is nearly so: one step of Newton's towards the nearest
        (Björck and Bowie, 1971).  Products of many motions drift, and an inverse doubles what they are off by."""
        turn = self.turn
        return Rigid.of(turn @ (3 * np.eye(3) - turn.T @ turn) / 2, self.shift)

    def point(self, p: Sequence[float] | Floats) -> Vec:
        x, y, z = (sum(self[r + k] * p[k] for k in range(3)) + self[r + 3] for r in (0, 4, 8))
        return (float(x), float(y), float(z))

    def direction(self, d: Sequence[float] | Floats) -> Vec:
        x, y, z = (sum(self[r + k] * d[k] for k in range(3)) for r in (0, 4, 8))
        return (float(x), float(y), float(z))

    def points(self, points: Floats) -> Floats:
        """(n, 3)."""
        return points @ self.turn.T + self.shift

    def vectors(self, vectors: Floats) -> Floats:
        """(n, 3), turned only."""
        return vectors @ self.turn.T


IDENTITY = Rigid((1.0, 0.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 0.0, 1.0, 0.0))

"""Placements: rigid motions as 12 numbers, three rows of a 3x4 matrix, lengths in mm."""

from __future__ import annotations

import math
from collections.abc import Sequence

Matrix = tuple[float, ...]
Vec = tuple[float, float, float]

IDENTITY: Matrix = (1.0, 0.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 0.0, 1.0, 0.0)


def multiply(a: Matrix, b: Matrix) -> Matrix:
    """a after b."""
    rows = []
    for r in range(3):
        row = a[4 * r : 4 * r + 4]
        rows += [sum(row[k] * b[4 * k + c] for k in range(3)) + (row[3] if c == 3 else 0.0) for c in range(4)]
    return tuple(rows)


def inverse(m: Matrix) -> Matrix:
    """Of a rigid motion: the transposed turn, and the shift turned back."""
    turn = [[m[4 * c + r] for c in range(3)] for r in range(3)]
    shift = [-sum(turn[r][k] * m[4 * k + 3] for k in range(3)) for r in range(3)]
    return tuple(v for r in range(3) for v in (*turn[r], shift[r]))


def point(m: Matrix, p: Sequence[float]) -> Vec:
    x, y, z = (sum(m[4 * r + k] * p[k] for k in range(3)) + m[4 * r + 3] for r in range(3))
    return (x, y, z)


def direction(m: Matrix, d: Sequence[float]) -> Vec:
    x, y, z = (sum(m[4 * r + k] * d[k] for k in range(3)) for r in range(3))
    return (x, y, z)


def shift(x: float, y: float, z: float) -> Matrix:
    return (1.0, 0.0, 0.0, x, 0.0, 1.0, 0.0, y, 0.0, 0.0, 1.0, z)


def turn(axis: Sequence[float], angle: float, centre: Sequence[float]) -> Matrix:
    """Turn by `angle` rad about an axis through `centre` (Rodrigues)."""
    length = math.sqrt(sum(a * a for a in axis))
    x, y, z = (a / length for a in axis)
    c, s, k = math.cos(angle), math.sin(angle), 1.0 - math.cos(angle)
    m = (
        c + x * x * k, x * y * k - z * s, x * z * k + y * s, 0.0,
        y * x * k + z * s, c + y * y * k, y * z * k - x * s, 0.0,
        z * x * k - y * s, z * y * k + x * s, c + z * z * k, 0.0,
    )  # fmt: skip
    return multiply(shift(*centre), multiply(m, shift(*(-v for v in centre))))

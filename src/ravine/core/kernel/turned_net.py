"""Cylinder, cone, sphere and torus by their formulas (ISO 10303-42), read like a spline net where a face on one is
integrated."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .carriers import Floats, Frame

TURN = 2 * np.pi
PIECES = 8  # of a turn, over each of which a few Gauss points are exact to rounding


@dataclass(frozen=True)
class TurnedNet:
    """kind and numbers as in carriers.SurfaceData."""

    kind: str
    frame: Frame
    numbers: tuple[float, ...]

    @property
    def periods(self) -> tuple[float, float]:
        return TURN, TURN if self.kind == "torus" else 0.0

    @property
    def knots(self) -> tuple[Floats, Floats]:
        """Where to cut for integration."""
        turn = np.linspace(0.0, TURN, PIECES + 1)
        return turn, turn if self.kind == "torus" else np.zeros(0)

    def at(self, uv: Floats, order: int = 1) -> list[Floats]:
        """Places (n, 3) and their derivatives by u and v; `order` is 1."""
        frame, u, v = self.frame, uv[:, :1], uv[:, 1:]
        out = np.cos(u) * frame.x + np.sin(u) * frame.y
        around = np.cos(u) * frame.y - np.sin(u) * frame.x
        size, height, rate, rise = self._profile(v)
        return [frame.origin + size * out + height * frame.z, size * around, rate * out + rise * frame.z]

    def _profile(self, v: Floats) -> tuple[Floats, Floats, Floats, Floats]:
        """Distance from the axis and height along it, and how both grow with v."""
        one = np.ones_like(v)
        if self.kind == "cylinder":
            return self.numbers[0] * one, v, 0 * v, one
        if self.kind == "cone":
            radius, angle = self.numbers
            return radius + v * np.sin(angle), v * np.cos(angle), np.sin(angle) * one, np.cos(angle) * one
        major, minor = self.numbers if self.kind == "torus" else (0.0, self.numbers[0])
        return major + minor * np.cos(v), minor * np.sin(v), -minor * np.sin(v), minor * np.cos(v)

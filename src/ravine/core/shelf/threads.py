"""Real threads on screws and in nuts: the profile of ISO 68-1, its root flat, with the play of class 6g on screws (ISO
965-1) so that the two never share matter.  A cut runs out where the thread ends."""

from __future__ import annotations

import math
from collections.abc import Mapping

from ..kernel import build
from ..kernel.boolean import combine, single_solid
from ..kernel.shapes import Shape
from ..kernel.sweep import helix, wound

ROOT = 1.226869  # pitches by which the root of a screw is less in diameter (ISO 724)
BORE = 1.082532  # the same for the bore of a nut
MIDDLE = 0.649519  # the same for where ridge and groove are equally wide
BEYOND = 0.4  # pitches in diameter by which a cutter reaches past what it cuts
SLOPE = math.tan(math.pi / 6)
PLAIN_FROM = {"iso4762", "iso10642"}  # families whose longer screws have a plain shank


def play(pitch: float) -> float:
    """mm in diameter by which a screw of class g is smaller than its nominal size (ISO 965-1)."""
    return (15 + 11 * pitch) / 1000


def threaded_length(family: str, d: float, length: float) -> float:
    """mm from the tip: 2 d + 12 where a screw is longer than that and has a plain shank (ISO 4762), else all of it."""
    return min(length, 2 * d + 12) if family in PLAIN_FROM else length


def outside(shank: Shape, row: Mapping[str, float], low: float, high: float) -> Shape:
    """A shank about Z with a thread cut into it from `low` up to `high`, where it runs out within a pitch."""
    pitch = row["pitch"]
    over = row["d"] - play(pitch)
    root, out = over - ROOT * pitch, over + BEYOND * pitch
    middle = over - MIDDLE * pitch

    def wide(diameter: float) -> float:
        return pitch / 2 + (diameter - middle) * SLOPE

    return _cut(shank, (root, wide(root)), (out, wide(out)), pitch, low - pitch, high - pitch)


def inside(nut: Shape, row: Mapping[str, float], low: float, high: float) -> Shape:
    """What has a bore of BORE pitches less than its nominal size about Z, with a thread cut into it, through."""
    pitch, over = row["pitch"], row["d"]
    near = over - (BORE + BEYOND) * pitch
    middle = over - MIDDLE * pitch

    def wide(diameter: float) -> float:
        return pitch / 2 - (diameter - middle) * SLOPE

    return _cut(nut, (near, wide(near)), (over, wide(over)), pitch, low - pitch, high + pitch)


def _cut(
    whole: Shape, near: tuple[float, float], far: tuple[float, float], pitch: float, low: float, high: float
) -> Shape:
    """near, far: diameter and width of the groove, mm; wound from `low` to `high`."""
    (d0, w0), (d1, w1) = near, far
    corners = [(d0 / 2, -w0 / 2), (d1 / 2, -w1 / 2), (d1 / 2, w1 / 2), (d0 / 2, w0 / 2)]
    area = build.outline([(x, 0.0, low + z) for x, z in corners])
    spine = helix((d1 / 2, 0.0, low), (0, 0, 0), (0, 0, 1), pitch, high - low, 0.0, True)
    return single_solid(combine("subtract", whole, [wound(area, spine, (0, 0, 1))])[0])

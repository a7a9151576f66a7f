"""Faces that go with a face: in its plane, opposite, or alike."""

from __future__ import annotations

import numpy as np

from .fabric import Fabric

LEVEL = 1e-6  # mm, and 1 − cos for directions


def coplanar(fabric: Fabric, face: int) -> list[int]:
    """Other plane faces in the same plane that look the same way."""
    here = fabric.surface(face)
    if here.kind != "plane":
        return []
    normal = fabric.sign(face) * here.axial.z
    found = []
    for other in range(fabric.index.count("face")):
        there = fabric.surface(other)
        if other == face or there.kind != "plane" or fabric.sign(other) * there.axial.z @ normal < 1 - 1e-9:
            continue
        if abs(float((there.axial.origin - here.axial.origin) @ normal)) < LEVEL:
            found.append(other)
    return found


def alike(fabric: Fabric, face: int) -> list[int]:
    """Other faces of the same kind, numbers and hollowness: the walls of equal holes, rounds of one radius."""
    here = fabric.surface(face)
    if not here.numbers:
        return []
    return [
        other
        for other in range(fabric.index.count("face"))
        if other != face
        and (there := fabric.surface(other)).kind == here.kind
        and np.allclose(there.numbers, here.numbers, rtol=0, atol=LEVEL)
        and fabric.sign(other) == fabric.sign(face)
    ]


def opposite(fabric: Fabric, face: int) -> tuple[int, float] | None:
    """The nearest plane face below a plane face that looks the other way, and its distance in mm."""
    here = fabric.surface(face)
    if here.kind != "plane":
        return None
    normal = fabric.sign(face) * here.axial.z
    best: tuple[int, float] | None = None
    for other in range(fabric.index.count("face")):
        there = fabric.surface(other)
        if there.kind != "plane" or fabric.sign(other) * there.axial.z @ normal > -1 + 1e-9:
            continue
        depth = float((here.axial.origin - there.axial.origin) @ normal)
        if depth > LEVEL and (best is None or depth < best[1]):
            best = (other, depth)
    return best

"""Faces that go with a face: in its plane, opposite, or alike."""

from __future__ import annotations

import numpy as np

from .topology import SolidTopology

LEVEL = 1e-6  # mm, and 1 − cos for directions


def coplanar(topology: SolidTopology, face: int) -> list[int]:
    """Other plane faces in the same plane that look the same way."""
    here = topology.surface(face)
    if here.kind != "plane":
        return []
    normal = topology.sign(face) * here.axial.z
    found = []
    for other in range(topology.index.count("face")):
        there = topology.surface(other)
        if other == face or there.kind != "plane" or topology.sign(other) * there.axial.z @ normal < 1 - 1e-9:
            continue
        if abs(float((there.axial.origin - here.axial.origin) @ normal)) < LEVEL:
            found.append(other)
    return found


def alike(topology: SolidTopology, face: int) -> list[int]:
    """Other faces of the same kind, numbers and hollowness: the walls of equal holes, fillets of one radius."""
    here = topology.surface(face)
    if not here.numbers:
        return []
    return [
        other
        for other in range(topology.index.count("face"))
        if other != face
        and (there := topology.surface(other)).kind == here.kind
        and np.allclose(there.numbers, here.numbers, rtol=0, atol=LEVEL)
        and topology.sign(other) == topology.sign(face)
    ]


def opposite(topology: SolidTopology, face: int) -> tuple[int, float] | None:
    """The nearest plane face below a plane face that looks the other way, and its distance in mm."""
    here = topology.surface(face)
    if here.kind != "plane":
        return None
    normal = topology.sign(face) * here.axial.z
    best: tuple[int, float] | None = None
    for other in range(topology.index.count("face")):
        there = topology.surface(other)
        if there.kind != "plane" or topology.sign(other) * there.axial.z @ normal > -1 + 1e-9:
            continue
        depth = float((here.axial.origin - there.axial.origin) @ normal)
        if depth > LEVEL and (best is None or depth < best[1]):
            best = (other, depth)
    return best

"""Masses of parts and of the groups they stand in."""

from __future__ import annotations

from ..model.geometry import GeometryStore
from ..model.materials import mass_kg
from ..model.measure import volume_mm3
from ..model.snapshot import Snapshot


def part_masses(snapshot: Snapshot, geometry: GeometryStore) -> dict[int, float | None]:
    """Mass in kg of what stands at each node, groups summed; None where a material is missing."""
    own: dict[int, float | None] = {}
    for body in snapshot.bodies.values():
        own[body.id] = mass_kg(volume_mm3(geometry.get(body.shape), body.kind), body.material)
    found: dict[int, float | None] = {}
    for node, _, _ in reversed(list(snapshot.walk())):
        if node.body is not None:
            found[node.id] = own[node.body]
        else:
            below = [found[c] for c in node.children]
            found[node.id] = None if any(m is None for m in below) else sum(m or 0.0 for m in below)
    return found

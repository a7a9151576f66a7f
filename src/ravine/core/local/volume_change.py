"""The volume that a solid gains when some of its faces change, face by face and kept for those that stay.

Each face counts with the cone from the origin to it; under a plane face that is a third of its height times the area
that its edges sweep, all else is integrated in the kernel package.
"""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from ..kernel.spline_volume import cone_volume
from ..kernel.swept_surface import swept_area
from .surfaces import Floats
from .topology import SolidTopology


def volume_change(old: SolidTopology, new: SolidTopology, faces: Iterable[int]) -> float:
    """mm³; `faces` are all that changed, by number, with the same edges in both."""
    return sum(_cone(new, f) - _cone(old, f) for f in faces)


def _cone(topology: SolidTopology, face: int) -> float:
    found: float = topology.notes.of("cone", face, lambda f: _measured(topology, f))
    return found


def _measured(topology: SolidTopology, face: int) -> float:
    surface = topology.surface(face)
    if surface.kind != "plane":
        return cone_volume(topology.index.get("face", face))
    frame = surface.axial
    normal = frame.z if frame.direct else -frame.z
    area = np.zeros(3)
    for wire in topology.wires(face):
        for edge, against in wire:
            swept = _swept(topology, edge)
            area = area - swept if against else area + swept
    volume = float(frame.origin @ normal) * float(area @ normal) / 3
    return -volume if topology.is_reversed(face) else volume


def _swept(topology: SolidTopology, edge: int) -> Floats:
    found: Floats = topology.drawn_edges.of("swept", edge, lambda e: swept_area(*topology.curve(e)))
    return found

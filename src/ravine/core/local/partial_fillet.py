"""Part of a round given back: the sharp edge comes again over a share of its length."""

from __future__ import annotations

import numpy as np

from ..kernel.shapes import Shape
from .failure import LocalFailure
from .fillets import fillet_of
from .full_fillet import is_hollow_round
from .strips import way_along
from .swept_cells import cells_on, sharp_beside
from .topology import SolidTopology


def given_back(topology: SolidTopology, face: int, share: float, from_start: bool) -> tuple[list[Shape], bool]:
    """Solids to unite with the body (or to take from it, at an inner round: then the second value is False), over a
    share (0 to 1) of the length of a round between two faces.  Raises LocalFailure or EditError."""
    item = fillet_of(topology, face)
    if item is None or item.kind == "sphere" or len(item.supports) != 2:
        raise LocalFailure("it is no round between two faces", [face])
    way = way_along(topology, item.contacts, face)
    if way.closed:
        raise LocalFailure("it goes all around and has no end to begin from", [face])
    lines = [way.line(topology.surface(f), topology.sign(f), f) for f in item.supports]
    corner = lines[0].meets(lines[1])
    touches = []
    for line in lines:
        spots = np.concatenate([way.flat(topology.samples(e)) for e in item.contacts])
        near = spots[np.abs(spots @ line.normal - line.level) < 1e-5]
        if not len(near):
            raise LocalFailure("its edges do not lie on its neighbours", [face])
        touches.append(near.mean(axis=0))
    margin = min(0.2, 0.45 * (2 * np.pi - way.length)) if way.turning else 2 * item.radius
    low, high = (0.0, share * way.length) if from_start else ((1 - share) * way.length, way.length)
    if from_start and _ends_sharp(topology, face, item.contacts, way.point(corner, 0.0)):
        low -= margin
    if not from_start and _ends_sharp(topology, face, item.contacts, way.point(corner, way.length)):
        high += margin
    adds = not is_hollow_round(topology, face)
    band = way.solid([corner, touches[0], touches[1]], [None, None, None], low, high)
    return cells_on(topology, [face], band, outside=adds, cuts=sharp_beside(topology, [face])), adds


def _ends_sharp(topology: SolidTopology, face: int, contacts: tuple[int, ...], corner: object) -> bool:
    """Whether the edge across the round at this end is a corner to what follows."""
    across = [e for e in topology.edges_of(face) if e not in contacts and topology.meeting(e) != "degenerate"]
    nearest = min(across, key=lambda e: float(np.linalg.norm(topology.samples(e, 5)[2] - corner)))
    return topology.meeting(nearest) == "sharp"

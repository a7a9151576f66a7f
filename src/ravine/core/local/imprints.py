"""Imprints: edges between faces of one surface in which a wall beside them goes on, as a union leaves them where a boss
and a web end in one plane.  They have to stay on the wall."""

from __future__ import annotations

import numpy as np

from ..tolerances import SAME_PLACE
from .plan import Plan
from .topology import SolidTopology

SAMPLES = 5


def imprints_of(topology: SolidTopology, plan: Plan) -> dict[int, int]:
    """The edges, each with the changed face whose surface it lies on."""
    found: dict[int, int] = {}
    for face in plan.surfaces:
        waiting = list(topology.vertices_of(face))
        while waiting:
            for edge in topology.edges_at(waiting.pop()):
                if edge in found or face in topology.faces_of(edge) or topology.meeting(edge) != "same":
                    continue
                if any(f in plan.surfaces for f in topology.faces_of(edge)):
                    continue
                if np.abs(topology.surface(face).distance(topology.samples(edge, SAMPLES))[0]).max() < SAME_PLACE:
                    found[edge] = face
                    waiting += topology.ends(edge)
    return found

"""A new carrier turned so that its face keeps the side it looks to, and has the carrier's seam where its own is."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..kernel.carriers import Frame
from .surfaces import Floats, Surface
from .topology import SolidTopology


def facing(topology: SolidTopology, face: int, new: Surface, inside: Floats, normal: Floats) -> Surface:
    """With its natural normal along `normal` at a place `inside` the new face, and, of one with a formula, its
    parameters counted so that its seam lies on the face's own, or opposite that place on a face that has none."""
    if new.kind not in ("plane", "spline"):
        new = replace(new, frame=_seamed(topology, face, new, inside))
    along = new.natural * float(new.distance(inside[None])[1][0] @ normal)
    return new if along > 0 else new.flipped()


def _seamed(topology: SolidTopology, face: int, new: Surface, inside: Floats) -> Frame:
    frame = new.axial
    tip = next((e for e in topology.edges_of(face) if topology.meeting(e) == "degenerate"), None)
    if new.kind == "sphere" and tip is not None:  # the pole has to be where the face has one
        z = topology.point(topology.ends(tip)[0]) - frame.origin
        z = z / np.linalg.norm(z)
        x = np.cross(z, frame.x if abs(float(z @ frame.x)) < 0.9 else frame.y)
        x = x / np.linalg.norm(x)
        frame = Frame(frame.origin, x, np.cross(z, x), z)
    seam = next((e for e in topology.edges_of(face) if topology.meeting(e) == "seam"), None)
    place = inside if seam is None else topology.samples(seam)[1]
    out = place - frame.origin
    out = out - (out @ frame.z) * frame.z
    size = float(np.linalg.norm(out))
    if size < 1e-9:
        return frame
    x = (new.side if seam is not None else -new.side) * out / size
    y = np.cross(frame.z, x)
    return replace(frame, x=x, y=y if frame.direct else -y)

"""Cut matter as it is hatched: outlines with holes, without the ribs that a cut runs along."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ...kernel.carriers import read_curve
from ...kernel.shapes import ShapeIndex, parts_of
from ...local.surfaces import Floats
from ...sketch.plane_curves import PlaneCurve
from ..projection import ViewFrame, seen_curve
from .cutting import CutShape
from .ribs import RibProfile, depth_of, without_ribs
from .rings import ring_of


@dataclass(frozen=True, eq=False)
class CutAreas:
    """loops: of each area its outline and its holes, (n, 2) mm in the view's plane; edges: of ribs, where they end an
    area, with their numbers in the whole shape."""

    loops: tuple[tuple[Floats, ...], ...]
    edges: tuple[tuple[PlaneCurve, int], ...]


def cut_areas(cut: CutShape, frame: ViewFrame, ribs: Sequence[RibProfile]) -> CutAreas:
    index = ShapeIndex(cut.shape)
    found: list[tuple[Floats, ...]] = []
    edges: list[tuple[PlaneCurve, int]] = []
    for number in cut.bare:
        face = index.get("face", number)
        wires = [[seen_curve(*read_curve(e), frame) for e in parts_of(wire, "edge")] for wire in parts_of(face, "wire")]
        rings = [ring for row in wires if len(ring := ring_of([c for c in row if c is not None])) > 2]
        if not rings:
            continue
        rings.sort(key=lambda r: -float(np.ptp(r, axis=0).prod()))  # the outline first
        loops, more = without_ribs(rings, depth_of(face, frame), ribs) if ribs else ([tuple(rings)], [])
        found += loops
        edges += more
    return CutAreas(tuple(found), tuple(edges))

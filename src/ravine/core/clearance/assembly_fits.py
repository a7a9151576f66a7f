"""Every shaft in a hole of another part: the clearance as modelled, and the fits of ISO 286 that it agrees with."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..local.surfaces import Floats
from ..model.geometry import GeometryStore
from ..model.snapshot import Occurrence, Snapshot, text_id
from ..tolerances import ONE_DIRECTION
from .iso286 import usual_fits
from .pairs import near_pairs

OFF_AXIS = 0.05  # mm that the axes of a shaft and its hole may be apart
PLAY, SHARE = 0.3, 0.03  # mm, and of the diameter, up to which two sizes make a fit
INSIDE = 0.5  # mm along the axis that a shaft is in its hole at least


@dataclass(frozen=True)
class Round:
    """A cylinder where it stands: point, way (3,), mm; low, high: along the way from the point."""

    face: str
    point: Floats
    way: Floats
    radius: float
    hollow: bool
    low: float
    high: float


@dataclass(frozen=True)
class AssemblyFit:
    """nodes, names: the part with the hole, the part with the shaft; faces: placed ids of both; hole, shaft: diameters,
    clearance: of the diameters, mm; fits: names of the usual ones that it lies within."""

    nodes: tuple[str, str]
    names: tuple[str, str]
    faces: tuple[str, str]
    hole: float
    shaft: float
    clearance: float
    fits: tuple[str, ...]


def assembly_fits(snapshot: Snapshot, geometry: GeometryStore) -> list[AssemblyFit]:
    """By diameter, the smallest clearance first; each pair of parts and sizes once, however many faces they have."""
    places = [o for o in snapshot.occurrences() if o.body.kind == "solid"]
    rounds: dict[int, list[Round]] = {}
    found: dict[tuple, AssemblyFit] = {}
    for i, j in near_pairs(geometry, places, 0.0):
        for k in (i, j):
            if k not in rounds:
                rounds[k] = list(_rounds(geometry, places[k]))
        for a, b in ((i, j), (j, i)):
            for hole in (r for r in rounds[a] if r.hollow):
                for shaft in (r for r in rounds[b] if not r.hollow and _in(r, hole)):
                    fit = _fit(places[a], places[b], hole, shaft)
                    found.setdefault((fit.nodes, round(fit.hole, 6), round(fit.shaft, 6)), fit)
    return sorted(found.values(), key=lambda f: (round(f.hole, 6), f.clearance))


def _rounds(geometry: GeometryStore, place: Occurrence) -> Iterator[Round]:
    topology = geometry.solid(place.body.shape).topology
    for face in range(topology.index.count("face")):
        surface = topology.surface(face)
        if surface.kind != "cylinder":
            continue
        points = np.concatenate([topology.samples(e) for e in topology.edges_of(face)])
        heights = (points - surface.axial.origin) @ surface.axial.z
        point, way = place.matrix.point(surface.axial.origin), place.matrix.direction(surface.axial.z)
        name = f"{text_id('face', place.body.faces[face])}@{text_id('node', place.node.id)}"
        low, high = float(heights.min()), float(heights.max())
        yield Round(name, np.array(point), np.array(way), surface.radius, topology.sign(face) < 0, low, high)


def _in(shaft: Round, hole: Round) -> bool:
    if abs(2 * (hole.radius - shaft.radius)) > PLAY + SHARE * 2 * hole.radius:
        return False
    along = float(shaft.way @ hole.way)
    if abs(along) < 1 - ONE_DIRECTION:
        return False
    off = shaft.point - hole.point
    if float(np.linalg.norm(off - (off @ hole.way) * hole.way)) > OFF_AXIS:
        return False
    ends = sorted(float(off @ hole.way) + along * v for v in (shaft.low, shaft.high))
    return min(ends[1], hole.high) - max(ends[0], hole.low) > INSIDE


def _fit(one: Occurrence, other: Occurrence, hole: Round, shaft: Round) -> AssemblyFit:
    clearance = 2 * (hole.radius - shaft.radius)
    nominal = round(hole.radius + shaft.radius, 1) or 2 * hole.radius
    drawn = abs(clearance) < 1e-6
    fits = () if drawn else tuple(f.name for f in usual_fits(nominal) if f.least - 1e-9 <= clearance <= f.most + 1e-9)
    nodes = (text_id("node", one.node.id), text_id("node", other.node.id))
    names = (one.node.name, other.node.name)
    return AssemblyFit(nodes, names, (hole.face, shaft.face), 2 * hole.radius, 2 * shaft.radius, clearance, fits)

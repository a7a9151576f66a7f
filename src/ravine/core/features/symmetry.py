"""Planes that a solid is its own mirror image in, told by its edges: each has to lie where another does, and the faces
between them to be of one form.  Edges within one surface (seams, borders of pieces) stand where they happen to."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from ..kernel.properties import length_properties
from ..kernel.shapes import compound
from ..local.surfaces import Floats
from ..local.topology import SolidTopology
from ..rigid import Vec, vec_of

NEAR = 1e-6  # of the size of the part
ALIKE = 1e-7  # of two directions
MOST_PAIRS = 400  # of like edges, from which directions are tried
SMALL_CLASS = 24  # like edges of which all pairs are tried


@dataclass(frozen=True)
class Symmetry:
    """A point of the plane (mm) and its unit normal; around: it is one of all planes through an axis, whose direction
    `normal` then is."""

    point: Vec
    normal: Vec
    around: bool = False


class _Edges:
    """Lines and arcs as a whole, however they are cut up: middles (n, 3), lengths, how they spread about their middles
    (n, 3, 3); lines: numbers of the edges of each; of: which one an edge is of."""

    def __init__(self, topology: SolidTopology) -> None:
        count = topology.index.count("edge")
        own = [e for e in range(count) if topology.meeting(e) in ("sharp", "smooth")]
        self.lines = _joined(topology, own)
        self.of = {e: k for k, line in enumerate(self.lines) for e in line}
        found = [length_properties(compound(topology.index.get("edge", e) for e in line)) for line in self.lines]
        self.middles = np.array([p.centroid for p in found]).reshape(-1, 3)
        self.lengths = np.array([p.amount for p in found])
        self.spreads = (
            np.array([p.inertia for p in found]).reshape(-1, 3, 3) / np.maximum(self.lengths, 1e-12)[:, None, None]
        )


def _joined(topology: SolidTopology, edges: list[int]) -> list[list[int]]:
    """Edges of one line or circle that follow one another where nothing else begins."""
    at: dict[int, list[int]] = defaultdict(list)
    for edge in edges:
        for vertex in set(topology.ends(edge)):
            at[vertex].append(edge)
    group = {e: {e} for e in edges}
    for pair in at.values():
        if len(pair) == 2 and _one_curve(topology, *pair) and group[pair[0]] is not group[pair[1]]:
            group[pair[0]] |= group[pair[1]]
            for edge in group[pair[1]]:
                group[edge] = group[pair[0]]
    return [sorted(line) for line in {id(g): g for g in group.values()}.values()]


def _one_curve(topology: SolidTopology, a: int, b: int) -> bool:
    one, other = topology.curve(a)[0], topology.curve(b)[0]
    if one.kind != other.kind or one.kind not in ("line", "circle"):
        return False
    here, there = topology.samples(a, 9), topology.samples(b, 9)
    if one.kind == "line":
        ways = [p[-1] - p[0] for p in (here, there)]
        return abs(float(ways[0] @ ways[1])) > (1 - ALIKE) * float(np.linalg.norm(ways[0]) * np.linalg.norm(ways[1]))
    return bool(np.abs(_circle(here) - _circle(there)).max() < 1e-6)


def _circle(points: Floats) -> Floats:
    """Centre (3) and curvature vector's length (1) of the circle through three of its points."""
    p, q, r = points[0], points[3], points[6]
    a, b = q - p, r - p
    n = np.cross(a, b)
    centre = p + (np.cross(n, a) * (b @ b) + np.cross(b, n) * (a @ a)) / (2 * float(n @ n))
    return np.append(centre, np.linalg.norm(p - centre))


def symmetries_of(topology: SolidTopology) -> list[Symmetry]:
    """Planes, those square to the axes of the model first.  A part that is turned has one with `around`, and the planes
    square to its axis."""
    edges = _Edges(topology)
    if not edges.lines:
        return []
    size = float(np.ptp(topology.boxes.reshape(-1, 3), axis=0).max())
    centre = np.average(edges.middles, axis=0, weights=edges.lengths)
    axis = _turned_about(topology)
    ways = [axis] if axis is not None else list(_candidates(topology, edges, centre))
    found = [Symmetry(vec_of(centre), vec_of(w)) for w in ways if _mirrored(topology, edges, centre, w, size)]
    if axis is not None:
        found.insert(0, Symmetry(vec_of(centre), vec_of(axis), around=True))
    return sorted(found, key=lambda s: (not s.around, -max(abs(v) for v in s.normal)))


def _turned_about(topology: SolidTopology) -> Floats | None:
    """The axis that all faces are turned about."""
    surfaces = [topology.surface(f) for f in range(topology.index.count("face"))]
    round_ = [s for s in surfaces if s.kind in ("cylinder", "cone", "torus")]
    if not round_ or any(s.kind == "spline" for s in surfaces):
        return None
    origin, way = round_[0].axial.origin, round_[0].axial.z
    for surface in surfaces:
        off = surface.axial.origin - origin
        beside = surface.kind != "plane" and np.linalg.norm(off - (off @ way) * way) > NEAR * 100
        leans = surface.kind != "sphere" and abs(abs(float(surface.axial.z @ way)) - 1) > ALIKE
        if beside or leans:
            return None
    for face in range(len(surfaces)):  # a flat face may have any outline
        curves = {topology.curve(e)[0].kind for e in topology.edges_of(face) if topology.meeting(e) == "sharp"}
        if curves - {"circle"}:
            return None
    return np.asarray(way)


def _candidates(topology: SolidTopology, edges: _Edges, centre: Floats) -> Iterator[Floats]:
    """Directions that a plane may be square to, each once: of the model, of faces, and between like edges of which
    there are few."""
    seen: list[Floats] = []
    axes = [topology.surface(f) for f in range(topology.index.count("face"))]
    ways = [*np.eye(3), *(s.axial.z for s in axes if s.kind not in ("spline", "sphere"))]
    for way in (*ways, *_between(edges, centre)):
        if not any(abs(float(way @ known)) > 1 - ALIKE for known in seen):
            seen.append(way)
            yield way


def _between(edges: _Edges, centre: Floats) -> Iterator[Floats]:
    classes: dict[tuple[float, float], list[int]] = defaultdict(list)
    away = np.linalg.norm(edges.middles - centre, axis=1)
    for k, (length, far) in enumerate(zip(edges.lengths, away, strict=True)):
        classes[round(float(length), 4), round(float(far), 4)].append(k)
    count = 0
    for members in sorted((m for m in classes.values() if 1 < len(m) <= SMALL_CLASS), key=len):
        for n, a in enumerate(members):
            for b in members[n + 1 :]:
                step = edges.middles[b] - edges.middles[a]
                size = float(np.linalg.norm(step))
                count += 1
                if count > MOST_PAIRS:
                    return
                if size > 1e-6:
                    yield step / size


def _mirrored(topology: SolidTopology, edges: _Edges, centre: Floats, way: Floats, size: float) -> bool:
    turn = np.eye(3) - 2 * np.outer(way, way)
    images = centre + (edges.middles - centre) @ turn.T
    slack = NEAR * size
    near = cKDTree(edges.middles).query_ball_point(images, slack)
    partner: dict[int, int] = {}
    for k, found in enumerate(near):
        spread = turn @ edges.spreads[k] @ turn.T
        same = [n for n in found if abs(edges.lengths[n] - edges.lengths[k]) < slack
                and float(np.abs(edges.spreads[n] - spread).max()) < slack * size]  # fmt: skip
        if not same:
            return False
        partner[k] = same[0]
    return len(set(partner.values())) == len(partner) and _faces_alike(topology, edges, partner)


def _faces_alike(topology: SolidTopology, edges: _Edges, partner: dict[int, int]) -> bool:
    """Whether the lines around each face, with what continues it, go over into those around one of the same form."""

    def told(face: int) -> tuple[object, ...]:
        surface = topology.surface(face)
        numbers = tuple(round(abs(float(v)), 5) for v in surface.numbers) if surface.kind != "spline" else ()
        return surface.kind, numbers, topology.sign(face) if surface.kind not in ("plane", "spline") else 0.0

    whole: dict[frozenset[int], list[str]] = defaultdict(list)
    images: dict[frozenset[int], list[str]] = defaultdict(list)
    seen = set[int]()
    for face in range(topology.index.count("face")):
        if face not in seen:
            pieces = topology.one_surface(face)
            seen |= pieces
            own = frozenset(edges.of[e] for f in pieces for e in topology.edges_of(f) if e in edges.of)
            whole[own].append(repr(told(face)))
            images[frozenset(partner[k] for k in own)].append(repr(told(face)))
    return all(sorted(rows) == sorted(images.get(key, [])) for key, rows in whole.items())

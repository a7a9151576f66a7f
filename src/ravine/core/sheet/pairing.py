"""Faces of a solid that have another side close behind them, and how thick the sheet between is."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from ..local.surfaces import Floats
from .outlines import Outlines

OPPOSITE = -0.99  # of two outward normals, above which faces do not look away from each other
LEAST_SHARE = 0.02  # of a face that has to lie over its other side
NEAR, FAR = 0.4, 1.7  # of the thickness, between which another side counts
LARGEST = 10  # flat faces that are asked how thick the sheet is
NEARLY = 0.02  # relative, within which a depth is one that is off
SAME_DEPTH = 1e-3  # relative, within which depths are one thickness


@dataclass(frozen=True)
class Back:
    """face: on the other side; depth: of the sheet between, mm; shared: mm² over which they lie."""

    face: int
    depth: float
    shared: float


def thickness_of(outlines: Outlines, root: int | None = None) -> float | None:
    """mm, of the sheet that a solid may be: near the depth below the root face, or the one that most area has.  That
    wall may be the one that is off: of nearly the same depths it is the one that most faces have."""
    planes = [f for f in outlines.developable() if outlines.topology.surface(f).kind == "plane"]
    boxes = outlines.topology.boxes
    sizes = np.linalg.norm(boxes[:, 3:] - boxes[:, :3], axis=1)
    largest = sorted(planes, key=lambda f: (-round(float(sizes[f]), 6), f))[:LARGEST]
    rows: list[tuple[float, float]] = []
    most = None
    for face in dict.fromkeys(largest if root is None else (root, *largest)):
        below = nearest_below(outlines, face, planes)
        if below is not None:
            rows.append((below.depth, below.shared))
        if face == root:
            most = below.depth if below is not None else None
            if most is None:
                return None
    rows += _between_bent(outlines)
    if most is None:
        sums = [(sum(s for other, s in rows if abs(other - depth) < SAME_DEPTH * depth), -depth) for depth, _ in rows]
        if not sums:
            return None
        most = -max(sums)[1]
    near = [depth for depth, _ in rows if abs(depth - most) < NEARLY * most]
    counts = {d: sum(abs(other - d) < SAME_DEPTH * d for other in near) for d in near}
    return max(counts, key=lambda d: (counts[d], d == most))


def _between_bent(outlines: Outlines) -> list[tuple[float, float]]:
    """Depth (mm) and area between the largest bent faces and the next one about the same axis."""
    bent = [f for f in outlines.developable() if outlines.topology.surface(f).kind != "plane"]
    found = []
    boxes = outlines.topology.boxes
    sizes = np.linalg.norm(boxes[:, 3:] - boxes[:, :3], axis=1)
    for face in sorted(bent, key=lambda f: (-round(float(sizes[f]), 6), f))[:LARGEST]:
        here = outlines.skin(face)
        depths = []
        for other in bent:
            there = outlines.skin(other)
            gap = there.origin - here.origin
            off = float(np.linalg.norm(gap - (gap @ here.z) * here.z))
            if there.kind != here.kind or there.inner == here.inner or off > 1e-3 * here.radius + 1e-6:
                continue
            hollow, full = (here, there) if here.inner else (there, here)
            depth = full.radius - hollow.radius
            if here.kind == "cone":
                depth = float((hollow.origin - full.origin) @ hollow.z) * np.sin(full.slope)
            if depth > 1e-6:
                depths.append(depth)
        if depths:
            found.append((min(depths), outlines.area(face)))
    return found


def nearest_below(outlines: Outlines, face: int, planes: Iterable[int]) -> Back | None:
    """The first plane face behind one, that looks the other way and over which it lies."""
    topology = outlines.topology
    here = outlines.skin(face)
    others = list(planes)
    normals, origins = outlines.planes(others)
    depths = (here.origin - origins) @ here.z
    fit = (normals @ here.z < OPPOSITE) & (depths > 1e-6)
    rows = [(float(depths[k]), others[k]) for k in np.flatnonzero(fit) if others[k] != face]
    box = topology.boxes[face]
    for depth, other in sorted(rows):
        if _apart(box, topology.boxes[other], depth):
            continue
        shared = outlines.shared(face, other)
        if shared > LEAST_SHARE * min(outlines.area(face), outlines.area(other)):
            return Back(other, depth, shared)
    return None


def _apart(a: Floats, b: Floats, room: float) -> bool:
    return bool((a[:3] > b[3:] + room).any() or (b[:3] > a[3:] + room).any())


def backs_of(outlines: Outlines, thickness: float) -> dict[int, list[Back]]:
    """Of every face that has one: those of its other side, the one it shares most with first."""
    found: dict[int, list[Back]] = {}
    faces = outlines.developable()
    topology = outlines.topology
    kinds = {f: topology.surface(f).kind for f in faces}
    boxes = topology.boxes
    low, high = boxes[:, :3] - FAR * thickness, boxes[:, 3:] + FAR * thickness
    rows = np.array(faces, dtype=int)
    for k, face in enumerate(faces):
        rest = rows[k + 1 :]
        near = ((low[face] <= high[rest]) & (low[rest] <= high[face])).all(axis=1)
        for other in rest[near].tolist():
            if kinds[face] != kinds[other]:
                continue
            depth = _depth(outlines, face, other, thickness)
            if depth is None:
                continue
            shared = outlines.shared(face, other)
            if shared > LEAST_SHARE * min(outlines.area(face), outlines.area(other)):
                found.setdefault(face, []).append(Back(other, depth, shared))
                found.setdefault(other, []).append(Back(face, depth, shared))
    return {face: sorted(rows, key=lambda b: -b.shared) for face, rows in found.items()}


def _depth(outlines: Outlines, face: int, other: int, thickness: float) -> float | None:
    """mm of matter between them; None where they are no two sides of a sheet."""
    a, b = outlines.skin(face), outlines.skin(other)
    if a.kind == "plane":
        if a.z @ b.z > OPPOSITE:
            return None
        low, high = span_below(outlines, face, other)
        depth = (low + high) / 2
        return depth if NEAR * thickness < depth < FAR * thickness else None
    if a.inner == b.inner or abs(float(a.z @ b.z)) < -OPPOSITE:
        return None
    hollow, full = (a, b) if a.inner else (b, a)
    if a.kind == "cylinder":
        depth = full.radius - hollow.radius
        gap = a.origin - b.origin
        away = float(np.linalg.norm(gap - (gap @ a.z) * a.z))
        if away > NEAR * thickness:
            return None
        return depth if NEAR * thickness < depth < FAR * thickness else None
    if abs(a.slope - b.slope) > 0.05 or a.z @ b.z < 0:
        return None
    # two cones of one slope: the inner one's apex lies further along the axis by depth / sin(slope)
    depth = float((hollow.origin - full.origin) @ hollow.z) * np.sin(full.slope)
    return depth if NEAR * thickness < depth < FAR * thickness else None


def span_below(outlines: Outlines, face: int, other: int) -> tuple[float, float]:
    """Least and most depth (mm) of the other face's plane below the corners of a plane face."""
    there = outlines.skin(other)
    off = (outlines.loops(face)[0] - there.origin) @ -there.z
    return float(off.min()), float(off.max())

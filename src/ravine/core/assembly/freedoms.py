"""What joints leave free: the motions of a part that keep all of them, to first order."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..local.surfaces import Floats
from ..rigid import Vec, vec_of
from .assembled import Assembled, subsystem
from .equations import Stacked

FREE = 1e-7  # of the largest singular value, below which a motion is held by nothing


@dataclass(frozen=True)
class Freedom:
    """kind: slide, turn or screw; way: unit direction; point: on the axis of a turn, mm; pitch: mm for each rad of a
    screw."""

    kind: str
    way: Vec
    point: Vec
    pitch: float = 0.0


def freedoms_of(found: Assembled, leaf: int, middle: Floats) -> list[Freedom]:
    """Of a place in the tree, against what stands still; where nothing does, the first part that it hangs together with
    stands.  middle: a point (mm) of the part, near which axes are told.  Slides first."""
    carried = found.carried(leaf)
    group = next(((units, joints) for units, joints in found.parts_of() if units & set(carried)), None)
    if group is None:
        return [
            *(Freedom("slide", w, vec_of(middle)) for w in UNITS),
            *(Freedom("turn", w, vec_of(middle)) for w in UNITS),
        ]
    units = sorted(group[0])
    still = standing(found, group)
    if carried and set(carried) <= still:
        return []
    here = Stacked(*subsystem(found, units, group[1]))
    matrix = here.jacobian()
    free = np.repeat([u not in still for u in units], 6)
    _, sizes, rows = np.linalg.svd(matrix[:, free])
    rank = int((sizes > FREE * max(sizes.max(initial=0.0), 1.0)).sum())
    kept = np.zeros((len(rows) - rank, len(free)))
    kept[:, free] = rows[rank:]
    twists = np.zeros((len(kept), 6))
    for unit in carried:
        at = units.index(unit)
        turn, slide = kept[:, 6 * at : 6 * at + 3] / here.length, kept[:, 6 * at + 3 : 6 * at + 6]
        twists[:, :3] += turn * here.length
        twists[:, 3:] += slide + np.cross(turn, middle - here.centres[at])
    return _told(twists, middle, here.length)


UNITS: tuple[Vec, Vec, Vec] = ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))


def standing(found: Assembled, group: tuple[set[int], set[int]]) -> set[int]:
    """Numbers of units that stand still: locked, or, where nothing is held to the model, the first in the tree."""
    still = found.still() & group[0]
    if still or any(not found.joints[j].to for j in group[1]):
        return still
    first = min(group[0])
    return {u for u in group[0] if u in found.chains[first]}


def _told(twists: Floats, middle: Floats, length: float) -> list[Freedom]:
    """twists (n, 6): turn (rad times length) and slide (mm) at the middle of the part."""
    basis = _span(twists)
    if not len(basis):
        return []
    turning = basis[:, :3]
    _, sizes, rows = np.linalg.svd(turning.T, full_matrices=True)
    rank = int((sizes > 1e-6).sum())
    slides = _aligned(_span(rows[rank:] @ basis[:, 3:]))
    found = [Freedom("slide", vec_of(w), vec_of(middle)) for w in slides]
    whole = rows[:rank] @ basis
    for way in _aligned(_span(whole[:, :3])):
        share = np.linalg.lstsq(whole[:, :3].T, way, rcond=None)[0]
        slide = length * (share @ whole[:, 3:])  # mm for each rad
        for other in slides:
            slide = slide - (slide @ other) * other
        pitch = float(slide @ way)
        point = middle + np.cross(way, slide)
        screw = abs(pitch) > 1e-6 * length
        found.append(Freedom("screw" if screw else "turn", vec_of(way), vec_of(point), pitch if screw else 0.0))
    return found


def _span(vectors: Floats) -> Floats:
    """(k, n): an orthonormal basis of what rows span."""
    if not len(vectors):
        return vectors
    _, sizes, rows = np.linalg.svd(vectors, full_matrices=False)
    return np.asarray(rows[sizes > 1e-6 * max(float(sizes.max(initial=0.0)), 1e-9)])


def _aligned(basis: Floats) -> list[Floats]:
    """Of a space of directions, a basis along the axes of the model as far as they lie in it."""
    found: list[Floats] = []
    while len(found) < len(basis):
        left = [_off(found, basis.T @ (basis @ np.array(w))) for w in UNITS]
        sizes = [float(np.linalg.norm(v)) for v in left]
        best = int(np.argmax(np.round(sizes, 9)))
        found.append(left[best] / sizes[best])
    return found


def _off(found: list[Floats], vector: Floats) -> Floats:
    for other in found:
        vector = vector - (vector @ other) * other
    return vector

"""What goes with faces that are removed: what cannot stand without them, in sets that grow.

A face continues on its own surface where that is round (cylinders come in halves from elsewhere).  A blend whose
support goes has nothing to lean on, so it goes, too.  Where the neighbours still do not meet, the faces are part of a
recess (a blind hole with its bottom, a pocket, a groove) or of something that stands up (a boss with its top): all that
is reached from them without crossing its border, across which the body bends the other way.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np

from ..kernel.carriers import cross
from .chamfers import chamfer_of
from .features import is_feature
from .fillets import chain, fillet_of
from .topology import SolidTopology

SHUT_IN = 0.5  # of the length of its border, that the edges within a recess or rise have at least
MOST = 0.8  # share of the body's faces beyond which something is not a part of it, but the body


@dataclass(frozen=True)
class Growth:
    """faces: by number; sinks: a recess of which all goes, so matter is added; False: what stands up, so matter goes;
    None: no such whole."""

    faces: frozenset[int]
    sinks: bool | None = None


def growths(topology: SolidTopology, picked: Iterable[int]) -> Iterator[Growth]:
    """The sets that may go when these are to, the smallest first; each once."""
    start = _round_about(topology, picked)
    leaning = _with_leaning(topology, start)
    told: list[frozenset[int]] = []
    rows = [Growth(frozenset(leaning)), Growth(frozenset(_chained(topology, start))), *_whole_around(topology, start)]
    for growth in rows:
        if growth.faces not in told:
            told.append(growth.faces)
            yield growth


def _round_about(topology: SolidTopology, faces: Iterable[int]) -> set[int]:
    found: set[int] = set()
    for face in faces:
        found |= {face} if topology.surface(face).kind == "plane" else topology.one_surface(face)
    return found


def _with_leaning(topology: SolidTopology, faces: set[int]) -> set[int]:
    """With the blends that lean on them: not those that are picked as blends themselves between these."""
    found, waiting = set(faces), list(faces)
    while waiting:
        face = waiting.pop()
        for beside in topology.neighbours(face):
            if beside not in found and face in _supports(topology, beside) and not _supports(topology, face):
                found.add(beside)
                waiting.append(beside)
    return found


def _supports(topology: SolidTopology, face: int) -> set[int]:
    item = fillet_of(topology, face) or chamfer_of(topology, face)
    return set(item.supports) if item is not None else set()


def _chained(topology: SolidTopology, faces: set[int]) -> set[int]:
    """Fillets with the chain that they run on in."""
    found = set(faces)
    for face in faces:
        found |= set(chain(topology, face))
    return found


def bend(topology: SolidTopology, edge: int) -> int:
    """How the body bends across an edge: 1 outwards (a rim), -1 inwards (a root), 0 where it goes on smoothly."""
    if topology.meeting(edge) != "sharp":
        return 0
    a, b = topology.faces_of(edge)
    points = topology.samples(edge, 9)
    here, along = points[4:5], points[5] - points[4]
    one, other = topology.outward(a, here)[0], topology.outward(b, here)[0]
    inwards = cross(one, along) * (-1.0 if topology.is_against(edge, a) ^ topology.is_reversed(a) else 1.0)
    return -1 if float(other @ inwards) > 0 else 1


def _whole_around(topology: SolidTopology, faces: set[int]) -> list[Growth]:
    """The recess, or what stands up, that they are part of, whichever takes less room; none that is open on most of its
    sides, as the low part beside a step is."""
    found = [g for g in (_whole(topology, faces, sinks) for sinks in (True, False)) if g.faces > faces]
    least = min(found, key=lambda g: _room(topology, g.faces), default=None)
    return [least] if least is not None and _shut_in(topology, least) else []


def _shut_in(topology: SolidTopology, growth: Growth) -> bool:
    """In inner loops of its neighbours, or by the length of the edges within against that of its border."""
    if is_feature(topology, set(growth.faces)):
        return True
    within = border = 0.0
    for edge in {e for f in growth.faces for e in topology.edges_of(f)}:
        beside = set(topology.faces_of(edge))
        if len(beside) < 2:
            continue
        steps = np.linalg.norm(np.diff(topology.samples(edge, 17), axis=0), axis=1)
        if beside <= growth.faces:
            within += float(steps.sum())
        else:
            border += float(steps.sum())
    return within >= SHUT_IN * border


def _room(topology: SolidTopology, faces: Iterable[int]) -> float:
    boxes = topology.boxes[sorted(faces)]
    return float(np.linalg.norm(boxes[:, 3:].max(axis=0) - boxes[:, :3].min(axis=0)))


def _whole(topology: SolidTopology, faces: set[int], sinks: bool) -> Growth:
    """All that is reached across roots (of a recess) or rims (of what stands up), sharp or rounded; from several faces
    several such, as of letters."""
    limit = MOST * topology.index.count("face")
    found: set[int] = set()
    for face in faces:
        if face in found:
            continue
        own = _reached(topology, face, -1 if sinks else 1, limit)
        if not own:
            return Growth(frozenset())
        found |= own
    return Growth(frozenset(_with_leaning(topology, found)), sinks)


def _reached(topology: SolidTopology, start: int, way: int, limit: float) -> set[int]:
    """Empty where that would be most of the body."""
    found, waiting = {start}, [start]
    while waiting:
        face = waiting.pop()
        for edge in topology.edges_of(face):
            beside = topology.other_face(edge, face)
            if beside not in found and _crosses(topology, edge, face, beside, way):
                found.add(beside)
                waiting.append(beside)
        if len(found) > limit:
            return set()
    return found


def _crosses(topology: SolidTopology, edge: int, face: int, beside: int, way: int) -> bool:
    """Whether a part of the body goes on across an edge that has to bend this way, if it bends.  What stands up ends
    where it is bored."""
    if way > 0 and topology.surface(beside).kind in ("cylinder", "cone") and topology.sign(beside) < 0:
        return False
    if topology.meeting(edge) == "sharp":
        return bend(topology, edge) == way
    return all(rounding(topology, f) in (0, way) for f in (face, beside))


def rounding(topology: SolidTopology, face: int) -> int:
    """The bend that a fillet stands for: 1 for a rounded rim, -1 for a rounded root, 0 for what is none."""
    item = fillet_of(topology, face)
    if item is None:
        return 0
    if item.kind == "canal":
        return -1 if item.way > 0 else 1  # the ball ran outside, where the root is
    return 1 if topology.sign(face) > 0 else -1

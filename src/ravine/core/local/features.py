"""Which faces make one feature: a hole, boss or pocket that is closed inside the faces around it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from ..kernel.plug import plug
from ..kernel.shapes import Shape
from ..tolerances import ONE_DIRECTION
from .closing import close_up
from .failure import LocalFailure
from .fillets import fillet_of
from .outline import Side, outline
from .topology import SolidTopology

LARGEST = 0.6  # share of a body's faces beyond which it is no feature any more


def feature_of(topology: SolidTopology, faces: Iterable[int]) -> set[int] | None:
    """The smallest set with these faces that meets the rest of the body only in inner loops of other faces.

    None when it would be most of the body.

    A neighbour that meets the set in its outer loop is part of the feature (the top of a boss, the floor of a
    pocket); one that meets it in an inner loop carries the feature.  A bore or boss that crosses another is one of its
    own, with what goes on of it beyond that.
    """
    found: set[int] = set()
    waiting = [f for face in faces for f in topology.one_surface(face)]
    limit = max(4, LARGEST * topology.index.count("face"))
    while waiting:
        face = waiting.pop()
        if face in found:
            continue
        found.add(face)
        if len(found) > limit:
            return None
        for edge in topology.edges_of(face):
            for beside in topology.faces_of(edge):
                if _cross(topology, face, beside):
                    waiting += [f for f in topology.neighbours(beside) if _goes_on(topology, face, f)]
                elif beside not in found and edge in outer_edges(topology, beside):
                    waiting.append(beside)
    return found


def _cross(topology: SolidTopology, face: int, beside: int) -> bool:
    """Whether two round walls are of bores, or bosses, that run into each other: their axes are not parallel."""
    surfaces = topology.surface(face), topology.surface(beside)
    if any(s.kind not in ("cylinder", "cone") for s in surfaces) or topology.sign(face) != topology.sign(beside):
        return False
    a, b = (s.axial.z for s in surfaces)
    return abs(float(a @ b)) < 1 - ONE_DIRECTION and fillet_of(topology, face) is fillet_of(topology, beside) is None


def _goes_on(topology: SolidTopology, face: int, other: int) -> bool:
    return other != face and topology.surface(face).same(topology.surface(other), topology.extent(face))


def outer_edges(topology: SolidTopology, face: int) -> set[int]:
    found: set[int] = topology.notes.of("outer", face, lambda f: {edge for edge, _ in topology.wires(f)[0]})
    return found


def is_feature(topology: SolidTopology, faces: set[int]) -> bool:
    """Whether it meets the rest of the body only in inner loops."""
    for face in faces:
        for edge in topology.edges_of(face):
            beside = topology.other_face(edge, face)
            if beside not in faces and edge in outer_edges(topology, beside):
                return False
    return True


@dataclass(frozen=True)
class Lifted:
    """A feature as a body of its own.  matter: it is a boss; else the void of a hole or pocket."""

    shape: Shape
    matter: bool


def lift_parts(topology: SolidTopology, faces: set[int]) -> list[Lifted]:
    """The bodies that make a feature anew when they are added and cut in turn: one, or a boss and then the holes that
    run from it on through the face it stands on.  Raises LocalFailure as lift_out and close_up do."""
    mouths = [loop[0] for loop in outline(topology, faces) if loop[0].whole and loop[0].wire > 0]
    sinking = [side for side in mouths if not _rises(topology, side)]
    if not sinking or len(sinking) == len(mouths):
        return [lift_out(topology, faces)]
    holes: list[set[int]] = []
    for side in sinking:
        own = topology.other_face(side.edges[0][0], side.face)
        if not any(own in hole for hole in holes):
            holes.append(feature_of(topology, [own]) or set())
    gone = set().union(*holes)
    if not all(holes) or not gone < faces:
        raise LocalFailure("a boss whose hole shares its walls cannot be told apart from it", [s.face for s in sinking])
    voids = [lift_out(topology, hole) for hole in holes]
    closed = close_up(topology, gone)
    stays = [(f, closed.rebuilt.made["face"].get(f, topology.index.get("face", f))) for f in faces - gone]
    numbers = {closed.topology.index.find("face", shape) for _, shape in stays}
    return [lift_out(closed.topology, numbers), *voids]


def crossed_by(topology: SolidTopology, faces: set[int]) -> set[int]:
    """The faces of bores or bosses that cross one; empty where none does."""
    crossing = {b for f in faces for b in topology.neighbours(f) if b not in faces and _cross(topology, f, b)}
    return set[int]().union(*(feature_of(topology, [f]) or set() for f in crossing)) - faces


def lift_out(topology: SolidTopology, faces: set[int]) -> Lifted:
    """Raises LocalFailure where the faces are no feature closed in inner loops of their neighbours."""
    loops = outline(topology, faces)
    whole = [loop[0] for loop in loops if loop[0].whole and loop[0].wire > 0]
    if len(whole) < len(loops) or not loops:
        open_ = next((s.face for loop in loops for s in loop if not s.whole or s.wire == 0), min(faces))
        raise LocalFailure("it reaches the border of a neighbour, so it cannot be lifted out", [open_])
    if len({_rises(topology, side) for side in whole}) > 1:
        raise LocalFailure(
            "a boss with a hole through the face it stands on is no single body", [side.face for side in whole]
        )
    shape, matter = plug(topology.index, sorted(faces), [(s.face, s.edges) for s in whole])
    return Lifted(shape, matter)


def _rises(topology: SolidTopology, side: Side) -> bool:
    """Whether the feature stands up from the face with this inner loop."""
    edge = side.edges[0][0]
    own = topology.other_face(edge, side.face)
    point = topology.samples(edge)[1]
    around, wall = (topology.outward(f, point[None])[0] for f in (side.face, own))
    # into the face around it, square to the edge: a wall that looks that way stands, one that looks away goes down
    curve = topology.samples(edge, 9)
    along = (curve[5] - curve[4]) * (-1 if side.edges[0][1] else 1)
    inwards = np.cross(around, along) * (-1 if topology.is_reversed(side.face) else 1)
    turn = float(wall @ inwards)
    return turn > 0 if abs(turn) > 1e-9 * float(np.linalg.norm(along)) else topology.meeting(edge) == "smooth"

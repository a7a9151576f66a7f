"""The matter between a plane face and its new place, with walls that follow the neighbours.

It starts as the straight prism on the face; then its walls are laid on the neighbours' surfaces by the local engine
itself.  United with the body or cut from it by a boolean, it does what a local solve cannot: faces vanish, split
and appear as the face passes them.
"""

from __future__ import annotations

import numpy as np

from ..kernel.boolean import Prism, rooted_prism
from ..kernel.shapes import ShapeIndex
from .engine import carry_out
from .failure import LocalFailure
from .plan import Plan
from .surfaces import Floats, Surface
from .topology import SolidTopology


def following(topology: SolidTopology, face: int, step: Floats) -> tuple[Prism, int] | None:
    """The prism on `face` over the vector `step` (mm), with walls on the neighbours' surfaces, and at how many
    neighbours a wall stays straight instead: those that run in tangentially, and curved ones that end before.  None
    where flat neighbours meet before."""
    straight = rooted_prism(topology.index.get("face", face), [float(c) for c in step])
    index = ShapeIndex(straight.shape)
    solid = SolidTopology(index)
    walls: dict[int, Surface] = {}
    left = 0
    for edge, wall in straight.sides:
        number = topology.index.find("edge", edge)
        beside = topology.surface(topology.other_face(number, face))
        at = index.find("face", wall)
        middle = topology.samples(number)[1:2]
        leans = abs(float(topology.outward(face, middle)[0] @ beside.distance(middle)[1][0])) > 1e-9
        if at < 0 or not leans or solid.surface(at).same(beside, 1.0):
            continue
        if topology.meeting(number) != "sharp" or beside.kind == "spline":
            left += 1
        else:
            walls[at] = _facing(solid.surface(at), beside, middle)
    flat = {at: wall for at, wall in walls.items() if wall.kind == "plane"}
    for chosen in (walls, flat):
        if not chosen:
            return (straight, left + len(walls)) if len(flat) < len(walls) or not walls else None
        try:
            made = carry_out(solid, Plan(surfaces=dict(chosen)))
        except LocalFailure:
            continue
        return straight.in_shape(made.shape), left + len(walls) - len(chosen)
    return None


def _facing(old: Surface, new: Surface, point: Floats) -> Surface:
    """The new surface with its natural normal on the side where the old one has it."""
    lean = float(old.distance(point)[1][0] @ new.distance(point)[1][0])
    return new.flipped() if np.sign(lean * old.natural * new.natural) < 0 else new

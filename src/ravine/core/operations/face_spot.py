"""A place on a face that something is put on: two lengths along the face from where it is counted, and the way in."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..kernel.queries import face_facts
from ..local.surfaces import Floats
from ..model.references import Reference
from .reshaping import vector
from .work import Work


@dataclass(frozen=True)
class Spot:
    """In the body's own coordinates: the place on the face, into the matter, and two directions along the face."""

    origin: Floats
    inward: Floats
    across: Floats
    up: Floats


def spot_on(work: Work, face: Reference, across: float, up: float, start: Sequence[float] | None = None) -> Spot:
    """On a flat face.  start: mm in the model; None for the middle of the face."""
    body, index = face.owner
    facts = face_facts(work.geometry.solid(body.shape).index.get("face", index))
    inside = face.matrix.inverse
    normal = vector(facts.normal)
    wish = vector(inside.direction((1.0, 0.0, 0.0)))
    if abs(float(wish @ normal)) > 0.9:
        wish = vector(inside.direction((0.0, 1.0, 0.0)))
    along = wish - (wish @ normal) * normal
    along = along / np.linalg.norm(along)
    square = np.cross(normal, along)
    place = vector(facts.centroid)
    if start is not None:
        place = vector(inside.point(tuple(start)))
        place = place - ((place - vector(facts.centroid)) @ normal) * normal
    return Spot(place + across * along + up * square, -normal, along, square)


def spot_on_cylinder(work: Work, face: Reference, across: float, up: float) -> Spot:
    """Across counts along the axis, up around it, from the middle of the face."""
    body, index = face.owner
    topology = work.geometry.solid(body.shape).topology
    surface = topology.surface(index)
    if surface.kind != "cylinder":
        raise EditError(f"{face} is neither flat nor a cylinder", [face], field="face")
    axis, sign = surface.axial, topology.sign(index)
    middle = vector(topology.middle(index)[0])
    off = middle - axis.origin
    height = float(off @ axis.z) + across
    turn = math.atan2(float(off @ axis.y), float(off @ axis.x)) + up / surface.radius
    out = math.cos(turn) * axis.x + math.sin(turn) * axis.y
    origin = axis.origin + height * axis.z + surface.radius * out
    return Spot(origin, -sign * out, axis.z, np.cross(sign * out, axis.z))


def steps_to(work: Work, face: Reference, spot: Spot, place: Sequence[float]) -> tuple[float, float]:
    """Across and up from a spot to a place (mm in the model), whole steps of about a hundredth of the body."""
    body, _ = face.owner
    way = vector(face.matrix.inverse.point(tuple(place))) - spot.origin
    step = 10.0 ** math.floor(math.log10(work.geometry.solid(body.shape).rough_box.diagonal / 50))
    across, up = (round(float(way @ along) / step) * step for along in (spot.across, spot.up))
    return across, up

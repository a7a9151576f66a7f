"""Joints and freedoms as scripts and pages see them."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..local.surfaces import Floats
from ..model.geometry import GeometryStore
from ..model.joint import ANGLE, KINDS, LENGTH, Joint
from ..model.records import JOINTS
from ..model.snapshot import Snapshot, split_id, text_id
from ..rigid import Vec
from ..units import LENGTHS
from .assembled import Assembled, assembled
from .freedoms import UNITS, Freedom, freedoms_of


@dataclass(frozen=True)
class JointView:
    """value, least, most: in units of the model or degrees, None where it has none; parts: names of the two; nodes: ids
    of their places; state: holds, off, rests or lost, which `why` tells; ends: places (mm) between which it is
    drawn, none where it is lost."""

    id: str
    name: str
    kind: str
    words: str
    of: tuple[str, ...]
    to: tuple[str, ...]
    parts: tuple[str, ...]
    nodes: tuple[str, ...]
    value: float | None
    least: float | None
    most: float | None
    state: str
    why: str
    ends: tuple[Vec, ...]


@dataclass(frozen=True)
class FreedomView:
    """kind: slide, turn or screw; words: as told to people; way: unit direction; point: on its axis, in units of the
    model; pitch: of a screw, units of the model a turn."""

    kind: str
    words: str
    way: Vec
    point: Vec
    pitch: float


def view_joints(snapshot: Snapshot, geometry: GeometryStore) -> list[JointView]:
    if not snapshot.kept(JOINTS):
        return []
    found = assembled(snapshot, geometry, snapshot.kept(JOINTS).values())
    off = found.missed()
    return [_view(found, joint, off) for joint in snapshot.kept(JOINTS).values()]


def _view(found: Assembled, joint: Joint, off: dict[int, float]) -> JointView:
    snapshot = found.snapshot
    why = found.lost.get(joint.id, "")
    state = "lost" if why else "rests" if joint.asleep else "off" if off[joint.id] > found.level else "holds"
    ends = found.ends.get(joint.id, ())
    unit = math.radians(1) if joint.kind == ANGLE else LENGTHS[snapshot.units]
    value, least, most = (None if v is None else v / unit for v in (joint.value, joint.least, joint.most))
    nodes = tuple(dict.fromkeys(joint.nodes))
    names = tuple(snapshot.nodes[n].name for n in nodes if n in snapshot.nodes)
    places = tuple((float(x), float(y), float(z)) for x, y, z in (f.point for f in ends))
    return JointView(
        text_id("joint", joint.id), joint.name, joint.kind, joint_words(joint), joint.of, joint.to, names,
        tuple(text_id("node", n) for n in nodes), value, least, most, state, why, places,
    )  # fmt: skip


def joint_words(joint: Joint) -> str:
    if joint.kind == "fixed" and not joint.to:
        return "fixed to the model"
    if joint.kind in (LENGTH, ANGLE) and joint.value is None:
        return f"{KINDS[joint.kind].removeprefix('at ')} within limits"
    return KINDS[joint.kind]


def view_freedoms(snapshot: Snapshot, geometry: GeometryStore, node: str) -> list[FreedomView]:
    """Of a place in the tree, slides first.  Raises EditError for what is none."""
    kind, number = split_id(node)
    if kind != "node" or number not in snapshot.nodes:
        raise EditError(f"{node} is no place in the tree; freedoms are those of a place such as n5", [node])
    leaf = snapshot.leaves_below(number)[0]
    place = next(o for o in snapshot.occurrences() if o.node.id == leaf)
    middle = np.array(place.matrix.point(geometry.get(place.body.shape).box.middle))
    unit = LENGTHS[snapshot.units]
    return [_told(f, unit) for f in freedoms_of(assembled(snapshot, geometry), leaf, middle)]


def _told(freedom: Freedom, unit: float) -> FreedomView:
    x, y, z = (v / unit for v in freedom.point)
    verb = {"slide": "slides along", "turn": "turns about", "screw": "screws along"}[freedom.kind]
    pitch = freedom.pitch * math.tau / unit
    return FreedomView(freedom.kind, f"{verb} {_way(np.array(freedom.way))}", freedom.way, (x, y, z), pitch)


def _way(way: Floats) -> str:
    for name, axis in zip("XYZ", UNITS, strict=True):
        if abs(float(way @ np.array(axis))) > 1 - 1e-9:
            return name
    return "(" + ", ".join(f"{v:.3g}" for v in way) + ")"

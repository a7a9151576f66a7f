"""Spline faces that are really plane, cylindrical, conical, spherical or toroidal are laid on those surfaces.

Other systems write every face as a spline; edits and measures need the real form.  The edges are drawn anew by the
engine, as for any change of carriers.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from ..kernel.analytic import analytic_surface
from ..kernel.carriers import Frame
from ..kernel.volumes import volume_between
from .engine import carry_out
from .fabric import Fabric
from .failure import LocalFailure
from .plan import Plan
from .surfaces import Surface

MOST_CHANGE = 2e-4  # of the volume
DEEPEST = 6  # halvings when all at once does not work


def converted(fabric: Fabric) -> tuple[Fabric, int]:
    """The solid with the surfaces that have a formula, and how many were changed.  The volume guards it."""
    found: dict[int, Surface] = {}
    for face in range(fabric.index.count("face")):
        if fabric.surface(face).kind != "spline":
            continue
        data = analytic_surface(fabric.index.get("face", face))
        if data is not None:
            inside = np.array(fabric.middle(face)[0])
            found[face] = _facing(fabric, face, replace(Surface.read(data, inside), handle=None))
    if not found:
        return fabric, 0
    volume = volume_between([], list(fabric.index.all("face")), precise=True)
    return _lay(fabric, found, volume, 0)


def _facing(fabric: Fabric, face: int, new: Surface) -> Surface:
    """With its natural normal on the side where the old one has it, and its parameters counted so that its seam lies
    on the face's own, or opposite the middle of a face that has none."""
    old = fabric.surface(face)
    middle = np.array(fabric.middle(face)[0])
    if new.kind != "plane":
        frame = new.axial
        tip = next((e for e in fabric.edges_of(face) if fabric.meeting(e) == "degenerate"), None)
        if new.kind == "sphere" and tip is not None:  # the pole has to be where the face has one
            z = fabric.point(fabric.ends(tip)[0]) - frame.origin
            z = z / np.linalg.norm(z)
            x = np.cross(z, frame.x if abs(float(z @ frame.x)) < 0.9 else frame.y)
            x = x / np.linalg.norm(x)
            frame = Frame(frame.origin, x, np.cross(z, x), z)
            new = replace(new, frame=frame)
        seam = next((e for e in fabric.edges_of(face) if fabric.meeting(e) == "seam"), None)
        place = middle if seam is None else fabric.samples(seam)[1]
        out = place - frame.origin
        out = out - (out @ frame.z) * frame.z
        size = float(np.linalg.norm(out))
        if size > 1e-9:
            x = (new.side if seam is not None else -new.side) * out / size
            y = np.cross(frame.z, x)
            new = replace(new, frame=replace(frame, x=x, y=y if frame.direct else -y))
    along = float(old.distance(middle[None])[1][0] @ new.distance(middle[None])[1][0]) * old.natural * new.natural
    return new if along > 0 else new.flipped()


def _lay(fabric: Fabric, found: Mapping[int, Surface], volume: float, depth: int) -> tuple[Fabric, int]:
    plan = Plan(surfaces=dict(found), recast=set(found))
    try:
        result = carry_out(fabric, plan)
        result.settle()
    except LocalFailure:
        pass
    else:
        old, new = ([f.index.get("face", n) for n in result.faces] for f in (fabric, result.fabric))
        if abs(volume_between(old, new, precise=True)) <= MOST_CHANGE * abs(volume):
            return result.fabric, len(found)
    if depth >= DEEPEST or len(found) == 1:
        return fabric, 0
    row = list(found.items())
    middle = len(row) // 2
    fabric, first = _lay(fabric, dict(row[:middle]), volume, depth + 1)
    fabric, second = _lay(fabric, dict(row[middle:]), volume, depth + 1)
    return fabric, first + second

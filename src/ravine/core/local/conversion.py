"""Spline faces that are really plane, cylindrical, conical, spherical or toroidal are laid on those surfaces.

Other systems write every face as a spline; edits and measures need the real form.  The edges are drawn anew by the
engine, as for any change of carriers.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from ..kernel.analytic import analytic_surface
from ..kernel.volumes import volume_between
from .engine import carry_out
from .fabric import Fabric
from .facing import facing
from .failure import LocalFailure
from .plan import Plan
from .rolling import Rolled, rolled
from .rounds import Round, round_of
from .surfaces import Surface

MOST_CHANGE = 2e-4  # of the volume
CLOSE = 2e-3  # mm by which a round may miss the one that is rolled anew
DEEPEST = 6  # halvings when all at once does not work


def converted(fabric: Fabric) -> tuple[Fabric, int]:
    """The solid with the surfaces that have a formula, and how many were changed.  The volume guards it."""
    found: dict[int, Rolled] = {}
    for face in range(fabric.index.count("face")):
        if fabric.surface(face).kind != "spline":
            continue
        data = analytic_surface(fabric.index.get("face", face))
        if data is not None:
            inside = np.array(fabric.middle(face)[0])
            old = fabric.surface(face)
            normal = old.natural * old.distance(inside[None])[1][0]
            new = replace(Surface.read(data, inside), handle=None)
            found[face] = Rolled(facing(fabric, face, new, inside, normal))
    _touch_again(fabric, found)
    if not found:
        return fabric, 0
    volume = volume_between([], list(fabric.index.all("face")), precise=True)
    return _lay(fabric, found, volume, 0)


def _touch_again(fabric: Fabric, found: dict[int, Rolled]) -> None:
    """Rounds that really are cylinders or tori, or touch a face that is laid on another surface: each face by itself
    is met only nearly, so they are rolled anew along what they touch."""
    splines = [f for f in range(fabric.index.count("face")) if fabric.surface(f).kind == "spline"]
    waiting: dict[int, Round] = {}
    for face in splines:  # itself as a spline, since only a canal is known by its touch alone
        laid = fabric.laid_on({f: i.surface for f, i in found.items() if f != face})
        item, known = round_of(laid, face), found.get(face)
        if item is not None and (known is None or _is_of_radius(known.surface, item.radius)):
            waiting[face] = item
    while waiting:
        ready = [f for f, item in waiting.items() if waiting.keys().isdisjoint(item.supports)]
        for face in ready or list(waiting):
            item = waiting.pop(face)
            new = rolled(fabric, item, {f: i.surface for f, i in found.items()}, earlier=found)
            if new is None or (new.surface.kind == "spline" and found.keys().isdisjoint(item.supports)):
                continue
            spots = np.concatenate([fabric.samples(e, 5) for e in fabric.edges_of(face)])
            if np.abs(new.surface.distance(spots)[0]).max() < CLOSE:
                found[face] = new


def _is_of_radius(surface: Surface, radius: float) -> bool:
    return surface.kind in ("cylinder", "torus") and abs(surface.radius - radius) < CLOSE


def _lay(fabric: Fabric, found: Mapping[int, Rolled], volume: float, depth: int) -> tuple[Fabric, int]:
    surfaces = {f: item.surface for f, item in found.items()}
    plan = Plan(surfaces=surfaces, recast=set(found), rolled={f: item for f, item in found.items() if item.ball})
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

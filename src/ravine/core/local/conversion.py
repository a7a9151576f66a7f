"""Spline faces that are really plane, cylindrical, conical, spherical or toroidal are laid on those surfaces.

Other systems write every face as a spline; edits and measures need the real form.  The edges are notes anew by the
engine, as for any change of carriers.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from ..kernel.analytic import analytic_surface
from ..kernel.volumes import volume_between
from .engine import carry_out
from .facing import facing
from .failure import LocalFailure
from .fillets import Fillet, fillet_of
from .plan import Plan
from .rolling import Rolled, rolled
from .surfaces import Surface
from .topology import SolidTopology

MOST_CHANGE = 2e-4  # of the volume
CLOSE = 2e-3  # mm by which a round may miss the one that is rolled anew
DEEPEST = 6  # halvings when all at once does not work


def converted(topology: SolidTopology) -> tuple[SolidTopology, int]:
    """The solid with the surfaces that have a formula, and how many were changed.  The volume guards it."""
    found: dict[int, Rolled] = {}
    for face in range(topology.index.count("face")):
        if topology.surface(face).kind != "spline":
            continue
        data = analytic_surface(topology.index.get("face", face))
        if data is not None:
            inside = np.array(topology.middle(face)[0])
            old = topology.surface(face)
            normal = old.natural * old.distance(inside[None])[1][0]
            new = replace(Surface.read(data, inside), handle=None)
            found[face] = Rolled(facing(topology, face, new, inside, normal))
    _touch_again(topology, found)
    if not found:
        return topology, 0
    volume = volume_between([], list(topology.index.all("face")), precise=True)
    return _lay(topology, found, volume, 0)


def _touch_again(topology: SolidTopology, found: dict[int, Rolled]) -> None:
    """Rounds that really are cylinders or tori, or touch a face that is laid on another surface: each face by itself
    is met only nearly, so they are rolled anew along what they touch."""
    splines = [f for f in range(topology.index.count("face")) if topology.surface(f).kind == "spline"]
    waiting: dict[int, Fillet] = {}
    for face in splines:  # itself as a spline, since only a canal is known by its touch alone
        laid = topology.laid_on({f: i.surface for f, i in found.items() if f != face})
        item, known = fillet_of(laid, face), found.get(face)
        if item is not None and (known is None or _is_of_radius(known.surface, item.radius)):
            waiting[face] = item
    while waiting:
        ready = [f for f, item in waiting.items() if waiting.keys().isdisjoint(item.supports)]
        for face in ready or list(waiting):
            item = waiting.pop(face)
            new = rolled(topology, item, {f: i.surface for f, i in found.items()}, earlier=found)
            if new is None or (new.surface.kind == "spline" and found.keys().isdisjoint(item.supports)):
                continue
            spots = np.concatenate([topology.samples(e, 5) for e in topology.edges_of(face)])
            if np.abs(new.surface.distance(spots)[0]).max() < CLOSE:
                found[face] = new


def _is_of_radius(surface: Surface, radius: float) -> bool:
    return surface.kind in ("cylinder", "torus") and abs(surface.radius - radius) < CLOSE


def _lay(topology: SolidTopology, found: Mapping[int, Rolled], volume: float, depth: int) -> tuple[SolidTopology, int]:
    surfaces = {f: item.surface for f, item in found.items()}
    plan = Plan(surfaces=surfaces, recast=set(found), rolled={f: item for f, item in found.items() if item.ball})
    try:
        result = carry_out(topology, plan)
        result.settle()
    except LocalFailure:
        pass
    else:
        old, new = ([f.index.get("face", n) for n in result.faces] for f in (topology, result.topology))
        if abs(volume_between(old, new, precise=True)) <= MOST_CHANGE * abs(volume):
            return result.topology, len(found)
    if depth >= DEEPEST or len(found) == 1:
        return topology, 0
    row = list(found.items())
    middle = len(row) // 2
    topology, first = _lay(topology, dict(row[:middle]), volume, depth + 1)
    topology, second = _lay(topology, dict(row[middle:]), volume, depth + 1)
    return topology, first + second

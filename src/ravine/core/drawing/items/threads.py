"""Threads as signs: a narrow line at the root of an external one, at the crest of an internal one, and three quarters
of a circle where they are seen along their axis (ISO 6410-1)."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ...errors import EditError
from ...model.holes import SCREWS, Screw
from ...model.references import Reference, part_of
from ..anchors import Seen, seen_as
from ..lettering import Run
from .base import Setting, Told, draws
from .marks import foot_on
from .rounds import leader
from .values import plain_text

ARC = (math.radians(-80), math.radians(190))  # three quarters of a turn, open at the upper left
SAME = 0.01  # mm
ROOT = 1.22687  # pitches that the root lies below the crest, over the diameter (ISO 68-1)


@dataclass(frozen=True)
class Thread:
    """pitch: mm; called: as it was written."""

    screw: Screw
    pitch: float
    called: str

    @property
    def root(self) -> float:
        """Diameter, mm."""
        return self.screw.diameter - ROOT * self.pitch


def thread_called(text: str) -> Thread:
    """M10, or M10×1 with its pitch.  Raises EditError."""
    name, _, fine = text.replace("x", "×").partition("×")
    screw = SCREWS.get(name.split(" ")[0].strip())
    try:
        pitch = float(fine.replace(",", ".")) if fine.strip() else (screw.pitch if screw else 0.0)
    except ValueError:
        pitch = 0.0
    if screw is None or not 0 < pitch <= screw.pitch:
        raise EditError(f"{text} is no thread of the tables", nearest="M6")
    return Thread(screw, pitch, text)


def walls_of(setting: Setting, reference: Reference) -> list[Reference]:
    """The round face itself, or those that a picked circle borders."""
    if reference.kind == "face":
        return [reference]
    body, index = reference.owner
    topology = setting.geometry.solid(body.shape).topology
    beside = topology.index.faces_of_edges[index]
    return [part_of(reference, "face", f) for f in beside if topology.surface(f).kind == "cylinder"]


def thread_for(setting: Setting) -> str:
    """Of the tables: whose size the picked round thing has, as a shaft or as a hole to be tapped; empty where it has
    none."""
    for wall in walls_of(setting, setting.first):
        body, index = wall.owner
        topology = setting.geometry.solid(body.shape).topology
        if topology.surface(index).kind != "cylinder":
            continue
        wide = 2 * topology.surface(index).radius
        for screw in SCREWS.values():
            size = screw.tap_drill if topology.sign(index) < 0 else screw.diameter
            if abs(size - wide) < SAME:
                return screw.name
    return ""


@draws("thread")
def thread(setting: Setting) -> Told:
    found = thread_called(setting.word("thread", "M6"))
    reference = setting.first
    walls = walls_of(setting, reference)
    if not walls:
        raise EditError(f"{reference} is not round; a thread is on a shaft or in a hole", [reference])
    length = setting.length("length")
    wall = draw_thread(setting, walls[0], found, length)
    foot, _ = foot_on(setting, wall)
    runs = [Run(found.called)]
    if length is not None:
        runs.append(Run(f"× {setting.number(length)}"))
    if setting.word("text") != "none":
        leader(setting.pen, foot, setting.at, [runs])
    return Told(found.screw.diameter, (found.screw.diameter,), plain_text(runs))


def draw_thread(setting: Setting, wall: Reference, found: Thread, length: float | None = None) -> Seen:
    """On one round face; length: mm from the end that is nearer to where the item stands, None for all of it.  Raises
    EditError where the size does not suit."""
    seen = seen_as(setting.geometry, setting.shown(wall), setting.frame)
    if seen.radius is None:
        raise EditError(f"{wall} is not round; a thread is on a shaft or in a hole", [wall])
    wide, nominal = 2 * seen.radius, found.screw.diameter
    suits = found.root - 1e-6 <= wide <= nominal + 1e-6 if seen.hollow else abs(wide - nominal) <= 0.2 * found.pitch
    if not suits:
        raise EditError(f"{wall} has ⌀{setting.number(wide)}, which does not suit {found.called}", [wall])
    size = nominal if seen.hollow else found.root
    if seen.kind == "round":
        setting.pen.arc(setting.paper(seen.at), size / 2 * setting.view.scale, *ARC, layer="smooth")
        return seen
    open_to_see = not seen.hollow or setting.view.kind == "section" or setting.view.hidden
    if seen.axis is not None and open_to_see:
        layer = "hidden" if seen.hollow and setting.view.kind != "section" else "smooth"
        _lines(setting, seen, size, nominal if seen.hollow else wide, length, layer)
    return seen


def _lines(setting: Setting, seen: Seen, size: float, outer: float, length: float | None, layer: str) -> None:
    """Along the axis, and across where the thread ends."""
    assert seen.axis is not None
    ends = sorted(seen.axis, key=lambda e: float(np.hypot(*(setting.paper(e) - setting.at))))
    way = ends[1] - ends[0]
    whole = float(np.hypot(*way))
    way = way / whole
    side = np.array([-way[1], way[0]])
    reach = whole if length is None else min(length, whole)
    for sign in (-1, 1):
        foot = ends[0] + sign * size / 2 * side
        setting.pen.line(setting.paper(foot), setting.paper(foot + reach * way), layer)
    if reach < whole - 1e-6:
        last = ends[0] + reach * way
        setting.pen.line(setting.paper(last - outer / 2 * side), setting.paper(last + outer / 2 * side),
                         "hidden" if layer == "hidden" else "visible")  # fmt: skip

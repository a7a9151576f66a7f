"""A large bend made of many small sharp ones, as it is done where no tool has its radius."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from ..errors import EditError
from ..kernel import build
from ..kernel.shapes import Shape
from ..local.surfaces import Floats
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot, text_id
from ..sheet.creases import SHARPEST
from ..sheet.development import Development
from ..sheet.reading import Panel, SheetReading
from ..sheet.views import read_body
from .booleans import combined
from .facts import change_facts
from .work import Fact, Operation, Outcome, Work

MOST = 60
INSIDE = 0.5  # of the inner radius, down to which nothing else may lie in the bend


@dataclass(frozen=True, kw_only=True)
class StepBend(Operation):
    """bends: faces of cylindrical bends, either side; steps: strokes of each, all of one angle."""

    bends: tuple[Reference, ...]
    steps: int = 6

    def do(self, work: Work) -> Outcome:
        if not 2 <= self.steps <= MOST:
            raise EditError(f"a bend is made in 2 to {MOST} steps", field="steps", nearest="6")
        snapshot, off = work.snapshot, 0.0
        bodies = {b.owner[0].id for b in self.bends}
        for number in bodies:
            left = {b.number for b in self.bends if b.owner[0].id == number}
            while left:
                body = snapshot.body(number)
                reading, _ = read_body(snapshot, work.geometry, body)
                panel = _panel(body, reading, left.pop())
                left -= {body.faces[b.face] for b in panel.backs} | {body.faces[panel.face]}
                snapshot, chord = self._stepped(replace(work, snapshot=snapshot), body, reading, panel)
                off = max(off, chord)
        return Outcome(
            snapshot, (*change_facts(work, snapshot, bodies), Fact("chord", "outside the arc", off, "length"))
        )

    def _stepped(self, work: Work, body: Body, reading: SheetReading, panel: Panel) -> tuple[Snapshot, float]:
        skin = reading.outlines.skin(panel.face)
        named = [text_id("face", body.faces[panel.face])]
        fold = skin.span / self.steps
        if fold >= SHARPEST:
            least = math.ceil(skin.span / SHARPEST + 1e-9)
            raise EditError(
                f"each step would bend by {math.degrees(fold):.4g}°, and a sharp fold takes up to "
                f"{math.degrees(SHARPEST):.3g}°",
                named, field="steps", nearest=str(least),
            )  # fmt: skip
        heights = (np.vstack(reading.outlines.loops(panel.face)) - skin.origin) @ skin.z
        low, high = float(heights.min()), float(heights.max())
        if abs(reading.outlines.area(panel.face) - skin.radius * skin.span * (high - low)) > 1e-6 * (high - low):
            raise EditError("only a bend with straight ends and without holes is made in steps", named, field="bends")
        inner = skin.radius if skin.inner else skin.radius - panel.depth
        outer = inner + panel.depth
        rims = [_polygon(skin, r, self.steps) for r in (outer, inner)]
        core = _polygon(skin, INSIDE * inner, self.steps)
        ring, void = (_prism(skin, np.vstack([far, near[::-1]]), low, high) for far, near in (rims, (rims[1], core)))
        snapshot = combined(work, work.snapshot, body, "unite", [ring], named, "steps")
        snapshot = combined(work, snapshot, snapshot.body(body.id), "subtract", [void], named, "steps")
        return snapshot, outer * (1 / math.cos(fold / 2) - 1)


def _panel(body: Body, reading: SheetReading, ident: int) -> Panel:
    at = body.faces.index(ident) if ident in body.faces else -1
    for panel in reading.bends():
        if at == panel.face or at in {b.face for b in panel.backs}:
            if reading.outlines.skin(panel.face).kind != "cylinder":
                break
            return panel
    raise EditError("this face is no cylindrical bend of the sheet", [text_id("face", ident)], field="bends")


def _polygon(skin: Development, radius: float, steps: int) -> Floats:
    """Round a bend's arc, touching it at both its ends and once a step between: (n, 2) about its axis."""
    fold = skin.span / steps
    first = skin.middle - skin.span / 2
    turns = [first, *(first + (k + 0.5) * fold for k in range(steps)), first + skin.span]
    reach = np.array([radius, *[radius / math.cos(fold / 2)] * steps, radius])
    return np.column_stack([reach * np.cos(turns), reach * np.sin(turns)])


def _prism(skin: Development, places: Floats, low: float, high: float) -> Shape:
    points = skin.origin + places[:, :1] * skin.x + places[:, 1:] * skin.y + low * skin.z
    return build.extrude(build.outline(points.tolist()), ((high - low) * skin.z).tolist())

"""A duct of bent sheet between two outlines, open along a seam."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from ..errors import EditError
from ..kernel import build
from ..kernel.shapes import Shape
from ..local.surfaces import Floats
from ..model.records import SHEETS
from ..model.sheet_data import SheetData
from ..sheet import transition
from ..sheet.creases import SHARPEST
from ..sheet.transition import Outline
from ..sheet.views import flat_of
from .new_material import as_part
from .sheet import sheet_facts
from .work import Fact, Operation, Outcome, Work

SHAPES = ("round", "rectangle")
MOST_STEPS = 24


@dataclass(frozen=True, kw_only=True)
class MakeTransition(Operation):
    """lower, upper: of SHAPES; across, deep: sides or diameters in the middle of the sheet, mm; corner: radius
    there, of
    a rectangle; height: between the two planes; x, y: of the upper one's middle; turn: rad, of the upper one; steps:
    in a quarter of a circle; seam: rad, the direction in which the seam lies; gap: mm."""

    lower: str = "rectangle"
    lower_across: float = 100.0
    lower_deep: float | None = None
    lower_corner: float = 0.0
    upper: str = "round"
    upper_across: float = 80.0
    upper_deep: float | None = None
    upper_corner: float = 0.0
    height: float = 90.0
    x: float = 0.0
    y: float = 0.0
    turn: float = 0.0
    steps: int = 6
    thickness: float = 1.0
    seam: float = 0.0
    gap: float = 1.0
    called: str = "Transition"

    def do(self, work: Work) -> Outcome:
        low = self._outline("lower")
        high = replace(self._outline("upper"), z=self.height, x=self.x, y=self.y, turn=self.turn)
        if not 1 <= self.steps <= MOST_STEPS:
            raise EditError(f"a quarter is bent in 1 to {MOST_STEPS} steps", field="steps", nearest="6")
        rows = transition.facets(low, high, self.steps)
        self._check(rows)
        shape = self._solid(rows)
        number, snapshot = as_part(work, work.snapshot, shape, self.called)
        data = SheetData(number, thickness=self.thickness)
        snapshot = snapshot.with_kept(SHEETS, {**snapshot.kept(SHEETS), number: data})
        flat = flat_of(snapshot, work.geometry, snapshot.body(number))
        radius = max(o.across / 2 if o.kind == "round" else o.corner for o in (low, high))
        chord = radius * (1 - math.cos(math.pi / 4 / self.steps))
        facts = (*sheet_facts(flat, snapshot.units), Fact("chord", "within the circle", chord, "length"))
        return Outcome(snapshot, facts if chord else facts[:-1])

    def _outline(self, end: str) -> Outline:
        kind, across, deep, corner = (getattr(self, end + part) for part in ("", "_across", "_deep", "_corner"))
        if kind not in SHAPES:
            raise EditError(f"an outline is one of {', '.join(SHAPES)}", field=end)
        deep = deep or across
        if kind == "rectangle" and not 0 <= corner < min(across, deep) / 2:
            raise EditError("the corners are too round for the sides", field=f"{end}_corner",
                            nearest=f"{0.49 * min(across, deep):.4g} mm")  # fmt: skip
        return Outline(kind, across, deep, 0.0, corner=0.0 if kind == "round" else corner)

    def _check(self, rows: list[Floats]) -> None:
        fold = transition.sharpest(rows)
        if fold >= SHARPEST:
            raise EditError(
                f"two walls would meet at {math.degrees(fold):.4g}°, and a sharp fold takes up to "
                f"{math.degrees(SHARPEST):.3g}°; take more steps, or a round outline at one end",
                field="steps",
            )
        normals, _ = transition.planes(rows)
        steep = float(np.abs(normals[:, 2]).max())
        if steep > 0.97:
            raise EditError("the outlines lie so flat over each other that the walls would be level", field="height",
                            nearest=f"{self.height * 2:.4g} mm")  # fmt: skip
        sizes = [float(np.linalg.norm(r - np.roll(r, 1, axis=0), axis=1).max()) for r in rows]
        if min(self.lower_across, self.upper_across, *sizes) < 3 * self.thickness:
            raise EditError("the sheet is too thick for so small a duct", field="thickness",
                            nearest=f"{min(self.lower_across, self.upper_across, *sizes) / 3:.3g} mm")  # fmt: skip

    def _solid(self, rows: list[Floats]) -> Shape:
        normals, offsets = transition.planes(rows)
        inside = np.vstack(rows).mean(axis=0)
        half, up = self.thickness / 2, np.array([[0.0, 0.0, 1.0], [0.0, 0.0, -1.0]])
        bodies = []
        for off, past in ((half, 0.0), (-half, self.thickness)):
            walls = np.vstack([normals, up])
            ends = np.array([self.height + past, past])
            bodies.append(build.polyhedron(
                [row.tolist() for row in transition.body_between(walls, np.concatenate([offsets + off, ends]), inside)]
            ))  # fmt: skip
        return build.subtract(*bodies, self._slot(rows, normals))

    def _slot(self, rows: list[Floats], normals: Floats) -> Shape:
        """Through the middle of the wide facet that lies in the direction of the seam: not where many come together."""
        way = np.array([math.cos(self.seam), math.sin(self.seam), 0.0])
        wide = np.array([transition.width(r) for r in rows])
        facet = int(np.argmax(np.where(wide > 0.5 * wide.max(), normals @ way, -2.0)))
        row, normal = rows[facet], normals[facet]
        low, high = (row[np.abs(row[:, 2] - z) < 1e-9].mean(axis=0) for z in (0.0, self.height))
        along = (high - low) / np.linalg.norm(high - low)
        side = np.cross(normal, along) * self.gap / 2
        low, high = low - 2 * self.thickness * along, high + 2 * self.thickness * along
        deep = 2 * self.thickness * normal
        corners = [low - side - deep, low + side - deep, high + side - deep, high - side - deep]
        return build.extrude(build.outline(np.array(corners).tolist()), (2 * deep).tolist())

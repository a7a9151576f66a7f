"""A sheet rolled to a cylinder or a cone, open along a seam."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..errors import EditError
from ..kernel import build
from ..model.records import SHEETS
from ..model.sheet_data import SheetData
from ..sheet.views import flat_of
from .new_material import as_part
from .sheet import sheet_facts
from .work import Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class RollSheet(Operation):
    """lower, upper: outer diameters at both ends, mm; height: along the axis; thickness: of the sheet; gap: mm at the
    seam, on the wider end."""

    lower: float = 60.0
    upper: float | None = None
    height: float = 80.0
    thickness: float = 1.5
    gap: float = 1.0
    called: str = "Rolled sheet"

    def do(self, work: Work) -> Outcome:
        low, high = self.lower / 2, (self.lower if self.upper is None else self.upper) / 2
        slope = math.atan2(high - low, self.height)
        across = self.thickness / math.cos(slope)  # of the sheet, level
        if min(low, high) <= across * 1.001:
            least = f"{2.2 * across:.4g} mm"
            raise EditError("the sheet is too thick to be rolled that tight", field="lower", nearest=least)
        if not 0 < self.gap < max(low, high):
            raise EditError("a seam has a gap above 0, and less than the radius", field="gap", nearest="1 mm")
        # ends square to the sheet: a cone's are cones of their own, so that its flat is exact
        turn = 2 * math.pi - self.gap / max(low, high)
        sine, cosine = math.sin(slope), math.cos(slope)
        t = self.thickness
        ring = [
            (low, 0.0),
            (high, self.height),
            (high - t * cosine, self.height + t * sine),
            (low - t * cosine, t * sine),
        ]
        shape = build.revolve(build.outline([(x, 0.0, z) for x, z in ring]), (0, 0, 0), (0, 0, 1), turn)
        number, snapshot = as_part(work, work.snapshot, shape, self.called)
        snapshot = snapshot.with_kept(SHEETS, {**snapshot.kept(SHEETS), number: SheetData(number, thickness=t)})
        return Outcome(snapshot, sheet_facts(flat_of(snapshot, work.geometry, snapshot.body(number)), snapshot.units))

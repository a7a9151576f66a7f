"""A cut drawn on the flat of a sheet, made in the folded part."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..model.references import Reference
from ..sheet.flat_cut import circle, cut_tools, rectangle, slot
from ..sheet.views import flat_of
from .booleans import combined
from .facts import change_facts
from .sheet import sheet_body
from .work import Fact, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class CutFlat(Operation):
    """on: the part, or the flat face that the flat is seen from; at: place in the flat, mm; size: diameter or width,
    mm; length: over all, mm; turn: rad."""

    on: tuple[Reference, ...]
    at: tuple[float, float]
    shape: str = "circle"
    size: float = 5.0
    length: float = 15.0
    turn: float = 0.0

    def do(self, work: Work) -> Outcome:
        body, _ = sheet_body(work.snapshot, self.on)
        wall = self.on[0].number if self.on[0].kind == "face" else None
        flat = flat_of(work.snapshot, work.geometry, body, wall)
        middle = np.array(self.at)
        if self.shape == "circle":
            loop = circle(middle, self.size)
        elif self.shape == "slot":
            loop = slot(middle, self.length, self.size, self.turn)
        else:
            loop = rectangle(middle, self.length, self.size, self.turn)
        tools = cut_tools(flat, loop)
        work.progress(0.4, "cutting")
        snapshot = combined(work, work.snapshot, body, "subtract", tools, self.on, "at")
        facts = change_facts(work, snapshot, {body.id})
        return Outcome(snapshot, (*facts, Fact("panels", "walls and bends cut", float(len(tools)), "count",
                                               one="wall or bend cut")))  # fmt: skip

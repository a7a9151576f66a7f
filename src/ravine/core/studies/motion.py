"""A free motion played through its range."""

from __future__ import annotations

import math
from typing import Any

from ..edits.declared import field
from ..edits.fields import AngleField, ChoiceField, CountField, LengthField, PickField
from ..errors import EditError
from ..model.joint import SLIDES, TURNS
from ..model.references import Reference
from ..model.snapshot import text_id
from ..operations import free_motion
from ..operations.work import Work
from ..units import LENGTHS
from .base import Study, study

MOST_STEPS = 72


@study
class PlayedMotion(Study):
    name = "play"
    help = "A part through the range of a free motion: where all stand at each step, what clashes, the narrowest gap."
    seconds = 120.0
    lane = "job"
    follows = True

    part: tuple[Reference, ...] = field(PickField("the part", "One that is joined.", element="node", maximum=1,
                                                  changes=False))  # fmt: skip
    motion: str = field(ChoiceField("the motion", "Of those that its joints leave free.", default="turn",
                                    options={**TURNS, **SLIDES}))  # fmt: skip
    least_angle: float = field(AngleField("the least angle", "Of a turn.", default=-math.pi))
    most_angle: float = field(AngleField("the most angle", "Of a turn.", default=math.pi))
    least: float = field(LengthField("the least", "Of a slide.", default=-50.0))
    most: float = field(LengthField("the most", "Of a slide.", default=50.0))
    steps: int = field(CountField("the steps", "To each side.", default=18))

    def run(self, work: Work) -> dict[str, Any]:
        slides = self.motion in SLIDES
        low, high = (self.least, self.most) if slides else (self.least_angle, self.most_angle)
        if not low <= 0 <= high or low == high:
            raise EditError("a motion is played from where the part stands: from 0 or less to 0 or more", field="least")
        asked = free_motion.MoveFree(part=self.part, motion=self.motion)
        rows, stopped = free_motion.played(work, asked, low, high, min(self.steps, MOST_STEPS))
        unit = LENGTHS[work.snapshot.units]
        return {
            "slides": slides,
            "stopped": stopped,
            "steps": [
                {
                    "value": r.value / (unit if slides else math.radians(1)),
                    "matrices": {text_id("node", n): list(m) for n, m in r.matrices.items()},
                    "clashes": [list(c) for c in r.clashes],
                    "gap": None if r.gap is None else r.gap / unit,
                }
                for r in rows
            ],
        }

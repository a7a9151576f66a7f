"""Combine parts: unite, cut one with others, keep what they share."""

from __future__ import annotations

from typing import Any

from ...errors import CannotDo
from ...model.references import Reference
from ...operations import combine
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, LengthField, PickField
from ..fields.shared import DROPPED
from ..registry import edit


@edit
class Combine(Edit):
    name = "combine"
    title = "Unite, cut or intersect"
    also = ("unite", "subtract", "cut", "intersect", "boolean", "add")
    sentence = "{way} {part} with {tools} {after} , {clearance} clear all round , dropping {drop}"
    past = "Combined {part} with {tools}"
    help = (
        "Works one solid with others where they stand.  Locked parts may be used as tools, and stay.  Where the "
        "result falls into pieces each becomes a part of its own; those not wanted are dropped by a click or by "
        "their numbers."
    )
    offered_for = "node"
    stages = ("Shape", "Assemble")
    rank = 22
    drawing = '<path d="M2 4h9v9H2z"/><path class="hot" d="M8 2h9v9H8z"/>'
    folds = ("after", "clearance")

    way: str = field(
        ChoiceField("the way", "What becomes of the two.", default="unite",
                  options={"unite": "Unite", "cut": "Cut", "common": "Keep only what is common of"})
    )  # fmt: skip
    part: tuple[Reference, ...] = field(PickField("the part", "The solid that changes.", element="node", maximum=1))
    tools: tuple[Reference, ...] = field(
        PickField("the tools", "The solids it is worked with.", element="node", changes=False, empty="other parts")
    )
    after: str = field(
        ChoiceField("the tools afterwards", "Whether the tools go or stay.", default="go",
                  options={"go": "which go", "stay": "which stay"})
    )  # fmt: skip

    clearance: float = field(
        LengthField("the clearance", "By which an opening is larger all round than what cuts it.", minimum=0.0,
                    default=0.0, only=("way", "cut"))
    )  # fmt: skip
    drop: tuple[int, ...] = field(DROPPED)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        return {"part": list(picked[:1]), "tools": list(picked[1:])}

    def told(self, context: Context) -> str:
        part, tools = self.word("part", context), self.word("tools", context)
        clear = f", {self.word('clearance', context)} clear all round" if self.clearance else ""
        return {"unite": f"United {part} with {tools}", "cut": f"Cut {part} with {tools}{clear}",
                "common": f"Kept what is common of {part} and {tools}"}[self.way]  # fmt: skip

    def doing_words(self, context: Context, error: CannotDo) -> str:
        return self.told(context)

    def apply(self, work: Work) -> Outcome:
        return self.done_by(combine.Combine, work)

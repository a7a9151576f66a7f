"""Take a solid as sheet metal."""

from __future__ import annotations

from typing import Any

from ...model.records import SHEETS
from ...model.references import Reference
from ...operations import sheet
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, FactorField, LengthField, LinesField, PickField
from ..registry import edit

RULES = {"k-factor": "with the K-factor", "din 6935": "by DIN 6935", "table": "by its bend table"}


@edit
class MakeSheet(Edit):
    name = "make sheet"
    title = "Take it as sheet metal"
    also = ("sheet metal", "convert to sheet", "bend allowance")
    sentence = "Take {on} as sheet {thickness} thick, bends counted {rule} {k_factor} {table}"
    past = "Took {on} as sheet"
    help = (
        "Reads a plain solid as walls of one thickness and bends, and lays it flat as seen from the picked face.  How "
        "long bends are when flat follows one K-factor, DIN 6935, or a bend table (CSV with thickness, radius, angle, "
        "deduction).  What is no sheet is told face by face."
    )
    offered_for = "face"
    stages = ("Sheet",)
    rank = 3
    drawing = '<path d="M2 13h9a3 3 0 0 0 3-3V2"/><path class="hot" d="M2 11h9a1 1 0 0 0 1-1V2h2M2 11v2"/>'
    folds = ("thickness", "table")

    on: tuple[Reference, ...] = field(
        PickField("the part", "A flat face that it is seen from, or the part.", element="face", also=("node",),
                  maximum=1, changes=False)
    )  # fmt: skip
    thickness: float | None = field(
        LengthField("the thickness", "Of the sheet.", minimum=1e-3, default=None, blank="as measured")
    )
    rule: str = field(ChoiceField("the rule", "How long bends are when flat.", default="k-factor", options=RULES))
    k_factor: float = field(
        FactorField("the K-factor", "Share of the thickness from the inner side to the neutral surface.", default=0.44,
                    only=("rule", "k-factor"))
    )  # fmt: skip
    table: str | None = field(
        LinesField("the bend table", "CSV with the columns thickness, radius, angle, deduction.", limit=20_000,
                  default=None, blank="the one it has", only=("rule", "table"))
    )  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return (pick.kind == "node" or (pick.kind == "face" and pick.face_kinds == {"plane"})) and not pick.mesh

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        values: dict[str, Any] = {"on": list(picked[:1])}
        if picked and picked[0].kind == "face":
            known = work.snapshot.kept(SHEETS).get(picked[0].owner[0].id)
            if known is not None:
                values |= {"rule": known.rule, "k_factor": f"{known.k_factor:.6g}"}
        return values

    def told(self, context: Context) -> str:
        how = f"a K-factor of {self.k_factor:.4g}" if self.rule == "k-factor" else RULES[self.rule]
        return f"Took {self.word('on', context)} as sheet, {how}"

    def apply(self, work: Work) -> Outcome:
        return sheet.MakeSheet(on=self.on, thickness=self.thickness, rule=self.rule, k_factor=self.k_factor,
                               table=self.table).do(work)  # fmt: skip

"""The curves in which sketch planes cut parts, fitted to lines, arcs, circles or splines."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import section_curves
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, LengthField, PickField
from ..fields.shared import WITH
from ..registry import edit


@edit
class SectionCurves(Edit):
    name = "section curves"
    title = "Cut parts with it"
    also = ("intersect curves",)
    sentence = "Cut {parts} with {sketches} , drawn as {kinds} within {deviation} , leaving out below {shortest}"
    past = "Cut {parts} with {sketches}"
    help = (
        "Draws in each sketch where its plane cuts meshes and bodies, as few lines, arcs, circles or splines as keep "
        "within the deviation: a ring of many short lines becomes one circle.  The line tells how many curves there "
        "are and how far off they really lie, while the deviation changes."
    )
    offered_for = "sketch"
    stages = ()
    rank = 14
    drawing = '<path d="M4 3h8v10H4z"/><path class="hot" d="M1 8h3M12 8h6M4 8c3-3 5 3 8 0"/>'
    folds = ("kinds", "deviation", "shortest")

    sketches: tuple[Reference, ...] = field(PickField("the sketches", "One, or a row of them.", element="sketch"))
    parts: tuple[Reference, ...] | None = field(
        PickField(
            "the parts",
            "All that are there where none is picked.",
            element="node",
            changes=False,
            default=None,
            empty="all parts",
        )
    )
    kinds: str = field(ChoiceField("the kinds", "That may stand for short segments.", default="arcs", options=WITH))
    deviation: float = field(LengthField("the deviation", "How far a place may lie off.", minimum=1e-6, default=0.02))
    shortest: float = field(LengthField("the shortest", "Runs below it are left out.", minimum=0.0, default=0.0))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("sketch", "area", "curve", "point")

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, list[str]]:
        sketches = []
        for ident in picked:
            kind, number = ident.kind, ident.number
            owner = number if kind in ("sketch", "area") else work.snapshot.sketch_with(kind, number).id
            sketches.append(f"s{owner}")
        return {"sketches": list(dict.fromkeys(sketches))}

    def told(self, context: Context) -> str:
        return f"Cut {self.word('parts', context) or 'all parts'} with {self.word('sketches', context)}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(section_curves.SectionCurves, work)

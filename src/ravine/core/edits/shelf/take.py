"""Take a part from the shelf."""

from __future__ import annotations

from typing import Any

from ...model.references import Reference
from ...operations import take_from_shelf
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, PickField, TextField
from ..registry import edit


@edit
class TakeFromShelf(Edit):
    name = "take from the shelf"
    title = "Take from the shelf"
    also = ("insert screw", "add part", "standard part", "hardware", "fastener", "drop in")
    sentence = "Take {item} for {on} , {holes}, {extras}, {threads}, {stay}"
    past = "Took {item}"
    help = (
        "Puts a standard or bought part where it belongs.  On a hole, the size and, through all that lies behind, the "
        "length are proposed; a nut and washers go with it; all holes of a repeat can be filled at once.  On a flat "
        "face it sits there; rings sit in grooves around shafts, knobs over the ends of shafts.  With nothing picked "
        "it comes in at the origin.  Threads are plain cylinders unless real ones are asked for, which take seconds "
        "to cut and make files larger."
    )
    offered_for = "face"
    stages = ("Bring in", "Assemble")
    rank = 15
    drawing = '<path d="M2 13h16M2 3v10M18 3v10"/><path class="hot" d="M7 5h6v3H7zM8.5 8v6h3V8"/>'
    folds = ("extras", "threads", "stay")

    item: str = field(
        TextField("the item", "An id such as iso4762-m5x16 or iso4762, or words such as socket M5x16.", limit=60,
                  default="iso4762")
    )  # fmt: skip
    on: tuple[Reference, ...] = field(
        PickField("the place", "Holes by a face or edge of theirs, or flat faces.", element="face", also=("edge",),
                  changes=False, minimum=0, default=(), empty="the origin")
    )  # fmt: skip
    holes: str = field(ChoiceField("how many", "Only what is picked, or all holes of its repeat.", default="one",
                                   options={"one": "only there", "alike": "in all of its repeat"}))  # fmt: skip
    extras: str = field(ChoiceField("what goes with it", "For screws.", default="none", options={
        "none": "by itself", "washer": "with a washer", "nut": "with a nut",
        "nut and washers": "with a nut and two washers",
    }))  # fmt: skip
    threads: str = field(ChoiceField("the threads", "Of screws and nuts.", default="plain",
                                     options={"plain": "plain", "real": "with real threads"}))  # fmt: skip
    stay: str = field(ChoiceField("afterwards", "Whether it follows what it sits on.", default="joined",
                                  options={"joined": "joined to it", "free": "free"}))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        flat_or_round = pick.kind == "face" and pick.face_kinds <= {"plane", "cylinder"}
        places = pick.hollow or pick.rims or pick.kind == "" or flat_or_round
        return pick.kind in ("", "face", "edge") and not pick.mesh and places

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        return {"on": list(picked)} if picked else {"item": "iso4762-m5x16"}

    def told(self, context: Context) -> str:
        what = take_from_shelf.told_item(self.item)
        if not self.on:
            return f"Took {what} from the shelf"
        extras = "" if self.extras == "none" else f" {self.word('extras', context)}"
        where = f"{self.word('on', context)}" + (" and all like it" if self.holes == "alike" else "")
        threads = " with real threads" if self.threads == "real" else ""
        return f"Took {what}{threads}{extras} from the shelf for {where}"

    def apply(self, work: Work) -> Outcome:
        return take_from_shelf.TakeFromShelf(
            item=self.item,
            on=self.on,
            holes=self.holes,
            extras=self.extras,
            real=self.threads == "real",
            joined=self.stay == "joined",
        ).do(work)

"""Share the model as one page."""

from __future__ import annotations

from typing import Any

from ...model.references import Reference
from ...operations import share
from ...operations.work import Outcome, Work
from ...sharing.kept_views import views_from
from .. import drawings
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, KeptField, PickField, TextField
from ..registry import edit

INSIDE = {"all": "all their faces", "outside": "only what is seen from outside"}
NAMES = {"yes": "named", "no": "without names"}
FIGURES = {"yes": "masses", "no": "no masses"}
ALONG = {"views": "with kept views", "both": "with kept views and notes", "none": "without views and notes"}
BESIDE = {"no": "alone", "glb": "GLB beside it"}


@edit
class Share(Edit):
    name = "share"
    title = "Share as one page"
    also = ("html", "viewer", "web page", "send to customer")
    sentence = "Share {parts} with {inside} , {names} , {figures} , {along} , {beside} , called {called}"
    past = "Shared {parts} as one page"
    help = (
        "One HTML file that opens from disk in any browser: turned, cut, measured, drawn apart, with its parts list.  "
        "What is not meant to leave stays here: other parts, faces that nobody sees, names, masses."
    )
    stages = ("Hand over",)
    rank = 11
    drawing = drawings.LEAVE
    folds = ("names", "figures", "along", "beside", "called")

    parts: tuple[Reference, ...] = field(
        PickField("the parts", "All where none is picked.", element="node", minimum=0, default=(), changes=False,
                  empty="all parts")
    )  # fmt: skip
    inside: str = field(ChoiceField("the faces", "That go along.", default="all", options=INSIDE))
    names: str = field(ChoiceField("the names", "Of parts.", default="yes", options=NAMES))
    figures: str = field(ChoiceField("figures", "Masses of parts.", default="yes", options=FIGURES))
    along: str = field(
        ChoiceField("what goes along", "Of what is kept beside the model.", default="views", options=ALONG)
    )
    beside: str = field(ChoiceField("what is beside it", "For programs that read GLB.", default="no", options=BESIDE))
    called: str | None = field(
        TextField("the title", "At its head.", limit=80, default=None, blank="that of the parts")
    )

    views: Any = field(KeptField("the views", "Kept ones, with their eyes.", default=None, what="views"))
    notes: Any = field(KeptField("the notes", "Of the review, as texts.", default=None, what="notes"))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("", "node")

    def told(self, context: Context) -> str:
        return f"Shared {self.word('parts', context)} as one page"

    def apply(self, work: Work) -> Outcome:
        return share.Share(
            parts=self.parts, title=self.called or "", inside=self.inside == "all", names=self.names == "yes",
            materials=self.figures == "yes", beside=self.beside == "glb",
            views=views_from(self.views or [], self.names == "yes") if self.along != "none" else (),
            notes=tuple(str(n)[:2000] for n in self.notes or []) if self.along == "both" else (),
        ).do(work)  # fmt: skip

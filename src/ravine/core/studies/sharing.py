"""The page that a link shows."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..edits.declared import field
from ..edits.fields import DataField, FlagField, PickField, TextField
from ..model.references import Reference
from ..operations import package, share
from ..operations.work import Work
from ..sharing import page
from ..sharing.kept_views import views_from
from .base import Study, study


@study
class SharedPage(Study):
    name = "shared page"
    help = "The model as one HTML file that opens from disk, with what may leave of it."
    seconds = 120.0
    follows = True

    title: str | None = field(TextField("the title", "At its head.", limit=120, default=None))
    said: str | None = field(TextField("the words", "Beside the title.", limit=120, default=None))
    inside: bool = field(FlagField("the inside", "Whether faces that nobody sees go along.", default=True))
    names: bool = field(FlagField("the names", "Whether names of parts do.", default=True))
    figures: bool = field(FlagField("figures", "Whether masses do.", default=True))

    views: Any = field(
        DataField("kept views", "Each a name and the eye: turn, lift (rad), span, target (mm).", default=None)
    )

    def run(self, work: Work) -> bytes:
        views = views_from(self.views or [], self.names)
        sharing = page.Sharing(
            (), self.inside, self.names, self.figures, self.title or "", self.said or "", views=views
        )
        return share.page_of(work, sharing).data


@study
class PackageMissing(Study):
    name = "package missing"
    help = "What a supplier would ask for or send back: materials, drawings, faults of sheets, flaws and clashes."
    seconds = 120.0
    follows = True

    parts: tuple[Reference, ...] = field(
        PickField("the parts", "All where none is picked.", element="node", minimum=0, default=(), changes=False)
    )

    def run(self, work: Work) -> list[dict[str, Any]]:
        return [asdict(m) for m in package.missing(work, self.parts)]

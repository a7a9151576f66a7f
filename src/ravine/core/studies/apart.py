"""Where kept steps take the parts."""

from __future__ import annotations

from typing import Any

from ..edits.declared import field
from ..edits.fields import TextField
from ..errors import EditError
from ..model.records import EXPLOSIONS
from ..model.snapshot import text_id
from ..operations import explode
from ..operations.work import Work
from .base import Study, study


@study
class Apart(Study):
    name = "apart"
    help = "For each step of a kept way of drawing parts apart, how far (mm) it takes each part."

    called: str = field(TextField("the name", "Under which the steps are kept.", limit=40))

    def run(self, work: Work) -> list[dict[str, Any]]:
        found = work.snapshot.kept(EXPLOSIONS).get(self.called)
        if found is None:
            raise EditError(f"nothing is drawn apart under the name {self.called}", field="called")
        return [
            {text_id("node", leaf): shift for leaf, shift in step.items()}
            for step in explode.shifts_of(work.snapshot, found)
        ]

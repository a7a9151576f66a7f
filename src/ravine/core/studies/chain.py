"""What toleranced sizes add up to."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..clearance.chain import chain_of
from ..clearance.size_tolerance import CLASSES
from ..edits.declared import field
from ..edits.fields import ChoiceField, TextField
from ..operations.work import Work
from .base import Study, study


@study
class ToleranceChain(Study):
    name = "tolerance chain"
    help = (
        "A length worked out from named sizes, such as lid - wall - 2*gap: nominal, at worst and by root sum square "
        "(mm), and what each size adds."
    )

    formula: str = field(TextField("the length", "A formula over named sizes.", limit=200))
    general: str = field(
        ChoiceField("the general tolerance", "Of ISO 2768-1, for sizes with none of their own.", default="m",
                    options={k: f"{k}, {words}" for k, words in CLASSES.items()})
    )  # fmt: skip

    def run(self, work: Work) -> dict[str, Any]:
        return asdict(chain_of(work.snapshot, self.formula, self.general))

"""What is wrong with the parts."""

from __future__ import annotations

from typing import Any

from ..mending import report
from ..operations.work import Work
from .base import Study, study


@study
class CheckUp(Study):
    name = "check up"
    help = "Every fault of every part: code, places, ids, sizes."
    seconds = 300.0

    def run(self, work: Work) -> list[dict[str, Any]]:
        return [f.to_json() for f in report.check_up(work.snapshot, work.geometry)]

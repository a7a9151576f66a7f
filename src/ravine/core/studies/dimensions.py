"""What the dimensions on solids measure."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..dimensions import views
from ..operations.work import Work
from .base import Study, study


@study
class Dimensions(Study):
    name = "dimensions"
    help = "Every dimension kept on solids: its value, and between which places it is drawn; or why it is lost."

    def run(self, work: Work) -> list[dict[str, Any]]:
        return [asdict(d) for d in views.view_dimensions(work.snapshot, work.geometry)]

"""Joints, and what they leave free."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..assembly import views
from ..edits.declared import field
from ..edits.fields import TextField
from ..operations.work import Work
from .base import Study, study


@study
class Joints(Study):
    name = "joints"
    help = "Every joint between parts: what it says, and whether it holds, rests, is off or lost."

    def run(self, work: Work) -> list[dict[str, Any]]:
        return [asdict(j) for j in views.view_joints(work.snapshot, work.geometry)]


@study
class Freedoms(Study):
    name = "freedoms"
    help = "The motions that joints leave to a part: slides, turns and screws, with their direction and axis."

    node: str = field(TextField("the part", "A place in the tree, such as n5.", limit=13))

    def run(self, work: Work) -> list[dict[str, Any]]:
        return [asdict(f) for f in views.view_freedoms(work.snapshot, work.geometry, self.node)]

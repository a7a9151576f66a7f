"""A model as one page that opens anywhere, and the same as GLB beside it."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..model.references import Reference
from ..sharing.page import SharedPage, Sharing, shared_page
from .export import Export
from .work import Fact, Operation, Outcome, Work


def page_of(work: Work, sharing: Sharing) -> SharedPage:
    work.progress(0.1, "packing")
    return shared_page(work.snapshot, work.geometry, sharing)


@dataclass(frozen=True, kw_only=True)
class Share(Operation):
    """inside, names, materials: whether these go along; beside: whether GLB is written too."""

    parts: tuple[Reference, ...] = ()
    title: str = ""
    inside: bool = True
    names: bool = True
    materials: bool = True
    beside: bool = False
    views: tuple[Mapping[str, Any], ...] = ()
    notes: tuple[str, ...] = ()

    def do(self, work: Work) -> Outcome:
        nodes = tuple(p.number for p in self.parts)
        title = self.title or self._named(work)
        sharing = Sharing(
            nodes, self.inside, self.names, self.materials, title, views=self.views,
            notes=tuple((n, "") for n in self.notes),
        )  # fmt: skip
        page = page_of(work, sharing)
        stem = re.sub(r"[^\w.() -]+", "_", title).strip(". ") or "model"
        files = {f"{stem}.html": page.data}
        facts = [Fact("file_size", "file size", f"{len(page.data) / 1024:,.0f} kB")]
        if not self.inside:
            facts.append(Fact("stays", "faces stay here", float(page.left_out), "count", one="face stays here"))
        if self.beside:
            files |= Export(parts=self.parts, format="glb", file_name=stem).do(work).files
        return Outcome(work.snapshot, tuple(facts), files=files)

    def _named(self, work: Work) -> str:
        numbers = [p.number for p in self.parts] or list(work.snapshot.roots)
        return work.snapshot.nodes[numbers[0]].name if len(numbers) == 1 else "Model"

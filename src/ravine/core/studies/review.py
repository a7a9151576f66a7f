"""Two states compared."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..edits.declared import field
from ..edits.fields import DataField, TextField
from ..model.snapshot import text_id
from ..operations.work import Work
from ..review import compare, words
from ..sharing import page
from .base import Study, study

NAMED = {"moved": "blue", "resized": "amber", "new": "green", "gone": "no longer there"}
COLOURS = {"moved": "#3a8fa8", "resized": "#d8a441", "new": "#5f9a62"}
BEFORE = TextField("the state before", "Address of its snapshot.", limit=80)


@study
class Compare(Study):
    name = "compare"
    help = (
        "What changed since another state: faces unchanged, moved, resized, new or gone, in words, with volumes and "
        "masses."
    )
    keeps = True

    before: str = field(BEFORE)

    def run(self, work: Work) -> dict[str, Any]:
        before = work.geometry.state(self.before)
        found = compare.compare(before, work.snapshot, work.geometry)
        return {
            "counts": found.counts(), "told": words.told(found, work.snapshot.units), "by_identity": found.by_identity,
            "faces": {f.face: f.kind for f in found.faces if f.kind != "gone"},
            "bodies": [asdict(b) for b in found.bodies],
            "gone": compare.gone_triangles(before, work.geometry, found),
        }  # fmt: skip


@study
class ReviewPage(Study):
    name = "review page"
    help = (
        "The same as one HTML file that opens from disk: changed faces coloured, what changed in words, and the notes."
    )
    seconds = 120.0

    before: str = field(BEFORE)
    title: str | None = field(TextField("the title", "At its head.", limit=120, default=None))
    said: str | None = field(TextField("the words", "Beside the title.", limit=120, default=None))
    notes: Any = field(DataField("the notes", "As texts.", default=None))

    def run(self, work: Work) -> bytes:
        before, after = work.geometry.state(self.before), work.snapshot
        found = compare.compare(before, after, work.geometry)
        kinds = {f.face: f.kind for f in found.faces}
        tints = {
            number: {k: COLOURS[kinds[text_id("face", face)]] for k, face in enumerate(body.faces)
                     if kinds.get(text_id("face", face)) in COLOURS}
            for number, body in after.bodies.items()
        }  # fmt: skip
        counts = found.counts()
        legend = ", ".join(f"{counts[k]} {k} ({name})" for k, name in NAMED.items() if counts[k])
        told = [row["words"] for row in words.told(found, after.units)]
        more = [str(text)[:2000] for text in self.notes or []][:300]
        sharing = page.Sharing(
            title=self.title or "Review", said=self.said or "", tints=tints,
            notes=tuple(t for t in (legend and f"Faces: {legend}", *told, *more) if t),
        )  # fmt: skip
        return page.shared_page(after, work.geometry, sharing).data

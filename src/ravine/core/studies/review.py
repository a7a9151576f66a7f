"""Two states compared."""

from __future__ import annotations

import base64
from dataclasses import asdict
from typing import Any

from ..drawing import sheet as sheets
from ..drawing import writing
from ..edits.declared import field
from ..edits.fields import DataField, FlagField, TextField
from ..model.snapshot import text_id
from ..operations import drawing_sheets
from ..operations.work import Work
from ..review import compare, notes, words
from ..sharing import page
from ..view import review_report
from .base import Study, study

NOTES = DataField("the notes", "As texts, or with state, picture (base64) and sheet (name, state).", default=None)
NAMED = {"moved": "blue", "resized": "amber", "new": "green", "gone": "no longer there"}
COLOURS = {"moved": "#3a8fa8", "resized": "#d8a441", "new": "#5f9a62"}
BEFORE = TextField("the state before", "Address of its snapshot.", limit=80)
APART = FlagField("of another model", "Whose ids mean nothing here: faces are matched by form.", default=False)


@study
class Compare(Study):
    name = "compare"
    help = (
        "What changed since another state: faces unchanged, moved, resized, new or gone, in words, with volumes and "
        "masses."
    )
    keeps = True

    before: str = field(BEFORE)
    apart: bool = field(APART)

    def run(self, work: Work) -> dict[str, Any]:
        before = work.geometry.state(self.before)
        found = compare.compare(before, work.snapshot, work.geometry, by_identity=False if self.apart else None)
        return {
            "counts": found.counts(), "told": words.told(found, work.snapshot.units), "by_identity": found.by_identity,
            "faces": {f.face: f.kind for f in found.faces if f.kind != "gone"},
            "was": {f.was: f.kind for f in found.faces if f.was and f.kind != "unchanged"},
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
    apart: bool = field(APART)
    title: str | None = field(TextField("the title", "At its head.", limit=120, default=None))
    said: str | None = field(TextField("the words", "Beside the title.", limit=120, default=None))
    notes: Any = field(NOTES)

    def run(self, work: Work) -> bytes:
        before, after = work.geometry.state(self.before), work.snapshot
        found = compare.compare(before, after, work.geometry, by_identity=False if self.apart else None)
        kinds = {f.face: f.kind for f in found.faces}
        tints = {
            number: {k: COLOURS[kinds[text_id("face", face)]] for k, face in enumerate(body.faces)
                     if kinds.get(text_id("face", face)) in COLOURS}
            for number, body in after.bodies.items()
        }  # fmt: skip
        counts = found.counts()
        legend = ", ".join(f"{counts[k]} {k} ({name})" for k, name in NAMED.items() if counts[k])
        told = [row["words"] for row in words.told(found, after.units)]
        more = [_shared(work, note) for note in notes.notes_from(self.notes or [])]
        sharing = page.Sharing(
            title=self.title or "Review", said=self.said or "", tints=tints,
            notes=(*((t, "") for t in (legend and f"Faces: {legend}", *told) if t), *more),
        )  # fmt: skip
        return page.shared_page(after, work.geometry, sharing).data


def _shared(work: Work, note: notes.ReviewNote) -> tuple[str, str]:
    """Its words, and what is pinned to it as a data URI."""
    words = note.text + (f" ({note.state})" if note.state else "")
    if note.picture:
        return words, f"data:image/png;base64,{base64.b64encode(note.picture).decode()}"
    if note.sheet is not None:
        drawn = writing.svg_of(_pinned(work, note.sheet))
        return words, f"data:image/svg+xml;base64,{base64.b64encode(drawn).decode()}"
    return words, ""


def _pinned(work: Work, sheet: tuple[str, str]) -> writing.InkedSheet:
    """A sheet of an earlier state.  Raises EditError where that has none of the name."""
    state = work.geometry.state(sheet[1])
    found = drawing_sheets.sheet_called(state, sheet[0])
    return sheets.ink_sheet(state, work.geometry, found, work.progress).inked(found.name)


@study
class ReviewReport(Study):
    name = "review report"
    help = "The same as PDF: both states in pictures, what changed in words, the notes with what is pinned to them."
    seconds = 120.0

    before: str = field(BEFORE)
    apart: bool = field(APART)
    title: str | None = field(TextField("the title", "Of the model.", limit=120, default=None))
    was: str | None = field(TextField("the name before", "By which the state before goes.", limit=120, default=None))
    now: str | None = field(TextField("the name now", "By which this state goes.", limit=120, default=None))
    verdict: str | None = field(TextField("the verdict", "What was decided.", limit=200, default=None))
    notes: Any = field(NOTES)

    def run(self, work: Work) -> bytes:
        before, after = work.geometry.state(self.before), work.snapshot
        found = compare.compare(before, after, work.geometry, by_identity=False if self.apart else None)
        called = (self.was or "before", self.now or "now")
        rows = notes.notes_from(self.notes or [])
        pinned = [_pinned(work, note.sheet) for note in rows if note.sheet is not None]
        reviewed = review_report.Reviewed(before, after, found, self.title or "Model", called)
        return review_report.review_pdf(reviewed, work.geometry, rows, self.verdict or "", pinned)

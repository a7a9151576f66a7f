"""A review as PDF: both states in pictures, what changed in words, figures, the notes with what is pinned to them, and
pinned sheets at their true size."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..drawing.writing import InkedSheet, pdf_page
from ..formats.pdf import width_of
from ..formats.running import LINE, MARGIN, ROOM, RunningPages
from ..model.geometry import GeometryStore
from ..model.snapshot import Snapshot, split_id
from ..review.compare import Review
from ..review.notes import ReviewNote
from ..review.words import told
from .picture import Tint, pictures

TINTS = {
    "moved": Tint("#3a8fa8", "diagonal"), "resized": Tint("#d8a441", "check"), "new": Tint("#5f9a62", "diagonal"),
    "gone": Tint("#b5533c", "back"),
}  # fmt: skip
PIXELS = (1040, 840)
PICTURE = (83.0, 67.0)  # mm of each of the two
PINNED = (ROOM, 90.0)  # mm, at most


@dataclass(frozen=True, eq=False)
class Reviewed:
    """The two states and what was found; called: what each is; title: of the model."""

    before: Snapshot
    after: Snapshot
    found: Review
    title: str
    called: tuple[str, str]


def review_pdf(
    reviewed: Reviewed, geometry: GeometryStore, notes: Sequence[ReviewNote], verdict: str,
    sheets: Sequence[InkedSheet] = (),
) -> bytes:  # fmt: skip
    """sheets: pinned ones, drawn.  Raises EditError for a pinned picture that cannot be read."""
    page = RunningPages(f"Review of {reviewed.title}", {"Subject": " to ".join(reviewed.called)})
    page.row(reviewed.title, weight="bold", size=6.0)
    page.row(f"Review, {reviewed.called[0]} to {reviewed.called[1]}")
    if verdict:
        page.row(verdict, weight="bold")
    _pictures(page, reviewed, geometry)
    _legend(page, reviewed.found.counts())
    page.head("What changed")
    rows = told(reviewed.found, reviewed.after.units)
    for row in rows:
        page.words(row["words"], "–", 4.0)
    if not rows:
        page.row("Nothing in form or size.")
    if notes:
        page.head("Notes")
    for number, note in enumerate(notes, 1):
        for k, line in enumerate(note.text.splitlines() or [""]):
            more = f" ({note.state})" if note.state and not k else ""
            page.words(line + more, f"{number}" if not k else "", 7.0)
        if note.sheet is not None:
            page.words(f"Pinned: {note.sheet[0]}, at the end", "", 7.0)
        if note.picture:
            page.room(PINNED[1])
            page.picture(note.picture, *PINNED)
            page.skip(PINNED[1] + 6.0)
    for sheet in sheets:
        pdf_page(page.document, sheet)
    return page.document.written()


def _pictures(page: RunningPages, reviewed: Reviewed, geometry: GeometryStore) -> None:
    """Side by side, from one eye, at one scale."""
    kinds = {f.face: f.kind for f in reviewed.found.faces}
    were = {f.was: f.kind for f in reviewed.found.faces if f.was}
    states = [(state, {split_id(face)[1]: TINTS[kind] for face, kind in by_face.items() if kind in TINTS})
              for state, by_face in ((reviewed.before, were), (reviewed.after, kinds))]  # fmt: skip
    for k, drawn in enumerate(pictures(states, geometry, *PIXELS)):
        at = k * (ROOM - PICTURE[0])
        page.picture(drawn, *PICTURE, at)
        page.document.text(MARGIN + at, page.y + PICTURE[1] + 4.0, reviewed.called[k], 3.0)
    page.skip(PICTURE[1] + 12.0)


def _legend(page: RunningPages, counts: Mapping[str, int]) -> None:
    """Its colours, with how many faces have each."""
    x = MARGIN
    for kind in (*TINTS, "unchanged"):
        if not counts[kind]:
            continue
        if kind in TINTS:
            y, side = page.y - 2.6, 3.2
            rgb = [int(TINTS[kind].colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
            page.document.fill([(x, y), (x + side, y), (x + side, y + side), (x, y + side)], rgb)
            x += side + 1.6
        words = f"{counts[kind]} {kind}"
        page.document.text(x, page.y, words, 3.4)
        x += width_of(words, 3.4) + 6.0
    page.skip(LINE)

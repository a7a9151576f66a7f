"""Sheets of drawings: begun, changed, taken away, written out.  Nothing is drawn into the model."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from ..drawing.layout import usual_views
from ..drawing.paper import FIELDS, SIZES
from ..drawing.propose import propose
from ..drawing.sheet import SheetInk, ink_sheet, said_of
from ..drawing.writing import dxf_of, pdf_of, svg_of
from ..errors import EditError
from ..model.drawing_sheet import DrawnSheet
from ..model.records import DRAWINGS
from ..model.references import Reference
from ..model.snapshot import Snapshot
from .work import Fact, Operation, Outcome, Work

FORMATS = ("pdf", "dxf", "svg")
SAID = (*FIELDS, "group")


def sheet_called(snapshot: Snapshot, called: str) -> DrawnSheet:
    """By name; the only one where none is said.  Raises EditError."""
    rows: Mapping[int, DrawnSheet] = snapshot.kept(DRAWINGS)
    if not rows:
        raise EditError("there is no sheet yet; begin one", field="sheet")
    if not called and len(rows) == 1:
        return next(iter(rows.values()))
    found = next((s for s in rows.values() if s.name == called), None)
    if found is None:
        names = ", ".join(s.name for s in rows.values())
        why = f"there is no sheet “{called[:40]}”; there is {names}" if called else f"say which sheet: {names}"
        raise EditError(why, field="sheet", nearest=next(iter(rows.values())).name)
    return found


def with_sheet(snapshot: Snapshot, sheet: DrawnSheet) -> Snapshot:
    return snapshot.with_kept(DRAWINGS, {**snapshot.kept(DRAWINGS), sheet.id: sheet})


def nodes_of(snapshot: Snapshot, parts: Sequence[Reference]) -> tuple[int, ...]:
    return tuple(dict.fromkeys(p.number for p in parts if p.kind == "node"))


@dataclass(frozen=True, kw_only=True)
class BeginSheet(Operation):
    """views: usual or none; parts: places in the tree that it shows, all when left out."""

    parts: tuple[Reference, ...] = ()
    called: str = ""
    size: str = "A3"
    angle: str = "first"
    views: str = "usual"
    says: Mapping[str, str] = field(default_factory=dict)

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        if self.size not in SIZES:
            raise EditError(f"paper is one of {', '.join(SIZES)}", field="size", nearest="A3")
        rows = snapshot.kept(DRAWINGS)
        names = {s.name for s in rows.values()}
        name = self.called or next(n for k in range(1, 10**6) if (n := f"Sheet {k}") not in names)
        if name in names:
            raise EditError(f"there is a sheet {name} already", field="called")
        (number, *others), snapshot = snapshot.fresh(5)
        sheet = DrawnSheet(number, name, self.size, self.angle == "first", says=checked_words(self.says))
        if self.views == "usual":
            nodes = nodes_of(snapshot, self.parts)
            sheet = sheet.with_views(usual_views(snapshot, work.geometry, self.size, sheet.first, others, nodes))
        return Outcome(with_sheet(snapshot, sheet), (Fact("views", "views", float(len(sheet.views)), "count"),))


def checked_words(says: Mapping[str, str]) -> dict[str, str]:
    odd = [key for key in says if key not in SAID]
    if odd:
        raise EditError(f"the title block has no field “{odd[0][:30]}”; it has {', '.join(FIELDS)}", field="field")
    return {key: str(text)[:200] for key, text in says.items()}


@dataclass(frozen=True, kw_only=True)
class SetSheet(Operation):
    """What is left empty stays as it is.  value: for the field of the title block."""

    sheet: str = ""
    called: str = ""
    size: str = ""
    angle: str = ""
    field: str = ""
    value: str = ""

    def do(self, work: Work) -> Outcome:
        sheet = sheet_called(work.snapshot, self.sheet)
        if self.size and self.size not in SIZES:
            raise EditError(f"paper is one of {', '.join(SIZES)}", field="size", nearest="A3")
        others = {s.name for s in work.snapshot.kept(DRAWINGS).values()} - {sheet.name}
        if self.called in others:
            raise EditError(f"there is a sheet {self.called} already", field="called")
        says = {**sheet.says, **checked_words({self.field: self.value} if self.field else {})}
        after = replace(sheet, name=self.called or sheet.name, size=self.size or sheet.size, says=says,
                        first=self.angle == "first" if self.angle else sheet.first)  # fmt: skip
        return Outcome(with_sheet(work.snapshot, after))


@dataclass(frozen=True, kw_only=True)
class DropSheet(Operation):
    sheet: str = ""

    def do(self, work: Work) -> Outcome:
        gone = sheet_called(work.snapshot, self.sheet)
        rows = {n: s for n, s in work.snapshot.kept(DRAWINGS).items() if n != gone.id}
        return Outcome(work.snapshot.with_kept(DRAWINGS, rows))


@dataclass(frozen=True, kw_only=True)
class ProposeSizes(Operation):
    sheet: str = ""

    def do(self, work: Work) -> Outcome:
        sheet = sheet_called(work.snapshot, self.sheet)
        if not sheet.views:
            raise EditError("there is no view on this sheet yet", field="sheet")
        room, after = work.snapshot.fresh(2000)
        found = propose(work.snapshot, work.geometry, sheet, iter(room))
        if not found.items:
            raise EditError(f"no free place was found for {found.left[0]}" if found.left else
                            f"there is nothing to propose on {sheet.name}: what its views show is written already, or "
                            "has no exact edges", field="sheet")  # fmt: skip
        used = max(i.id for i in found.items) + 1
        after = replace(after, next_id=used)
        warnings = tuple(f"no free place was found for {what}" for what in found.left)
        fact = Fact("written", "written", float(len(found.items)), "count", one="written")
        return Outcome(with_sheet(after, sheet.with_items(found.items)), (fact,), warnings)


@dataclass(frozen=True, kw_only=True)
class SaveDrawing(Operation):
    """sheet: one by name; all where it says all.  format: of FORMATS."""

    sheet: str = ""
    format: str = "pdf"
    file_name: str = ""

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        rows = list(snapshot.kept(DRAWINGS).values()) if self.sheet == "all" else [sheet_called(snapshot, self.sheet)]
        if not rows:
            raise EditError("there is no sheet yet; begin one", field="sheet")
        files, warnings = drawing_files(work, rows, self.format, self.file_name)
        return Outcome(snapshot, (Fact("sheets", "sheets", float(len(rows)), "count"),), warnings, files=files)


def drawing_files(
    work: Work, rows: Sequence[DrawnSheet], kind: str, file_name: str = ""
) -> tuple[dict[str, bytes], tuple[str, ...]]:
    """Raises EditError for another format.  A PDF holds all sheets, other files one each."""
    if kind not in FORMATS:
        raise EditError(f"a drawing is saved as {', '.join(FORMATS)}, not “{kind[:10]}”", field="format")
    inked, warnings = [], []
    for k, sheet in enumerate(rows):
        work.progress(k / len(rows), f"drawing {sheet.name}")
        ink = ink_sheet(work.snapshot, work.geometry, sheet)
        warnings += troubles(ink, sheet)
        inked.append(ink.inked(sheet.name))
    said = said_of(work.snapshot, work.geometry, rows[0])
    stem = _file_stem(file_name or said.get("number") or said.get("title") or rows[0].name)
    if kind == "pdf":
        facts = {"Author": said.get("creator", ""), "Subject": said.get("number", "")}
        return {f"{stem}.pdf": pdf_of(inked, said.get("title") or stem, {k: v for k, v in facts.items() if v})}, tuple(
            warnings
        )
    write = dxf_of if kind == "dxf" else svg_of
    if len(inked) == 1:
        return {f"{stem}.{kind}": write(inked[0])}, tuple(warnings)
    return {f"{stem} {_file_stem(s.name)}.{kind}": write(s) for s in inked}, tuple(warnings)


def _file_stem(text: str) -> str:
    return re.sub(r"[^\w.() -]+", "_", text).strip(". ") or "drawing"


def troubles(ink: SheetInk, sheet: DrawnSheet) -> list[str]:
    """What is on a sheet and could not be drawn as it should."""
    found = [f"{sheet.name}: {words}" for words in ink.faults.values()]
    return found + [f"{sheet.name}: {note}" for notes in ink.notes.values() for note in notes]

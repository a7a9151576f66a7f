"""All that a supplier needs of chosen parts in one archive; and what is still missing for it."""

from __future__ import annotations

import csv
import io
import itertools
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from ..bill.files import written
from ..bill.masses import part_masses
from ..bill.rows import BillRow, bill_rows, numbers_of
from ..clearance.standing import findings
from ..drawing.drawn_view import shown_in
from ..drawing.sheet import ink_sheet
from ..errors import EditError
from ..mending.findings import KINDS as FLAWS
from ..mending.report import check_up
from ..model.drawing_sheet import DrawnSheet
from ..model.finishes import colour_of, surface_of
from ..model.part_data import PartData
from ..model.records import DRAWINGS, PARTS, PRINTS, SHEETS
from ..model.references import Reference, resolve
from ..model.snapshot import Body, Occurrence, Snapshot, text_id
from ..sharing.archive import Packed, archive
from ..sheet.views import flat_of
from .drawing_sheets import drawing_files, troubles
from .export import Export
from .printing import SavePrint
from .save_flat import flat_file
from .work import Fact, Operation, Outcome, Work

PATTERN = "{number} {name}"
WORDS = ("number", "name", "item", "revision")


@dataclass(frozen=True)
class Missing:
    """kind: material, drawing, sheet, clash, check-up, flat or print; part: its name, empty of the whole."""

    kind: str
    part: str
    words: str


def chosen(snapshot: Snapshot, parts: Sequence[Reference]) -> list[Occurrence]:
    """The first place of every body that is made, among the parts, or of all."""
    leaves = {n for p in parts for n in snapshot.leaves_below(p.number)}
    found: dict[int, Occurrence] = {}
    for place in snapshot.occurrences():
        if (not leaves or place.node.id in leaves) and place.body.kind != "surface":
            found.setdefault(place.body.id, place)
    return list(found.values())


def _data(snapshot: Snapshot, body: Body) -> PartData:
    return snapshot.kept(PARTS).get(body.id, PartData(body.id))


def is_made(snapshot: Snapshot, body: Body) -> bool:
    """Neither bought nor only for reference: a supplier of the parts gets files of it."""
    data = _data(snapshot, body)
    return data.source == "made" and not data.item


def sheets_of(snapshot: Snapshot, bodies: set[int]) -> list[DrawnSheet]:
    """Those that show any of them."""
    rows = []
    for sheet in snapshot.kept(DRAWINGS).values():
        shown = {o.body.id for v in sheet.views.values() for o in shown_in(snapshot, v)}
        shown |= {v.body for v in sheet.views.values() if v.body is not None}
        if shown & bodies:
            rows.append(sheet)
    return rows


def missing(work: Work, parts: Sequence[Reference]) -> list[Missing]:
    """What a supplier would ask for, or send back."""
    snapshot, geometry = work.snapshot, work.geometry
    made = [o for o in chosen(snapshot, parts) if is_made(snapshot, o.body)]
    if not made:
        raise EditError("none of these parts is made; choose parts that are", parts, field="parts")
    found = [Missing("material", o.body.name, "no material is said") for o in made if not o.body.material]
    sheets = sheets_of(snapshot, {o.body.id for o in made})
    drawn = {o.body.id for s in sheets for v in s.views.values() for o in shown_in(snapshot, v)}
    found += [Missing("drawing", o.body.name, "it is on no sheet") for o in made if o.body.id not in drawn]
    found += [Missing("sheet", "", words) for words in _sheet_troubles(work, sheets)]
    work.progress(0.3, "looking for flaws")
    for flaw in check_up(snapshot, geometry, {o.body.id for o in made}):
        kind = FLAWS.get(flaw.code)
        if kind is None or not kind.note:
            found.append(Missing("check-up", snapshot.body(int(flaw.body[1:])).name, flaw.code.replace("_", " ")))
    work.progress(0.6, "looking for clashes")
    names = {o.body.name for o in made}
    for clash in findings(snapshot, geometry, 0.0)[0]:
        if not clash.note and names & set(clash.names):
            found.append(Missing("clash", " and ".join(clash.names), clash.words))
    return found


def _sheet_troubles(work: Work, sheets: Sequence[DrawnSheet]) -> Iterator[str]:
    for sheet in sheets:
        yield from troubles(ink_sheet(work.snapshot, work.geometry, sheet), sheet)


@dataclass(frozen=True, kw_only=True)
class Package(Operation):
    """parts: places in the tree, all when left out; pattern: of file names, with words of WORDS in braces; notes: for
    the supplier; despite: whether it is made although something is missing."""

    parts: tuple[Reference, ...] = ()
    title: str = ""
    revision: str = ""
    pattern: str = PATTERN
    notes: tuple[str, ...] = ()
    despite: bool = True

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        _check_pattern(self.pattern)
        places = chosen(snapshot, self.parts)
        made = [o for o in places if is_made(snapshot, o.body)]
        lacks = missing(work, self.parts)
        if lacks and not self.despite:
            raise EditError("; ".join(_told(m) for m in lacks[:6]), self.parts, field="despite")
        names = self._names(snapshot, made)
        entries: list[Packed] = []
        for k, place in enumerate(made):
            work.progress(0.7 + 0.25 * k / len(made), f"writing {place.body.name}")
            entries += list(_of_part(work, place, names[place.body.id]))
        entries += self._of_all(work, places, made)
        title = self.title or (made[0].body.name if len(made) == 1 else "Package")
        said = {"Revision": self.revision, "Parts": str(len(made)), "Units": snapshot.units}
        data = archive(entries, title, said, [*self.notes, *(f"Open: {_told(m)}" for m in lacks)])
        stem = _stem(" ".join(t for t in (title, self.revision) if t))
        facts = (Fact("files", "files", float(len(entries) + 2), "count"),
                 Fact("file_size", "file size", f"{len(data) / 1024:,.0f} kB"))  # fmt: skip
        return Outcome(snapshot, facts, tuple(_told(m) for m in lacks), files={f"{stem}.zip": data})

    def _names(self, snapshot: Snapshot, made: Sequence[Occurrence]) -> dict[int, str]:
        numbers, used, found = numbers_of(snapshot), set[str](), {}
        for place in made:
            data = _data(snapshot, place.body)
            words = {"number": data.part_number, "name": place.body.name, "item": str(numbers[place.body.id]),
                     "revision": self.revision}  # fmt: skip
            name = _stem(_filled(self.pattern, words))
            plain, count = name, 1
            while name.lower() in used:
                count += 1
                name = f"{plain} ({count})"
            used.add(name.lower())
            found[place.body.id] = name
        return found

    def _of_all(self, work: Work, places: Sequence[Occurrence], made: Sequence[Occurrence]) -> list[Packed]:
        snapshot, bodies = work.snapshot, {o.body.id for o in made}
        entries = []
        if len(places) > 1 and all(o.body.kind == "solid" for o in places):
            whole = Export(parts=self.parts, format="step", file_name="all parts").do(work)
            entries += [Packed(n, undated(d), "all parts together, exact (STEP)") for n, d in whole.files.items()]
        sheets = sheets_of(snapshot, bodies)
        if sheets:
            for kind, what in (("pdf", "drawing, to print"), ("dxf", "drawing, to go on with")):
                files, _ = drawing_files(work, sheets, kind, "drawing")
                entries += [Packed(f"drawings/{n}", d, what) for n, d in files.items()]
        rows = [r for r in bill_rows(snapshot, part_masses(snapshot, work.geometry))
                if r.body and int(r.body[1:]) in {o.body.id for o in places}]  # fmt: skip
        entries.append(Packed("list.xlsx", written("xlsx", rows, self.title or "Parts"), "list of parts"))
        entries.append(Packed("schedule.csv", _schedule(snapshot, made, rows), "materials and finishes"))
        if self.notes:
            entries.append(Packed("notes.txt", ("\n".join(self.notes) + "\n").encode(), "notes"))
        return entries


def undated(step: bytes) -> bytes:
    """The same revision gives the same bytes: with a fixed time stamp in the header (ISO 10303-21, 8.2.2), and the
    occurrences numbered from 1, which the kernel counts on from file to file."""
    numbers = itertools.count(1)
    found = re.sub(rb"(FILE_NAME\s*\(\s*'(?:[^']|'')*'\s*,\s*)'[^']*'", rb"\1'2000-01-01T00:00:00'", step, count=1)
    return re.sub(rb"(NEXT_ASSEMBLY_USAGE_OCCURRENCE\(')\d+", lambda m: b"%s%d" % (m[1], next(numbers)), found)


def _told(lack: Missing) -> str:
    return f"{lack.part}: {lack.words}" if lack.part else lack.words


def _filled(pattern: str, words: Mapping[str, str]) -> str:
    return re.sub(r"\{(\w+)\}", lambda found: words[found[1]], pattern)


def _check_pattern(pattern: str) -> None:
    odd = [w for w in re.findall(r"\{([^}]*)\}", pattern) if w not in WORDS]
    if odd or not re.search(r"\{(number|name|item)\}", pattern):
        words = ", ".join(f"{{{w}}}" for w in WORDS)
        why = f"“{{{odd[0][:20]}}}” is no word of a file's name" if odd else "all files would have one name"
        raise EditError(f"{why}; use {words}", field="pattern", nearest=PATTERN)


def _stem(text: str) -> str:
    return re.sub(r"\s+", " ", re.sub(r"[^\w.() +-]+", "_", text)).strip(". ") or "part"


def _of_part(work: Work, place: Occurrence, name: str) -> Iterator[Packed]:
    snapshot, body = work.snapshot, place.body
    part = _reference(snapshot, place)
    if body.kind == "solid":
        (data,) = Export(parts=(part,), format="step", file_name=name).do(work).files.values()
        yield Packed(f"parts/{name}.step", undated(data), "exact (STEP)")
    else:
        (data,) = Export(parts=(part,), format="stl", file_name=name).do(work).files.values()
        yield Packed(f"parts/{name}.stl", data, "triangles (STL)")
    if body.id in snapshot.kept(SHEETS):
        flat = flat_of(snapshot, work.geometry, body)
        yield Packed(f"flats/{name} flat.dxf", flat_file(flat, body.name, "dxf"), "flat with bend lines (DXF)")
    if body.id in snapshot.kept(PRINTS):
        for file, data in SavePrint(parts=(part,), format="3mf", file_name=name).do(work).files.items():
            yield Packed(f"prints/{file}", data, "as it is printed (3MF)")


def _reference(snapshot: Snapshot, place: Occurrence) -> Reference:
    return resolve(snapshot, text_id("node", place.node.id))


def _schedule(snapshot: Snapshot, made: Sequence[Occurrence], rows: Sequence[BillRow]) -> bytes:
    """Material, finish and process of every part that is made."""
    counts = {int(r.body[1:]): r.quantity for r in rows}
    out = io.StringIO(newline="")
    table = csv.writer(out)
    table.writerow(["Part", "Part number", "Quantity", "Material", "Finish", "Surface", "Colour", "Process", "Note"])
    for place in made:
        body, data = place.body, _data(snapshot, place.body)
        table.writerow([body.name, data.part_number, counts.get(body.id, 1), body.material or "", data.finish,
                        surface_of(body.finish), colour_of(body.finish) or "", data.process, data.note])  # fmt: skip
    return out.getvalue().encode("utf-8-sig")

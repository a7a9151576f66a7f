"""The bill as CSV (RFC 4180), workbook (ISO/IEC 29500), PDF and JSON."""

from __future__ import annotations

import csv
import datetime
import io
import json
import re
import zipfile
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass

from ..errors import EditError
from ..formats.pdf import Document, fitted_text
from ..model.part_data import SOURCES
from .lots import Lot, Need, needs
from .rows import BillRow, totals

COLUMNS = {
    "item": "Item", "name": "Name", "what": "Description", "quantity": "Qty", "source": "Source",
    "part_number": "Part no.", "stock_number": "Stock no.", "maker": "Maker", "material": "Material",
    "finish": "Finish", "process": "Process", "mass": "Mass, kg", "price": "Price", "note": "Note",
}  # fmt: skip
LOT_COLUMNS = {"pieces": "For the lot", "each": "Price each", "total": "Total"}
WIDE = {
    "item": 11,
    "name": 44,
    "what": 56,
    "quantity": 9,
    "source": 16,
    "part_number": 22,
    "stock_number": 26,
    "maker": 24,
    "material": 28,
    "finish": 24,
    "process": 24,
    "mass": 17,
    "price": 16,
    "note": 40,
    "pieces": 18,
    "each": 18,
    "total": 20,
}  # fmt: skip  mm on paper
ALWAYS = ("item", "name", "what", "quantity", "source", "material", "mass", "price")
CHOSEN = ("part_number", "stock_number", "maker", "finish", "process", "note")  # columns that may be left out
ON_PAPER = ("part_number", "stock_number", "maker")  # of these, where nobody chose
RIGHT = ("quantity", "mass", "price", *LOT_COLUMNS)
A4 = (297.0, 210.0)
MARGIN, STEP, LETTERS = 12.0, 6.0, 2.7
KINDS = ("csv", "xlsx", "pdf", "json")
FIXED = datetime.datetime(2000, 1, 1)  # in workbooks, so that the same bill gives the same bytes


@dataclass(frozen=True)
class Table:
    """What is written: titles of the columns, and a value of each in every row."""

    titles: dict[str, str]
    lines: list[dict[str, str | float | int | None]]


def written(
    kind: str, rows: list[BillRow], title: str, columns: Sequence[str] | None = None, lot: Lot | None = None
) -> bytes:
    """columns: of CHOSEN, all without; lot: with what it needs and costs.  Raises EditError for another kind."""
    makers = {"csv": _csv, "xlsx": _workbook, "pdf": _pdf, "json": _json}
    if kind not in makers:
        raise EditError(f"a bill is saved as {', '.join(KINDS)}, not “{kind[:20]}”", field="format")
    kept = columns if columns is not None else ON_PAPER if kind == "pdf" else CHOSEN
    unknown = [c for c in kept if c not in CHOSEN]
    if unknown:
        raise EditError(f"a bill has the columns {', '.join(CHOSEN)}, not “{unknown[0][:20]}”", field="columns")
    titles = {n: words for n, words in COLUMNS.items() if n in ALWAYS or n in kept}
    if lot is not None:
        titles = {**{n: words for n, words in titles.items() if n != "price"}, **LOT_COLUMNS}
    for_lot = needs(rows, lot) if lot is not None else [None] * len(rows)
    lines = [{n: _cell(row, need, n) for n in titles} for row, need in zip(rows, for_lot, strict=True)]
    return makers[kind](rows, title, Table(titles, lines), lot)


def _cell(row: BillRow, need: Need | None, name: str) -> str | float | int | None:
    if need is not None and name in LOT_COLUMNS:
        value = getattr(need, name)
        return round(value, 4) if isinstance(value, float) else value
    value = getattr(row, name)
    if name == "source":
        return SOURCES[value]
    return round(value, 6) if name == "mass" and value is not None else value


def _csv(_: list[BillRow], title: str, table: Table, lot: Lot | None) -> bytes:
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(table.titles.values())
    for line in table.lines:
        writer.writerow([_harmless(c) if isinstance(c, str) else c for c in line.values()])
    return out.getvalue().encode("utf-8-sig")


def _harmless(text: str) -> str:
    """No program that opens the table takes a name for a formula."""
    return f"'{text}" if text[:1] in "=+-@" and text[1:] else text


def _json(rows: list[BillRow], title: str, table: Table, lot: Lot | None) -> bytes:
    told: dict[str, object] = {"title": title, "rows": [asdict(r) for r in rows], "totals": asdict(totals(rows))}
    if lot is not None:
        needed = [{n: line[n] for n in LOT_COLUMNS} for line in table.lines]
        told["lot"] = {"count": lot.count, "spares": lot.spares, "rows": needed, "total": _sum(table)}
    return json.dumps(told, ensure_ascii=False, indent=1).encode()


def _sum(table: Table) -> float:
    """Of the lot, as far as prices are known."""
    return round(sum(v for line in table.lines if isinstance(v := line["total"], int | float)), 2)


def _workbook(_: list[BillRow], title: str, table: Table, lot: Lot | None) -> bytes:
    from openpyxl import Workbook
    from openpyxl.styles import Font
    from openpyxl.utils import get_column_letter

    book = Workbook()
    sheet = book.active
    sheet.title = "Bill of materials"
    sheet.append(list(table.titles.values()))
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    for line in table.lines:
        sheet.append(list(line.values()))
        for cell in sheet[sheet.max_row]:
            if isinstance(cell.value, str):
                cell.data_type = "s"  # never a formula
    for number, name in enumerate(table.titles, 1):
        sheet.column_dimensions[get_column_letter(number)].width = WIDE[name] / 1.9
    sheet.freeze_panes = "A2"
    book.properties.title, book.properties.creator = title, "Ravine"
    book.properties.created = FIXED
    out = io.BytesIO()
    book.save(out)
    return _undated(out.getvalue())


def _undated(workbook: bytes) -> bytes:
    """Without the hour of writing, which the library puts on every entry and among the properties."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(workbook)) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for name in old.namelist():
            data = old.read(name)
            if name == "docProps/core.xml":
                data = re.sub(rb"(<dcterms:modified[^>]*>)[^<]*", rb"\g<1>" + FIXED.isoformat().encode() + b"Z", data)
            new.writestr(zipfile.ZipInfo(name, FIXED.timetuple()[:6]), data, zipfile.ZIP_DEFLATED)
    return out.getvalue()


def _pdf(rows: list[BillRow], title: str, table: Table, lot: Lot | None) -> bytes:
    page = Document(f"Bill of materials, {title}", *A4)
    fit = int((A4[1] - 2 * MARGIN - 26) / STEP)
    numbered = list(zip(rows, table.lines, strict=True))
    sheets = [numbered[k : k + fit] for k in range(0, max(len(rows), 1), fit)]
    shrink = min(1.0, (A4[0] - 2 * MARGIN) / sum(WIDE[n] for n in table.titles))
    wide = {n: WIDE[n] * shrink for n in table.titles}
    for number, sheet in enumerate(sheets, 1):
        page.page()
        page.text(MARGIN, MARGIN + 5, fitted_text(title, 5, 200, "bold"), 5, "bold")
        page.text(A4[0] - MARGIN, MARGIN + 5, f"Bill of materials, sheet {number} of {len(sheets)}", 3, align="right")
        y = MARGIN + 14
        _cells(page, y, table.titles, wide, "bold")
        page.line(MARGIN, y + 2, A4[0] - MARGIN, y + 2, 0.35)
        for row, line in sheet:
            y += STEP
            cells = {n: _shown(n, v) for n, v in line.items()}
            cells["name"] = "  " * row.level + cells["name"]
            _cells(page, y, cells, wide, "plain")
            page.line(MARGIN, y + 2, A4[0] - MARGIN, y + 2, 0.1)
    page.text(MARGIN, A4[1] - MARGIN, _told(rows, table, lot), 3)
    return page.written()


def _told(rows: list[BillRow], table: Table, lot: Lot | None) -> str:
    """All together; masses and prices of a tree would count groups and what is in them."""
    if lot is not None:
        unknown = sum(line["each"] is None and line["pieces"] is not None for line in table.lines)
        spared = f" with {lot.spares:g} % to spare" if lot.spares else ""
        return f"For {lot.count}{spared}: {_sum(table):.2f}" + (f", {unknown} without a price" if unknown else "")
    if any(r.level for r in rows):
        return ""
    whole = totals(rows)
    told = f"{sum(r.quantity for r in rows if r.body)} pieces, {whole.mass:.4g} kg"
    told += f" without {whole.without_mass} of unknown mass" if whole.without_mass else ""
    return told + (f", price {whole.price:.2f}" if whole.price else "")


def _shown(name: str, value: str | float | int | None) -> str:
    if value is None:
        return ""
    if name in ("price", "each", "total"):
        return f"{value:.2f}"
    return f"{value:.4g}" if isinstance(value, float) else str(value)


def _cells(page: Document, y: float, cells: Mapping[str, str], widths: Mapping[str, float], font: str) -> None:
    x = MARGIN
    for name, wide in widths.items():
        text = fitted_text(cells[name], LETTERS, wide - 2, font)
        right = name in RIGHT
        page.text(x + wide - 2 if right else x, y, text, LETTERS, font, "right" if right else "left")
        x += wide

"""The bill as CSV (RFC 4180), workbook (ISO/IEC 29500), PDF and JSON."""

from __future__ import annotations

import csv
import datetime
import io
import json
import re
import zipfile
from dataclasses import asdict

from ..errors import EditError
from ..formats.pdf import Document, fitted_text
from ..model.part_data import SOURCES
from .rows import BillRow, totals

COLUMNS = {
    "item": "Item", "name": "Name", "what": "Description", "quantity": "Qty", "source": "Source",
    "part_number": "Part no.", "stock_number": "Stock no.", "maker": "Maker", "material": "Material",
    "finish": "Finish", "process": "Process", "mass": "Mass, kg", "price": "Price", "note": "Note",
}  # fmt: skip
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
    "mass": 17,
    "price": 16,
}  # fmt: skip  mm on paper
RIGHT = ("quantity", "mass", "price")
A4 = (297.0, 210.0)
MARGIN, STEP, LETTERS = 12.0, 6.0, 2.7
KINDS = ("csv", "xlsx", "pdf", "json")
FIXED = datetime.datetime(2000, 1, 1)  # in workbooks, so that the same bill gives the same bytes


def written(kind: str, rows: list[BillRow], title: str) -> bytes:
    """Raises EditError for another kind."""
    makers = {"csv": _csv, "xlsx": _workbook, "pdf": _pdf, "json": _json}
    if kind not in makers:
        raise EditError(f"a bill is saved as {', '.join(KINDS)}, not “{kind[:20]}”", field="format")
    return makers[kind](rows, title)


def _cell(row: BillRow, name: str) -> str | float | int | None:
    value = getattr(row, name)
    if name == "source":
        return SOURCES[value]
    return round(value, 6) if name == "mass" and value is not None else value


def _csv(rows: list[BillRow], _: str) -> bytes:
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(COLUMNS.values())
    for row in rows:
        cells = [_cell(row, n) for n in COLUMNS]
        writer.writerow([_harmless(c) if isinstance(c, str) else c for c in cells])
    return out.getvalue().encode("utf-8-sig")


def _harmless(text: str) -> str:
    """No program that opens the table takes a name for a formula."""
    return f"'{text}" if text[:1] in "=+-@" and text[1:] else text


def _json(rows: list[BillRow], title: str) -> bytes:
    whole = totals(rows)
    told = {"title": title, "rows": [asdict(r) for r in rows], "totals": asdict(whole)}
    return json.dumps(told, ensure_ascii=False, indent=1).encode()


def _workbook(rows: list[BillRow], title: str) -> bytes:
    from openpyxl import Workbook
    from openpyxl.styles import Font

    book = Workbook()
    sheet = book.active
    sheet.title = "Bill of materials"
    sheet.append(list(COLUMNS.values()))
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    for row in rows:
        sheet.append([_cell(row, n) for n in COLUMNS])
        for cell in sheet[sheet.max_row]:
            if isinstance(cell.value, str):
                cell.data_type = "s"  # never a formula
    for letter, name in zip("ABCDEFGHIJKLMN", COLUMNS, strict=True):
        sheet.column_dimensions[letter].width = WIDE.get(name, 20) / 1.9
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


def _pdf(rows: list[BillRow], title: str) -> bytes:
    page = Document(f"Bill of materials, {title}", *A4)
    fit = int((A4[1] - 2 * MARGIN - 26) / STEP)
    sheets = [rows[k : k + fit] for k in range(0, max(len(rows), 1), fit)]
    for number, sheet in enumerate(sheets, 1):
        page.page()
        page.text(MARGIN, MARGIN + 5, fitted_text(title, 5, 200, "bold"), 5, "bold")
        page.text(A4[0] - MARGIN, MARGIN + 5, f"Bill of materials, sheet {number} of {len(sheets)}", 3, align="right")
        y = MARGIN + 14
        _cells(page, y, {n: COLUMNS[n] for n in WIDE}, "bold")
        page.line(MARGIN, y + 2, A4[0] - MARGIN, y + 2, 0.35)
        for row in sheet:
            y += STEP
            cells = {n: _shown(_cell(row, n)) for n in WIDE}
            cells["name"] = "  " * row.level + cells["name"]
            _cells(page, y, cells, "plain")
            page.line(MARGIN, y + 2, A4[0] - MARGIN, y + 2, 0.1)
    whole = totals(rows)
    told = f"{sum(r.quantity for r in rows if r.body)} pieces, {whole.mass:.4g} kg"
    told += f" without {whole.without_mass} of unknown mass" if whole.without_mass else ""
    told += f", price {whole.price:.2f}" if whole.price else ""
    page.text(MARGIN, A4[1] - MARGIN, told, 3)
    return page.written()


def _shown(value: str | float | int | None) -> str:
    return "" if value is None else f"{value:.4g}" if isinstance(value, float) else str(value)


def _cells(page: Document, y: float, cells: dict[str, str], font: str) -> None:
    x = MARGIN
    for name, wide in WIDE.items():
        text = fitted_text(cells[name], LETTERS, wide - 2, font)
        right = name in RIGHT
        page.text(x + wide - 2 if right else x, y, text, LETTERS, font, "right" if right else "left")
        x += wide

"""One archive with an index page and checksums; the same files give the same bytes."""

from __future__ import annotations

import html
import io
import zipfile
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from hashlib import sha256

FIXED = (2000, 1, 1, 0, 0, 0)  # of every entry: when it was packed says nothing of what is in it
SUMS = "SHA256SUMS"


@dataclass(frozen=True)
class Packed:
    """what: in words, for the index."""

    name: str
    data: bytes
    what: str


def archive(entries: Sequence[Packed], title: str, said: Mapping[str, str], notes: Sequence[str] = ()) -> bytes:
    """said: what stands at the head of the index, by label."""
    rows = [*entries, Packed("index.html", _index(entries, title, said, notes), "this page")]
    sums = "".join(f"{sha256(e.data).hexdigest()}  {e.name}\n" for e in sorted(rows, key=lambda e: e.name))
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=9) as file:
        for name, data in sorted([(e.name, e.data) for e in rows] + [(SUMS, sums.encode())]):
            entry = zipfile.ZipInfo(name, FIXED)
            entry.external_attr = 0o644 << 16
            entry.compress_type = zipfile.ZIP_DEFLATED
            file.writestr(entry, data)
    return out.getvalue()


def _index(entries: Sequence[Packed], title: str, said: Mapping[str, str], notes: Sequence[str]) -> bytes:
    head = "".join(f"<dt>{html.escape(k)}</dt><dd>{html.escape(v)}</dd>" for k, v in said.items() if v)
    rows = "".join(
        f'<tr><td><a href="{html.escape(e.name, quote=True)}">{html.escape(e.name)}</a></td>'
        f"<td>{html.escape(e.what)}</td><td>{max(1, len(e.data) // 1024):,} kB</td></tr>"
        for e in sorted(entries, key=lambda e: e.name)
    )
    said_notes = "".join(f"<li>{html.escape(n)}</li>" for n in notes)
    return (
        f'<!doctype html><html lang="en"><head><meta charset="utf-8"><title>{html.escape(title)}</title><style>'
        "body{font:15px/1.5 system-ui,sans-serif;max-width:860px;margin:32px auto;padding:0 20px;color:#1e2a2f}"
        "dl{display:grid;grid-template-columns:max-content 1fr;gap:2px 18px}dt{color:#5d6763}dd{margin:0}"
        "table{border-collapse:collapse;width:100%;margin-top:18px}"
        "td{border-top:1px solid #c9c2b4;padding:4px 8px 4px 0}"
        "td:last-child{text-align:right;white-space:nowrap}</style></head>"
        f"<body><h1>{html.escape(title)}</h1><dl>{head}</dl><table>{rows}</table>"
        + (f"<h2>Notes</h2><ul>{said_notes}</ul>" if said_notes else "")
        + f"<p>Checksums of all files stand in {SUMS}.</p></body></html>\n"
    ).encode()

"""Notes of a review: pinned to faces, answered in a thread, open or settled; and what was said of a whole revision."""

from __future__ import annotations

import json
import math
import struct
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from ravine.core import EditError, RavineError
from ravine.core.model.records import DRAWINGS
from ravine.core.model.snapshot import split_id
from ravine.store import blobs
from ravine.store.tables import Design, Kept, now

from .designs import Designs

MOST = 300  # notes of one model
LONGEST = 2000  # letters
LARGEST = 3_000_000  # bytes of a picture
WIDEST = 4096  # pixels of its sides
PNG = b"\x89PNG\r\n\x1a\n"
STATES = ("open", "settled")
VERDICTS = {"approved": "approved", "change": "change asked for"}


@dataclass(frozen=True)
class NoteShown:
    """on: things it is pinned to; at: mm in the model; said: the thread, each with by, text and when; picture: address
    of a PNG that is pinned to it; sheet: name of a pinned sheet and id of the revision that it is drawn from."""

    id: int
    on: tuple[str, ...]
    at: tuple[float, float, float] | None
    said: tuple[dict[str, str], ...]
    state: str
    revision: int
    picture: str = ""
    sheet: tuple[str, int] | None = None


def notes_of(design: Design) -> list[NoteShown]:
    return [_shown(row) for row in _rows(design, "note")]


def picture_of(note: NoteShown) -> bytes:
    """PNG.  Raises RavineError where none is pinned."""
    if not note.picture:
        raise RavineError("nothing is pinned to this note")
    return blobs.get(note.picture)


def _rows(design: Design, kind: str) -> list[Kept]:
    return list(Kept.select().where((Kept.design == design) & (Kept.kind == kind)).order_by(Kept.id))


def _shown(row: Kept) -> NoteShown:
    data = json.loads(row.data)
    x, y, z = data["at"] or (0.0, 0.0, 0.0)
    at = (x, y, z) if data["at"] else None
    sheet = (data["sheet"][0], data["sheet"][1]) if data.get("sheet") else None
    return NoteShown(row.id, tuple(data["on"]), at, tuple(data["said"]), data["state"], data["revision"],
                     data.get("picture", ""), sheet)  # fmt: skip


def note_of(design: Design, ident: int) -> NoteShown:
    """Raises RavineError for one that is no more."""
    return _shown(_row(design, ident))


def _row(design: Design, ident: int) -> Kept:
    row = Kept.get_or_none((Kept.id == ident) & (Kept.design == design) & (Kept.kind == "note"))
    if row is None:
        raise RavineError("this note was dropped already")
    return row


def _text(raw: Any) -> str:
    text = str(raw or "").strip()
    if not text:
        raise EditError("a note says something; write it first", field="text")
    if len(text) > LONGEST:
        raise EditError(f"the note has {len(text)} letters; up to {LONGEST} fit", field="text")
    return text


def _picture(designs: Designs, data: bytes) -> str:
    """Its address.  Raises EditError for what is no PNG, or is too large."""
    if not data.startswith(PNG):
        raise EditError("what is pinned to a note is a PNG", field="picture")
    if len(data) > LARGEST:
        raise EditError(f"the picture has {len(data) / 1e6:.1f} MB; up to {LARGEST / 1e6:g} MB fit", field="picture")
    wide, high = struct.unpack(">II", data[16:24].ljust(8, b"\0"))  # of the header, which stands first
    if not (0 < wide <= WIDEST and 0 < high <= WIDEST):
        raise EditError(f"the picture is {wide} × {high}; sides go up to {WIDEST} pixels", field="picture")
    return blobs.put_one(designs.owner, data)


def add(
    designs: Designs, design: Design, on: Sequence[Any], at: Any, text: Any, picture: bytes = b"", sheet: str = ""
) -> NoteShown:  # fmt: skip
    """picture: PNG that is pinned to it; sheet: name of one of the drawings as it is now.  Raises EditError for what is
    no note."""
    if len(_rows(design, "note")) >= MOST:
        raise EditError(f"{MOST} notes are kept already; settle and drop some")
    names = [str(t)[:40] for t in on[:20]] if isinstance(on, list) else []
    for name in names:
        split_id(name)
    place = None
    if at is not None:
        try:
            place = [float(v) for v in at]
        except (TypeError, ValueError):
            place = []
        if len(place) != 3 or not all(math.isfinite(v) for v in place):
            raise EditError("a note is pinned at a place of three numbers")
    head = designs.head(design)
    drawings = [s.name for s in designs.snapshot(head).kept(DRAWINGS).values()]
    if sheet and sheet not in drawings:
        raise EditError(f"there is no sheet {sheet}; there is {', '.join(drawings) or 'none'}", field="sheet")
    data = {
        "on": names, "at": place, "said": [_said(designs, _text(text))], "state": "open", "revision": head.number,
        "picture": _picture(designs, picture) if picture else "", "sheet": [sheet, head.id] if sheet else None,
    }  # fmt: skip
    row = Kept.create(owner=designs.owner, design=design, kind="note", name="note", data=json.dumps(data))
    return _shown(row)


def _said(designs: Designs, text: str) -> dict[str, str]:
    return {"by": designs.person.name, "text": text, "when": now().strftime("%Y-%m-%d %H:%M")}


def change(designs: Designs, design: Design, ident: int, text: Any = None, state: str | None = None) -> None:
    """An answer, or another state.  Raises EditError or RavineError."""
    row = _row(design, ident)
    data = json.loads(row.data)
    if text is not None:
        data["said"].append(_said(designs, _text(text)))
    if state is not None:
        if state not in STATES:
            raise EditError(f"a note is {' or '.join(STATES)}", field="state")
        data["state"] = state
    Kept.update(data=json.dumps(data)).where(Kept.id == row.id).execute()


def judge(designs: Designs, design: Design, what: str) -> None:
    """The state that is shown is approved, or change is asked for.  Raises EditError."""
    if what not in VERDICTS:
        raise EditError(f"a revision is {' or '.join(VERDICTS.values())}", field="what")
    data = {"what": what, "revision": designs.head(design).number, **_said(designs, VERDICTS[what])}
    Kept.create(owner=designs.owner, design=design, kind="verdict", name="verdict", data=json.dumps(data))


def verdicts_of(design: Design) -> list[dict[str, Any]]:
    """The newest first."""
    return [json.loads(row.data) for row in _rows(design, "verdict")][::-1]

"""Notes that go along with a review, as pages and files take them."""

from __future__ import annotations

import base64
import binascii
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from ..errors import EditError

MOST, LONGEST = 300, 20000  # notes, letters of a thread


@dataclass(frozen=True)
class ReviewNote:
    """text: the thread, a line for each; state: open or settled, empty for what is no note; picture: PNG pinned to it;
    sheet: name of a pinned sheet, and address of the state that it is drawn from."""

    text: str
    state: str = ""
    picture: bytes = b""
    sheet: tuple[str, str] | None = None


def notes_from(rows: Any) -> tuple[ReviewNote, ...]:
    """rows: text, or text, state, picture (base64) and sheet (name, state) by name.  Raises EditError."""
    if not isinstance(rows, Sequence) or isinstance(rows, str):
        raise EditError("notes are a list", field="notes")
    return tuple(_note(row) for row in rows[:MOST])


def _note(row: Any) -> ReviewNote:
    if isinstance(row, str):
        return ReviewNote(row[:LONGEST])
    if not isinstance(row, dict):
        raise EditError("a note is text, or an object with text", field="notes")
    try:
        picture = base64.b64decode(str(row.get("picture") or ""), validate=True)
    except (binascii.Error, ValueError) as error:
        raise EditError("the picture of a note is no base64", field="notes") from error
    sheet = row.get("sheet")
    pair = (str(sheet["name"]), str(sheet["state"])) if isinstance(sheet, dict) and len(sheet) == 2 else None
    return ReviewNote(str(row.get("text", ""))[:LONGEST], str(row.get("state", ""))[:20], picture, pair)

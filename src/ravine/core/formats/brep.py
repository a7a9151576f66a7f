"""The kernel's own text boundary representation: exact, with nothing lost, for exchange with its other users."""

from __future__ import annotations

import os
import re
from collections.abc import Sequence

from ..errors import FormatError
from ..kernel.exchange import ReadNode, ReadPart, pieces_of
from ..kernel.failures import KERNEL_FAILURES
from ..kernel.serial import from_text, to_text
from ..kernel.shapes import Shape, compound, matrix_of, unplaced
from ..rigid import IDENTITY
from .reading import Imported, Progress, ReadOptions


def read(path: str, options: ReadOptions, progress: Progress) -> Imported:
    """The text form; lengths in mm.  Raises FormatError."""
    progress(0.1, "reading the shape")
    with open(path, "rb") as file:
        data = file.read()
    _check_ends(data)
    try:
        shape = from_text(data)
    except KERNEL_FAILURES as error:
        raise FormatError("the B-rep file is damaged and cannot be read", field="path") from error
    pieces = pieces_of(shape)
    if not pieces:
        raise FormatError("the B-rep file holds no solid, surface or face that could be shown", field="path")
    stem = os.path.splitext(os.path.basename(path))[0]
    names = [stem if len(pieces) == 1 else f"{stem} {k + 1}" for k in range(len(pieces))]
    parts: list[ReadPart | tuple] = [ReadPart(n, unplaced(p)) for n, p in zip(names, pieces, strict=True)]
    leaves = [ReadNode(n, matrix_of(p.Location()), k) for k, (n, p) in enumerate(zip(names, pieces, strict=True))]
    return Imported(leaves if len(leaves) == 1 else [ReadNode(stem, IDENTITY, None, leaves)], parts)


def _check_ends(data: bytes) -> None:
    """The kernel's reader never ends on a file that was cut: so the records of shapes, each with a star at its end,
    are counted, and the line that names the whole is looked for."""
    head, _, shapes = data.rpartition(b"TShapes ")
    told = shapes.split(None, 1)[0] if head and shapes.strip() else b""
    if not told.isdigit():
        raise FormatError("the B-rep file stops before its shapes; it was cut short", field="path")
    held = shapes.count(b"*")
    if int(told) != held or not re.search(rb"\*\s*[+-]\d+ \d+\s*$", shapes):
        raise FormatError(
            f"the B-rep file announces {int(told):,} shapes and has {held:,}; it was cut short", field="path"
        )


def write(shapes: Sequence[Shape]) -> bytes:
    """One body as it is, several as a compound; lengths in mm."""
    return to_text(shapes[0] if len(shapes) == 1 else compound(shapes))

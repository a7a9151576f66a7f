"""The kernel's own text boundary representation: exact, with nothing lost, for exchange with its other users."""

from __future__ import annotations

import math
import os
from collections.abc import Sequence

from ..errors import FormatError
from ..kernel.carriers import has_surface
from ..kernel.exchange import ReadNode, ReadPart, pieces_of
from ..kernel.failures import KERNEL_FAILURES
from ..kernel.properties import rough_box
from ..kernel.serial import from_text, to_text
from ..kernel.shapes import Shape, compound, matrix_of, parts_of, unplaced
from ..rigid import IDENTITY
from .brep_records import damage_of
from .reading import Imported, Progress, ReadOptions


def read(path: str, options: ReadOptions, progress: Progress) -> Imported:
    """The text form; lengths in mm.  Raises FormatError."""
    progress(0.1, "reading the shape")
    with open(path, "rb") as file:
        data = file.read()
    if (broken := damage_of(data)) is not None:
        raise FormatError(f"the B-rep file is damaged: {broken}", field="path")
    try:
        shape = from_text(data)
        whole = all(has_surface(f) for f in parts_of(shape, "face")) and math.isfinite(rough_box(shape).diagonal)
    except KERNEL_FAILURES as error:
        raise FormatError("the B-rep file is damaged and cannot be read", field="path") from error
    if not whole:
        raise FormatError("the B-rep file is damaged: it has faces without a surface, or places nowhere", field="path")
    pieces = pieces_of(shape)
    if not pieces:
        raise FormatError("the B-rep file holds no solid, surface or face that could be shown", field="path")
    stem = os.path.splitext(os.path.basename(path))[0]
    names = [stem if len(pieces) == 1 else f"{stem} {k + 1}" for k in range(len(pieces))]
    parts: list[ReadPart | tuple] = [ReadPart(n, unplaced(p)) for n, p in zip(names, pieces, strict=True)]
    leaves = [ReadNode(n, matrix_of(p.Location()), k) for k, (n, p) in enumerate(zip(names, pieces, strict=True))]
    return Imported(leaves if len(leaves) == 1 else [ReadNode(stem, IDENTITY, None, leaves)], parts)


def write(shapes: Sequence[Shape]) -> bytes:
    """One body as it is, several as a compound; lengths in mm."""
    return to_text(shapes[0] if len(shapes) == 1 else compound(shapes))

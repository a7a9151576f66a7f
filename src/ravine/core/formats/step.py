"""STEP (ISO 10303-21 with AP203, AP214, AP242): exact shapes, assembly tree, names, colours, units."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable, Sequence

from ..errors import FormatError
from ..kernel import exchange
from ..kernel.exchange import WriteNode, WritePart
from .part21 import damage_of
from .reading import Imported, Progress, ReadOptions


def read(path: str, options: ReadOptions, progress: Progress) -> Imported:
    """Lengths come in mm from whatever unit the file declares.  Raises FormatError."""
    _check(path)
    tree = exchange.read_step(path, progress)
    return Imported(tree.roots, list(tree.parts))


def _check(path: str) -> None:
    """A Part 21 file says where it ends; when it does not, it was cut, and the kernel would read what is left.  On
    broken references the kernel's reader crashes."""
    with open(path, "rb") as file:
        data = file.read()
    if b"END-ISO-10303-21" not in data[-4096:]:
        raise FormatError(
            "the STEP file stops before its end mark (END-ISO-10303-21); it was cut short on its way here. "
            "Get it again from where it came from", field="path")  # fmt: skip
    if (broken := damage_of(data)) is not None:
        raise FormatError(f"the STEP file is damaged: {broken}. Get it again from where it came from", field="path")


def write(roots: Sequence[WriteNode], parts: Sequence[WritePart], title: str) -> bytes:
    """AP214 in mm."""
    return written(exchange.write_step, ".step", roots, parts, title)


def written(
    to: Callable[..., None], ending: str, roots: Sequence[WriteNode], parts: Sequence[WritePart], title: str
) -> bytes:
    """What a writer of the kernel puts into a file."""
    handle, path = tempfile.mkstemp(suffix=ending)
    os.close(handle)
    try:
        to(path, roots, parts, title)
        with open(path, "rb") as file:
            return file.read()
    finally:
        os.unlink(path)

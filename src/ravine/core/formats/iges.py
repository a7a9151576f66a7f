"""IGES 5.3: surfaces, usually loose, with names and colours."""

from __future__ import annotations

from collections.abc import Sequence

from ..errors import FormatError
from ..kernel import exchange
from ..kernel.exchange import WriteNode, WritePart
from .reading import Imported, Progress, ReadOptions
from .step import written


def read(path: str, options: ReadOptions, progress: Progress) -> Imported:
    """Lengths come in mm from whatever unit the file declares.  Raises FormatError."""
    _check_ends(path)
    tree = exchange.read_iges(path, progress)
    return Imported(tree.roots, list(tree.parts))


def _check_ends(path: str) -> None:
    """The last line counts the lines of every section."""
    with open(path, "rb") as file:
        lines = [row for row in file.read().splitlines() if row.strip()]
    last = lines[-1] if lines else b""
    if last[72:73] != b"T":
        raise FormatError("the IGES file stops before its terminate section; it was cut short", field="path")
    for letter, told in zip(b"SGDP", (last[1:8], last[9:16], last[17:24], last[25:32]), strict=True):
        count = sum(row[72:73] == bytes([letter]) for row in lines)
        if told.strip().isdigit() and int(told) != count:
            raise FormatError(
                f"the IGES file announces {int(told)} lines in its section {chr(letter)} and has {count}; it is "
                f"damaged", field="path",
            )  # fmt: skip


def write(roots: Sequence[WriteNode], parts: Sequence[WritePart], title: str) -> bytes:
    """IGES 5.3 with solids as B-rep, in mm."""
    return written(exchange.write_iges, ".igs", roots, parts, title)

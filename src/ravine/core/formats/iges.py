"""IGES 5.3: surfaces, usually loose, with names and colours."""

from __future__ import annotations

from collections.abc import Sequence

from ..errors import FormatError
from ..kernel import exchange
from ..kernel.exchange import WriteNode, WritePart
from .iges_lines import damage_of
from .reading import Imported, Progress, ReadOptions
from .step import written


def read(path: str, options: ReadOptions, progress: Progress) -> Imported:
    """Lengths come in mm from whatever unit the file declares.  Raises FormatError."""
    with open(path, "rb") as file:
        broken = damage_of(file.read())
    if broken is not None:
        raise FormatError(f"the IGES file is damaged: {broken}. Get it again from where it came from", field="path")
    tree = exchange.read_iges(path, progress)
    return Imported(tree.roots, list(tree.parts))


def write(roots: Sequence[WriteNode], parts: Sequence[WritePart], title: str) -> bytes:
    """IGES 5.3 with solids as B-rep, in mm."""
    return written(exchange.write_iges, ".igs", roots, parts, title)

"""What every reader gives back, and the look at a file's first bytes that decides who reads it."""

from __future__ import annotations

import os
from collections.abc import Callable
from dataclasses import dataclass, field

from ..errors import FormatError
from ..kernel.exchange import ReadNode, ReadPart
from ..model.trimesh_body import TriangleMesh

Progress = Callable[[float, str], None]

LARGEST_FILE = 1 << 30


@dataclass(frozen=True)
class ReadOptions:
    """units: for formats that carry none; None when the person has not said."""

    units: str | None = None


@dataclass
class Imported:
    """Tree and parts as read; a part is exact (ReadPart) or a mesh with a name."""

    roots: list[ReadNode]
    parts: list[ReadPart | tuple[str, TriangleMesh]]
    warnings: list[str] = field(default_factory=list)


def sniff(path: str, name: str | None = None) -> str:
    """Format by content: `step` or `stl`.  Raises FormatError that says what the file looks like instead."""
    name = name or os.path.basename(path)
    try:
        size = os.path.getsize(path)
    except OSError as error:
        raise FormatError(f"{name} cannot be opened: {error.strerror or 'no such file'}", field="path") from error
    if size == 0:
        raise FormatError(f"{name} is empty (0 bytes); export it again from where it came from", field="path")
    if size > LARGEST_FILE:
        raise FormatError(f"{name} has {size / 2**30:.1f} GB; files up to 1 GB are read", field="path")
    with open(path, "rb") as file:
        head = file.read(4096)
    if b"ISO-10303-21" in head[:1024]:
        return "step"
    if _binary_stl(head, size) or _text_stl(head):
        return "stl"
    ending = name.rpartition(".")[2].lower()
    looks = _looks_like(head)
    if ending == "stl" and looks == "binary data of no kind that is read here":
        raise FormatError(f"{name}: {_stl_fault(head, size)}", field="path")
    raise FormatError(
        f"{name} is neither STEP nor STL inside; it looks like {looks}. STEP (.step, .stp) and STL (.stl) files "
        f"can be brought in", field="path")  # fmt: skip


def _binary_stl(head: bytes, size: int) -> bool:
    return len(head) >= 84 and size == 84 + 50 * int.from_bytes(head[80:84], "little") and size > 84


def _text_stl(head: bytes) -> bool:
    text = head.lstrip().lower()
    return text.startswith(b"solid") and (b"facet" in text or b"\n" in text) and b"\0" not in head


def _stl_fault(head: bytes, size: int) -> str:
    if size < 84:
        return "it is too short for an STL file and has no text facets; it may be cut short"
    count = int.from_bytes(head[80:84], "little")
    held = (size - 84) // 50
    return f"it announces {count:,} triangles but has room for {held:,}; it is cut short or not an STL file"


def _looks_like(head: bytes) -> str:
    known = {
        b"PK\x03\x04": "a zip archive; unpack it first",
        b"%PDF": "a PDF document",
        b"\x89PNG": "a PNG picture",
        b"\xff\xd8\xff": "a JPEG picture",
        b"glTF": "a binary glTF scene",
        b"ply": "a PLY mesh",
        b"\x1f\x8b": "a gzip archive; unpack it first",
    }
    for magic, words in known.items():
        if head.startswith(magic):
            return words
    if b"\0" in head:
        return "binary data of no kind that is read here"
    start = head.lstrip()[:5].lower()
    return "a web page or XML" if start.startswith((b"<?xml", b"<html", b"<!doc")) else "plain text"

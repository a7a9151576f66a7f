"""What every reader gives back, and the look at a file's first bytes that decides who reads it."""

from __future__ import annotations

import os
import re
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, TypeAlias

import numpy as np
from numpy.typing import NDArray

from ..errors import FormatError
from .marks import BREP_MARKS, is_idf, is_iges

if TYPE_CHECKING:
    from ..kernel.exchange import ReadNode, ReadPart
    from ..model.trimesh_body import TriangleMesh
    from ..sketch.plane_curves import PlaneCurve
    from ..sketch.strokes import Stroke

Progress = Callable[[float, str], None]

LARGEST_FILE = 1 << 30
MOST_CURVES = 5000


@dataclass(frozen=True)
class ReadOptions:
    """units: for formats that carry none; None when the person has not said."""

    units: str | None = None


MOST_ELEMENTS = 60_000
SECONDS = 30.0


class Budget:
    """What a file may ask of its reader, spent as it reads: elements, and time."""

    def __init__(self, words: str, elements: int = MOST_ELEMENTS, seconds: float = SECONDS) -> None:
        self.words, self.left, self.end = words, elements, time.monotonic() + seconds
        self.elements, self.seconds = elements, seconds

    def spend(self, count: int = 1) -> None:
        """Raises FormatError once it is spent."""
        self.left -= count
        if self.left < 0:
            raise FormatError(
                f"the {self.words} unfolds to more than {self.elements:,} elements; leave out what repeats",
                field="path",
            )
        if time.monotonic() > self.end:
            raise FormatError(f"the {self.words} takes longer than {self.seconds:.0f} s to unfold", field="path")


Drawing: TypeAlias = "Sequence[PlaneCurve]"


@dataclass
class Imported:
    """Tree and parts as read; a part is exact (ReadPart) or a mesh with a name.  A drawing has strokes instead, a
    picture its size in pixels and its bytes.  colours: of meshes, by number of the part."""

    roots: list[ReadNode]
    parts: list[ReadPart | tuple[str, TriangleMesh]]
    warnings: list[str] = field(default_factory=list)
    strokes: list[Stroke] = field(default_factory=list)
    colours: dict[int, str] = field(default_factory=dict)
    picture: tuple[int, int, bytes] | None = None


@dataclass(frozen=True)
class TriangleWrite:
    """One placed body to write: points (n, 3) mm in its own coordinates; body: the same number for copies."""

    name: str
    body: int
    points: NDArray[np.float64]
    triangles: NDArray[np.int32]
    matrix: tuple[float, ...]
    colour: str | None


def drawing_from(strokes: list[Stroke], warnings: list[str]) -> Imported:
    """Raises FormatError for a drawing without curves, with too many, or with coordinates out of all bounds."""
    if not strokes:
        raise FormatError("there are no curves in the drawing")
    if len(strokes) > MOST_CURVES:
        raise FormatError(f"the drawing has {len(strokes):,} curves; up to {MOST_CURVES:,} are read")
    reach = max(max(abs(v) for p in s.places for v in p) + abs(s.size) for s in strokes)
    if not reach < 1e6:
        raise FormatError("the drawing has coordinates beyond a kilometre; it is damaged, or its unit is wrong")
    bent = sum(s.rough for s in strokes)
    if bent:
        warnings.append(f"{bent} free curve{'s' if bent > 1 else ''} drawn through places on the original")
    return Imported([], [], warnings, strokes)


def check_numbers(points: NDArray[np.floating], words: str) -> None:
    """Raises FormatError for coordinates that cannot be meant."""
    if not np.isfinite(points).all():
        raise FormatError(f"the {words} file has coordinates that are not numbers (NaN or infinite)")
    if len(points) and np.abs(points).max() > 1e9:
        raise FormatError(f"the {words} file has coordinates beyond 1 000 km; it is damaged or its unit is wrong")


def sniff(path: str, name: str | None = None) -> str:
    """Format by content: one of the keys of formats.READS.  Raises FormatError that says
    what the file looks like instead."""
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
    if head.startswith((b"\x89PNG\r\n", b"\xff\xd8\xff")):
        return "picture"
    if b"<svg" in head or (head.lstrip()[:5] == b"<?xml" and b"svg" in head.lower()):
        return "svg"
    ending = name.rpartition(".")[2].lower()
    if is_idf(head):
        return "idf"
    if is_iges(head):
        return "iges"
    if any(mark in head[:200] for mark in BREP_MARKS):
        return "brep"
    if head.startswith(b"ply"):
        return "ply"
    if head.startswith(b"glTF"):
        return "glb"
    if ending == "gltf" and head.lstrip().startswith(b"{"):
        return "gltf"
    if head.startswith(b"PK\x03\x04") and (ending == "3mf" or b"3dmodel" in head or b"[Content_Types].xml" in head):
        return "3mf"
    if ending == "obj" and b"\0" not in head:
        return "obj"
    if b"Binary DXF\r\n\x1a" in head[:24] or re.match(rb"\s*(999\s[^\n]*\n\s*)*0\s+SECTION", head):
        return "dxf"
    looks = _looks_like(head)
    if ending == "stl" and looks == "binary data of no kind that is read here":
        raise FormatError(f"{name}: {_stl_fault(head, size)}", field="path")
    raise FormatError(
        f"{name} is none of the kinds that are read; it looks like {looks}. STEP, IGES, B-rep, STL, OBJ, PLY, 3MF, "
        f"glTF, DXF, SVG, IDF, PNG and JPEG files can be brought in", field="path")  # fmt: skip


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
        b"\x1f\x8b": "a gzip archive; unpack it first",
    }
    for magic, words in known.items():
        if head.startswith(magic):
            return words
    if b"\0" in head:
        return "binary data of no kind that is read here"
    start = head.lstrip()[:5].lower()
    return "a web page or XML" if start.startswith((b"<?xml", b"<html", b"<!doc")) else "plain text"

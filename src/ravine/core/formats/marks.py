"""How the first bytes of some formats look."""

from __future__ import annotations

BREP_MARKS = (b"DBRep_DrawableShape", b"CASCADE Topology V", b"Open CASCADE Topology V")


def is_idf(head: bytes) -> bool:
    start = head.lstrip().upper()[:400]
    kinds = (b"BOARD_FILE", b"PANEL_FILE", b"LIBRARY_FILE")
    return start.startswith(b".HEADER") and any(k in start for k in kinds)


def is_idf_library(head: bytes) -> bool:
    return is_idf(head) and b"LIBRARY_FILE" in head.upper()[:400]


def is_iges(head: bytes) -> bool:
    """Fixed lines of 80 characters with the section letter in column 73; the first is of the start section."""
    line = head.split(b"\n", 1)[0].rstrip(b"\r")
    return len(line) == 80 and line[72:73] == b"S" and line[73:80].strip().isdigit()

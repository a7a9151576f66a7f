"""Files that a process has mapped: for one that loads large libraries, and then only forks."""

from __future__ import annotations

import ctypes
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from pathlib import Path

_LIBC = ctypes.CDLL(None, use_errno=True)
_DONTNEED = 4  # madvise(2)
_OURS = ("Private_Dirty:", "Shared_Dirty:", "Anonymous:")  # pages that differ from the file


@dataclass
class Range:
    """at, size, held: bytes; held: of it in memory; as_file: no page of it was written to."""

    at: int
    size: int
    as_file: bool
    held: int = 0


def ranges_of(lines: Iterable[str]) -> Iterator[Range]:
    """Of a table as in /proc/PID/smaps, see proc(5)."""
    found: Range | None = None
    for words in (line.split() for line in lines):
        if not words[0].endswith(":"):
            if found:
                yield found
            low, high = (int(end, 16) for end in words[0].split("-"))
            found = Range(low, high - low, len(words) > 5 and words[5].startswith("/"))
        elif found and words[0] == "Rss:":
            found.held = int(words[1]) << 10
        elif found and words[0] in _OURS and words[1] != "0":
            found.as_file = False
    if found:
        yield found


def let_go_of_files() -> int:
    """Bytes that were mapped from files and read, as the loader does with symbols and relocations: they stay on the
    disk, and come back where they are read again.  Ranges with a page that was written to stay.  Workers map what they
    read themselves, with this or without, so they lose nothing."""
    freed = 0
    for found in list(ranges_of(Path("/proc/self/smaps").read_text().splitlines())):
        if found.as_file and _LIBC.madvise(ctypes.c_void_p(found.at), ctypes.c_size_t(found.size), _DONTNEED) == 0:
            freed += found.held
    return freed

"""What is broken in an IGES 5.3 file, found before the kernel follows its pointers into nothing.

Lines have 80 columns: the letter of their section in column 73, their number in it behind.  Two lines of the directory
(D) tell an entity; the parameters (P) carry the number of the directory line they belong to (IGES 5.3, 2.2).
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import pairwise

_NUMBER = re.compile(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[EeDd][-+]?\d+)?\Z")
_STRING = re.compile(r"(\d+)H")
LARGEST = 1e12

_CURVES = {100, 102, 104, 106, 110, 112, 126, 130, 141, 142}
_SURFACES = {108, 114, 118, 120, 122, 128, 140, 143, 144, 190, 192, 194, 196, 198}
_FAMILIES = {
    "C": ("a curve", _CURVES),
    "S": ("a surface", _SURFACES),
    "P": ("a point", {116}),
    "D": ("a direction", {123}),
    "L": ("a loop", {508}),
    "F": ("a face", {510}),
    "H": ("a shell", {514}),
    "V": ("corners", {502}),
    "E": ("edges", {502, 504}),
    "B": ("a border", {141, 142}),
}
# what an entity's parameters begin with: n number, i whole number, else what a pointer leads to, small where 0 may
# stand for none; behind a bracket: how a counted rest repeats, the count standing at that place
_SHAPE: dict[int, str] = {
    100: "nnnnnnn", 110: "nnnnnn", 116: "nnn", 123: "nnn", 124: "nnnnnnnnnnnn",
    102: "i[0C", 120: "CCnn", 122: "Cnnn", 140: "nnnnS", 142: "iSccI", 144: "Sii[2B", 190: "PD", 192: "PDn",
    194: "PDnn", 196: "Pn", 198: "PDnn", 186: "Hi", 502: "i[0nnn", 504: "i[0CViVi", 510: "Sii[1L", 514: "i[0Fi",
}  # fmt: skip


@dataclass
class _Entity:
    kind: int
    at: int  # first line of its parameters
    lines: int
    values: list[str] = field(default_factory=list)


def damage_of(data: bytes) -> str | None:
    """Words for the first thing that is broken, None where nothing was found.  data: the whole file."""
    return next(_faults(data), None)


def _faults(data: bytes) -> Iterator[str]:
    lines = [row.rstrip("\r\n") for row in data.decode("ascii", "replace").splitlines() if row.strip()]
    sections: dict[str, list[str]] = {letter: [] for letter in "SGDPT"}
    for at, row in enumerate(lines, 1):
        letter, told = row[72:73], row[73:80].strip()
        if letter not in sections or len(row.rstrip()) > 80 or not told.isdigit():
            yield f"line {at} names no section"
            return
        sections[letter].append(row)
        if int(told) != len(sections[letter]):
            yield f"line {at} says it is line {told} of section {letter} and is line {len(sections[letter])}"
            return
    yield from _count_faults(sections)
    separators = _separators("".join(row[:72] for row in sections["G"]))
    if separators is None:
        yield "its global section does not tell what separates values"
        return
    entities: dict[int, _Entity] = {}
    yield from _directory(sections["D"], len(sections["P"]), entities)
    yield from _parameters(sections["P"], separators, entities)
    for number, entity in entities.items():
        if (why := _wrong(entity, entities)) is not None:
            yield f"entity {number} (type {entity.kind}) {why}"


def _count_faults(sections: dict[str, list[str]]) -> Iterator[str]:
    if not sections["T"]:
        yield "it stops before its terminate section; it was cut short"
        return
    last = sections["T"][-1]
    for letter, told in zip("SGDP", (last[1:8], last[9:16], last[17:24], last[25:32]), strict=True):
        if told.strip().isdigit() and int(told) != len(sections[letter]):
            yield f"it announces {int(told)} lines in its section {letter} and has {len(sections[letter])}"


def _separators(head: str) -> tuple[str, str] | None:
    """Between values, and between entities: a comma and a semicolon where nothing is said."""
    first = ","
    if head[:2] == "1H":
        first, head = head[2], head[3:]
    if head[:1] != first:
        return None
    head = head[1:]
    return (first, head[2]) if head[:2] == "1H" else (first, ";")


def _directory(rows: list[str], lines: int, into: dict[int, _Entity]) -> Iterator[str]:
    for number in range(1, len(rows) + 1, 2):
        pair = rows[number - 1 : number + 1]
        try:
            told = [
                [int(row[at : at + 8]) if row[at : at + 8].strip() else 0 for at in range(0, 40, 8)] for row in pair
            ]
        except ValueError:
            yield f"the directory entry {number} holds something else than numbers"
            return
        if len(pair) < 2 or told[0][0] != told[1][0]:
            yield f"the two lines of the directory entry {number} do not belong together"
            return
        kind, at = told[0][:2]
        count = told[1][3]
        if kind and not (at >= 1 and count >= 0 and at + max(count, 1) - 1 <= lines):
            yield f"the parameters of the directory entry {number} lie outside the file"
            return
        into[number] = _Entity(kind, at, max(count, 1))
    for number in into:
        place = rows[number - 1][48:56].strip()
        if place.isdigit() and int(place) and getattr(into.get(int(place)), "kind", 0) != 124:
            yield f"the directory entry {number} is placed by entry {place}, which is no placement"


def _parameters(rows: list[str], separators: tuple[str, str], entities: dict[int, _Entity]) -> Iterator[str]:
    between, end = separators
    for number, entity in entities.items():
        if not entity.kind:
            continue
        own = rows[entity.at - 1 : entity.at - 1 + entity.lines]
        if any(row[64:72].strip() != str(number) and row[64:72].strip().lstrip("0") != str(number) for row in own):
            yield f"the parameters of entity {number} belong to another one"
            return
        text = "".join(row[:64] for row in own)
        values, at, closed = [], 0, False
        while at < len(text):
            found = _STRING.match(text, at)
            skip = found.end() + int(found[1]) if found else at
            stops = [p for p in (text.find(between, skip), text.find(end, skip)) if p >= 0]
            stop = min(stops, default=-1)
            if stop < 0:
                break
            values.append(text[at:stop].strip())
            at = stop + 1
            while at < len(text) and text[at] == " ":
                at += 1
            if text[stop] == end:
                closed = True
                break
        if not closed:
            yield f"the parameters of entity {number} have no end"
            return
        if values[0] != str(entity.kind):
            yield f"the parameters of entity {number} are those of another type"
            return
        entity.values = values[1:]


def _wrong(entity: _Entity, entities: dict[int, _Entity]) -> str | None:
    if entity.kind in (126, 128):
        return _wrong_spline(entity)
    head, _, rest = _SHAPE.get(entity.kind, "").partition("[")
    kinds = head
    if rest:
        counted = entity.values[int(rest[0])] if len(entity.values) > int(rest[0]) else ""
        if not counted.isdigit():
            return "does not say how many it has"
        if int(counted) * len(rest[1:]) + len(head) > len(entity.values):
            return f"announces {counted} of what it has fewer of"
        kinds += rest[1:] * int(counted)
    if len(entity.values) < len(kinds.rstrip("Iiz")):
        return f"has {len(entity.values)} values instead of {len(kinds)}"
    for value, kind in zip(entity.values, kinds, strict=False):
        if (why := _wrong_value(value, kind, entities)) is not None:
            return why
    return None


def _wrong_value(value: str, kind: str, entities: dict[int, _Entity]) -> str | None:
    if kind in "niI":
        if value and not _NUMBER.match(value):
            return f"needs a number where it has “{value[:20]}”"
        too_large = value and abs(float(value.upper().replace("D", "E"))) > LARGEST
        return f"holds {value[:20]}, which is no size of anything" if too_large else None
    words, kinds = _FAMILIES[kind.upper()]
    if kind.islower() and value in ("", "0"):
        return None
    if not value.isdigit() or int(value) not in entities:
        return f"needs {words} where it has “{value[:20]}”"
    found = entities[int(value)].kind
    if found in kinds or found not in _SHAPE | {126: "", 128: ""}:
        return None
    return f"needs {words} and points to entity {value}, of type {found}"


def _wrong_spline(entity: _Entity) -> str | None:
    """Counts by IGES 5.3, 4.23 and 4.24: upper index K and degree M give K + M + 2 knots and K + 1 poles."""
    ways, values = (1 if entity.kind == 126 else 2), entity.values
    sizes = values[: 2 * ways]
    if not all(v.isdigit() for v in sizes) or len(sizes) < 2 * ways:
        return "does not say how many poles it has"
    upper, degree = [int(v) for v in sizes[:ways]], [int(v) for v in sizes[ways:]]
    poles = 1
    for k in upper:
        poles *= k + 1
    knots = sum(k + m + 2 for k, m in zip(upper, degree, strict=True))
    start = 6 if ways == 1 else 9
    numbers = values[start : start + knots + 4 * poles + 2 * ways]
    if len(numbers) < knots + 4 * poles + 2 * ways:
        return "has fewer values than its poles and knots need"
    bad = next((v for v in numbers if not _NUMBER.match(v)), None)
    if bad is not None:
        return f"needs a number where it has “{bad[:20]}”"
    at = start
    for k, m in zip(upper, degree, strict=True):
        row = [float(v.upper().replace("D", "E")) for v in values[at : at + k + m + 2]]
        at += k + m + 2
        if any(b < a for a, b in pairwise(row)):
            return "has knots that fall"
    return None

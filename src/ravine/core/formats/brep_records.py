"""What is broken in a B-rep text, found before the kernel reads it: on some damage its reader never ends.

The records of shapes, behind `TShapes`, each end in a star; those of edges list curves by their numbers in the tables
above them.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

_NUMBER = re.compile(rb"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?\Z")
_JOINED = re.compile(rb"(\d)([CG][0-3N])\b")  # written without a space between
_TABLES = (b"Locations", b"Curve2ds", b"Curves", b"Polygon3D", b"PolygonOnTriangulations", b"Surfaces",
           b"Triangulations")  # fmt: skip
_KINDS = {b"Ve", b"Ed", b"Wi", b"Fa", b"Sh", b"So", b"CS", b"Co"}
ENDLESS = 1e100  # a parameter without end is told as twice this
LARGEST_PARAMETER = 1e12

# what follows the number of a curve's representation (0 ends them): c curve, p curve in a surface, s surface, l place,
# k continuity, o polygon, t triangulation, q polygon on one, n number
_EDGE = {
    b"1": "clnn", b"2": "pslnn", b"3": "ppkslnn", b"4": "kslsl", b"5": "ol", b"6": "qtl", b"7": "qqtl",
}  # fmt: skip
_TABLE_OF = {"c": b"Curves", "p": b"Curve2ds", "s": b"Surfaces", "l": b"Locations", "o": b"Polygon3D",
             "t": b"Triangulations", "q": b"PolygonOnTriangulations"}  # fmt: skip
_CONTINUITY = {b"C0", b"C1", b"C2", b"C3", b"CN", b"G1", b"G2"}


def damage_of(data: bytes) -> str | None:
    """Words for the first thing that is broken, None where nothing was found.  data: the whole file."""
    return next(_faults(data), None)


def _faults(data: bytes) -> Iterator[str]:
    head, _, shapes = data.rpartition(b"TShapes ")
    told = shapes.split(None, 1)[0] if head and shapes.strip() else b""
    if not told.isdigit():
        yield "it stops before its shapes; it was cut short"
        return
    held = shapes.count(b"*")
    if int(told) != held or not re.search(rb"\*\s*[+-]\d+ \d+\s*$", shapes):
        yield f"it announces {int(told):,} shapes and has {held:,}; it was cut short"
        return
    counts = {}
    for name in _TABLES:
        found = re.search(rb"^" + name + rb" (\d+)\s*$", head, re.MULTILINE)
        if found is None:
            yield f"it has no table of {name.decode()}"
            return
        counts[name] = int(found[1])
    body = head[head.index(b"Locations") :]
    for token in body.split():
        if token not in _TABLES and not _NUMBER.match(token):
            yield f"its tables hold “{token[:20].decode('latin-1')}”, which is no number"
            return
        if token[:1] not in b"LCPST" and abs(float(token)) > 2 * ENDLESS:
            yield f"its tables hold {token[:20].decode()}, which is no size of anything"
            return
    try:
        for name in _GEOMETRY:
            _walk_table(body, name, counts[name])
    except (ValueError, IndexError, KeyError):
        yield f"its table of {name.decode()} does not hold what it announces"
        return
    double = b"CASCADE Topology V2" in head  # the one version that tells the ends of an edge in its surface as well
    for number, record in enumerate(shapes.split(None, 1)[1].split(b"*")[:-1], 1):
        tokens = _JOINED.sub(rb"\1 \2", record).split()
        if (why := _wrong(tokens, counts, held, double)) is not None:
            yield f"its shape {number} {why}"
            return


def _wrong(tokens: list[bytes], counts: dict[bytes, int], held: int, double: bool) -> str | None:
    if not tokens or tokens[0] not in _KINDS:
        return "is of no kind that is known"
    if tokens[0] == b"Ve" and not _vertex_ends(tokens):
        return "stops within a corner"
    if tokens[0] in (b"Ve", b"Fa"):
        return next((f"holds “{t[:20].decode('latin-1')}”, which is no number" for t in tokens[1:]
                     if t not in _CONTINUITY and not _NUMBER.match(t)), None)  # fmt: skip
    at = 1
    if tokens[0] == b"Ed":
        found = _end_of_edge(tokens, counts, double)
        if isinstance(found, str):
            return found
        at = found
    flags, uses = tokens[at : at + 1], tokens[at + 1 :]
    if not flags or not re.fullmatch(rb"[01]{7}", flags[0]) or len(uses) % 2:
        return "does not tell its state"
    for use, place in zip(uses[::2], uses[1::2], strict=True):
        if not re.fullmatch(rb"[-+ie]\d+", use) or not 0 < int(use[1:]) <= held:
            return f"is made of “{use[:20].decode('latin-1')}”, which is no shape of this file"
        if not place.isdigit() or int(place) > counts[b"Locations"]:
            return f"has a part that is placed by “{place[:20].decode('latin-1')}”, which is none of its places"
    return None


def _end_of_edge(tokens: list[bytes], counts: dict[bytes, int], double: bool) -> int | str:
    """Where the curves of an edge end, or why they cannot be read."""
    at = 5
    if len(tokens) < 6 or not _NUMBER.match(tokens[1]) or any(t not in (b"0", b"1") for t in tokens[2:5]):
        return "does not begin as an edge"
    while at < len(tokens) and tokens[at] != b"0":
        kinds = _EDGE.get(tokens[at])
        if kinds is None:
            return f"has a curve of the kind “{tokens[at][:20].decode('latin-1')}”"
        if double and tokens[at] in (b"2", b"3"):
            kinds += "nnnn"
        values = tokens[at + 1 : at + 1 + len(kinds)]
        if len(values) < len(kinds):
            return "stops within a curve"
        for value, kind in zip(values, kinds, strict=True):
            if kind == "k":
                right = value in _CONTINUITY
            elif kind == "n":
                right = bool(_NUMBER.match(value)) and not LARGEST_PARAMETER < abs(float(value)) != 2 * ENDLESS
            else:
                right = value.isdigit() and len(value) < 12 and int(value) <= counts[_TABLE_OF[kind]]
            if not right:
                return f"has “{value[:20].decode('latin-1')}” within a curve"
        at += 1 + len(kinds)
    return at + 1


def _vertex_ends(tokens: list[bytes]) -> bool:
    """Tolerance and place, then where it lies on curves and surfaces: a parameter, a kind, what it lies on, the place;
    none of kind 0 ends them."""
    at = 5
    while at + 1 < len(tokens) and tokens[at + 1] != b"0":
        more = {b"1": 2, b"2": 3, b"3": 3}.get(tokens[at + 1])
        if more is None:
            return False
        at += 2 + more
    return at + 4 == len(tokens) or at + 3 == len(tokens)


# records of the tables: how many numbers follow the kind, or what reads on
_GEOMETRY: dict[bytes, dict[int, int | str]] = {
    b"Curve2ds": {1: 4, 2: 7, 3: 8, 4: 7, 5: 8, 6: "bezier 2", 7: "spline 2", 8: "+2", 9: "+1"},
    b"Curves": {1: 6, 2: 13, 3: 14, 4: 13, 5: 14, 6: "bezier 3", 7: "spline 3", 8: "+2", 9: "+4"},
    b"Surfaces": {1: 12, 2: 13, 3: 14, 4: 13, 5: 14, 6: "+3 curve", 7: "+6 curve", 8: "bezier net", 9: "spline net",
                  10: "+4", 11: "+1"},
}  # fmt: skip


def _walk_table(body: bytes, name: bytes, count: int) -> None:
    """ValueError, IndexError or KeyError where a table has other than what it announces."""
    start = re.search(rb"^" + name + rb" \d+\s*$", body, re.MULTILINE)
    if start is None:
        raise ValueError("no such table")
    rest = body[start.end() :]
    end = re.search(rb"^[A-Z]", rest, re.MULTILINE)
    tokens, at = rest[: end.start() if end else None].split(), 0
    for _ in range(count):
        at = _walk_record(tokens, at, name)
    if at != len(tokens):
        raise ValueError("more than announced")


def _walk_record(tokens: list[bytes], at: int, name: bytes) -> int:
    """Where the record that begins there ends."""
    rule = _GEOMETRY[name][int(tokens[at])]
    at += 1
    if isinstance(rule, int):
        return at + rule
    if rule[0] == "+":
        head, _, other = rule.partition(" ")
        return _walk_record(tokens, at + int(head[1:]), b"Curves" if other else name)
    spline, kind = rule.startswith("spline"), rule.split()[1]
    ways = 2 if kind == "net" else 1
    rational = any(t == b"1" for t in tokens[at : at + ways])
    at += ways * (2 if spline else 1)
    degrees = [int(t) for t in tokens[at : at + ways]]
    at += ways
    poles, knots = [d + 1 for d in degrees], 0
    if spline:
        poles = [int(t) for t in tokens[at : at + ways]]
        knots = sum(int(t) for t in tokens[at + ways : at + 2 * ways])
        at += 2 * ways
    each = (3 if kind == "net" else int(kind)) + rational
    total = poles[0] * poles[-1] if ways == 2 else poles[0]
    return at + total * each + 2 * knots

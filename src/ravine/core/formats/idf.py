"""IDF 2.0 and 3.0 (Intermediate Data Format for printed circuit boards): board and library.

Written from the public format.  Board and library are two files; brought in together they are read one after the
other, so this reader takes both texts in one file.  The board becomes a plate with its holes, every placed component
a body of its outline and height on its side of the board, with reference and part number.
"""

from __future__ import annotations

import math
import os
import shlex
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

from ..errors import EditError, FormatError
from ..kernel import build
from ..kernel.exchange import ReadNode, ReadPart
from ..kernel.failures import KERNEL_FAILURES
from ..kernel.shapes import Shape
from ..rigid import IDENTITY, Rigid
from .reading import Imported, Progress, ReadOptions

Vec = tuple[float, float, float]
NO_AREA: tuple[type[Exception], ...] = (EditError, *KERNEL_FAILURES)
UNITS = {"MM": 1.0, "THOU": 0.0254, "TNM": 1e-5}
MOST_ROWS = 400_000
THICKNESS = 1.6  # mm, where the file gives none


@dataclass
class Outline:
    """Loops of (x, y, angle): mm and degrees; the first is the outer one.  height: mm."""

    loops: list[list[tuple[float, float, float]]] = field(default_factory=list)
    height: float = 0.0


@dataclass(frozen=True)
class Placed:
    """angle: degrees; offset: mm above the board's surface."""

    package: str
    number: str
    reference: str
    x: float
    y: float
    offset: float
    angle: float
    bottom: bool


@dataclass
class _Read:
    name: str = ""
    unit: float = 1.0
    board: Outline | None = None
    holes: list[tuple[float, float, float]] = field(default_factory=list)
    placed: list[Placed] = field(default_factory=list)
    packages: dict[tuple[str, str], Outline] = field(default_factory=dict)
    skipped: dict[str, int] = field(default_factory=dict)


def read(path: str, options: ReadOptions, progress: Progress) -> Imported:
    """Raises FormatError naming the line."""
    with open(path, "rb") as file:
        raw = file.read()
    try:
        text = raw.decode("utf-8")
    except UnicodeDecodeError:
        text = raw.decode("latin-1")
    progress(0.1, "reading the board")
    found = _sections(text)
    if found.board is None or not found.board.loops:
        if found.packages:
            raise FormatError("this is an IDF library without its board; bring in the board file together with it",
                              field="path")  # fmt: skip
        raise FormatError("the IDF file has no board outline", field="path")
    return _built(found, os.path.splitext(os.path.basename(path))[0], progress)


def _rows(text: str) -> Iterator[tuple[int, list[str]]]:
    for number, line in enumerate(text.splitlines(), 1):
        if number > MOST_ROWS:
            raise FormatError(f"the IDF file has more than {MOST_ROWS:,} lines")
        line = line.strip()
        if not line or line.startswith("#"):
            continue
        try:
            yield number, shlex.split(line)
        except ValueError as error:
            raise FormatError(f"line {number} of the IDF file has an open quote") from error


def _number(words: Sequence[str], at: int, line: int) -> float:
    try:
        value = float(words[at])
    except (IndexError, ValueError) as error:
        raise FormatError(f"line {line} of the IDF file should have a number in place {at + 1}") from error
    if not math.isfinite(value):
        raise FormatError(f"line {line} of the IDF file has a number that is not finite")
    return value


def _sections(text: str) -> _Read:
    found = _Read()
    section, version = "", 3.0
    body: list[tuple[int, list[str]]] = []
    for number, words in _rows(text):
        mark = words[0].upper()
        if section and mark == f".END_{section}":
            if section == "HEADER":
                version = _header(found, body)
            else:
                _take(found, section, body, version)
            section, body = "", []
        elif not section and mark.startswith("."):
            section, body = mark[1:], []
            if len(words) > 1:  # the owner, as in `.BOARD_OUTLINE MCAD`
                body.append((number, [f"@{words[1]}"]))
        elif section:
            body.append((number, words))
        else:
            raise FormatError(f"line {number} of the IDF file stands outside every section")
    if section:
        raise FormatError(f"the IDF file stops inside its section .{section}; it was cut short")
    return found


def _header(found: _Read, body: list[tuple[int, list[str]]]) -> float:
    if len(body) < 1:
        raise FormatError("the IDF file has an empty header")
    number, words = body[0]
    version = _number(words, 1, number)
    if version not in (2.0, 3.0):
        raise FormatError(f"the IDF file is of version {version:g}; 2.0 and 3.0 are read")
    if len(body) > 1 and "LIBRARY" not in words[0].upper():
        name, unit = body[1][1][0], (body[1][1] + [""])[1].upper()
        if unit not in UNITS:
            raise FormatError(f"line {body[1][0]} of the IDF file should name the unit MM or THOU, not “{unit[:12]}”")
        found.name, found.unit = name, UNITS[unit]
    return version


def _loops(rows: Sequence[tuple[int, list[str]]], unit: float) -> list[list[tuple[float, float, float]]]:
    loops: dict[int, list[tuple[float, float, float]]] = {}
    for number, words in rows:
        label = int(_number(words, 0, number))
        x, y, angle = (_number(words, k, number) for k in (1, 2, 3))
        loops.setdefault(label, []).append((x * unit, y * unit, angle))
    return list(loops.values())


def _take(found: _Read, section: str, body: list[tuple[int, list[str]]], version: float) -> None:
    rows = [(n, w) for n, w in body if not w[0].startswith("@")]
    if section in ("BOARD_OUTLINE", "PANEL_OUTLINE"):
        thick = _number(rows[0][1], 0, rows[0][0]) * found.unit if rows and len(rows[0][1]) == 1 else THICKNESS
        loops = _loops(rows[1:] if rows and len(rows[0][1]) == 1 else rows, found.unit)
        found.board = Outline(loops, thick or THICKNESS)
    elif section == "DRILLED_HOLES":
        for number, words in rows:
            across, x, y = (_number(words, k, number) * found.unit for k in range(3))
            found.holes.append((across, x, y))
    elif section == "PLACEMENT":
        for (_, names), (n, at) in zip(rows[::2], rows[1::2], strict=False):
            if len(names) < 3:
                raise FormatError(f"line {n - 1} of the IDF file should name package, part number and reference")
            late = version >= 3
            side = (at + [""] * 6)[4 if late else 3].upper()
            offset = _number(at, 2, n) * found.unit if late else 0.0
            found.placed.append(
                Placed(names[0], names[1], names[2], _number(at, 0, n) * found.unit, _number(at, 1, n) * found.unit,
                       offset, _number(at, 3 if late else 2, n), side == "BOTTOM")
            )  # fmt: skip
        if len(rows) % 2:
            raise FormatError("the IDF file's placement ends in the middle of a component; it was cut short")
    elif section in ("ELECTRICAL", "MECHANICAL"):
        n, words = rows[0] if rows else (0, [])
        if len(words) < 4 or words[2].upper() not in UNITS:
            raise FormatError(f"line {n} of the IDF library should give package, part number, unit and height")
        unit = UNITS[words[2].upper()]
        lines = [r for r in rows[1:] if r[1][0].lstrip("-").isdigit()]  # PROP lines carry electrical data
        found.packages[(words[0], words[1])] = Outline(_loops(lines, unit), _number(words, 3, n) * unit)
    else:
        found.skipped[section] = found.skipped.get(section, 0) + 1


def _face(loop: Sequence[tuple[float, float, float]], reach: float) -> Shape:
    """A plane face at height 0.  An angle bulges the edge from the point before; 360 is a full circle about it."""
    if len(loop) == 2 and abs(loop[1][2]) >= 359.999:
        (x, y, _), (px, py, _) = loop
        return build.cylinder(math.hypot(px - x, py - y), reach, (x, y, 0))
    points = [(x, y, 0.0) for x, y, _ in loop]
    angles = [angle for _, _, angle in loop[1:]]
    if len(points) > 1 and math.dist(points[0], points[-1]) < 1e-6:
        points.pop()
    else:
        angles.append(0.0)
    if len(points) < 2:
        raise FormatError("an outline in the IDF file has less than two points")
    bulges = [_through(a, b, angle) for a, b, angle in zip(points, [*points[1:], points[0]], angles, strict=True)]
    return build.extrude(build.outline(points, bulges), (0, 0, reach))


def _through(a: Vec, b: Vec, angle: float) -> Vec | None:
    """The middle of the arc from a to b over `angle` degrees, counterclockwise where positive."""
    if abs(angle) < 1e-9:
        return None
    half = math.radians(angle) / 4
    dx, dy = b[0] - a[0], b[1] - a[1]
    lift = math.tan(half) / 2  # of the chord's length; to the right of the way for a counterclockwise arc
    return ((a[0] + b[0]) / 2 + lift * dy, (a[1] + b[1]) / 2 - lift * dx, 0.0)


def _built(found: _Read, stem: str, progress: Progress) -> Imported:
    assert found.board is not None
    thick = found.board.height
    warnings = [f"{count} section{'s' if count > 1 else ''} .{name} not read" for name, count in found.skipped.items()]
    try:
        plate = _face(found.board.loops[0], thick)
        tools = [build.moved(_face(loop, thick + 2), _lift(-1.0)) for loop in found.board.loops[1:]]
        tools += [build.cylinder(d / 2, thick + 2, (x, y, -1)) for d, x, y in found.holes if d > 1e-6]
        progress(0.3, f"cutting {len(tools)} openings")
        plate = build.subtract(plate, *tools) if tools else plate
    except NO_AREA as error:
        raise FormatError("the outline of the IDF board is no closed area") from error
    name = found.name or stem
    parts: list[ReadPart | tuple] = [ReadPart("Board", plate, "#3f6b4a")]
    known: dict[tuple[str, str], int] = {}
    leaves = [ReadNode("Board", IDENTITY, 0)]
    lacking: dict[str, int] = {}
    for number, item in enumerate(found.placed):
        key = (item.package, item.number)
        outline = found.packages.get(key) or next((o for k, o in found.packages.items() if k[0] == item.package), None)
        if outline is None or not outline.loops:
            lacking[item.package] = lacking.get(item.package, 0) + 1
            continue
        if key not in known:
            progress(0.4 + 0.5 * number / len(found.placed), f"component {item.reference}")
            try:
                shape = _face(outline.loops[0], max(outline.height, 0.01))
            except NO_AREA as error:
                raise FormatError(f"the outline of {item.package} in the IDF library is no closed area") from error
            known[key] = len(parts)
            parts.append(ReadPart(item.package, shape, "#4a4f55"))
        attributes = {"reference": item.reference, "part number": item.number, "package": item.package}
        leaves.append(ReadNode(f"{item.reference} {item.package}", _place(item, thick), known[key],
                               attributes=attributes))  # fmt: skip
    if lacking:
        count = sum(lacking.values())
        warnings.append(
            f"{count} component{'s' if count > 1 else ''} left out: no outline for {', '.join(list(lacking)[:3])}"
            + ("" if found.packages else "; bring in the library file together with the board")
        )
    return Imported([ReadNode(name, IDENTITY, None, leaves)], parts, warnings)


def _lift(height: float) -> Rigid:
    return Rigid.slide((0.0, 0.0, height))


def _place(item: Placed, thick: float) -> Rigid:
    """On the top as seen from above; below, turned over about the y axis first."""
    c, s = math.cos(math.radians(item.angle)), math.sin(math.radians(item.angle))
    if not item.bottom:
        return Rigid((c, -s, 0, item.x, s, c, 0, item.y, 0, 0, 1, thick + item.offset))
    return Rigid((-c, -s, 0, item.x, -s, c, 0, item.y, 0, 0, -1, -item.offset))

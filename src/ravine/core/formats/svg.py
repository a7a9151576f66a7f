"""SVG drawings, in and out.  Reading goes through svgelements: shapes, paths, units and transforms."""

from __future__ import annotations

import math
import re
from collections import Counter
from collections.abc import Sequence
from typing import Any

import numpy as np
import svgelements as svg
from lxml import etree

from ..errors import FormatError
from ..sketch.loops import followed
from ..sketch.plane_curves import PlaneCurve
from ..sketch.strokes import Stroke, bezier_stroke, beziers
from .reading import Budget, Drawing, Imported, Progress, ReadOptions, drawing_from

PIXEL = 25.4 / 96  # mm, CSS
METRIC = 1 / (96 * 0.0393701)  # the same where the page is metric: svgelements rounds the inch so
LARGEST = 50 << 20
MOST_LETTERS = 2 << 20  # of all paths
MOST_STYLE = 64 << 10  # letters of style sheets
MOST_UNFOLDED = 30_000  # elements
DEEPEST = 100
Point2 = tuple[float, float]


def read(path: str, options: ReadOptions, progress: Progress) -> Imported:
    """All stroked and filled outlines; y points up.  Raises FormatError."""
    progress(0.1, "reading the drawing")
    with open(path, "rb") as file:
        data = file.read(LARGEST + 1)
    if len(data) > LARGEST:
        raise FormatError("the SVG file is larger than 50 MB")
    if b"<!ENTITY" in data:
        raise FormatError("the SVG file declares entities, which are not read; save it as plain SVG")
    _check_size(data)
    strokes, left = _collected(path)
    warnings = [f"{count} × {kind} left out: it is no curve" for kind, count in sorted(left.items())]
    return drawing_from(strokes, warnings)


def _check_size(data: bytes) -> None:
    """What the file unfolds to, before it is unfolded: elements with all that refers to them, depth, letters of paths
    and of style sheets."""
    parser = etree.XMLParser(resolve_entities=False, no_network=True, huge_tree=True, recover=True)
    root = etree.fromstring(data, parser)
    if root is None:
        raise FormatError("the SVG file is no whole XML; it was cut short or is damaged", field="path")
    named: dict[str, Any] = {}
    letters = style = 0
    every = list(root.iter())  # held, so that each stays one and the same object
    for element in every:
        if not isinstance(element.tag, str):
            continue
        if element.get("id"):
            named.setdefault(element.get("id"), element)
        letters += len(element.get("d", "")) + len(element.get("points", ""))
        style += len(element.text or "") if element.tag.endswith("style") else 0
    if letters > MOST_LETTERS or style > MOST_STYLE:
        raise FormatError(
            f"the SVG file has {letters >> 10:,} kB of paths and {style >> 10:,} kB of style sheets; up to "
            f"{MOST_LETTERS >> 10:,} and {MOST_STYLE >> 10} are read", field="path",
        )  # fmt: skip
    unfolded: dict[Any, int] = {}

    def count(element: Any, depth: int) -> int:
        if depth > DEEPEST:
            raise FormatError(f"the SVG file nests its elements more than {DEEPEST} deep", field="path")
        if element not in unfolded:
            unfolded[element] = 1  # what refers to itself ends here
            link = element.get("{http://www.w3.org/1999/xlink}href") or element.get("href") or ""
            found = 1 + sum(count(child, depth + 1) for child in element if isinstance(child.tag, str))
            if element.tag.endswith("use") and link.startswith("#") and link[1:] in named:
                found += count(named[link[1:]], depth + 1)
            unfolded[element] = min(found, 10**9)
        return unfolded[element]

    Budget("SVG file", MOST_UNFOLDED).spend(count(root, 0))


def _collected(path: str) -> tuple[list[Stroke], Counter[str]]:
    """Damaged files make svgelements stumble in many ways: see the errors caught around this."""
    document = svg.SVG.parse(path, reify=True, ppi=96.0)
    strokes: list[Stroke] = []
    left: Counter[str] = Counter()
    metric = re.search(r"(mm|cm)\s*$", str(document.values.get("width", "")))
    scale = METRIC if metric else PIXEL
    for element in document.elements():
        if isinstance(element, svg.Shape):
            strokes += [s.scaled(scale) for s in _strokes(element)]
        elif isinstance(element, (svg.Text, svg.Image)):
            left[type(element).__name__.lower()] += 1
    return strokes, left


def _flat(point: Any) -> Point2:
    return (float(point.x), -float(point.y))


def _strokes(shape: Any) -> list[Stroke]:
    path = abs(svg.Path(shape))  # with its transform
    if isinstance(shape, (svg.Circle, svg.Ellipse)):
        arc = next((p for p in path if isinstance(p, svg.Arc)), None)
        if arc is None:
            return []
        middle, tip, side = _flat(arc.center), _flat(arc.prx), _flat(arc.pry)
        x, y = math.dist(middle, tip), math.dist(middle, side)
        if abs(x - y) < 1e-6 * x:
            return [Stroke("circle", (middle,), x)]
        return [Stroke("ellipse", (middle, tip), y)]
    return [s for piece in path if (s := _stroke(piece)) is not None]


def _stroke(piece: Any) -> Stroke | None:
    if isinstance(piece, svg.Move) or piece.start is None or piece.end is None:
        return None
    if isinstance(piece, (svg.Line, svg.Close)):
        return Stroke("line", (_flat(piece.start), _flat(piece.end)))
    if isinstance(piece, svg.Arc) and abs(piece.rx - piece.ry) < 1e-6 * abs(piece.rx):
        ends = (_flat(piece.start), _flat(piece.end))
        return Stroke("arc", (_flat(piece.center), *(ends if piece.sweep < 0 else ends[::-1])))  # y is turned over
    if isinstance(piece, svg.CubicBezier):
        return bezier_stroke(np.array([_flat(p) for p in (piece.start, piece.control1, piece.control2, piece.end)]))
    if isinstance(piece, svg.QuadraticBezier):
        a, c, b = (np.array(_flat(p)) for p in (piece.start, piece.control, piece.end))
        return bezier_stroke(np.array([a, a + 2 / 3 * (c - a), b + 2 / 3 * (c - b), b]))
    return _part_of_ellipse(piece)


def _part_of_ellipse(arc: Any) -> Stroke:
    middle, tip = np.array(_flat(arc.center)), np.array(_flat(arc.prx))
    x = tip - middle
    long = float(np.hypot(*x))
    y = np.array([-x[1], x[0]]) / long
    short = math.dist(_flat(arc.center), _flat(arc.pry))

    def angle(place: Any) -> float:
        gap = np.array(_flat(place)) - middle
        return math.atan2(float(gap @ y) / short, float(gap @ x) / long**2 * long)

    first, last = angle(arc.start), angle(arc.end)
    if arc.sweep > 0:  # clockwise once y points up
        first, last = last, first
    last = first + ((last - first) % math.tau or math.tau)
    return Stroke("ellipse", (_flat(arc.center), _flat(arc.prx)), short, (first, last))


def head_of(drawing: Sequence[PlaneCurve]) -> str:
    """The opening of a file in mm that shows all of them."""
    boxes = np.array([c.box for c in drawing])
    low, high = boxes[:, :2].min(axis=0) - 1, boxes[:, 2:].max(axis=0) + 1
    wide, tall = (high - low).tolist()
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.6f}mm" height="{tall:.6f}mm" '
        f'viewBox="{low[0]:.6f} {-high[1]:.6f} {wide:.6f} {tall:.6f}" fill="none" stroke="#000" stroke-width="0.2">'
    )


def write(drawing: Drawing) -> bytes:
    """In mm, one path a curve; splines exactly, as cubic Bézier curves."""
    rows = [f'<path d="{path_of(curve)}"/>' for curve in drawing]
    return "\n".join([head_of(drawing), *rows, "</svg>", ""]).encode()


def path_of(curve: PlaneCurve) -> str:
    start = curve.at(np.array([curve.first]))[0]
    return f"M{_pair(start)}{_drawn(curve, False)}" + ("Z" if curve.closed and curve.kind != "spline" else "")


def loop_path(loop: Sequence[PlaneCurve]) -> str:
    """Curves that follow one another, as one closed path."""
    first, against = followed(loop)[0]
    start = first.at(np.array([first.last if against else first.first]))[0]
    return f"M{_pair(start)}" + "".join(_drawn(c, back) for c, back in followed(loop)) + "Z"


def curve_path(curve: PlaneCurve) -> str:
    """One curve as an open path."""
    return f"M{_pair(curve.at(np.array([curve.first]))[0])}{_drawn(curve, against=False)}"


def _pair(place: Any) -> str:
    return f"{float(place[0]):.9g} {-float(place[1]):.9g}"


def _drawn(curve: PlaneCurve, against: bool) -> str:
    """From where the pen stands."""
    if curve.kind == "line":
        return f"L{_pair(curve.at(np.array([0.0 if against else 1.0]))[0])}"
    if curve.kind == "spline":
        rows = [r[::-1] for r in beziers(curve)[::-1]] if against else beziers(curve)
        return "".join(f"C{_pair(r[1])} {_pair(r[2])} {_pair(r[3])}" for r in rows)
    steps = max(1, math.ceil((curve.last - curve.first) / (2 * math.pi / 3) - 1e-9))  # arcs well below half a turn
    places = curve.at(np.linspace(curve.first, curve.last, steps + 1))
    places = places[::-1] if against else places
    lean = -math.degrees(math.atan2(float(curve.x[1]), float(curve.x[0])))
    arc = f"{np.hypot(*curve.x):.9g} {np.hypot(*curve.y):.9g} {lean:.9g} 0 {int(against)}"
    return "".join(f"A{arc} {_pair(p)}" for p in places[1:])

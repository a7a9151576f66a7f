"""Sheets as SVG, PDF (ISO 32000) and DXF, all from the same ink."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import groupby
from typing import Any
from xml.sax.saxutils import escape, quoteattr

import ezdxf
import numpy as np
from ezdxf.enums import TextEntityAlignment

from ..formats.dxf import add_curve, bytes_of
from ..formats.pdf import Document
from ..formats.svg import path_of
from ..sketch.plane_curves import PlaneCurve
from ..sketch.strokes import beziers
from .ink import CAP, GROUPS, LAYERS, Fill, Letters, Mark, Stroke
from .paper import Paper

FONT = "DejaVu Sans"


@dataclass(frozen=True, eq=False)
class InkedSheet:
    """A sheet as it is drawn.  dimensions: what DXF writes as a dimension of its own, by item."""

    name: str
    paper: Paper
    group: str
    marks: tuple[Mark, ...]
    dimensions: Mapping[int, Any]


def width_of_line(sheet: InkedSheet, stroke: Stroke) -> float:
    return GROUPS[sheet.group][0 if stroke.is_wide else 1]


def dash_of(sheet: InkedSheet, stroke: Stroke) -> tuple[float, ...]:
    width = width_of_line(sheet, stroke)
    return tuple(round(width * d, 4) for d in LAYERS[stroke.layer].dash)


def _by_layer(sheet: InkedSheet) -> list[tuple[str, list[Mark]]]:
    order = list(LAYERS)
    rows = sorted(sheet.marks, key=lambda m: order.index(m.layer))
    return [(name, list(found)) for name, found in groupby(rows, key=lambda m: m.layer)]


# --- SVG ----------------------------------------------------------------------------------------------------


def svg_of(sheet: InkedSheet) -> bytes:
    wide, high = sheet.paper.wide, sheet.paper.high
    rows = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:g}mm" height="{high:g}mm" viewBox="0 {-high:g} {wide:g} '
        f'{high:g}" fill="none" stroke="#000" stroke-linecap="round" stroke-linejoin="round">',
        f"<title>{escape(sheet.name)}</title>",
    ]
    for name, marks in _by_layer(sheet):
        rows.append(f"<g id={quoteattr(name.replace(' ', '-'))}>")
        rows += [svg_mark(sheet, m) for m in marks]
        rows.append("</g>")
    return "\n".join([*rows, "</svg>", ""]).encode()


def svg_mark(sheet: InkedSheet, mark: Mark) -> str:
    """y down, so that places are those of the sheet with y turned over."""
    if isinstance(mark, Stroke):
        dash = dash_of(sheet, mark)
        dashes = f' stroke-dasharray="{" ".join(f"{d:g}" for d in dash)}" stroke-linecap="butt"' if dash else ""
        return f'<path d="{path_of(mark.curve)}" stroke-width="{width_of_line(sheet, mark):g}"{dashes}/>'
    if isinstance(mark, Fill):
        places = " ".join(f"{x:.4f},{-y:.4f}" for x, y in mark.places.tolist())
        return f'<polygon points="{places}" fill="#000" stroke="none"/>'
    anchor = {"left": "start", "middle": "middle", "right": "end"}[mark.align]
    x, y = mark.at
    turn = f' transform="rotate({-math.degrees(mark.lean):.6g} {x:.4f} {-y:.4f})"' if mark.lean else ""
    weight = ' font-weight="bold"' if mark.bold else ""
    return (
        f'<text x="{x:.4f}" y="{-y:.4f}" font-family="{FONT}, sans-serif" font-size="{mark.height / CAP:.4f}" '
        f'text-anchor="{anchor}" fill="#000" stroke="none"{weight}{turn}>{escape(mark.text)}</text>'
    )


# --- PDF ----------------------------------------------------------------------------------------------------


def pdf_of(sheets: Sequence[InkedSheet], title: str, facts: Mapping[str, str] | None = None) -> bytes:
    """One page a sheet at its true size, each with a bookmark; layers by their names."""
    first = sheets[0].paper
    document = Document(title, first.wide, first.high, facts)
    for sheet in sheets:
        pdf_page(document, sheet)
    return document.written()


def pdf_page(document: Document, sheet: InkedSheet) -> None:
    """One more page, at its true size."""
    document.page(sheet.paper.wide, sheet.paper.high, sheet.name)
    for name, marks in _by_layer(sheet):
        with document.layer(name):
            _pdf_layer(document, sheet, marks)


def _pdf_layer(document: Document, sheet: InkedSheet, marks: Sequence[Mark]) -> None:
    high = sheet.paper.high
    strokes = [m for m in marks if isinstance(m, Stroke)]
    for (width, dash), rows in groupby(
        sorted(strokes, key=lambda s: (width_of_line(sheet, s), dash_of(sheet, s))),
        key=lambda s: (width_of_line(sheet, s), dash_of(sheet, s)),
    ):
        document.strokes([_pdf_path(s.curve, high) for s in rows], width, dash)
    for mark in marks:
        if isinstance(mark, Fill):
            document.fill([(x, high - y) for x, y in mark.places.tolist()])
        elif isinstance(mark, Letters):
            x, y = mark.at
            font = "bold" if mark.bold else "plain"
            document.text(x, high - y, mark.text, mark.height / CAP, font, mark.align, mark.lean)


def _pdf_path(curve: PlaneCurve, high: float) -> list[list[float]]:
    """Rounds as cubic Bézier curves of at most a quarter turn each: off by 2.7e-4 of the radius."""
    if curve.kind == "line":
        rows = [[float(x), high - float(y)] for x, y in curve.at(np.array([0.0, 1.0]))]
        return rows
    if curve.kind == "spline":
        pieces = beziers(curve)
    else:
        count = max(1, math.ceil((curve.last - curve.first) / (math.pi / 4) - 1e-9))
        turns = np.linspace(curve.first, curve.last, count + 1)
        k = 4 / 3 * math.tan((turns[1] - turns[0]) / 4)
        at, slope = curve.at(turns), curve.slope(turns)
        pieces = [
            np.array([at[i], at[i] + k * slope[i], at[i + 1] - k * slope[i + 1], at[i + 1]]) for i in range(count)
        ]
    start = pieces[0][0]
    rows = [[float(start[0]), high - float(start[1])]]
    for piece in pieces:
        rows.append([v for x, y in piece[1:].tolist() for v in (x, high - y)])
    return rows


# --- DXF ----------------------------------------------------------------------------------------------------


def dxf_of(sheet: InkedSheet) -> bytes:
    """R2010, mm of paper; layers with their widths; dimensions as such."""
    document = ezdxf.new("R2010", units=4)
    document.styles.add("SHEET", font="DejaVuSans.ttf")
    for name, style in LAYERS.items():
        width = GROUPS[sheet.group][0 if style.wide else 1]
        line = "CONTINUOUS"
        if style.dash:
            line = name.upper().replace(" ", "_")
            pattern = [width * d * (1 if k % 2 == 0 else -1) for k, d in enumerate(style.dash)]
            document.linetypes.add(line, [sum(map(abs, pattern)), *pattern], description=name)
        document.layers.add(name, color=style.colour, lineweight=round(100 * width), linetype=line)
    _dimension_style(document)
    space = document.modelspace()
    known: set[int] = set()
    for mark in sheet.marks:
        if mark.item in sheet.dimensions:
            if mark.item not in known:
                known.add(mark.item)
                sheet.dimensions[mark.item](space)
            continue
        _dxf_mark(space, sheet, mark)
    for size in space.query("DIMENSION"):  # its lines have the width and colour of its layer in every program
        for entity in document.blocks[size.dxf.geometry].query("*[layer=='0']"):
            entity.dxf.layer = size.dxf.layer
    return bytes_of(document)


def _dxf_mark(space: Any, sheet: InkedSheet, mark: Mark) -> None:
    if isinstance(mark, Stroke):
        before = len(space)
        add_curve(space, mark.curve, mark.layer)
        if mark.wide is not None:
            for entity in space[before:]:
                entity.dxf.lineweight = round(100 * width_of_line(sheet, mark))
    elif isinstance(mark, Fill):
        hatch = space.add_hatch(color=256, dxfattribs={"layer": mark.layer})
        hatch.paths.add_polyline_path(mark.places.tolist(), is_closed=True)
    else:
        align = {"left": TextEntityAlignment.LEFT, "middle": TextEntityAlignment.CENTER,
                 "right": TextEntityAlignment.RIGHT}[mark.align]  # fmt: skip
        style = {"layer": mark.layer, "style": "SHEET", "rotation": math.degrees(mark.lean)}
        space.add_text(mark.text, height=mark.height, dxfattribs=style).set_placement(mark.at, align=align)


def _dimension_style(document: Any) -> None:
    """ISO 129-1 at letters of 3.5 mm."""
    style = document.dimstyles.new("ISO129")
    style.dxf.update({
        "dimtxt": 3.5, "dimasz": 3.0, "dimexe": 2.0, "dimexo": 0.0, "dimgap": 0.9, "dimtad": 1, "dimtih": 0,
        "dimtoh": 0, "dimdec": 3, "dimzin": 8, "dimdsep": ord("."), "dimscale": 1.0, "dimtxsty": "SHEET",
        "dimclrd": 256, "dimclre": 256, "dimclrt": 256,
    })  # fmt: skip

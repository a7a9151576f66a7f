"""The flat of a sheet as a file: DXF or SVG with a layer for each kind of line, or PDF with the table of bends."""

from __future__ import annotations

import itertools
import math
import re
from collections.abc import Callable
from dataclasses import dataclass

import ezdxf
import numpy as np

from ..drawing.paper import SCALES
from ..errors import EditError
from ..formats.dxf import add_curve, bytes_of
from ..formats.pdf import Document
from ..formats.svg import head_of, path_of
from ..model.references import Reference
from ..sheet.flat_curves import line
from ..sheet.outlines import plane_polygon
from ..sheet.unfold import Flat
from ..sheet.views import flat_of
from ..sketch.loops import polygon
from ..sketch.plane_curves import PlaneCurve
from .sheet import fault_words, sheet_body, size_words
from .work import Fact, Operation, Outcome, Work

# what goes on which layer: the one place for their names and colours (of the DXF index)
LAYERS = {"outline": ("OUTLINE", 7), "holes": ("HOLES", 5), "up": ("BENDS UP", 3), "down": ("BENDS DOWN", 1),
          "forms": ("FORMS", 6), "marks": ("MARKS", 4)}  # fmt: skip
MARKED = ("outline", "centre", "both", "none")
CROSS = 3.0  # mm, half of a mark's arm
A4 = (297.0, 210.0)
ROOM = (12.0, 22.0, 210.0 - 12.0)  # mm: margin, top and bottom of the drawing's frame
ROWS = 12  # of the table beside the drawing
LARGEST = 10.0  # scale


@dataclass(frozen=True, kw_only=True)
class SaveFlat(Operation):
    """forms: of MARKED, how what is pressed out later is shown."""

    on: tuple[Reference, ...]
    format: str = "dxf"
    file_name: str = ""
    forms: str = "outline"

    def do(self, work: Work) -> Outcome:
        body, _ = sheet_body(work.snapshot, self.on)
        wall = self.on[0].number if self.on[0].kind == "face" else None
        flat = flat_of(work.snapshot, work.geometry, body, wall)
        if not flat.loops:
            raise EditError("the flat has no outline", self.on)
        stem = re.sub(r"[^\w.() -]+", "_", self.file_name or f"{body.name} flat").strip(". ") or "flat"
        facts = (Fact("flat", "flat", size_words(flat, work.snapshot.units)), Fact("area", "area", flat.area, "area"))
        words = tuple(fault_words(flat, work.geometry.solid(body.shape)))
        return Outcome(
            work.snapshot,
            facts,
            words,
            files={f"{stem}.{self.format}": flat_file(flat, body.name, self.format, self.forms)},
        )


def flat_file(flat: Flat, name: str, kind: str, forms: str = "outline") -> bytes:
    """forms: of MARKED.  Raises EditError for another kind than dxf, svg and pdf."""
    makers: dict[str, Callable[[Flat], bytes]] = {
        "dxf": lambda f: _dxf(f, forms), "svg": lambda f: _svg(f, forms), "pdf": lambda f: _pdf(f, name, forms)
    }  # fmt: skip
    if forms not in MARKED:
        raise EditError(f"forms are shown as one of {', '.join(MARKED)}", field="forms")
    if kind not in makers:
        raise EditError(f"a flat is saved as {', '.join(makers)}, not “{kind[:10]}”", field="format")
    return makers[kind](flat)


def layered(flat: Flat, forms: str = "outline") -> dict[str, list[PlaneCurve]]:
    """Curves of the flat by what they are: keys of LAYERS."""
    outer, *holes = flat.loops
    found: dict[str, list[PlaneCurve]] = {"outline": list(outer), "holes": [c for h in holes for c in h]}
    if flat.forms and forms in ("outline", "both"):
        found["forms"] = [c for loop in flat.forms for c in loop]
    if flat.forms and forms in ("centre", "both"):
        found["marks"] = [c for loop in flat.forms for c in _cross(loop)]
    for bend in flat.bends:
        found.setdefault(bend.direction, []).append(line(np.array(bend.start), np.array(bend.end)))
    return found


def _cross(loop: list[PlaneCurve]) -> list[PlaneCurve]:
    """At the centroid of what the loop encloses."""
    middle = np.array(plane_polygon([polygon(loop)]).centroid.coords[0])
    return [line(middle - arm, middle + arm) for arm in (np.array([CROSS, 0.0]), np.array([0.0, CROSS]))]


def _dxf(flat: Flat, forms: str) -> bytes:
    document = ezdxf.new("R2010", units=4)
    space = document.modelspace()
    for kind, (name, colour) in LAYERS.items():
        layer = document.layers.add(name)
        layer.color = colour
        if kind in ("up", "down"):
            layer.dxf.linetype = "CENTER" if "CENTER" in document.linetypes else "CONTINUOUS"
    for kind, curves in layered(flat, forms).items():
        for curve in curves:
            add_curve(space, curve, LAYERS[kind][0])
    return bytes_of(document)


def _svg(flat: Flat, forms: str) -> bytes:
    rows = [head_of([c for loop in flat.loops for c in loop])]
    for kind, curves in layered(flat, forms).items():
        dashed = ' stroke-dasharray="4 1 0.6 1"' if kind in ("up", "down") else ""
        rows.append(f'<g id="{LAYERS[kind][0].lower().replace(" ", "-")}"{dashed}>')
        rows += [f'<path d="{path_of(curve)}"/>' for curve in curves]
        rows.append("</g>")
    return "\n".join([*rows, "</svg>", ""]).encode()


def _pdf(flat: Flat, name: str, forms: str) -> bytes:
    """To a scale of ISO 5455 on A4, with the bends numbered and listed."""
    page = Document(f"{name}, flat", *A4)
    page.page()
    margin, top, bottom = ROOM
    table = A4[0] - margin - 88
    x0, y0, x1, y1 = flat.box
    frame = (table - 2 * margin, bottom - top)
    scale = next(
        (s for s in SCALES if s <= LARGEST and (x1 - x0) * s <= frame[0] and (y1 - y0) * s <= frame[1]), SCALES[-1]
    )
    middle = np.array([margin + frame[0] / 2, (top + bottom) / 2])

    def spot(places: np.ndarray) -> np.ndarray:
        centred = (places - np.array([(x0 + x1) / 2, (y0 + y1) / 2])) * scale
        return middle + centred * np.array([1.0, -1.0])

    told = f"{scale:g}:1" if scale >= 1 else f"1:{1 / scale:g}"
    wide, high = flat.size
    page.text(margin, margin + 3, name, 5, "bold")
    size = f"Flat {wide:.2f} × {high:.2f} mm, {flat.reading.thickness:.4g} mm thick, {told}"
    page.text(A4[0] - margin, margin + 3, size, 3, align="right")
    for loop in flat.loops:
        ring = spot(np.vstack([polygon(loop), polygon(loop)[:1]]))
        for a, b in itertools.pairwise(ring):
            _drawn(page, a, b, 0.35)
    shown = layered(flat, forms)
    for curve in (c for kind in ("forms", "marks") for c in shown.get(kind, [])):
        for a, b in itertools.pairwise(
            spot(curve.at(np.linspace(curve.first, curve.last, 2 if curve.kind == "line" else 25)))
        ):
            _drawn(page, a, b, 0.18)
    for number, bend in enumerate(flat.bends, 1):
        a, b = spot(np.array([bend.start, bend.end]))
        for first, last in _dashes(a, b):
            _drawn(page, first, last, 0.18)
        x, y = ((a + b) / 2).tolist()
        page.text(x + 0.8, y - 0.8, str(number), 2.5)
    y = top + 4
    for row in _table(flat):
        for offset, cell in zip((0, 9, 27, 44, 60, 78), row, strict=True):
            page.text(table + offset, y, cell, 2.6, "bold" if row[0] == "Bend" else "plain")
        y += 4.6
        if y > bottom:
            page.page()
            y = top + 4
    return page.written()


def _drawn(page: Document, a: np.ndarray, b: np.ndarray, thick: float) -> None:
    page.line(float(a[0]), float(a[1]), float(b[0]), float(b[1]), thick)


def _dashes(a: np.ndarray, b: np.ndarray) -> list[tuple[np.ndarray, np.ndarray]]:
    """Long dashes and dots (ISO 128-2, type 04)."""
    length = float(np.hypot(*(b - a)))
    way = (b - a) / (length or 1.0)
    found, at = [], 0.0
    while at < length:
        found.append((a + at * way, a + min(at + 6.0, length) * way))
        if at + 7.5 < length:
            found.append((a + (at + 7.2) * way, a + min(at + 7.7, length) * way))
        at += 9.0
    return found


def _table(flat: Flat) -> list[tuple[str, ...]]:
    rows: list[tuple[str, ...]] = [("Bend", "way", "angle", "radius", "allowance", "length")]
    for number, bend in enumerate(flat.bends, 1):
        rows.append((str(number), bend.direction, f"{math.degrees(bend.angle):.4g}°", f"{bend.radius:.4g}",
                     f"{bend.allowance:.4f}", f"{bend.length:.5g}"))  # fmt: skip
    return rows

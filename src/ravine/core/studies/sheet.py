"""Sheet metal: how a part reads as sheet, and its flat."""

from __future__ import annotations

import math
from dataclasses import asdict
from typing import Any

from ..edits.declared import field
from ..edits.fields import LengthField, PickField, ShareField
from ..errors import EditError
from ..model.records import LAID_BENDS
from ..model.references import Reference
from ..model.snapshot import Body, text_id
from ..operations import sheet, swing
from ..operations.work import Work
from ..sheet import checks, folding, order, stock, views
from ..units import LENGTHS
from ..view import flat_drawing
from .base import Study, study

ON = PickField("the part", "A flat face that it is seen from, or the part.", element="face", also=("node", "edge"),
               maximum=1, changes=False)  # fmt: skip


@study
class Sheet(Study):
    name = "sheet"
    help = (
        "A part read as sheet metal: thickness, walls, bends, and what is no sheet, in units of the model and degrees."
    )

    on: tuple[Reference, ...] = field(ON)

    def run(self, work: Work) -> dict[str, Any]:
        body, wall = _seen(work, self.on)
        return asdict(views.view_sheet(work.snapshot, work.geometry, body, wall))


@study
class FlatPattern(Study):
    name = "flat"
    help = "A sheet laid flat: size, area, bends and clashes, and the drawing of it as paths (mm, y down)."

    on: tuple[Reference, ...] = field(ON)

    def run(self, work: Work) -> dict[str, Any]:
        body, wall = _seen(work, self.on)
        found = views.view_flat(work.snapshot, work.geometry, body, wall)
        read = views.view_sheet(work.snapshot, work.geometry, body, wall)
        return {
            "body": text_id("body", body.id), "name": body.name, "area": found.area, "size": found.size,
            "cut_length": found.cut_length, "thickness": read.thickness, "bends": [asdict(b) for b in found.bends],
            "faults": [asdict(f) for f in read.faults], "clashes": found.clashes,
            "laid": _laid(work, body),
            "drawing": flat_drawing.flat_drawing(found.whole, [text_id("face", f) for f in body.faces]),
        }  # fmt: skip


def _laid(work: Work, body: Body) -> list[dict[str, Any]]:
    """Bends of it that were laid flat: the faces they lie in, angle (degrees) and inner radius."""
    rows = [b for b in work.snapshot.kept(LAID_BENDS).values() if b.body == body.id]
    found = []
    for bend in rows:
        under = swing.faces_under(bend, work.geometry.solid(body.shape).topology)
        radius = bend.radius / LENGTHS[work.snapshot.units]
        faces = [text_id("face", body.faces[f]) for f in under]
        found.append({"faces": faces, "angle": math.degrees(bend.angle), "radius": radius})
    return found


def _seen(work: Work, on: tuple[Reference, ...]) -> tuple[Any, int | None]:
    """The body, and the flat face that is picked, if one is."""
    body, face = sheet.sheet_body(work.snapshot, on)
    if on[0].kind != "face":
        return body, None
    topology = work.geometry.solid(body.shape).topology
    flat = topology.surface(body.faces.index(face)).kind == "plane"
    if not flat:
        return body, None
    try:
        reading, _ = views.read_body(work.snapshot, work.geometry, body)
    except EditError:
        return body, face
    known = set(reading.panels) | reading.behind
    return body, face if body.faces.index(face) in known else None


@study
class SheetChecks(Study):
    name = "sheet checks"
    help = (
        "What a workshop would stop at: legs shorter than the die allows, holes too near to a bend, radii below the "
        "material's least, bends that end without a relief; and the force (kN) and die opening of every bend."
    )

    on: tuple[Reference, ...] = field(ON)

    def run(self, work: Work) -> dict[str, Any]:
        body, wall = _seen(work, self.on)
        flat = views.flat_of(work.snapshot, work.geometry, body, wall)
        rows = checks.least_first(checks.shop_findings(flat, body.material))
        units = work.snapshot.units
        told = [
            {
                "kind": f.kind,
                "faces": [text_id("face", body.faces[k]) for k in f.faces],
                "words": checks.words(f, units),
                "place": f.place,
            }
            for f in rows
        ]
        press = {text_id("face", body.faces[p.face]): p.force for p in checks.press_work(flat, body.material)}
        return {"findings": told, "force": press, "die": checks.die_opening(flat.reading.thickness)}


@study
class BendOrder(Study):
    name = "bend order"
    help = (
        "An order in which the bends can be made one after the other so that the part meets neither itself nor a "
        "straight punch: ids of the bends, and where none is free of clashes, what meets what."
    )
    seconds = 60.0
    lane = "job"
    follows = True

    on: tuple[Reference, ...] = field(ON)

    def run(self, work: Work) -> dict[str, Any]:
        body, wall = _seen(work, self.on)
        flat = views.flat_of(work.snapshot, work.geometry, body, wall)
        numbers = {b.face: k for k, b in enumerate(flat.bends, 1)}
        ids = [text_id("face", f) for f in body.faces]
        steps = order.bending_order(flat)
        return {
            "free": all(s.free for s in steps),
            "steps": [
                {"bend": ids[s.bend], "number": numbers[s.bend], "walls": [[ids[a], ids[b]] for a, b in s.walls],
                 "punch": [ids[f] for f in s.punch]}
                for s in steps
            ],
        }  # fmt: skip


@study
class BlanksOfStock(Study):
    name = "blanks"
    help = "How many blanks of a flat a stock sheet gives, laid in rows, and the share of it that becomes parts."

    on: tuple[Reference, ...] = field(ON)
    long: float = field(LengthField("the length", "Of the stock sheet.", default=2000.0, minimum=1.0))
    wide: float = field(LengthField("the width", "Of the stock sheet.", default=1000.0, minimum=1.0))
    gap: float = field(LengthField("the gap", "Between blanks.", default=5.0, minimum=0.0))
    edge: float = field(LengthField("the edge", "Left free all round.", default=10.0, minimum=0.0))

    def run(self, work: Work) -> dict[str, Any]:
        body, wall = _seen(work, self.on)
        flat = views.flat_of(work.snapshot, work.geometry, body, wall)
        return asdict(stock.stock_use(flat.size, flat.area, (self.long, self.wide), self.gap, self.edge))


@study
class Folding(Study):
    name = "folding"
    help = (
        "A sheet part way between flat and folded, as triangles: counts of points and triangles (uint32), points "
        "(float32, mm in the part's own coordinates), corners of triangles (uint32)."
    )

    on: tuple[Reference, ...] = field(ON)
    share: float = field(ShareField("the share", "0 laid flat, 1 as it is folded.", default=1.0))

    def run(self, work: Work) -> bytes:
        body, wall = _seen(work, self.on)
        return folding.packed(views.flat_of(work.snapshot, work.geometry, body, wall), self.share)

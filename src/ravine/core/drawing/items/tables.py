"""Tables on sheets: parts (ISO 7573), holes, bends, revisions."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ...bill.masses import part_masses
from ...bill.rows import BillRow, bill_rows
from ...errors import EditError
from ...features.feature import Feature
from ...features.recogniser import features_of
from ...formats.pdf import fitted_text
from ...local.surfaces import Floats
from ...model.snapshot import Occurrence
from ...sheet.views import flat_of
from ..drawn_view import shown_in
from ..ink import CAP, Pen, beside
from .base import Setting, Told, draws
from .holes import PickedHole, hole_rows
from .values import plain_text

LETTERS = 2.5  # mm, in tables
HIGH = 6.0  # mm of a row


@dataclass(frozen=True)
class Column:
    name: str
    wide: float
    align: str = "left"


def table(pen: Pen, corner: Floats, columns: Sequence[Column], rows: Sequence[Sequence[str]], up: bool = False) -> None:
    """corner: upper left, or with `up` lower left, where the head is below the rows."""
    wide = sum(c.wide for c in columns)
    count = len(rows) + 1
    low = corner if up else corner - (0.0, HIGH * count)
    pen.box(low, beside(low, wide, HIGH * count), wide=True)
    for k in range(1, count):
        pen.line(beside(low, 0.0, k * HIGH), beside(low, wide, k * HIGH), wide=k == (1 if up else count - 1))
    x = 0.0
    for column in columns[:-1]:
        x += column.wide
        pen.line(beside(low, x, 0.0), beside(low, x, HIGH * count))
    for k, row in enumerate([[c.name for c in columns], *rows]):
        y = k * HIGH if up else (count - 1 - k) * HIGH
        x = 0.0
        for column, text in zip(columns, row, strict=True):
            shift = {"left": 1.2, "right": column.wide - 1.2, "middle": column.wide / 2}[column.align]
            fitted = fitted_text(text, LETTERS / CAP, column.wide - 2.0)
            pen.text(fitted, beside(low, x + shift, y + (HIGH - LETTERS) / 2), LETTERS, column.align, bold=k == 0)
            x += column.wide


PARTS = (Column("Item", 12, "right"), Column("Qty", 12, "right"), Column("Name", 56), Column("Part number", 36),
         Column("Material", 42), Column("Mass (kg)", 22, "right"))  # fmt: skip


@draws("parts list")
def parts_list(setting: Setting) -> Told:
    rows = listed_parts(setting)
    texts = [
        [r.item, str(r.quantity), r.name, r.part_number or r.stock_number, r.material,
         "" if r.mass is None else f"{r.mass:.3g}"] for r in rows
    ]  # fmt: skip
    table(setting.pen, setting.at, PARTS, texts, up=True)
    return Told(float(len(rows)), text=", ".join(r.name for r in rows))


def listed_parts(setting: Setting) -> list[BillRow]:
    masses = part_masses(setting.snapshot, setting.geometry)
    return bill_rows(setting.snapshot, masses)


@draws("hole table")
def hole_table(setting: Setting) -> Told:
    """All holes that look at the eye in a view, lettered by kind, from an origin: the picked one, else the lower
    left."""
    found = seen_holes(setting)
    if not found:
        raise EditError("no hole looks this way in the view")
    origin = (
        setting.seen[0].at if setting.item.on else np.array([min(h.at[0] for h in found), min(h.at[1] for h in found)])
    )
    rows = []
    for hole in found:
        x, y = hole.at - origin
        said = "; ".join(plain_text(list(r)) for r in hole_rows(setting, PickedHole(hole.feature, 0, (0,))))
        said = said.replace("counterbore", "cbore").replace("countersink", "csk").replace(" depth ", " deep ")
        rows.append([hole.tag, setting.number(float(x)), setting.number(float(y)), said])
        spot = setting.paper(hole.at)
        reach = hole.wide / 2 * setting.view.scale + 0.8
        setting.pen.text(hole.tag, beside(spot, reach * math.sqrt(0.5), reach * math.sqrt(0.5)), LETTERS)
    mark = setting.paper(origin)
    setting.pen.line(mark - (4.0, 0.0), beside(mark, 8.0, 0.0))
    setting.pen.line(mark - (0.0, 4.0), beside(mark, 0.0, 8.0))
    columns = (Column("Hole", 14), Column("X", 20, "right"), Column("Y", 20, "right"), Column("Size", 62))
    table(setting.pen, setting.at, columns, rows)
    return Told(float(len(rows)), text=", ".join(h.tag for h in found))


@dataclass(frozen=True, eq=False)
class SeenHole:
    """at: (2,) mm in the view; wide: mm at its mouth; tag: a letter for its kind and a number."""

    tag: str
    feature: Feature
    at: Floats
    wide: float
    place: Occurrence


def seen_holes(setting: Setting) -> list[SeenHole]:
    found = []
    kinds: dict[tuple, str] = {}
    for place in shown_in(setting.snapshot, setting.view):
        if place.body.kind != "solid":
            continue
        for feature in features_of(setting.geometry.solid(place.body.shape).topology):
            way = np.array(place.matrix.direction(feature.way))
            both = "through" in feature.form and "counter" not in feature.form
            facing = float(way @ setting.frame.eye)
            if feature.kind == "hole" and (facing > 1 - 1e-6 or (both and facing < -1 + 1e-6)):
                at = setting.frame.flat(np.array(place.matrix.point(feature.place)))[0]
                kinds.setdefault(feature.alike(), chr(ord("A") + len(kinds) % 26))
                wide = max(v for k, v in feature.sizes.items() if "diameter" in k)
                found.append(SeenHole("", feature, at, wide, place))
    counts: dict[str, int] = {}
    rows = []
    for hole in sorted(found, key=lambda h: (kinds[h.feature.alike()], round(h.at[0], 4), round(h.at[1], 4))):
        letter = kinds[hole.feature.alike()]
        counts[letter] = counts.get(letter, 0) + 1
        rows.append(SeenHole(f"{letter}{counts[letter]}", hole.feature, hole.at, hole.wide, hole.place))
    return rows


@draws("bend table")
def bend_table(setting: Setting) -> Told:
    """Of the flat that its view shows; numbered beside the bend lines."""
    view = setting.view
    if view.kind != "flat" or view.body is None or view.body not in setting.snapshot.bodies:
        raise EditError("a bend table belongs to the view of a flat")
    flat = flat_of(setting.snapshot, setting.geometry, setting.snapshot.body(view.body))
    shift = np.array([(flat.box[0] + flat.box[2]) / 2, (flat.box[1] + flat.box[3]) / 2])
    rows = []
    for k, bend in enumerate(flat.bends, 1):
        angle = f"{math.degrees(bend.angle):.2f}".rstrip("0").rstrip(".") + "°"
        rows.append([str(k), bend.direction, angle, setting.number(bend.radius), setting.number(bend.allowance)])
        middle = setting.paper((np.array(bend.start) + np.array(bend.end)) / 2 - shift)
        setting.pen.text(str(k), beside(middle, 0.8, 0.8), LETTERS)
    columns = (Column("Bend", 14, "right"), Column("Way", 16), Column("Angle", 20, "right"),
               Column("Radius", 20, "right"), Column("Allowance", 24, "right"))  # fmt: skip
    table(setting.pen, setting.at, columns, rows)
    return Told(float(len(rows)), text=f"{len(rows)} bends")


@draws("revisions")
def revisions(setting: Setting) -> Told:
    """Rows as they were written: mark, date, what changed, by whom."""
    words = setting.item.words
    rows = [[cell.strip() for cell in words[key].split("|")] for key in sorted(words) if key.startswith("row")]
    rows = [[*row, "", "", "", ""][:4] for row in rows]
    columns = (Column("Rev.", 12), Column("Date", 24), Column("What changed", 70), Column("By", 24))
    table(setting.pen, setting.at, columns, rows)
    return Told(float(len(rows)), text="; ".join(r[2] for r in rows))

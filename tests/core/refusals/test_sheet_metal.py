"""What edits on sheets, their bends and their flats refuse."""

from __future__ import annotations

import pytest

from tests.samples import edge, foot, hole, last_node, node, rim, side

from .table import Row, done, no, tried


def bend(m):
    return m.faces(kind="cylinder")[0].id


def wall(m):
    return m.faces(normal=(0, 0, 1)).largest().id


def upright(m):
    return m.edges(kind="line", direction=(0, 0, 1)).longest().id


def corner(m):
    return m.vertices(m.bodies()[0])[0].id


def far_rim(m):
    return rim(m, (0, 1, 0))


def thick_edges(m):
    return next(e.id for e in m.edges(kind="line", direction=(0, 0, 1)) if abs(e.length - 1.5) < 1e-6)


LOCKED = done("lock", parts=node)
FORMS = [
    no("press", "boss", "this edit takes a flat face", face=lambda m: m.faces(kind="cylinder")[0].id),
    no("press", "tray", "a form that high has no top left", face=wall, size="6", height="50", of="height"),
    no("press", "tray", "a bead is longer than wide", face=wall, kind="bead", size="9", length="8", of="length"),
    no(
        "press",
        "tray",
        "a louvre opens only above the thickness",
        face=wall,
        kind="louvre",
        size="6",
        height="1",
        length="30",
        of="height",
    ),
    no(
        "press",
        "tray",
        "a form that high has no top left",
        face=wall,
        kind="louvre",
        size="4",
        height="30",
        length="30",
        of="height",
    ),
    no(
        "press",
        "tray",
        "a louvre is more than twice as long as deep",
        face=wall,
        kind="louvre",
        size="10",
        height="4",
        length="15",
        of="length",
    ),
    no("press", "tray", "the webs would take up most of the ring", face=wall, kind="knock-out", size="3", of="size"),
    no("press", "tray", "still empty", of="face"),
    no("press", "tray", "locked", LOCKED, face=wall),
]
BENDS = [
    no("set bend", "tray", "this edit takes a round face", bends=wall, radius="3"),
    no("set bend", "tray", "cannot be 0", bends=bend, radius="0", of="radius"),
    no("set bend", "tray", "still empty", bends=bend, of="radius"),
    no("bend in steps", "tray", "this edit takes a round face", bends=wall),
    no("bend in steps", "tray", "in 2 to", bends=bend, steps=1, of="steps"),
    no("bend in steps", "tray", "steps", bends=bend, steps=9999, of="steps"),
    no("unbend", "tray", "this edit takes a round face", bends=wall),
    no("unbend", "boss", "this face is no bend of the sheet", bends=hole, of="bends"),
    no("set bend", "boss", "this face is no bend of the sheet", bends=hole, radius="3", of="bends"),
    no("bend in steps", "boss", "this face is no cylindrical bend of the sheet", bends=hole, of="bends"),
    no("unbend", "tray", "still empty", of="bends"),
    no("unbend", "tray", "locked", LOCKED, bends=bend),
    no("bend again", "tray", "no bend of this part was laid flat", on=wall),
    no("bend edge", "box", "still empty", radius="2", of="edges"),
    no("bend edge", "box", "nothing of the body would be left", edges=foot, radius="500"),
    no("bend edge", "tray", "no sharp corner between two walls of one sheet", edges=rim, radius="1"),
    no("bend edge", "boss", "no sharp corner between two walls of one sheet", edges=edge, radius="1"),
    no("rip", "box", "still empty", of="edges"),
    no("rip", "box", "gap above 0", edges=upright, gap="0", of="gap"),
    no("rip", "boss", "no sharp corner between two walls of one sheet", edges=edge),
]
FLANGES = [
    no("flange", "tray", "still empty", length="10", of="edges"),
    no("flange", "tray", "from a straight edge", edges=lambda m: m.edges(kind="circle")[0].id, length="10"),
    no("flange", "tray", "nothing of the edge is left", edges=far_rim, length="10", first="40", last="40", of="first"),
    no(
        "flange",
        "tray",
        "the radius cannot be −1 mm; the smallest is 0 mm",
        edges=far_rim,
        length="10",
        radius="-1",
        of="radius",
    ),
    no(
        "flange",
        "tray",
        "relief width cannot be −1 mm",
        edges=far_rim,
        length="10",
        relief="round",
        wide="-1",
        first="5",
        of="wide",
    ),
    no("flange", "tray", "two bends alone rise by", edges=far_rim, shape="step", length="0.5", of="length"),
    no("flange", "tray", "one of", edges=far_rim, shape="wave", length="10", of="shape"),
    no("flange", "tray", "angle", edges=far_rim, length="10", angle="200°", of="angle"),
    no("flange", "boss", "so no leg is left", edges=edge, length="10"),
    no("slit", "tray", "this is no edge of a flat wall", ends=lambda m: m.edges(kind="circle")[0].id, of="ends"),
    no("slit", "tray", "are on no wall together", ends=lambda m: _opposite(m), of="ends"),
    no("slit", "tray", "share", ends=far_rim, share="120 %", of="share"),
    no("slit", "tray", "gap", ends=far_rim, gap="0", of="gap"),
    no("cover", "boss", "still empty", of="faces"),
    no(
        "cover",
        "pair",
        "the faces are of several parts",
        faces=lambda m: [
            f.id for f in (m.faces(m.bodies()[0], kind="plane")[0], m.faces(m.bodies()[1], kind="plane")[0])
        ],
        of="faces",
    ),
    no("cover", "boss", "thickness", faces=side, thickness="0", of="thickness"),
]
FLATS = [
    no("make sheet", "tray", "a bend table has to come with it", on=node, rule="table", of="table"),
    no("make sheet", "tray", "the bend table has no rows", on=node, rule="table",
       table="thickness,radius,angle,deduction", of="table"),
    no("make sheet", "tray", "one of", on=node, rule="by eye", of="rule"),
    no("make sheet", "pair", "takes at most 1 face or part; 2 are picked", on=lambda m: m.nodes(), of="on"),
    no("make sheet", "tray", "nothing lies", on=wall, thickness="7"),
    no("make sheet", "sheet", "is no solid, so it has no two sides", on=last_node),
    no("save flat", "tray", "one of", on=node, format="odt", of="format"),
    no("save flat", "tray", "one of", on=node, forms="loud", of="forms"),
    no("cut flat", "tray", "still empty", on=node, of="at"),
    no("cut flat", "tray", "size", on=node, at=[30, 20], size="0", of="size"),
    no("cut flat", "tray", "at", on=node, at=[900, 900], size="6 mm"),
    no("mend sheet", "tray", "nothing", on=node),
    no("make tube", "empty", "too thick to be rolled that tight", thickness="20 mm", lower="25 mm", upper="25 mm",
       of="lower"),
    no("make tube", "empty", "the gap cannot be 0 mm", gap="0", of="gap"),
    no("make transition", "empty", "one of", lower="oval", of="lower"),
    no("make transition", "empty", "too thick for so small a duct", thickness="30 mm", of="thickness"),
    no("make transition", "empty", "height", height="0", of="height"),
]  # fmt: skip


def _opposite(m):
    """A corner of the wall and one of the flange's free edge."""
    rows = sorted(m.vertices(m.bodies()[0]), key=lambda v: (v.point[2], v.point[0]))
    return [rows[0].id, rows[-1].id]


@pytest.mark.parametrize("row", FORMS + BENDS + FLANGES + FLATS, ids=str)
def test_refused(row: Row) -> None:
    tried(row)

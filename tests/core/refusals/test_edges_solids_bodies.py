"""What edits on edges, new solids and whole bodies refuse."""

from __future__ import annotations

import pytest

from tests.samples import area, curve, edge, hole, last_node, node, open_line, side, sketch, top

from .table import Row, done, no, tried


def corner_of(m):
    return m.vertices(m.bodies()[0])[0].id


def rim(m):
    return next(e.id for e in m.edges(kind="circle"))


def other_area(m):
    return area(m, min)


def both_areas(m):
    return [area(m), area(m, min)]


def upright(m):
    return curve(m, "line", last=True)


LOCKED = done("lock", parts=node)
EDGES = [
    no("round", "boss", "still empty", edges=edge, of="size"),
    no("round", "boss", "takes an edge", edges=corner_of, size="1", of="edges"),
    no("round", "boss", "takes a length such as", edges=edge, size=[2], of="size"),
    no("round", "boss", "cannot be 0 mm", edges=edge, size="0", of="size"),
    no("round", "boss", "Rounding", edges=edge, size="500"),
    no("round", "boss", "locked", LOCKED, edges=edge, size="1"),
    no("round", "boss", "smooth already", edges=lambda m: m.edges(convexity="tangent")[0].id, size="1"),
    no("round", "mesh", "there is no edge", edges="e999999", size="1"),
    no("chamfer", "boss", "still empty", edges=edge, of="size"),
    no("chamfer", "boss", "Chamfering", edges=edge, size="500"),
    no("chamfer", "boss", "angle", edges=edge, size="1", angle="120°"),
    no("chamfer", "boss", "a second distance or an angle, not both", edges=edge, size="1", second="2", angle="30°"),
    no("edges out", "boss", "distance", edges=edge, distance="0", of="distance"),
    no("edges out", "boss", "runs along that way", edges=edge, distance="5", along="x"),
    no("fill", "boss", "closed", edges=edge),
    no("fill", "boss", "still empty", of="edges"),
]
SOLIDS = [
    no("extrude", "drawn", "distance", areas=area),
    no("extrude", "drawn", "the distance is zero, so nothing would change", areas=area, distance="0"),
    no("extrude", "drawn", "a taper goes up to 80°", areas=area, distance="5", taper="85°"),
    no("extrude", "drawn", "so small a taper", areas=area, distance="5", taper="0.0001°"),
    no("extrude", "drawn", "the walls meet before they get there", areas=other_area, distance="50", taper="40°"),
    no("extrude", "drawn", "there is no matter in its way", areas=area, distance="5", way="cutting"),
    no("extrude", "drawn", "closed area", areas=lambda m: f"{area(m).split(':')[0]}:500:500", distance="5"),
    no("revolve", "drawn", "the angle lies above zero", areas=area, axis=upright, angle="0"),
    no("revolve", "drawn", "the angle lies above zero", areas=area, axis=upright, angle="400°"),
    no("revolve", "drawn", "still empty", areas=area, of="axis"),
    no("wind", "drawn", "still empty", areas=area, axis=upright, height="5", of="pitch"),
    no("wind", "drawn", "a taper goes up to 45°", areas=other_area, axis=upright, height="9", pitch="3", taper="60°"),
    no("wind", "drawn", "pitch", areas=area, axis=upright, height="9", pitch="0", of="pitch"),
    no("loft", "drawn", "one area of each sketch", areas=both_areas),
    no("loft", "drawn", "pick 2 areas first", areas=area, of="areas"),
    no("sweep", "drawn", "still empty", areas=area, of="along"),
    no("sweep", "drawn", "way", areas=area, along=side),
    no("sweep", "drawn", "way", areas=area, along=open_line),
    no("rib", "drawn", "the line lies in matter already", curve=lambda m: curve(m, "circle"), thickness="2"),
    no("rib", "drawn", "cannot be 0", curve=open_line, thickness="0", of="thickness"),
    no("rib", "channel", "there is no", curve="c999999", thickness="2"),
]
BODIES = [
    no("combine", "pair", "still empty", part=node, of="tools"),
    no("combine", "pair", "a part cannot be worked with itself", part=node, tools=node),
    no("combine", "pair", "the part takes at most 1 part; 2 are picked", part=lambda m: [p.id for p in m.parts()],
       tools=last_node),
    no("combine", "pair", "locked", LOCKED, part=node, tools=last_node),
    no("combine", "pair", "do not", done("move body", parts=last_node, along="x", distance="500"), part=node,
       tools=last_node),
    no("combine", "pair", "nothing", done("move body", parts=last_node, along="x", distance="500"), part=node,
       tools=last_node, way="common"),
    no("combine", "mesh", "solid", part=node, tools=node),
    no("split", "boss", "pick a face to split by, or give the height", parts=node),
    no("split", "boss", "the cut does not pass through Boss", parts=node, along="z", height="500"),
    no("split", "boss", "the cut does not pass through Boss", parts=node, face=hole),
    no("split", "boss", "piece", parts=node, along="x", height="12", drop="7"),
    no("split", "boss", "are numbers such as 2 3", parts=node, along="x", height="12", drop="left one", of="drop"),
    no("mirror", "boss", "do not touch", parts=node, along="x", height="-50", result="joined"),
    no("mirror", "boss", "flat", parts=node, face=hole),
    no("mirror", "boss", "still empty", of="parts"),
    no("scale", "boss", "such as", parts=node, factor="-2", of="factor"),
    no("scale", "boss", "is a number such as 1.02", parts=node, factor="1e9", of="factor"),
    no("scale", "boss", "there is no node n999999", parts="n999999", factor="2"),
    no("scale", "mesh", "mesh", parts=node, factor="2"),
    no("mend", "boss", "nothing", parts=node),
    no("mend", "boss", "locked", LOCKED, parts=node),
    no("stitch", "boss", "has no open edge, so there is nothing to stitch", parts=node),
    no("stitch", "sheet", "cannot be 0", parts=lambda m: [p.id for p in m.parts(kind="surface")], tolerance="0",
       of="tolerance"),
    no("check up", "boss", "one of", parts=node, format="table", of="format"),
    no("delete body", "boss", "still empty", of="parts"),
    no("delete body", "boss", "locked", LOCKED, parts=node),
    no("delete body", "boss", "takes a part", parts=top),
    no("push", "drawn", "takes a face", faces=sketch, distance="2"),
]  # fmt: skip


@pytest.mark.parametrize("row", EDGES + SOLIDS + BODIES, ids=str)
def test_refused(row: Row) -> None:
    tried(row)

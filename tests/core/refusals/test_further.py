"""What is refused farther inside: the words are right, and the geometry, the sketch or the model does not allow it."""

from __future__ import annotations

import pytest

from tests.samples import (
    area,
    corner,
    curve,
    edge,
    hole,
    last_node,
    node,
    open_line,
    side,
    sketch,
    top,
    top_of_first,
)

from .table import Row, done, no, tried


def circle(m):
    return curve(m, "circle")


def line(m):
    return curve(m, "line")


def draw(words, shape, places, **more):
    return no("draw", "drawn", words, sketch=sketch, shape=shape, places=places, **more)


def upright(m):
    return m.edges(kind="line", direction=(0, 0, 1))[0].id


def mesh_face(m):
    return f"f{next(iter(m.snapshot.bodies.values())).faces[0]}"


def surface_node(m):
    return [p.id for p in m.parts(kind="surface")]


def pocket_of(m):
    return m.faces(kind="cylinder")[0].id


SECOND = done("sketch", plane="xz", offset="40")
SKETCHED = [
    draw("lie on one level or upright line", "rectangle", "0,0 9,0"),
    draw("the circle has no size", "circle", "3,3 3,3"),
    draw("the arc has no size", "arc about", "3,3 3,3 5,5"),
    draw("the ellipse has no size", "ellipse", "3,3 3,3 5,5"),
    draw("the polygon has no size", "polygon", "3,3 3,3", count=6),
    draw("a polygon has 3 to 120 corners", "polygon", "3,3 9,3", count=99999),
    draw("up to 2000 fit", "spline", " ".join(f"{k},{k % 7}" for k in range(2001))),
    no(
        "keep",
        "drawn",
        "that is a rule of the sketch already",
        done("keep", on=open_line, rule="fixed"),
        on=open_line,
        rule="fixed",
    ),
    no("keep", "drawn", "the rule is one of: together, level", on=line, rule="near"),
    no("dimension", "drawn", "still empty: the", on=circle, kind="radius"),
    no("dimension", "drawn", "zero would leave nothing", on=circle, kind="radius", size="0"),
    no("trim", "drawn", "takes a curve", curve=corner, at="0,0"),
    no("round corners", "drawn", "takes a point", corners=circle, radius="2"),
    no("copy curves", "drawn", "is a circle", curves=open_line, way="mirrored", line=circle),
    no("erase", "drawn", "either whole sketches or things in them", what=lambda m: [sketch(m), open_line(m)]),
    no("move curves", "drawn", "there is no curve", curves="c999999", step="1,1"),
    no("extrude", "drawn", "the sketch already lies there", areas=area, until=lambda m: [top(m)], of="until"),
    no("revolve", "drawn", "does not lie in the plane of the sketch", areas=area, axis=upright, angle="90°"),
    no(
        "wind",
        "drawn",
        "so its turns would run into one another",
        areas=lambda m: area(m, min),
        height="9",
        pitch="3",
        axis=lambda m: curve(m, "line", last=True),
    ),
    no(
        "wind",
        "drawn",
        "are too many; up to 200 fit",
        areas=lambda m: area(m, min),
        height="90",
        pitch="0.1",
        axis=lambda m: curve(m, "line", last=True),
        of="pitch",
    ),
    no(
        "imprint",
        "drawn",
        "no flat face lies there",
        done("sketch", plane="xy", offset="77"),
        done("draw", sketch=sketch, shape="circle", places="0,0", size="3"),
        areas=area,
    ),
    no("project", "drawn", "takes a sketch", edges=edge, sketch=top),
    no("letter", "drawn", "give at least one letter", face=top, words="   ", of="words"),
]
SHAPED = [
    no("thicken", "mesh", "is a mesh of triangles", faces=mesh_face, thickness="1", of="faces"),
    no("tilt", "boss", "never meets it", faces=top, angle="3°", axis=lambda m: [m.faces(normal=(0, 0, -1))[0].id]),
    no("push", "boss", "the face already lies on", faces=top, until=lambda m: max(m.vertices(m.bodies()[0]),
       key=lambda v: v.point[2]).id, of="until"),
    no("push", "boss", "only a flat face can be pushed until a part", done("move body", parts=node, way="copy",
       distance="99 mm"), faces=hole, until=last_node),
    no("push", "boss", "is not another solid part", faces=top, until=node),
    no("push", "boss", "not parallel to the face", faces=top, until=lambda m: side(m)),
    no("push", "pair", "has exact faces and no facets", faces=top_of_first,
       until=lambda m: f"t{m.faces(m.bodies()[1])[0].id[1:]}:3"),
    no("resize", "boss", "to take", faces=hole, like=side),
    no("round", "boss", "a length", edges=edge, size="one"),
    no("chamfer", "boss", "a second distance or an angle", edges=edge, size="1", second="1", angle="45°"),
    no("hollow", "boss", "the wall cannot be", faces=top, thickness="-1", of="thickness"),
    no("plant", "pair", "is wider than the cylinder", what=node, face=lambda m: [m.faces(m.bodies()[1],
       kind="cylinder")[0].id]),
    no("recount", "pattern", "whole number", face=hole, count="three", of="count"),
    no("edges out", "drawn", "runs along that way", edges=edge, distance="5", along="x"),
    no("fill", "sheet", "closed", edges=lambda m: [m.edges(m.parts(kind="surface")[0].body)[0].id]),
    no("turn over", "sheet", "still empty", of="faces"),
    no("stitch", "mesh", "is a mesh; mend its holes instead", parts=node, tolerance="0.1", of="parts"),
    no("cover", "boss", "this edit takes a flat face", faces=hole),
    no("mirror", "pair", "is locked, so nothing is joined to it", done("lock", parts=node), parts=node, along="x",
       height="40", result="joined"),
    no("into group", "grouped", "takes a part", parts=lambda m: m.nodes("Plate"), group=top_of_first),
    no("take from the shelf", "boss", "say which size", on=top, item="iso4032"),
    no("replace", "pair", "itself", part=node, newer=node),
    no("mesh to solid", "mesh", "cannot be 0", parts=node, deviation="0", of="deviation"),
    no("decimate", "mesh", "none of its triangles can go", parts=node, share="100 %", of="share"),
    no("save section", "mesh", "meets no part", at="x 500"),
    no("slot", "boss", "the distance is zero", faces=hole, distance="0", along="x", of="distance"),
    no("spread", "pair", "a step of no length", parts=last_node, distance="0", of="distance"),
    no("spread", "pair", "takes a part", parts=top_of_first, distance="5 mm"),
    no("gather", "apart", "Exploded has 1 step", called="Exploded", step=9, of="step"),
    no("cut link", "boss", "this comes from no other model", part=node),
    no("take newer", "boss", "this comes from no other model", part=node,
       source={"model": 1, "revision": 1, "title": "x", "state": "y"}),
    no("make independent", "boss", "so they are independent already", parts=node),
    no("group parts", "pair", "takes a part", parts=top_of_first),
    no("into group", "pair", "parts go into groups", parts=node, group=last_node, of="group"),
    no("set joint", "boss", "there is no joint", joint="J1", distance="1"),
    no("accept finding", "pair", "there is no finding", key="overlap n1 n2", note="fits"),
    no("stand in", "boss", "this has no part number", component=node, item="terminal-5.08x4"),
    no("link in", "boss", "model", source={}, of="source"),
    no("set values", "dimensioned", "no value is called", rows="breadth = 3"),
    no("name set", "boss", "60", called="x" * 61, things=top, of="called"),
    no("share", "boss", "one of", parts=node, inside="somewhere", of="inside"),
    no("set part data", "boss", "one of", parts=node, what="shoe size", value="44", of="what"),
    no("package", "boss", "is no word of a file's name; use {number}", parts=node, revision="B",
       pattern="{colour}", of="pattern"),
]  # fmt: skip


@pytest.mark.parametrize("row", SKETCHED + SHAPED, ids=str)
def test_refused(row: Row) -> None:
    tried(row)

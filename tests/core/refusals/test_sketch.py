"""What edits on sketches refuse."""

from __future__ import annotations

import pytest

from tests.samples import area, corner, curve, node, open_line, side, sketch, top

from .table import Row, done, no, tried


def circle(m):
    return curve(m, "circle")


def line(m):
    return curve(m, "line")


def dot_and_line(m):
    return [corner(m), open_line(m)]


def two_lines(m):
    return [line(m), open_line(m)]


ROWS = [
    no("draw", "drawn", "still empty", sketch=sketch, of="places"),
    no("draw", "drawn", "are written like", sketch=sketch, shape="line", places=7, of="places"),
    no("draw", "drawn", "give at least one place", sketch=sketch, shape="line", places="  ", of="places"),
    no("draw", "drawn", "farther out than a kilometre", sketch=sketch, shape="dot", places="9e9,0", of="places"),
    no("draw", "drawn", "measured from the place before", sketch=sketch, shape="dot", places="5<30", of="places"),
    no("draw", "drawn", "has no middle to draw at", sketch=sketch, shape="dot",
       places=lambda m: f"m{circle(m)[1:]}", of="places"),
    no("sketch", "boss", "the two faces are not parallel", on=lambda m: [top(m), side(m)], of="on"),
    no("draw", "drawn", "is no place", sketch=sketch, shape="line", places="here there", of="places"),
    no("draw", "drawn", "places", sketch=sketch, shape="line", places="1,1"),
    no("draw", "drawn", "places", sketch=sketch, shape="rectangle", places="0,0 1,1 2,2"),
    no("draw", "drawn", "one of", sketch=sketch, shape="star", places="0,0", of="shape"),
    no("draw", "drawn", "same", sketch=sketch, shape="line", places="3,3 3,3"),
    no("draw", "drawn", "circle takes 2 places; there are 1", sketch=sketch, shape="circle", places="0,0"),
    no("draw", "drawn", "the two middles of the slot are the same place", sketch=sketch, shape="slot",
       places="4,4 4,4 6,6"),
    no("draw", "drawn", "the slot has no width", sketch=sketch, shape="slot", places="0,0 9,0 5,0"),
    no("draw", "drawn", "an arc that goes on begins at the end", sketch=sketch, shape="arc going on",
       places="0,17 3,19"),
    no("draw", "drawn", "two places of the text are the same", sketch=sketch, shape="text", places="0,0 0,0",
       words="A", size="3"),
    no("draw", "drawn", "the text is still empty", sketch=sketch, shape="text", places="0,0 9,0"),
    no("draw", "drawn", "begins or ends on a circle or an arc", sketch=sketch, shape="touching line",
       places="50,0 52,0"),
    no("draw", "drawn", "whole number", sketch=sketch, shape="polygon", places="0,0 5,0", count="few", of="count"),
    no("draw", "drawn", "takes a sketch", sketch=top, shape="line", places="0,0 1,1", of="sketch"),
    no("draw", "drawn", "there is no sketch", sketch="s999", shape="line", places="0,0 1,1"),
    no("dimension", "drawn", "still empty", kind="distance", size="3", of="on"),
    no("dimension", "drawn", "takes", on=circle, kind="angle", angle="30°"),
    no("dimension", "drawn", "size", on=circle, kind="radius", size="-1"),
    no("dimension", "drawn", "that contradicts", done("dimension", on=circle, kind="radius", size="6"), on=circle,
       kind="diameter",
       size="20"),
    no("dimension", "drawn", "name", on=circle, kind="radius", size="6", called="2 wide"),
    no("dimension", "drawn", "wide", on=circle, kind="radius", size="wide + 1", of="size"),
    no("dimension", "drawn", "no size is called “wide”", on=circle, kind="radius", size="wide + 1", called="wide"),
    no("keep", "drawn", "one of", on=line, rule="straight", of="rule"),
    no("keep", "drawn", "takes", on=circle, rule="level"),
    no("keep", "drawn", "takes", on=line, rule="equal"),
    no("keep", "drawn", "takes", on=two_lines, rule="one middle"),
    no("keep", "drawn", "contradicts", done("keep", on=open_line, rule="fixed"), on=open_line, rule="level"),
    no("drag", "drawn", "still empty", what=corner, of="to"),
    no("extend", "drawn", "meet", curve=open_line, at="-24,15"),
    no("extend", "drawn", "a circle cannot be taken on", curve=circle, at="5,0"),
    no("round corners", "drawn", "cannot be 0", corners=corner, radius="0", of="radius"),
    no("round corners", "drawn", "long", corners=corner, radius="500"),
    no("round corners", "drawn", "corner", corners=open_line, radius="2"),
    no("split curve", "drawn", "still empty", curve=open_line, of="at"),
    no("split curve", "drawn", "end", curve=open_line, at="-28,-15"),
    no("trim", "drawn", "still empty", curve=line, of="at"),
    no("trim", "drawn", "takes a curve", curve=area, at="0,0", of="curve"),
    no("set off", "drawn", "vanish", curve=circle, distance="-5"),
    no("set off", "drawn", "the distance is zero", curve=circle, distance="0"),
    no("copy curves", "drawn", "a count of 1 leaves just what is there", curves=open_line, way="row", step="0,2",
       count=1),
    no("copy curves", "drawn", "that makes", curves=open_line, way="row", step="0,2", count=99999),
    no("copy curves", "drawn", "step", curves=open_line, way="row"),
    no("copy curves", "drawn", "middle", curves=open_line, way="around", count=3),
    no("copy curves", "drawn", "line", curves=open_line, way="mirrored"),
    no("move curves", "drawn", "nothing", curves=open_line),
    no("simplify curves", "drawn", "cannot be fewer within that", curves=open_line),
    no("section curves", "drawn", "still empty", of="sketches"),
    no("picture", "drawn", "picture", sketch=sketch, what="drop"),
    no("picture", "pictured", "the two places are the same", sketch=sketch, what="scale", places="3,3 3,3",
       length="10"),
    no("picture", "pictured", "two places", sketch=sketch, what="scale", places="3,3", length="10"),
    no("picture", "pictured", "length", sketch=sketch, what="scale", places="3,3 9,3"),
    no("sketch", "boss", "one of", plane="up", of="plane"),
    no("sketch", "boss", "whole number", plane="xy", count=0, of="count"),
    no("erase", "drawn", "still empty", of="what"),
    no("erase", "drawn", "takes", what=side),
    no("project", "drawn", "still empty", sketch=sketch, of="edges"),
    no("project", "drawn", "there is no edge", edges="e999999", sketch=sketch),
    no("save sketch", "drawn", "one of", sketch=sketch, format="bmp", of="format"),
    no("save sketch", "drawn", "takes a sketch", sketch=node, of="sketch"),
]  # fmt: skip


@pytest.mark.parametrize("row", ROWS, ids=str)
def test_refused(row: Row) -> None:
    tried(row)

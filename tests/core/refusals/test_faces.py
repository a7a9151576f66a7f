"""What edits on faces refuse."""

from __future__ import annotations

import pytest

from tests.samples import edge, hole, node, side, top

from .table import Row, done, no, tried


def walls(m):
    return [f.id for f in m.faces(kind="plane") if abs(f.normal[2]) < 1e-9][:2]


def fillet_face(m):
    return m.faces(kind="cylinder")[0].id


def boss_wall(m):
    return max(m.faces(kind="cylinder"), key=lambda f: f.radius).id


def first_face(m):
    return m.faces()[0].id


LOCKED = done("lock", parts=node)
ROWS = [
    no("push", "boss", "still empty: the faces", distance="3", of="faces"),
    no("push", "boss", "takes a face", faces=edge, distance="3", of="faces"),
    no("push", "boss", "there is no face", faces="f999999", distance="3"),
    no("push", "boss", "does not show", faces=lambda m: f"{top(m)}@n999999", distance="3"),
    no("push", "boss", "locked", LOCKED, faces=top, distance="3"),
    no("push", "boss", "is not a length: “parsec” is no unit here", faces=top, distance="3 parsec", of="distance"),
    no("push", "boss", "one of", faces=top, distance="3", sides="three", of="sides"),
    no("push", "boss", "distance", faces=top),
    no("push", "boss", "nothing of the body would be left", faces=lambda m: m.faces(normal=(0, 0, -1))[0].id,
       distance="-500"),
    no("push", "boss", "would vanish", faces=hole, distance="4"),
    no("push", "boss", "only flat faces can keep their border", faces=hole, distance="1", border="kept"),
    no("push", "pattern", "no flat face lies opposite", faces=hole, distance="1", sides="both"),
    no("push", "boss", "pattern", faces=top, distance="1", riders="pattern"),
    no("push", "boss", "10\u202f000 mm is 167 times the size of the model (60 mm); with its unit, as",
       faces=top,
       distance="10000", of="distance"),
    no("push", "boss", "with its unit, as 10000 mm", faces=top, distance="1e4", of="distance"),
    no("push", "boss", "times the size of the model (60 mm); up to 1000 times are done", faces=top, distance="1e9 mm",
       of="distance"),
    no("push", "boss", "up to 1000 times are done", faces=top, distance=-1e9, of="distance"),
    no("tilt", "boss", "goes up to 100 turns either way", faces=side, axis=edge, angle="1e9", of="angle"),
    no("resize", "boss", "still empty", size="4", of="faces"),
    no("resize", "boss", "size", faces=hole),
    no("resize", "boss", "the size cannot be −3 mm; the smallest is", faces=hole, size="-3", of="size"),
    no("resize", "boss", "has no diameter; push it instead", faces=top, size="3", measure="diameter"),
    no("resize", "boss", "to take", faces=hole, like=top),
    no("resize", "boss", "the diameter is 8 mm already", faces=hole, size="8"),
    no("resize", "boss", "width", faces=top, size="3", measure="width"),
    no("move faces", "boss", "still empty", distance="3", of="faces"),
    no("move faces", "boss", "distance and angle are both zero", faces=hole, along="x"),
    no("move faces", "boss", "angle", faces=hole, angle="30 mm", of="angle"),
    no("tilt", "boss", "still empty", faces=side, angle="3°", of="axis"),
    no("tilt", "boss", "angle", faces=side, axis=edge, angle="0", of="angle"),
    no("tilt", "boss", "takes an edge", faces=side,
       angle="3°", axis=lambda m: m.vertices(m.bodies()[0])[0].id, of="axis"),
    no("remove", "boss", "pick 1 face first", faces=[], of="faces"),
    no("remove", "drawn", "its neighbours do not meet", faces=side, extent="picked"),
    no("remove", "boss", "locked", LOCKED, faces=hole),
    no("slot", "boss", "this edit takes a round face", faces=top, distance="5", along="x"),
    no("slot", "boss", "does not run across the axis", faces=hole, distance="5", along="z"),
    no("line up", "boss", "is not round about an axis", faces=lambda m: [hole(m), top(m)]),
    no("line up", "boss", "the two axes are one already", faces=lambda m: [hole(m), boss_wall(m)]),
    no("line up", "leaning", "locked", LOCKED, faces=lambda m: [f.id for f in m.faces(kind="cylinder")]),
    no("round over", "boss", "one of its neighbours rises and the other falls", faces=boss_wall),
    no("recount", "boss", "pattern", face=hole, count=2),
    no("recount", "pattern", "whole number", face=hole, count=0, of="count"),
    no("recount", "pattern", "rows", face=hole, count=3, rows="many", of="rows"),
    no("slot", "boss", "still empty", faces=hole, of="distance"),
    no("slot", "boss", "is a flat face; this edit takes a round face", faces=top, distance="4", along="x"),
    no("slot", "boss", "the way does not run across the axis", faces=hole, distance="4", along="z"),
    no("pattern", "boss", "still empty", faces=hole, count=3, of="step"),
    no("pattern", "boss", "count", faces=hole, count=1, along="x", step="5"),
    no("pattern", "boss", "step", faces=hole, count=3, along="x", step="0", of="step"),
    no("pattern", "boss", "rows and members run the same way", faces=hole, count=2, along="x", step="6", rows=2,
       pitch="8", across="x"),
    no("pattern around", "boss", "still empty", faces=hole, count=3, of="axis"),
    no("pattern around", "boss", "the copy lies outside the body", faces=hole, count=3, axis=top),
    no("pattern around", "boss", "count", faces=hole, count=1, axis=lambda m: m.edges(direction=(0, 0, 1))[0].id),
    no("round over", "boss", "the round would run beyond a neighbour", faces=hole),
    no("round over", "boss", "still empty", of="faces"),
    no("give back", "boss", "round", face=hole),
    no("give back", "boss", "round", face=top),
    no("give back", "round", "the share lies above 0 and goes up to 100 %", face=fillet_face, share="140 %",
       of="share"),
    no("twist", "drawn", "angle", face=top, angle="0", of="angle"),
    no("twist", "drawn", "more than ten turns", face=top, angle="4000°"),
    no("twist", "boss", "flat", face=hole, angle="10°"),
    no("hollow", "drawn", "it would pass the far end of a neighbour", faces=top, thickness="60"),
    no("hollow", "drawn", "the wall cannot be 0 mm", faces=top, thickness="0", of="thickness"),
    no("hollow", "drawn", "other", faces=top, thickness="2", thick=side),
    no("drill", "boss", "flat", face=hole, screw="M3"),
    no("drill", "drawn", "one of", face=top, screw="M99", of="screw"),
    no("drill", "drawn", "diameter", face=top, kind="plain"),
    no("drill", "drawn", "there is no matter at that place", face=top, across="500", screw="M3"),
    no("drill", "drawn", "depth", face=top, screw="M3", depth="-2", of="depth"),
    no("letter", "drawn", "still empty", face=top, of="words"),
    no("letter", "drawn", "height", face=top, words="A", height="0", of="height"),
    no("letter", "drawn", "not", face=top, words="\u4e00", height="5"),
    no("letter", "boss", "flat", face=hole, words="A"),
    no("thicken", "boss", "thickness", faces=side, thickness="0", of="thickness"),
    no("thicken", "boss", "the faces have no parallel that far away", faces=lambda m: [top(m), m.faces(normal=(0, 0,
       -1))[0].id], thickness="1"),
    no("split face", "boss", "still empty", way="across", of="faces"),
    no("split face", "boss", "still empty: what it is split by", faces=side, way="plane"),
    no("split face", "boss", "does not run across the picked faces", faces=side, way="across", share="100 %"),
    no("merge", "boss", "nothing", parts=node),
    no("merge", "mesh", "mesh", parts=node),
    no("turn over", "boss", "is a solid; a face that looked inwards", faces=top),
    no("line up", "boss", "pick 2 faces first", faces=hole, of="faces"),
    no("line up", "leaning", "round", faces=walls),
    no("line up", "leaning", "locked", LOCKED, faces=lambda m: [f.id for f in m.faces(kind="cylinder")[:2]]),
    no("imprint", "drawn", "still empty", of="areas"),
    no("imprint", "drawn", "there is no sketch s999", areas="a999:0:0"),
]  # fmt: skip


@pytest.mark.parametrize("row", ROWS, ids=str)
def test_refused(row: Row) -> None:
    tried(row)

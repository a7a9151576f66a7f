"""What edits on the tree, on meshes, on looks and with files refuse."""

from __future__ import annotations

import pytest

from tests.samples import hole, node, sketch, top

from .table import Row, done, no, tried


def root(m):
    return f"n{m.snapshot.roots[0]}"


LOCKED = done("lock", parts=node)
TREE = [
    no("move body", "pair", "still empty", along="x", distance="3", of="parts"),
    no("move body", "pair", "nothing", parts=node, along="x"),
    no("move body", "pair", "one of", parts=node, along="north", distance="3", of="along"),
    no("move body", "pair", "takes a part", parts=top, distance="3", of="parts"),
    no("repeat parts", "pair", "the step is zero", parts=node, count=3, along="x", step="0", of="step"),
    no("repeat parts", "pair", "whole number", parts=node, count=-2, along="x", step="5", of="count"),
    no("repeat parts", "pair", "at once", parts=node, count=99999, along="x", step="5"),
    no("repeat parts", "pair", "count", parts=node, count=1, along="x", step="5"),
    no("repeat parts around", "pair", "still empty", parts=node, count=3, of="axis"),
    no("repeat parts around", "pair", "the axis takes a face or edge, not a node", parts=node, count=3, axis=node),
    no("rename", "boss", "still empty", part=node, to="", of="to"),
    no("rename", "boss", "up to 120", part=node, to="x" * 121, of="to"),
    no("rename", "pair", "takes at most 1", part=lambda m: [p.id for p in m.parts()], to="Both", of="part"),
    no("lock", "boss", "one of", parts=node, state="shut", of="state"),
    no("name set", "boss", "pick what goes into the set first", called="First"),
    no("name set", "boss", "there is no set", called="First", way="forget"),
    no("name set", "boss", "there is no set", called="First", way="add", things=top),
    no("push", "boss", "there is no set", faces="set:First", distance="1"),
    no("push", "boss", "takes a face", done("name set", things=node, called="Parts"), faces="set:Parts", distance="1"),
    no("replace", "pair", "still empty", part=node, of="newer"),
    no("replace", "pair", "itself", part=node, newer=node),
]
MESHES = [
    no("mesh to solid", "boss", "mesh", parts=node),
    no("recognise", "boss", "mesh", parts=node),
    no("decimate", "boss", "mesh", parts=node, share="50 %"),
    no("decimate", "mesh", "share", parts=node, share="0 %", of="share"),
    no("smooth", "boss", "mesh", parts=node, rounds=2),
    no("smooth", "mesh", "whole number", parts=node, rounds="some", of="rounds"),
    no("push", "mesh", "mesh", faces=lambda m: f"f{next(iter(m.snapshot.bodies.values())).faces[0]}", distance="1"),
    no("round", "mesh", "an edit ended it", edges="e1", size="1"),
    no("hollow", "mesh", "there is no face", faces="f99999", thickness="1"),
]
LOOKS = [
    no("set material", "boss", "one of", parts=node, material="unobtainium", of="material"),
    no("set finish", "boss", "one of", parts=node, surface="velvet", of="surface"),
    no("set face finish", "boss", "takes a face", faces=node, surface="plain", of="faces"),
    no("set finish colour", "boss", "#", parts=node, colour="reddish", of="colour"),
    no("set face finish colour", "boss", "#", faces=top, colour="#12", of="colour"),
]
FILES = [
    no("import", "empty", "path", path=7, of="path"),
    no("import", "empty", "cannot be opened", path="/nowhere/at/all.step"),
    no("import", "empty", "one of", path="x.step", what="half", of="what"),
    no("export", "boss", "one of", parts=node, format="docx", of="format"),
    no("export", "boss", "cannot be 0", parts=node, format="stl", tolerance="0", of="tolerance"),
    no("export", "empty", "nothing", format="step"),
    no("export", "boss", "there is no node", parts="n99999", format="step"),
    no("save section", "boss", "plane", at="sideways", of="at"),
    no("save section", "boss", "the plane meets no part there", at="x 500"),
    no("save section", "boss", "takes a part", at="x 10", parts=hole, of="parts"),
    no("save sketch", "drawn", "still empty", format="svg", of="sketch"),
    no("extrude", "drawn", "takes an area", areas=sketch, distance="3", of="areas"),
]


@pytest.mark.parametrize("row", TREE + MESHES + LOOKS + FILES, ids=str)
def test_refused(row: Row) -> None:
    tried(row)

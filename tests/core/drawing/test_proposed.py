"""Sizes that are proposed: for parts of many forms nothing lies on anything else, and what is written is right."""

from __future__ import annotations

import math
import random

import numpy as np
import pytest
from shapely import STRtree
from shapely.geometry import LineString, Polygon, box

from ravine.core import EditError, Model
from ravine.core.drawing.ink import Letters, Stroke
from ravine.core.drawing.paper import Paper
from ravine.core.drawing.sheet import ink_sheet
from ravine.core.kernel import build
from ravine.core.model.records import DRAWINGS
from tests.parts import step_file


def plate(pick: random.Random):
    x, y, z = pick.randint(40, 200), pick.randint(30, 150), pick.randint(4, 30)
    tools = []
    for _ in range(pick.randint(1, 6)):
        r = pick.choice((2, 3.3, 4.5))
        at = (pick.uniform(r + 3, x - r - 3), pick.uniform(r + 3, y - r - 3))
        tools.append(build.cylinder(r, z + 2, (*at, -1)))
        if pick.random() < 0.4:
            tools.append(build.cylinder(1.8 * r, z / 2, (*at, z / 2)))
    return build.subtract(build.box(x, y, z), *tools), (x, y, z)


def flange(pick: random.Random):
    r, z, count = pick.randint(30, 90), pick.randint(6, 20), pick.randint(3, 8)
    tools = [build.cylinder(0.35 * r, z + 2, (0, 0, -1))]
    for k in range(count):
        t = 2 * math.pi * k / count + 0.2
        tools.append(build.cylinder(0.07 * r, z + 2, (0.75 * r * math.cos(t), 0.75 * r * math.sin(t), -1)))
    return build.subtract(build.cylinder(r, z), *tools), (2 * r, 2 * r, z)


def bracket(pick: random.Random):
    x, y, h, t = pick.randint(40, 120), pick.randint(30, 80), pick.randint(40, 120), pick.randint(5, 10)
    body = build.unite(build.box(x, y, t), build.box(t, y, h))
    tools = [build.cylinder(3, t + 2, (x * 0.7, y * s, -1)) for s in (0.25, 0.75)]
    tools += [build.cylinder(2.5, t + 2, (-1, y / 2, h * 0.7), (1, 0, 0))]
    return build.subtract(body, *tools), (x, y, h)


PARTS = [(kind, seed) for seed in range(10) for kind in (plate, flange, bracket)]


@pytest.mark.parametrize(("kind", "seed"), PARTS, ids=[f"{k.__name__}-{s}" for k, s in PARTS])
def test_nothing_overlaps_and_overall_sizes_are_there(kind, seed, tmp_path):
    shape, sizes = kind(random.Random(100 * seed + len(kind.__name__)))
    model = Model()
    model.do("import", path=str(step_file(tmp_path / "part.step", shape)))
    model.do("begin sheet", size=("A3", "A2")[seed % 2], angle=("first", "third")[seed % 3 == 0])
    change = model.do("propose sizes")
    (sheet,) = model.snapshot.kept(DRAWINGS).values()
    ink = ink_sheet(model.snapshot, model.geometry, sheet)
    assert not ink.faults
    _nothing_overlaps(ink, Paper.of(sheet.size))
    values = [t.value for i, t in ink.told.items() if sheet.items[i].kind == "distance" and t.value is not None]
    missing = [s for s in sizes if not any(abs(v - s) < 1e-6 for v in values)]
    assert len(missing) <= len([w for w in change.warnings if "overall" in w])
    holes = sum(1 for f in model.features(model.bodies()[0]) if f.kind == "hole" and f.members[0] == f.number)
    noted = sum(1 for i in sheet.items.values() if i.kind == "hole")
    assert noted + len([w for w in change.warnings if "note of a hole" in w]) >= holes > 0


def _nothing_overlaps(ink, paper):
    """Letters lie apart, in the frame, off the title block, and no line runs through them."""
    letters = [Polygon(m.corners()) for row in ink.items.values() for m in row if isinstance(m, Letters)]
    low_x, low_y, high_x, high_y = paper.room
    frame = box(low_x, low_y, high_x, high_y)
    title = box(*paper.title, paper.wide - 10, paper.title[1] + 56)
    assert all(frame.contains(p) and not title.intersects(p) for p in letters)
    for k, one in enumerate(letters):
        assert not any(one.intersects(other) for other in letters[k + 1 :])
    strokes = [m for row in (*ink.views.values(), *ink.items.values()) for m in row if isinstance(m, Stroke)]
    lines = STRtree([LineString(m.curve.line[1]) for m in strokes if len(m.curve.line[1]) > 1])
    for one in letters:
        inner = one.buffer(-0.35)  # the line that a size stands on runs just below it
        assert not len(lines.query(inner, predicate="intersects"))


def test_an_assembly_gets_its_list_and_a_number_for_every_part_that_is_seen(tmp_path):
    model = Model()
    for k, name in enumerate(("Base", "Lid", "Knob")):
        shape = build.box(60, 40, 8) if k < 2 else build.cylinder(8, 12)
        shape = build.moved(shape, (1, 0, 0, 26.0 * (k == 2), 0, 1, 0, 20.0 * (k == 2), 0, 0, 1, 8.0 * k))
        model.do("import", path=str(step_file(tmp_path / f"{name}.step", shape, name)))
    model.do("begin sheet", size="A3")
    model.do("propose sizes")
    (sheet,) = model.snapshot.kept(DRAWINGS).values()
    ink = ink_sheet(model.snapshot, model.geometry, sheet)
    said = sorted(t.text for i, t in ink.told.items() if sheet.items[i].kind == "balloon")
    assert said == ["1", "2", "3"]
    assert [t.text for i, t in ink.told.items() if sheet.items[i].kind == "parts list"] == ["Base, Lid, Knob"]
    _nothing_overlaps_but_tables(ink, sheet)


def _nothing_overlaps_but_tables(ink, sheet):
    rows = [Polygon(m.corners()) for i, row in ink.items.items() if sheet.items[i].kind != "parts list"
            for m in row if isinstance(m, Letters)]  # fmt: skip
    assert all(not a.intersects(b) for k, a in enumerate(rows) for b in rows[k + 1 :])


def test_what_is_written_already_is_not_proposed_again(tmp_path):
    model = Model()
    model.do("import", path=str(step_file(tmp_path / "part.step", plate(random.Random(5))[0])))
    model.do("begin sheet", size="A3")
    model.do("propose sizes")
    (before,) = model.snapshot.kept(DRAWINGS).values()
    with pytest.raises(EditError, match="nothing to propose on Sheet 1"):
        model.do("propose sizes")
    (after,) = model.snapshot.kept(DRAWINGS).values()
    assert np.setdiff1d([i.kind for i in after.items.values()], ["centre"]).size
    assert len(after.items) == len(before.items)

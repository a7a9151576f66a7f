"""Features against what was planted."""

from __future__ import annotations

import math

import numpy as np
import pytest

from ravine.core.features.recogniser import features_of
from ravine.core.features.repeats import repeats_of
from ravine.core.kernel import build
from ravine.core.kernel.shapes import ShapeIndex
from ravine.core.local.topology import SolidTopology
from ravine.core.rigid import Rigid
from tests.parts import model_of
from tests.planted import match, planted_plate, planted_shaft
from tests.trials.variants import VARIANTS

ODD = Rigid.slide((31.7, -250.1, 7.3)) @ Rigid.about((0, 0, 0), (0.6, -0.48, 0.64), math.radians(37))


def read(shape):
    return features_of(SolidTopology(ShapeIndex(shape)))


@pytest.mark.parametrize("seed", range(10))
@pytest.mark.parametrize("make", [planted_plate, planted_shaft])
def test_what_was_planted_is_found_and_nothing_else(make, seed):
    shape, rows = make(seed)
    if seed % 2:
        shape = build.moved(shape, ODD)
    missed, extra = match(read(shape), rows)
    assert missed == []
    assert extra == []


@pytest.mark.parametrize("variant", ["halves", "splines"])
@pytest.mark.parametrize("seed", range(3))
@pytest.mark.parametrize("make", [planted_plate, planted_shaft])
def test_they_are_found_in_parts_that_other_hands_have_written(tmp_path, make, seed, variant):
    """With round walls in halves, or everything turned into splines, and brought in through STEP."""
    shape, rows = make(seed)
    model, body = model_of(tmp_path, VARIANTS[variant].shape(shape))
    missed, extra = match(features_of(model.geometry.solid(model.body(body).shape).topology), rows)
    assert missed == []
    assert extra == []


def test_repeats_are_told_with_their_layout():
    plate = build.box(120, 90, 10)
    around = [
        build.cylinder(2, 20, (30 + 15 * math.cos(a), 30 + 15 * math.sin(a), -1))
        for a in np.radians([5, 65, 125, 185, 245, 305])
    ]
    grid = [build.cylinder(3, 20, (70 + 12 * i, 15 + 14 * j, -1)) for i in range(3) for j in range(2)]
    row = [build.cylinder(4, 5, (15 + 20 * i, 75, 9)) for i in range(5)]
    body = build.subtract(plate, *around, *grid, *row)
    found = read(body)
    told = {r.layout: r for r in repeats_of(found)}
    assert {name: len(r.members) for name, r in told.items()} == {"around": 6, "grid": 6, "row": 5}
    assert told["around"].sizes == pytest.approx({"radius": 15, "angle": 60})
    assert sorted(told["grid"].sizes.values()) == pytest.approx([12, 14])
    assert told["row"].sizes == pytest.approx({"step": 20})
    assert {found[m].form for m in told["row"].members} == {"blind, flat end"}


def test_a_script_asks_for_features_in_its_units(tmp_path):
    plate = build.subtract(
        build.box(80, 60, 12), *(build.cylinder(4.5, 20, (20 + 40 * i, 30, -1)) for i in range(2)),
        build.cylinder(3.4, 20, (40, 30, -1)),
    )  # fmt: skip
    model, body = model_of(tmp_path, plate, units="cm")
    holes = [f for f in model.features(body) if f.kind == "hole"]
    assert sorted(f.sizes["diameter"] for f in holes) == pytest.approx([0.68, 0.9, 0.9])
    pair = next(f for f in holes if len(f.members) == 2)
    assert pair.notes == ("clearance for M8, medium",)
    assert {f.notes for f in holes if f.number not in pair.members} == {("tapping for M8",)}
    assert model.face(pair.faces[0]).radius == pytest.approx(0.45)
    assert [r.layout for r in model.repeats(body)] == ["mirrored"]
    model.do("push", faces=[pair.faces[0]], distance="-1 mm")  # outwards from the matter is into the hole
    sizes = sorted(f.sizes["diameter"] for f in model.features(body) if f.kind == "hole")
    assert sizes == pytest.approx([0.68, 0.9, 1.1])


def test_roots_and_corners_that_are_rounded_change_nothing():
    """A pocket with rounds at corners and floor, a boss and a rib with rounded feet."""
    plate = build.box(120, 60, 20)
    pocket = build.fillet(build.box(40, 30, 20, (10, 15, 8)), 5, lambda e: abs(e.ends[0][2] - e.ends[1][2]) > 1)
    body = build.subtract(plate, build.fillet(pocket, 2, lambda e: abs(e.middle[2] - 8) < 1e-6))
    body = build.unite(body, build.cylinder(7, 15, (75, 30, 19)), build.box(3, 40, 16, (100, 10, 19)))
    body = build.fillet(
        body, 1.5, lambda e: abs(e.middle[2] - 20) < 1e-6 and 60 < e.middle[0] < 118 and 5 < e.middle[1] < 55
    )
    told = {f.kind: f for f in read(body)}
    assert told["pocket"].sizes == pytest.approx(
        {"length": 40, "width": 30, "depth": 12, "corner_radius": 5, "floor_radius": 2}
    )
    assert told["boss"].sizes == pytest.approx({"diameter": 14, "height": 14})
    assert told["rib"].sizes == pytest.approx({"thickness": 3, "height": 15, "length": 40})

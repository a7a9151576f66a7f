"""Features against what was planted."""

from __future__ import annotations

import math

import numpy as np
import pytest

from ravine.core.features.recogniser import features_of
from ravine.core.features.repeats import repeats_of
from ravine.core.features.symmetry import symmetries_of
from ravine.core.features.views import SymmetryView, told_symmetries
from ravine.core.kernel import build
from ravine.core.kernel.boolean import combine
from ravine.core.kernel.shapes import ShapeIndex
from ravine.core.kernel.transform import mirrored
from ravine.core.kernel.volumes import volume_properties
from ravine.core.local.topology import SolidTopology
from ravine.core.rigid import Rigid
from tests.parts import model_of
from tests.planted import match, planted_casting, planted_plate, planted_shaft
from tests.trials.judging import FAMILIES, VARIANTS

ODD = Rigid.slide((31.7, -250.1, 7.3)) @ Rigid.about((0, 0, 0), (0.6, -0.48, 0.64), math.radians(37))


def read(shape):
    return features_of(SolidTopology(ShapeIndex(shape)))


@pytest.mark.parametrize("seed", range(10))
@pytest.mark.parametrize("make", [planted_plate, planted_casting, planted_shaft])
def test_what_was_planted_is_found_and_nothing_else(make, seed):
    shape, rows = make(seed)
    if seed % 2:
        shape = build.moved(shape, ODD)
    missed, extra = match(read(shape), rows)
    assert missed == []
    assert extra == []


@pytest.mark.parametrize("variant", ["halves", "splines"])
@pytest.mark.parametrize("seed", range(3))
@pytest.mark.parametrize("make", [planted_plate, planted_casting, planted_shaft])
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


def test_a_bore_with_a_keyway_is_a_hole_all_the_same():
    hub = build.subtract(build.cylinder(15, 20), build.cylinder(8, 22, (0, 0, -1)), build.box(10, 4, 22, (0, -2, -1)))
    rows = {f.kind: f for f in read(build.moved(hub, ODD))}
    assert rows["hole"].sizes == {"diameter": pytest.approx(16), "depth": pytest.approx(20)}
    assert rows["slot"].sizes["width"] == pytest.approx(4)


@pytest.mark.parametrize(("open_", "holes"), [(100, 1), (120, 0)])
def test_a_round_wall_that_is_open_too_far_is_none(open_, holes):
    """Open over an angle, in degrees: a bore goes round seven tenths of the way at least."""
    half = math.radians(open_ / 2)
    far = [(0, 0, -1), (60 * math.cos(half), -60 * math.sin(half), -1), (60 * math.cos(half), 60 * math.sin(half), -1)]
    wedge = build.extrude(build.outline(far), (0, 0, 22))
    body = build.subtract(build.box(40, 40, 20, (-20, -20, 0)), build.cylinder(8, 22, (0, 0, -1)), wedge)
    assert len([f for f in read(body) if f.kind == "hole"]) == holes


def test_hubs_with_a_web_between_are_no_grooves():
    """Shoulders that look away from one another bound a web, not a groove."""
    hubs = [build.cylinder(10, 14, (0, 0, -7)), build.cylinder(7, 12, (45, 0, -6))]
    body = build.unite(build.box(45, 8, 6, (0, -4, -3)), *hubs)
    kinds = [f.kind for f in read(body)]
    assert "groove" not in kinds
    grooved = build.subtract(build.cylinder(10, 30), build.subtract(build.cylinder(12, 4, (0, 0, 12)),
                                                                    build.cylinder(8, 6, (0, 0, 11))))  # fmt: skip
    (groove,) = [f for f in read(grooved) if f.kind == "groove"]
    assert groove.sizes == {"diameter": pytest.approx(16), "width": pytest.approx(4), "depth": pytest.approx(2)}


@pytest.mark.parametrize(("way", "form", "size"), [("raised", "raised", "height"), ("cut", "recessed", "depth")])
@pytest.mark.parametrize("words", ["Pegel 8B", "IVA 20"])
def test_the_letters_of_a_word_are_one_cluster(tmp_path, way, form, size, words):
    """With the bars of an I or l, which by themselves are pads or slots, and what is left standing inside an 8."""
    model, body = model_of(tmp_path, build.box(120, 30, 6))
    top = model.faces(body, kind="plane", normal=(0, 0, 1)).highest()
    before, plain = model.measure(body).volume, {f.id for f in model.faces(body)}
    model.do("letter", face=[top.id], words=words, height="9 mm", depth="1.5 mm", way=way)
    lettered = model.measure(body).volume
    rows = model.features(body)
    assert {(r.kind, r.form.split(",")[0], tuple(r.sizes)) for r in rows} == {("cluster", form, (size,))}
    assert 1 <= len(rows) <= len(words.split())
    inside = {f.id for f in model.faces(body, kind="plane") if f.centroid[2] == pytest.approx(6)} - {top.id}
    assert {f for r in rows for f in r.faces} - inside == {f.id for f in model.faces(body)} - plain - inside
    made = model.do("lift out", faces=list(rows[0].faces)).added
    lifted = sum(model.measure(b).volume for b in made if b.startswith("b"))
    if len(rows) == 1:
        assert lifted == pytest.approx(abs(lettered - before), rel=1e-9)
        assert model.measure(body).volume == pytest.approx(before, rel=1e-12), "the face is plain again"


MIRRORED = {
    "a box": (build.box(10, 20, 30), 3), "a cube": (build.box(10, 10, 10), 9),
    "a bar of six sides": (FAMILIES["hexagon"].make(20, 30, 4), 7),
    "five holes around": (build.subtract(build.cylinder(30, 8), *(
        build.cylinder(3, 10, (20 * math.cos(a), 20 * math.sin(a), -1)) for a in np.radians(72.0 * np.arange(5)))), 6),
    "an angle": (build.subtract(build.box(10, 10, 30), build.box(10, 10, 32, (2, 2, -1))), 2),
    "one hole aside": (build.subtract(build.box(40, 20, 5), build.cylinder(2, 9, (11, 7, -1))), 1),
    "blind": (build.subtract(build.box(40, 20, 5), build.cylinder(2, 9, (11, 7, 2))), 0),
    "a bump and a dent": (build.subtract(build.unite(build.box(40, 20, 10), build.sphere(4, (10, 10, 10))),
                                         build.sphere(4, (30, 10, 10))), 1),
}  # fmt: skip


@pytest.mark.parametrize("turned", [False, True])
@pytest.mark.parametrize("name", MIRRORED)
def test_planes_of_symmetry(name, turned):
    """As many as the form has, wherever it stands; each really maps the solid on to itself."""
    shape, count = MIRRORED[name]
    shape = build.moved(shape, ODD) if turned else shape
    found = symmetries_of(SolidTopology(ShapeIndex(shape)))
    assert len(found) == count
    volume = volume_properties(shape).amount
    for plane in found:
        image = mirrored(shape, plane.point, plane.normal)
        assert volume_properties(combine("common", shape, [image])[0]).amount == pytest.approx(volume, rel=1e-6)


def test_halves_and_splines_of_other_hands_change_nothing(tmp_path):
    for variant in ("halves", "splines", "placed"):
        model, body = model_of(tmp_path, VARIANTS[variant].shape(MIRRORED["five holes around"][0]))
        assert len(model.symmetries(body)) == 6, variant


def test_what_is_turned_is_symmetric_all_around():
    found = symmetries_of(SolidTopology(ShapeIndex(build.cone(5, 2, 9))))
    assert [(s.around, s.normal) for s in found] == [(True, (0, 0, 1))]
    both = symmetries_of(SolidTopology(ShapeIndex(build.cylinder(5, 9))))
    assert [s.around for s in both] == [True, False]


@pytest.mark.parametrize(
    ("planes", "words"),
    [
        ([], ""),
        ([((20, 0, 0), (1, 0, 0), False)], "symmetric across X at 20 mm"),
        ([((20, -3, 0), (1, 0, 0), False), ((20, -3, 0), (0, -1, 0), False)],
         "symmetric across X at 20 mm and Y at -3 mm"),
        ([((0, 0, 4), (0, 0, 1), True), ((0, 0, 4), (0, 0, 1), False)], "turned about Z, symmetric across Z at 4 mm"),
        ([((0, 0, 0), (1, 0, 0), False), ((0, 0, 0), (0.6, 0.8, 0), False), ((0, 0, 0), (0.8, -0.6, 0), False)],
         "symmetric across X at 0 mm and 2 slanting planes"),
    ],
)  # fmt: skip
def test_symmetry_is_told_in_words(planes, words):
    assert told_symmetries([SymmetryView(*p) for p in planes], "mm") == words

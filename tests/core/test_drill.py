"""Standard holes: diameters from the tables, volumes by formula."""

import math

import pytest

from ravine.core import EditError
from ravine.core.kernel import build
from ravine.core.model.holes import SCREWS
from tests.core.test_shaping_edits import BLOCK, sound, top
from tests.parts import model_of


@pytest.fixture
def block(tmp_path):
    model, body = model_of(tmp_path, build.box(40, 30, 20))
    return model, body, top(model, body)


def disc(diameter):
    return math.pi * diameter**2 / 4


@pytest.mark.parametrize(
    ("values", "gone"),
    [
        ({"screw": "M6"}, disc(6.6) * 20),
        ({"screw": "M6", "fit": "close"}, disc(6.4) * 20),
        ({"screw": "M8", "kind": "tapped"}, disc(6.8) * 20),
        ({"screw": "1/4-20", "kind": "tapped"}, disc(0.201 * 25.4) * 20),
        ({"kind": "plain", "diameter": 7}, disc(7) * 20),
        ({"screw": "M5", "kind": "counterbored"}, disc(5.5) * 20 + (disc(10) - disc(5.5)) * 5.4),
        ({"screw": "M6", "kind": "plain", "diameter": 6, "depth": 8},
         disc(6) * 8 + disc(6) * 3 / math.tan(math.radians(59)) / 3),
    ],
)  # fmt: skip
def test_holes_by_the_tables(block, values, gone):
    model, body, face = block
    model.do("drill", face=[face], **values)
    sound(model, body, BLOCK - gone)


def test_a_countersink_has_its_angle_and_width(block):
    model, body, face = block
    change = model.do("drill", face=[face], screw="M4", kind="countersunk")
    wide, narrow = 9.4 / 2, 4.5 / 2
    rim = math.pi / 3 * (wide - narrow) * (wide**2 + wide * narrow + narrow**2)  # 90°: as deep as it narrows
    sound(model, body, BLOCK - rim - disc(4.5) * (20 - (wide - narrow)))
    assert change.fact("diameter") == 4.5
    assert "countersunk hole for M4" in change.sentence


def test_the_place_is_counted_from_a_corner_or_a_round_edge(block, tmp_path):
    model, body, face = block
    corner = next(v for v in model.vertices(body) if v.point == pytest.approx((0, 0, 20))).id
    model.do("drill", face=[face], screw="M3", start=[corner], across=12, up=7)
    (hole,) = model.faces(body, kind="cylinder")
    assert hole.axis[0][:2] == pytest.approx((12, 7))
    ring = next(e for e in model.edges(body) if e.kind == "circle" and e.middle[2] > 19).id
    model.do("drill", face=[face], screw="M5", kind="counterbored", start=[ring])
    sound(model, body, BLOCK - disc(5.5) * 20 - (disc(10) - disc(5.5)) * 5.4)


def test_what_is_not_standard_or_not_there_is_refused(block):
    model, _, face = block
    before = model.snapshot
    for values, reason in (
        ({"screw": "M2", "kind": "counterbored"}, "from M3"),
        ({"screw": "M16", "kind": "countersunk"}, "up to M10"),
        ({"kind": "plain"}, "needs a diameter"),
        ({"screw": "M6", "across": 400}, "no matter"),
        ({"screw": "M6", "kind": "counterbored", "depth": 3}, "make it deeper"),
        ({"screw": "M7"}, "is one of"),
    ):
        with pytest.raises(EditError, match=reason):
            model.do("drill", face=[face], **values)
    assert model.snapshot == before


def test_a_drill_does_not_come_down_through_matter(tmp_path):
    post = build.unite(build.box(40, 30, 20), build.box(10, 10, 10, (15, 10, 20)))
    model, body = model_of(tmp_path, post)
    ledge = next(f.id for f in model.faces(body, normal=(0, 0, 1)) if f.centroid[2] < 21)
    with pytest.raises(EditError, match="matter stands on the face"):
        model.do("drill", face=[ledge], screw="M6")
    model.do("drill", face=[ledge], screw="M6", across=14)
    sound(model, body, BLOCK + 1000 - disc(6.6) * 20)


def test_the_tables_are_in_order():
    for name, screw in SCREWS.items():
        close, medium, free = screw.clearance
        assert screw.tap_drill < screw.diameter < close <= medium <= free < 1.31 * screw.diameter, name
        assert abs(screw.diameter - screw.pitch - screw.tap_drill) < 0.09 * screw.diameter, name
        assert screw.counterbore is None or screw.counterbore[0] > 1.4 * screw.diameter, name
        assert screw.countersink is None or screw.countersink[0] > 1.8 * screw.diameter, name

"""Full rounds over strips, parts of rounds given back, twisted prisms: volumes by formula."""

import math

import pytest

from ravine.core import EditError
from ravine.core.kernel import build
from tests.core.test_shaping_edits import BLOCK, sound, top, wall
from tests.parts import model_of


def test_the_rim_of_a_wall_is_rounded_over(tmp_path):
    rib = build.unite(build.box(40, 30, 20), build.box(40, 6, 10, (0, 12, 20)))
    model, body = model_of(tmp_path, rib)
    strip = top(model, body)
    change = model.do("round over", faces=[strip])
    assert change.fact("radius") == pytest.approx(3)
    sound(model, body, BLOCK + 40 * (6 * 7 + math.pi * 9 / 2))
    assert model.face(strip).kind == "cylinder"  # the strip's id goes on


def test_leaning_walls_take_the_round_that_touches_all_three(tmp_path):
    wedge = build.extrude(build.outline([(0, 0, 0), (40, 0, 0), (25, 0, 30), (15, 0, 30)]), (0, 30, 0))
    model, body = model_of(tmp_path, wedge)
    change = model.do("round over", faces=[top(model, body)])
    half = math.atan2(15, 30)  # of a wall against the vertical
    radius = 5 * math.tan((math.pi / 2 + half) / 2)
    assert change.fact("radius") == pytest.approx(radius)
    cut = 2 * (5 * radius - radius**2 * (math.pi / 2 - half) / 2)
    sound(model, body, 30 * ((40 + 10) / 2 * 30 - cut))


def test_the_rim_of_a_tube_and_the_floor_of_a_groove(tmp_path):
    tube = build.subtract(build.cylinder(20, 30), build.cylinder(14, 20, (0, 0, 15)))
    model, body = model_of(tmp_path, tube)
    before = model.measure(body).volume
    model.do("round over", faces=[top(model, body)])
    corners = (1 - math.pi / 4) * 9  # each; Pappus about the axis
    centroid = 3 - 3 * (10 - 3 * math.pi) / (3 * (4 - math.pi)) * 1.0
    lost = 2 * math.pi * corners * ((17 + centroid) + (17 - centroid))
    sound(model, body, before - lost, rel=1e-9)
    groove = build.subtract(build.box(40, 30, 20), build.box(50, 8, 10, (-5, 11, 10)))
    model, body = model_of(tmp_path, groove, "Groove")
    floor = next(f.id for f in model.faces(body, normal=(0, 0, 1)) if f.centroid[2] < 11)
    model.do("round over", faces=[floor])
    sound(model, body, BLOCK - 40 * (80 - (32 - math.pi * 8)))


def test_what_cannot_be_rounded_over_says_why(tmp_path):
    low = build.unite(build.box(40, 30, 20), build.box(40, 10, 2, (0, 10, 20)))
    model, body = model_of(tmp_path, low)
    before = model.snapshot
    with pytest.raises(EditError, match="too low for it"):
        model.do("round over", faces=[top(model, body)])
    step = build.unite(build.box(40, 30, 20), build.box(40, 10, 12, (0, 0, 20)))
    model2, body2 = model_of(tmp_path, step, "Step")
    ledge = next(f.id for f in model2.faces(body2, normal=(0, 0, 1)) if f.centroid[2] < 21)
    with pytest.raises(EditError, match="one of its neighbours rises"):
        model2.do("round over", faces=[ledge])
    frame = build.subtract(build.box(40, 30, 20), build.box(30, 20, 15, (5, 5, 8)))
    model3, body3 = model_of(tmp_path, frame, "Frame")
    with pytest.raises(EditError, match="no strip of one width"):
        model3.do("round over", faces=[top(model3, body3)])
    assert model.snapshot == before


@pytest.mark.parametrize(("share", "end"), [("40 %", "first"), (0.25, "second"), ("1/2", "first")])
def test_part_of_a_round_is_given_back(tmp_path, share, end):
    block = build.fillet(build.box(40, 30, 20), 4, lambda e: e.middle[2] == 20 and e.middle[0] == 40)
    model, body = model_of(tmp_path, block)
    model.do("give back", face=[wall(model, body)], share=share, end=end)
    kept = 1 - {"40 %": 0.4, 0.25: 0.25, "1/2": 0.5}[share]
    sound(model, body, BLOCK - kept * 30 * (1 - math.pi / 4) * 16)
    assert len(model.faces(body, kind="cylinder")) == 1


def test_inner_and_turning_rounds_are_given_back_too(tmp_path):
    step = build.unite(build.box(40, 30, 20), build.box(15, 30, 10, (0, 0, 20)))
    step = build.fillet(step, 3, lambda e: e.middle[2] == 20 and e.middle[0] == 15)
    model, body = model_of(tmp_path, step)
    model.do("give back", face=[wall(model, body)], share=0.5)
    sound(model, body, BLOCK + 15 * 30 * 10 + 15 * (1 - math.pi / 4) * 9)
    half = build.subtract(build.cylinder(20, 10), build.box(60, 60, 12, (-30, 0, -1)))
    whole = math.pi * 200 * 10
    half = build.fillet(half, 2, lambda e: e.middle[2] == 10 and e.middle[1] < -1)
    model, body = model_of(tmp_path, half, "Half")
    taken = whole - model.measure(body).volume
    (ring,) = [f.id for f in model.faces(body, kind="torus")]
    model.do("give back", face=[ring], share=0.5)
    sound(model, body, whole - taken / 2, rel=1e-7)
    disc = build.fillet(build.cylinder(20, 10), 2, lambda e: e.middle[2] == 10)
    model, body = model_of(tmp_path, disc, "Disc")
    (ring,) = [f.id for f in model.faces(body, kind="torus")]
    with pytest.raises(EditError, match="goes all around"):
        model.do("give back", face=[ring])
    with pytest.raises(EditError, match="up to 100"):
        model.do("give back", face=[ring], share="140 %")


@pytest.mark.parametrize("angle", ["30°", "-200°"])
def test_twisting_keeps_the_section_and_so_the_volume(tmp_path, angle):
    bar = build.subtract(build.box(20, 12, 50), build.box(8, 4, 60, (6, 4, -5)))
    model, body = model_of(tmp_path, bar)
    end = top(model, body)
    model.do("twist", face=[end], angle=angle)
    sound(model, body, (240 - 32) * 50, rel=1e-5)
    assert model.face(end).area == pytest.approx(208, rel=1e-6)
    turned = {tuple(round(c, 3) for c in e.middle) for e in model.face(end).edges}
    assert (10.0, 0.0, 50.0) not in turned  # the middle of an edge that did not turn would be there


def test_a_boss_is_twisted_on_its_plate(tmp_path):
    post = build.unite(build.box(40, 30, 20), build.box(10, 10, 25, (10, 10, 20)))
    model, body = model_of(tmp_path, post)
    end = top(model, body)
    model.do("twist", face=[end], angle="45°")
    sound(model, body, BLOCK + 2500, rel=1e-5)
    assert model.face(end).centroid == pytest.approx((15, 15, 45))
    uneven = build.unite(build.box(40, 30, 20), build.box(10, 10, 25, (-5, 10, 10)))
    model, body = model_of(tmp_path, uneven, "Uneven")
    with pytest.raises(EditError, match="equally far"):
        model.do("twist", face=[top(model, body)], angle="10°")

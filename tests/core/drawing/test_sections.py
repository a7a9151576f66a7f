"""Sections, details, breaks, flats: cut areas by formula, hatching by its length, what is left whole."""

from __future__ import annotations

import math

import numpy as np
import pytest
from shapely.geometry import LineString, Polygon

from ravine.core import EditError
from ravine.core.drawing.drawn_view import draw_view
from ravine.core.drawing.hatching import hatch_lines
from ravine.core.kernel import build
from tests.parts import boss_block, drilled_block, model_of, step_file


def sheet_of(tmp_path, shape, direction="top", **more):
    model, body = model_of(tmp_path, shape)
    sheet = model.drawing(size="A2", **more)
    return model, body, sheet, sheet.view(direction, scale=1, at=(150, 200))


def drawn(sheet, view):
    record = sheet.record
    return draw_view(sheet.model.snapshot, sheet.model.geometry, record, record.views[view.number])


def area(found):
    return sum(Polygon(a.loops[0], a.loops[1:]).area for a in found.areas)


def test_a_straight_section_shows_the_cut_matter_and_what_lies_behind(tmp_path):
    _, _, sheet, top = sheet_of(tmp_path, boss_block())
    found = drawn(sheet, top.section())  # through the middle of the hole
    assert area(found) == pytest.approx(60 * 10 + 20 * 12 - 8 * 22)
    xs = [line.curve.centre[0] for line in found.lines if line.curve.kind == "line" and abs(line.curve.x[0]) < 1e-9]
    assert {round(abs(x), 6) for x in xs} == {30, 10, 4}  # plate, boss and bore, seen from the side
    off = drawn(sheet, top.section(line="-40,14 40,14"))  # beside the boss: plate only
    assert area(off) == pytest.approx(60 * 10)


def test_lines_of_a_section_still_name_their_edges(tmp_path):
    model, body, _, top = sheet_of(tmp_path, drilled_block())
    lines = top.section().lines
    named = [line for line in lines if line.source]
    assert len(named) == len(lines)  # what the cut made names the face that it lies in
    known = {f"e{e}" for e in model.body(body).edges} | {f"f{f}" for f in model.body(body).faces}
    assert {line.source.split("@")[0] for line in named} <= known


def test_a_stepped_section_goes_through_both_holes(tmp_path):
    holes = [build.cylinder(4, 30, (15, 10, -1)), build.cylinder(4, 30, (45, 30, -1))]
    _, _, sheet, top = sheet_of(tmp_path, build.subtract(build.box(60, 40, 20), *holes))
    straight = drawn(sheet, top.section(line="-40,-10 40,-10"))
    assert area(straight) == pytest.approx((60 - 8) * 20)
    stepped = drawn(sheet, top.section(line="-40,-10 0,-10 0,10 40,10"))
    assert area(stepped) == pytest.approx((60 - 16) * 20)


def flange(tmp_path, *angles):
    """A disc of radius 40 and thickness 12, its bore of 8, a hole of 4 at radius 28 in each direction (degrees)."""
    spots = [(28 * math.cos(math.radians(a)), 28 * math.sin(math.radians(a)), -1) for a in angles]
    holes = [build.cylinder(8, 20, (0, 0, -1)), *(build.cylinder(4, 20, s) for s in spots)]
    return sheet_of(tmp_path, build.subtract(build.cylinder(40, 12), *holes))


@pytest.mark.parametrize("lean", [60, -35, 90])
def test_a_bent_section_is_turned_into_one_plane(tmp_path, lean):
    _, _, sheet, top = flange(tmp_path, 180, lean)
    end = f"{50 * math.cos(math.radians(lean))},{50 * math.sin(math.radians(lean))}"
    found = drawn(sheet, top.section(line=f"-50,0 0,0 {end}"))
    assert area(found) == pytest.approx(12 * 2 * (40 - 8 - 8))
    assert found.box == pytest.approx((-40, -6, 40, 6))
    upright = [li for li in found.lines if li.curve.kind == "line" and abs(li.curve.x[0]) < 1e-9]
    assert {round(li.curve.centre[0], 6) for li in upright if li.layer == "visible"} == {
        -40, -32, -24, -8, 8, 24, 32, 40}  # fmt: skip
    (axis,) = [li for li in found.lines if li.layer == "centre"]  # where it turns: seen on the wall of the bore
    assert np.ptp(axis.curve.line[1], axis=0) == pytest.approx((0, 12))
    assert all(li.source for li in found.lines if li is not axis)
    as_it_lies = drawn(sheet, top.section(line=f"-50,0 0,0 {end}", slanting="kept"))
    assert area(as_it_lies) < area(found)


def test_sizes_in_a_bent_section_are_those_along_its_legs(tmp_path):
    _, _, sheet, top = flange(tmp_path, 180, 60)
    section = top.section(line="-50,0 0,0 25,43.301")
    found = drawn(sheet, section)

    def at(x):
        (line,) = [li for li in found.lines if li.curve.kind == "line" and li.layer == "visible"
                   and abs(li.curve.x[0]) < 1e-9 and abs(li.curve.centre[0] - x) < 1e-3]  # fmt: skip
        return line.source

    for pair, size in (((-32, 32), 64), ((8, 24), 16), ((-8, 40), 48)):
        near = " ".join(f"{x},0" for x in pair)
        assert sheet.dimension(section, [at(x) for x in pair], near=near).value == pytest.approx(size, abs=1e-3)


def test_a_line_with_steps_and_a_slant_keeps_its_parts_side_by_side(tmp_path):
    holes = [build.cylinder(3, 30, spot) for spot in ((15, 10, -1), (45, 30, -1), (72, 45.5884573, -1))]
    _, _, sheet, top = sheet_of(tmp_path, build.subtract(build.box(90, 60, 20), *holes))
    found = drawn(sheet, top.section(line="-50,-20 -15,-20 -15,0 0,0 45,25.98076"))  # a step, then 30 degrees
    lows = np.sort([ring[:, 0].min() for a in found.areas for ring in a.loops])
    assert lows[0] == pytest.approx(-45)
    reach = 45 / math.cos(math.radians(30))
    assert area(found) == pytest.approx((45 + reach - 18) * 20, rel=1e-6)


def test_what_stays_whole_goes_where_it_lies_before_the_cut(tmp_path):
    model, _ = model_of(tmp_path, drilled_block())
    for name, y in (("Before", -12), ("Behind", 32)):
        pin = build.cylinder(2, 30, (20, y, 5))
        model.do("import", path=str(step_file(tmp_path / f"{name}.step", pin, name)))
    sheet = model.drawing(size="A2")
    top = sheet.view("top", scale=1, at=(150, 200))
    pins = [*model.nodes("Before"), *model.nodes("Behind")]
    found = drawn(sheet, top.section(whole=pins))
    nodes = {li.source.split("@")[1] for li in found.lines if "@" in li.source}
    assert str(pins[0]) not in nodes
    assert str(pins[1]) in nodes


def test_half_of_a_section_leaves_the_other_half_whole(tmp_path):
    _, _, sheet, top = sheet_of(tmp_path, build.subtract(build.cylinder(20, 30), build.cylinder(8, 40, (0, 0, -5))))
    half = drawn(sheet, top.section(line="0,0 25,0", half=True))
    assert area(half) == pytest.approx((20 - 8) * 30)
    assert all(ring[:, 0].min() > 8 - 1e-6 for a in half.areas for ring in a.loops)


def test_parts_from_the_shelf_and_named_ones_stay_whole(tmp_path):
    model, _ = model_of(tmp_path, drilled_block())
    model.do("import", path=str(step_file(tmp_path / "pin.step", build.cylinder(4.9, 30, (20, 15, -5)), "Pin")))
    sheet = model.drawing(size="A2")
    top = sheet.view("top", scale=1, at=(150, 200))
    both = drawn(sheet, top.section())
    assert area(both) == pytest.approx((40 - 10) * 20 + 9.8 * 30)
    assert len({a.part for a in both.areas}) == 2
    only_block = drawn(sheet, top.section(whole=model.nodes("Pin")))
    assert area(only_block) == pytest.approx((40 - 10) * 20)


def test_hatching_covers_the_area_and_nothing_else():
    ring = [np.array([[0, 0], [40, 0], [40, 30], [0, 30.0]]), np.array([[10, 10], [20, 10], [20, 20], [10, 20.0]])]
    shape = Polygon(ring[0], [ring[1]])
    for angle in (45, 30, 120):
        rows = hatch_lines(ring, angle, 0.5)
        assert np.hypot(*(rows[:, 1] - rows[:, 0]).T).sum() * 0.5 == pytest.approx(shape.area, rel=0.01)
        assert all(shape.buffer(1e-6).contains(LineString(row)) for row in rows)
        leans = np.degrees(np.arctan2(*(rows[:, 1] - rows[:, 0])[:, ::-1].T)) % 180
        assert np.allclose(leans, angle)


def test_a_detail_is_what_lies_in_its_circle_larger(tmp_path):
    *_, top = sheet_of(tmp_path, drilled_block())
    detail = top.detail((0, 0), "6 mm", scale=4)
    (rim,) = detail.lines
    assert rim.curve.radius == pytest.approx(20)
    corner = top.detail((20, 15), 6, scale=2)
    assert sum(line.curve.radius for line in corner.lines) == pytest.approx(2 * 2 * 6)
    with pytest.raises(EditError, match="nothing lies"):
        top.detail((0, 0), 2)


def test_a_long_view_is_broken_and_its_sizes_stay_true(tmp_path):
    model, _, sheet, top = sheet_of(tmp_path, build.box(300, 20, 10), "front")
    edge = model.edges(kind="line", direction=(1, 0, 0)).highest((0, -1, 1)).id
    before = sheet.dimension(top, [edge], at=(0, 30))
    model.do("set view", view=top.number, along="x", low="-100 mm", high="100 mm")
    xs = np.concatenate([line.curve.at(np.array([0.0, 1.0]))[:, 0] for line in top.lines])
    assert np.ptp(xs) == pytest.approx(300 - 200 + 3)  # room of 3 mm on paper
    assert sheet.written(before.number).value == pytest.approx(300)


def test_views_stand_in_line_as_the_angle_of_projection_says(tmp_path):
    for angle, sign in (("first", 1), ("third", -1)):
        _, _, sheet, front = sheet_of(tmp_path, drilled_block(), "front", angle=angle, called=angle)
        left, above = front.beside("left"), front.beside("above")
        views = sheet.record.views
        assert views[left.number].eye == (-1, 0, 0)
        assert sign * (views[left.number].at[0] - 150) > 0
        assert views[left.number].at[1] == 200
        assert views[above.number].eye == (0, 0, 1)
        assert sign * (200 - views[above.number].at[1]) > 0
        model = sheet.model
        model.do("move on sheet", things=[front.number], step=(7, 5), sheet=angle)
        views = sheet.record.views
        assert views[left.number].at[1] == 205
        assert views[above.number].at[0] == 157
        model.do("move on sheet", things=[left.number], step=(4, 9), sheet=angle)
        assert sheet.record.views[left.number].at[1] == 205  # it keeps in line


def test_a_flat_is_drawn_with_its_bends_and_their_table(tmp_path):
    model, _ = model_of(tmp_path, build.box(80, 50, 1.5))
    rim = max((e for e in model.edges(kind="line") if abs(e.middle[2] - 1.5) < 1e-6), key=lambda e: e.middle[0])
    model.do("flange", edges=[rim.id], length="20 mm", radius="2 mm")
    sheet = model.drawing(size="A3")
    flat = sheet.view("flat", parts=model.nodes(), scale=1, at=(150, 150))
    own = model.flat(model.bodies()[0])
    visible = [line.curve for line in flat.lines if not line.source]
    xs = np.concatenate([c.at(np.array([c.first, c.last])) for c in visible])
    assert np.ptp(xs, axis=0) == pytest.approx(sorted(own.size, reverse=True), abs=1e-6)
    assert sheet.write("bend table", flat, at=(60, 40)).value == len(own.bends) == 1
    assert math.isclose(own.bends[0].angle, 90, abs_tol=1e-6)


def ribbed():
    """A plate 60 × 40 × 10 with a wall at its end, 10 × 40 × 40, and a rib 6 wide between the two."""
    rib = build.extrude(build.outline([(10, 17, 10), (40, 17, 10), (10, 17, 35)]), (0, 6, 0))
    return build.unite(build.box(60, 40, 10), build.box(10, 40, 50), rib)


def test_a_rib_that_the_cut_runs_along_is_not_hatched(tmp_path):
    model, body, sheet, top = sheet_of(tmp_path, ribbed())
    assert any(f.kind == "rib" for f in model.features(body))
    along = drawn(sheet, top.section())
    plain = 60 * 10 + 10 * 40
    assert area(along) == pytest.approx(plain)
    ends = {f"e{e}" for e in model.body(body).edges}
    found = [li for li in along.lines if li.source.split("@")[0] in ends and li.layer == "visible"]
    level = [li.curve for li in found if li.curve.kind == "line" and abs(li.curve.x[1]) < 1e-9]
    inner = [c for c in level if abs(c.centre[1] + 15) < 1e-6]
    assert sum(float(np.hypot(*c.x)) for c in inner) >= 30  # where the rib stands on the plate
    cut = drawn(sheet, top.section(ribs="cut"))
    assert area(cut) == pytest.approx(plain + 30 * 25 / 2)
    beside = drawn(sheet, top.section(line="-40,-10 40,-10"))
    assert area(beside) == pytest.approx(plain)
    across = drawn(sheet, top.section(line="-10,-30 -10,30", toward="left"))
    assert area(across) == pytest.approx(40 * 10 + 6 * (25 * (40 - 20) / 30), rel=1e-6)  # a rib cut across is hatched

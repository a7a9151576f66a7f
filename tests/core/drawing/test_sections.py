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

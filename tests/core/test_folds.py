"""Sharp folds: transitions against developments and convex hulls, bends in steps; forms that are lanced; marks."""

import io
import math

import ezdxf
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import EditError, Model
from ravine.core.kernel import build
from ravine.core.sheet import transition
from ravine.core.sheet.folding import folded_mesh
from ravine.core.sheet.transition import Outline
from tests.core.test_sheet import body, plate, uppers
from tests.parts import model_of


def duct(**values):
    model = Model()
    change = model.do("make transition", **values)
    assert not change.warnings, change.warnings
    sheet = model.sheet(body(model))
    assert not sheet.faults
    flat = model.flat(body(model))
    assert len(flat.outline) == 1, "one outline, open along the seam"
    assert not flat.clashes
    return model, flat


@settings(max_examples=60, deadline=None)
@given(
    st.floats(40, 200), st.floats(40, 200), st.floats(20, 200), st.floats(-60, 60), st.floats(-3, 3),
    st.sampled_from(["round", "rectangle"]), st.integers(1, 9),
)  # fmt: skip
def test_facets_are_flat_and_close_the_hull(across, deep, above, x, turn, kind, steps):
    """Their area is that of the convex hull without its two ends, and each has all of both outlines on one side."""
    from scipy.spatial import ConvexHull

    low, high = Outline("rectangle", across, deep, 0.0), Outline(kind, above, above, 80.0, x, 11.0, turn)
    rows = transition.facets(low, high, steps)
    rings = [np.column_stack([o.corners(steps), np.full(len(o.corners(steps)), o.z)]) for o in (low, high)]
    points = np.vstack(rings)
    normals, offsets = transition.planes(rows)
    assert (points @ normals.T - offsets).max() < 1e-7 * 200
    ends = sum(abs(_area(r)) for r in rings)
    assert sum(abs(_area(r)) for r in rows) == pytest.approx(ConvexHull(points).area - ends, rel=1e-7)


def _area(ring):
    steps = ring - ring[0]
    return np.linalg.norm(np.cross(steps[1:-1], steps[2:]).sum(axis=0)) / 2


@pytest.mark.parametrize("bottom", [0, 1])
def test_a_cone_in_facets_is_the_sector_of_its_development(bottom):
    """Round to round on one axis: the folds' ends lie on two arcs whose radii are those of the cone's development."""
    sizes = [100.0, 60.0][:: -1 if bottom else 1]
    _, flat = duct(lower="round", lower_across=sizes[0], upper_across=sizes[1], height=90, steps=12, thickness=1)
    slant = math.hypot(90, 20)
    ends = np.array([b.line for b in flat.bends]).reshape(-1, 2)
    # lines through the folds meet in the apex of the development
    a, b = (np.array(f.line) for f in (flat.bends[0], flat.bends[7]))
    u, v = a[1] - a[0], b[1] - b[0]
    apex = a[0] + u * np.linalg.solve(np.column_stack([u, -v]), b[0] - a[0])[0]
    far = np.hypot(*(ends - apex).T)
    assert np.unique(far.round(6)) == pytest.approx([slant * 30 / 20, slant * 50 / 20], abs=2e-6)
    chord = 2 * 50 * math.sin(math.pi / 48)
    turn = 2 * math.asin(chord / 2 / (slant * 50 / 20))
    assert flat.bends[0].angle == pytest.approx(flat.bends[9].angle)
    whole = 48 * turn / 2 * ((slant * 2.5) ** 2 - (slant * 1.5) ** 2) * math.sin(turn) / turn
    assert flat.area == pytest.approx(whole - 1.0 * flat.bends[0].length, rel=2e-5), "less the gap of the seam"


def test_square_to_round_off_centre_and_from_inside():
    """Seen from either side the flat is the same; its facets have the edges of the triangulation, and it folds back."""
    model, flat = duct(x=30, y=-20, height=90, steps=6)
    corners = [(-50, -50), (50, -50), (50, 50), (-50, 50)]
    circle = [(30 + 40 * math.cos(k * math.pi / 12), -20 + 40 * math.sin(k * math.pi / 12)) for k in range(24)]
    known = {round(math.sqrt((a - c) ** 2 + (b - d) ** 2 + 90**2), 5) for a, b in corners for c, d in circle}
    cut = [b.length for b in flat.bends if round(b.length, 5) not in known]
    assert len(flat.bends) - len(cut) == 26, "the seam cuts the ends of the two beside it"
    assert all(any(0 < k - length < 4 for k in known) for length in cut)
    points = np.vstack(folded_mesh(flat.whole, 1.0).points)
    assert points[:, 2].min() > -0.4
    assert points[:, 2].max() < 90.4
    solid = model.snapshot.body(int(body(model)[1:]))
    inner = f"f{solid.faces[min(flat.whole.reading.behind)]}"
    again = model.flat(body(model), inner)
    assert again.area == pytest.approx(flat.area, rel=1e-8)
    assert {b.direction for b in again.bends} == {"up"} != {b.direction for b in flat.bends}


def test_rounded_rectangles_and_what_is_refused():
    duct(upper="rectangle", upper_across=60, lower_corner=20, upper_corner=5)
    duct(lower="round", lower_across=90, upper="rectangle", upper_across=40, upper_deep=70, thickness=2)
    model = Model()
    with pytest.raises(EditError, match="a sharp fold takes up to 32°"):
        model.do("make transition", upper="rectangle", upper_across=60, turn="0.2 rad")
    with pytest.raises(EditError, match="too round for the sides") as refused:
        model.do("make transition", lower_corner=60)
    model.do("make transition", lower_corner=refused.value.nearest)
    with pytest.raises(EditError, match="in 1 to 24 steps"):
        model.do("make transition", steps=30)
    with pytest.raises(EditError, match="walls would be level"):
        model.do("make transition", height=2)


@pytest.mark.parametrize("steps", [3, 9])
def test_a_bend_in_steps(tmp_path, steps):
    """Every step touches the arc: the flat is longer by 2 n (r + t/2) tan(a / 2n) instead of the arc."""
    model = plate(tmp_path)
    model.do("flange", edges=[uppers(model, 1.5)[1, 0, 0]], length=60, radius=20)
    change = model.do("bend in steps", bends=[model.sheet(body(model)).bends[0].id], steps=steps)
    sheet, flat = model.sheet(body(model)), model.flat(body(model))
    assert not sheet.faults
    assert [round(b.angle, 9) for b in sheet.bends] == [round(90 / steps, 9)] * steps
    assert {b.radius for b in sheet.bends} == {0}
    long = 100 + 60 - 21.5 + 2 * steps * 20.75 * math.tan(math.pi / 4 / steps)
    assert flat.size[0] == pytest.approx(long, rel=1e-12)
    chord = next(f.value for f in change.facts if f.code == "chord")
    assert chord == pytest.approx(21.5 * (1 / math.cos(math.pi / 4 / steps) - 1))
    model.undo()
    with pytest.raises(EditError, match="each step would bend by 45°") as refused:
        model.do("bend in steps", bends=[model.sheet(body(model)).bends[0].id], steps=2)
    assert refused.value.nearest == "3"


def test_a_louvre_is_left_out_of_the_flat_and_marked(tmp_path):
    model = plate(tmp_path)
    top = model.faces(kind="plane", normal=(0, 0, 1)).largest().id
    model.do("press", face=[top], kind="louvre", size=10, height=5, length=40)
    flat = model.flat(body(model))
    assert len(flat.whole.forms) == 1
    assert flat.area == pytest.approx(100 * 60, rel=1e-6), "the blank is whole there"
    assert flat.size == pytest.approx((100, 60))
    file = model.do("save flat", on=model.nodes(), forms="both").files
    drawing = ezdxf.read(io.StringIO(next(iter(file.values())).decode()))
    layers = {e.dxf.layer for e in drawing.modelspace()}
    assert layers == {"OUTLINE", "FORMS", "MARKS"}
    marks = [e for e in drawing.modelspace() if e.dxf.layer == "MARKS"]
    assert len(marks) == 2
    file = model.do("save flat", on=model.nodes(), forms="none").files
    drawing = ezdxf.read(io.StringIO(next(iter(file.values())).decode()))
    assert {e.dxf.layer for e in drawing.modelspace()} == {"OUTLINE"}


def test_a_knock_out_hangs_by_two_webs(tmp_path):
    model = plate(tmp_path)
    top = model.faces(kind="plane", normal=(0, 0, 1)).largest().id
    model.do("press", face=[top], kind="knock-out", size=20)
    flat = model.flat(body(model))
    assert len(flat.outline) == 3
    kerf, web = 0.375, 1.5 * 1.5 / 10
    ring = (10**2 - (10 - kerf) ** 2) * (math.pi - web)
    assert flat.area == pytest.approx(100 * 60 - ring, rel=1e-9)


def lipped(folder, wide, high, lip):
    """A channel with lips turned inwards."""
    model = plate(folder, 60, wide)
    rims = uppers(model, 1.5)
    model.do("flange", edges=[rims[0, 1, 0], rims[0, -1, 0]], length=high, radius=1.5, counted="tangent")
    tops = [e for e in model.edges(kind="line", direction=(1, 0, 0)) if e.middle[2] > high]
    inner = sorted(tops, key=lambda e: abs(e.middle[1] - wide / 2))[:2]
    model.do("flange", edges=[e.id for e in inner], length=lip, radius=1.5, counted="tangent")
    return model


@pytest.mark.parametrize(("wide", "lip", "free"), [(70, 12, True), (30, 12, False)])
def test_bends_are_put_in_an_order(tmp_path, wide, lip, free):
    """When the second wall stands, the punch leans by 45° over the floor: it meets the other wall's lip where the floor
    is narrower than the wall is high and the lip is long."""
    from ravine.core.sheet.order import bending_order

    model = lipped(tmp_path, wide, 30, lip)
    flat = model.flat(body(model)).whole
    steps = bending_order(flat)
    assert all(s.free for s in steps) == free
    depth = {b.face: sum(1 for _ in _chain(flat, b.face)) for b in flat.bends}
    assert [depth[s.bend] for s in steps] == sorted(depth.values(), reverse=True), "lips come before their walls"
    if not free:
        assert steps[-1].punch
        assert not any(s.punch for s in steps[:-1])


def _chain(flat, face):
    while face in flat.tree:
        face = flat.tree[face][0]
        yield face


@pytest.mark.parametrize("below", [False, True])
@pytest.mark.parametrize("hole", [False, True])
def test_a_welded_nut_and_a_second_sheet_are_told_apart(tmp_path, below, hole):
    sides = [(30 + 5 * math.cos(k * math.pi / 3), 20 + 5 * math.sin(k * math.pi / 3), -4 if below else 1.5)
             for k in range(6)]  # fmt: skip
    shape = build.unite(build.box(80, 40, 1.5), build.extrude(build.outline(sides), (0, 0, 4)))
    if hole:
        shape = build.subtract(shape, build.cylinder(2.1, 20, (30, 20, -8)))
    model, number = model_of(tmp_path, shape, "Plate with nut")
    assert [f.kind for f in model.sheet(number).faults] == ["piece"]
    assert model.flat(number).area == pytest.approx(80 * 40 - (math.pi * 2.1**2 if hole else 0))
    shape = build.unite(build.box(80, 40, 1.5), build.box(40, 1.5, 30, (20, 20, 1.5)))
    model, number = model_of(tmp_path, shape, "Plate with rib")
    assert [f.kind for f in model.sheet(number).faults] == ["second"]
    assert model.flat(number).area == pytest.approx(80 * 40)


def test_the_workshop_names_gauges_tools_and_edges_beside_bends(tmp_path):
    model = plate(tmp_path, t=1.37, cut=[build.box(30, 9, 9, (96, 25, -3))])
    rims = [e for e in model.edges(kind="line", direction=(0, 1, 0)) if abs(e.middle[2] - 1.37) < 1e-6]
    low = next(e for e in rims if abs(e.middle[0] - 100) < 1e-6 and e.middle[1] < 20)
    model.do("flange", edges=[low.id], length=30, radius=2.2)
    from ravine.core.sheet.checks import shop_findings, words

    found = {f.kind: words(f, "mm") for f in shop_findings(model.flat(body(model)).whole, "stainless steel")}
    assert found["odd gauge"] == "no usual sheet has this thickness: 1.37 mm, 1.5 mm works"
    assert found["no tool"] == "no punch in stock has this radius: 2.2 mm, 2 mm works"

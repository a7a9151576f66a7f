"""Sheet metal read and laid flat: lengths by their formulas, volumes of what is folded, faults that were planted."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import LineString

from ravine.core import EditError, Model
from ravine.core.kernel import build
from ravine.core.model.query import EdgeSet
from ravine.core.sheet.allowance import Allowance, deduction, din_6935, k_of_deduction, read_table
from ravine.core.sheet.folding import folded_mesh
from ravine.core.sheet.order import bending_order
from tests.parts import model_of


def plate(folder, x=100.0, y=60.0, t=1.5, cut=()):
    shape = build.box(x, y, t)
    return model_of(folder, build.subtract(shape, *cut) if cut else shape, "Plate")[0]


def uppers(model, t):
    """Straight edges of the plate's upper side, by which way they lie."""
    rows = EdgeSet(e for e in model.edges(kind="line") if abs(e.middle[2] - t) < 1e-6)
    return {way: rows.highest(way).id for way in ((1, 0, 0), (-1, 0, 0), (0, 1, 0), (0, -1, 0))}


def body(model):
    return model.bodies()[0]


def flat_is_whole(model, tolerance=1e-6):
    """Every bit of the part is a wall or a bend: what is folded back has its volume."""
    found = model.flat(body(model))
    assert found.whole.volume == pytest.approx(model.measure(body(model)).volume, rel=tolerance)
    assert not found.clashes
    assert not model.sheet(body(model)).faults
    return found


@settings(max_examples=25, deadline=None)
@given(
    st.floats(0.5, 4), st.floats(0.2, 3), st.floats(20, 150), st.floats(10, 60),
    st.sampled_from(["outside", "inside", "tangent"]), st.sampled_from(["beyond", "flush"]), st.floats(0.3, 0.5),
)  # fmt: skip
def test_a_bracket_unfolds_by_the_formula(tmp_path_factory, t, ratio, degrees, leg, counted, placed, k):
    """DIN 6935: flat length = both straight lengths and the allowance φ (r + K t)."""
    r, phi = ratio * t, math.radians(degrees)
    model = plate(tmp_path_factory.mktemp("p"), 100, 40, t)
    half = math.tan(min(phi, math.pi / 2) / 2)
    taken = {"outside": (r + t) * half, "inside": r * half, "tangent": 0.0}[counted]
    length = leg + taken
    model.do("flange", edges=[uppers(model, t)[1, 0, 0]], length=length, angle=phi * 180 / math.pi, radius=r,
             counted=counted, placed=placed)  # fmt: skip
    model.do("make sheet", on=model.nodes(), k_factor=k)
    found = flat_is_whole(model)
    back = (r + t) * half if placed == "flush" else 0.0
    flat = 100 - back + phi * (r + k * t) + leg
    assert found.size == pytest.approx(tuple(sorted((flat, 40), reverse=True)), rel=1e-9)
    (bend,) = found.bends
    assert bend.angle == pytest.approx(degrees, abs=1e-7)
    assert bend.radius == pytest.approx(r, rel=1e-9)
    assert bend.length == pytest.approx(40, abs=1e-6)
    assert bend.allowance == pytest.approx(phi * (r + k * t), rel=1e-9)
    assert {bend.direction, model.flat(body(model), bend_wall(model)).bends[0].direction} == {"up", "down"}


def bend_wall(model):
    """A wall's other side, from where the bend goes the other way."""
    walls = model.sheet(body(model)).walls
    return walls[0].faces[1]


@pytest.mark.parametrize("corners", ["open", "closed"])
@pytest.mark.parametrize("degrees", [60, 90, 120])
def test_a_tray_of_four_flanges_at_once(tmp_path, degrees, corners):
    model = plate(tmp_path)
    model.do("flange", edges=list(uppers(model, 1.5).values()), length=20, angle=degrees, radius=2, corners=corners)
    found = flat_is_whole(model)
    assert len(found.bends) == 4
    assert len(found.outline) == 1
    phi = math.radians(degrees)
    reach = 20 - 3.5 * math.tan(min(phi, math.pi / 2) / 2) + phi * (2 + 0.44 * 1.5)
    assert found.size == pytest.approx((100 + 2 * reach, 60 + 2 * reach), rel=1e-9)


def test_holes_go_along_into_the_flat_also_across_a_bend(tmp_path):
    """A hole in a wall stays a circle; one across the bend is as wide as its mapped cut."""
    model = plate(tmp_path, cut=[build.cylinder(4, 9, (30, 30, -2))])
    model.do("flange", edges=[uppers(model, 1.5)[1, 0, 0]], length=30, radius=3)
    tool = build.cylinder(5, 20, (100, 30, 4.5), (1, 0, -1))
    model = model_of(tmp_path, build.subtract(model.geometry.get(model.body(body(model)).shape).shape, tool), "P")[0]
    found = model.flat(body(model))
    assert len(found.outline) == 3
    assert [c.kind for c in found.outline[2]] == ["round"]
    assert found.outline[2][0].radius == pytest.approx(4)
    across = found.outline[1]
    places = [p for c in across for p in c.at(c.steps(c.first, c.last))]
    assert max(p[1] for p in places) - min(p[1] for p in places) == pytest.approx(10, abs=1e-4), "along the bend"
    assert "spline" in {c.kind for c in across}


@pytest.mark.parametrize(
    ("asked", "area"),
    [({"shape": "circle", "size": 8}, 16 * math.pi),
     ({"shape": "slot", "size": 4, "length": 20, "turn": "30°"}, 64 + 4 * math.pi),
     ({"shape": "rectangle", "size": 4, "length": 20, "turn": "10°"}, 80)],
)  # fmt: skip
@pytest.mark.parametrize("where", ["wall", "bend", "leg"])
def test_a_cut_on_the_flat_is_a_cut_in_the_folded_part(tmp_path, asked, area, where):
    """It takes its own area off the flat at its own place, and the part off square to the sheet."""
    model = plate(tmp_path)
    model.do("flange", edges=[uppers(model, 1.5)[1, 0, 0]], length=40, radius=3)
    before = model.flat(body(model))
    middle = before.bends[0].line[0][0] + {"wall": -40, "bend": 0, "leg": 22}[where]
    change = model.do("cut flat", on=model.nodes(), at=[middle, 30], **asked)
    assert change.fact("panels") == {"wall": 1, "bend": 3, "leg": 1}[where]
    found = flat_is_whole(model)
    assert before.area - found.area == pytest.approx(area, rel=1e-6)
    places = [p for c in found.outline[1] for p in c.at(c.steps(c.first, c.last))]
    centre = [(min(p[k] for p in places) + max(p[k] for p in places)) / 2 for k in (0, 1)]
    assert centre == pytest.approx([middle, 30], abs=1e-3)
    if where == "wall":
        assert model.measure(body(model)).volume == pytest.approx(before.whole.volume - 1.5 * area, rel=1e-9)


@pytest.mark.parametrize(
    ("asked", "area"),
    [({"shape": "circle", "size": 8}, 16 * math.pi), ({"shape": "slot", "size": 6, "length": 18}, 72 + 9 * math.pi),
     ({"shape": "rectangle", "size": 10, "length": 20, "turn": "20°"}, 200)],
)  # fmt: skip
@pytest.mark.parametrize("across", [0.0, 60.0])
def test_a_cut_across_a_cone_is_square_to_it(asked, area, across):
    """Also where it runs out over the border."""
    model = Model()
    model.do("make tube", lower=60, upper=100, height=50, thickness=2, gap=1)
    before = model.flat(body(model))
    (panel,) = before.whole.panels.values()
    middle = panel.shape.representative_point()
    border = panel.shape.intersection(LineString([(middle.x, middle.y), (400 * middle.x, 400 * middle.y)])).coords[-1]
    at = (middle.x, middle.y) if not across else border
    model.do("cut flat", on=model.nodes(), at=list(at), **asked)
    found = flat_is_whole(model)
    if not across:
        assert before.area - found.area == pytest.approx(area, rel=1e-6)
    else:
        assert 0.3 * area < before.area - found.area < 0.7 * area
        assert len(found.outline) == 1


def test_cuts_beside_the_flat_are_refused(tmp_path):
    model = plate(tmp_path)
    with pytest.raises(EditError, match="beside the flat"):
        model.do("cut flat", on=model.nodes(), at=[500, 0], size=5)
    with pytest.raises(EditError, match="longer than wide"):
        model.do("cut flat", on=model.nodes(), at=[50, 30], shape="slot", size=5, length=4)


def test_folded_all_the_way_it_is_the_part_and_flat_it_is_the_flat(tmp_path):
    """By the ends of what is drawn; and every bend keeps its length on the way."""
    model = plate(tmp_path)
    model.do("flange", edges=list(uppers(model, 1.5).values()), length=20, radius=2, corners="closed")
    whole = model.flat(body(model)).whole
    size = {}
    for share in (1e-4, 0.5, 1.0):
        points = np.vstack(folded_mesh(whole, share).points)
        size[share] = np.ptp(points, axis=0)
    assert size[1e-4] == pytest.approx([*whole.size, 1.5], abs=0.02)
    low, high = model.measure(body(model)).box
    assert size[1.0] == pytest.approx(np.subtract(high, low), abs=1e-6)
    assert size[1e-4][0] > size[0.5][0] > size[1.0][0]
    assert size[1e-4][2] < size[0.5][2] < size[1.0][2]


@pytest.mark.parametrize("upper", [None, 100])
def test_a_rolled_sheet_opens(upper):
    """All points of the rolled part lie on it; half open it is as long along the bend as ever; flat it is the flat."""
    model = Model()
    model.do("make tube", lower=60, height=50, thickness=2, gap=1, **({"upper": upper} if upper else {}))
    whole = model.flat(body(model)).whole
    solid = model.geometry.solid(model.body(body(model)).shape)
    rolled, half, flat = (folded_mesh(whole, share) for share in (1.0, 0.5, 1e-6))
    points = np.vstack(rolled.points)
    axis = np.hypot(points[:, 0], points[:, 1])
    slope = math.atan2(20, 50) if upper else 0.0
    off = [(axis - 30 - math.tan(slope) * points[:, 2]) * math.cos(slope) + d for d in (0.0, 2.0)]
    assert np.minimum(*np.abs(off)).max() < 1e-6, "on one of the two sides"
    assert mesh_volume(rolled) == pytest.approx(solid.volume_mm3, rel=1e-2)  # of strips of 10°
    assert mesh_volume(half) == pytest.approx(solid.volume_mm3, rel=2e-2)
    laid = np.vstack(flat.points)
    thin = np.linalg.svd(laid - laid.mean(axis=0))[2][2]
    assert np.ptp(laid @ thin) == pytest.approx(2, abs=1e-2)
    assert mesh_volume(flat) == pytest.approx(whole.area * 2, rel=3e-3)
    with pytest.raises(EditError, match="no order of bends"):
        bending_order(whole)


def mesh_volume(mesh):
    """By its triangles, which look outwards."""
    a, b, c = np.moveaxis(np.vstack(mesh.points)[np.vstack(mesh.triangles)], 1, 0)
    return float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum()) / 6


def test_hem_and_step(tmp_path):
    model = plate(tmp_path)
    model.do("flange", edges=[uppers(model, 1.5)[1, 0, 0]], shape="hem", length=12, radius=0.75, counted="tangent")
    model.do("flange", edges=[uppers(model, 1.5)[-1, 0, 0]], shape="step", length=10, radius=2, beyond=15)
    found = flat_is_whole(model)
    assert sorted(round(b.angle) for b in found.bends) == [90, 90, 180]
    assert {b.direction for b in found.bends} == {"up", "down"}
    rise = 2 * math.pi / 2 * (2 + 0.44 * 1.5) + (10 - 5.5)
    hem = math.pi * (0.75 + 0.44 * 1.5) + 12
    assert found.size[0] == pytest.approx(100 + hem + rise + 15, rel=1e-9)
    _lowest, highest = model.measure(body(model)).box
    assert highest[2] == pytest.approx(11.5), "what follows the step lies ten higher"


def test_part_of_an_edge_is_relieved(tmp_path):
    model = plate(tmp_path)
    model.do("flange", edges=[uppers(model, 1.5)[1, 0, 0]], length=20, radius=2, first=10, last=15, wide=2, deep=3)
    found = flat_is_whole(model)
    assert found.bends[0].length == pytest.approx(35, abs=1e-6)
    straight = 20 - 3.5 + math.pi / 2 * (2 + 0.44 * 1.5)
    assert found.area == pytest.approx(100 * 60 - 2 * 2 * 3 + 35 * straight, rel=1e-9)
    model.undo()
    model.do("flange", edges=[uppers(model, 1.5)[1, 0, 0]], length=20, radius=2, first=10, relief="round", wide=3)
    flat_is_whole(model)
    model.undo()
    with pytest.raises(EditError, match="does not fit beside"):
        model.do("flange", edges=[uppers(model, 1.5)[1, 0, 0]], length=20, radius=2, first=1, wide=2)


def test_refusals_name_the_nearest_that_works(tmp_path):
    model = plate(tmp_path)
    edge = uppers(model, 1.5)[1, 0, 0]
    with pytest.raises(EditError, match=r"the bend alone takes 3\.5 mm") as refused:
        model.do("flange", edges=[edge], length=3, radius=2)
    model.do("flange", edges=[edge], length=refused.value.nearest, radius=2)
    model.undo()
    upright = model.edges(kind="line", direction=(0, 0, 1))[0].id
    with pytest.raises(EditError, match="no edge between a flat face of the sheet and its cut edge"):
        model.do("flange", edges=[upright], length=10)
    with pytest.raises(EditError, match="up to 180"):
        model.do("flange", edges=[edge], angle=200)
    with pytest.raises(EditError, match="a K-factor lies between 0 and 1"):
        model.do("make sheet", on=model.nodes(), k_factor=1.2)
    with pytest.raises(EditError, match="so this is no sheet"):
        model_of(tmp_path, build.sphere(5), "Ball")[0].sheet("b1")


# --- allowances --------------------------------------------------------------------------------------------------


def test_allowance_rules():
    assert din_6935(5, 1) == pytest.approx((0.65 + 0.5 * math.log10(5)) / 2)
    assert din_6935(12, 2) == 0.5
    assert din_6935(1, 1) == pytest.approx(0.325)
    bd = deduction(0.42, 2, 1.5, math.pi / 2)
    assert bd == pytest.approx(2 * 3.5 - math.pi / 2 * (2 + 0.42 * 1.5))
    assert k_of_deduction(bd, 2, 1.5, math.pi / 2) == pytest.approx(0.42)


def test_a_bend_table_is_read_and_looked_up(tmp_path):
    table = "thickness;radius;angle;deduction\n1,5;2;90;2,8\n1,5;3;90;3,2\n1,5;2;45;1,1\n"
    assert len(read_table(table)) == 3
    model = plate(tmp_path)
    model.do("flange", edges=[uppers(model, 1.5)[1, 0, 0]], length=20, radius=2.5)
    model.do("make sheet", on=model.nodes(), rule="table", table=table)
    assert model.flat(body(model)).size[0] == pytest.approx(100 + 4 + 20 - 3.0), "midway between the two radii"
    for text, why in [("thickness,radius\n1,2", "angle, deduction is not there"), ("", "columns"),
                      ("thickness,radius,angle,deduction\n1,x,90,2", "line 2"),
                      ("thickness,radius,angle,deduction\n1,1,190,2", "between 0 and 180")]:  # fmt: skip
        with pytest.raises(EditError, match=why):
            read_table(text)
    with pytest.raises(EditError, match=r"rows for 2 mm, not for 1\.5 mm"):
        Allowance("table", 0.44, ((2.0, 2.0, 90.0, 3.0),))(2.0, 1.5, math.pi / 2)


def test_a_rolled_cylinder_and_cone_unroll_exactly():
    """A rectangle; a sector of a ring, by the development of the neutral cone."""
    model = Model()
    model.do("make tube", lower=60, height=80, thickness=2, gap=1)
    found = flat_is_whole(model)
    turn = 2 * math.pi - 1 / 30
    assert found.size == pytest.approx((turn * (28 + 0.44 * 2), 80), rel=1e-9)
    cone = Model()
    cone.do("make tube", lower=60, upper=100, height=50, thickness=2, gap=1)
    found = flat_is_whole(cone)
    slope = math.atan2(20, 50)
    turn = 2 * math.pi - 1 / 50
    neutral = [r - 2 * (1 - 0.44) * math.cos(slope) for r in (30, 50)]
    low, high = (r / math.sin(slope) for r in neutral)
    assert found.area == pytest.approx(turn * math.sin(slope) * (high**2 - low**2) / 2, rel=1e-9)
    assert sorted(c.kind for c in found.outline[0]) == ["line", "line", "round", "round"]
    assert {round(c.radius, 6) for c in found.outline[0] if c.kind == "round"} == {round(low, 6), round(high, 6)}


@pytest.mark.parametrize("distance", [0.0, 2.5])
def test_faces_are_covered_with_their_holes(tmp_path, distance):
    """Three sides of a block with a bore: walls of the sheet at the distance, bent over both edges."""
    block = build.subtract(build.box(60, 40, 30), build.cylinder(5, 90, (30, 20, -30)))
    model = model_of(tmp_path, block, "Block")[0]
    ways = ((0, 0, 1), (1, 0, 0), (-1, 0, 0))
    faces = [model.faces(kind="plane", normal=way).highest(way).id for way in ways]
    model.do("cover", faces=faces, thickness=1.2, distance=distance, radius=1.5, called="Hood")
    hood = model.body(model.bodies()[1]).name
    assert hood == "Hood"
    found = model.flat(model.bodies()[1])
    assert not model.sheet(model.bodies()[1]).faults
    assert found.whole.volume == pytest.approx(model.measure(model.bodies()[1]).volume, rel=1e-6)
    flat = 60 + 2 * distance - 2 * 1.5 + 2 * (30 + distance - 1.5) + math.pi * (1.5 + 0.44 * 1.2)
    assert found.size == pytest.approx((flat, 40), rel=1e-9)
    assert len(found.outline) == 2, "the bore goes through"
    with pytest.raises(EditError, match="2 pieces; pick faces that hang together"):
        model.do("cover", faces=faces[1:], thickness=1)


# --- the workshop -------------------------------------------------------------------------------------------------


def shop(model):
    return {f["kind"]: f for f in model.study("sheet checks", on=model.nodes())["findings"]}


def test_what_a_workshop_would_stop_at(tmp_path):
    model = plate(tmp_path, cut=[build.cylinder(3, 9, (95, 30, -3))])
    model.do("flange", edges=[uppers(model, 1.5)[1, 0, 0]], length=5.2, radius=1, first=10, relief="none")
    found = shop(model)
    assert set(found) == {"short leg", "hole near bend", "tight radius", "no relief"}
    assert found["short leg"]["words"].endswith("5.2 mm, 5.25 mm works"), "half of the die of 9 mm and half the sheet"
    assert found["tight radius"]["words"].endswith("1 mm, 1.5 mm works")
    assert found["hole near bend"]["words"].endswith("2 mm, 4 mm works")
    model.undo()
    model.do("flange", edges=[uppers(model, 1.5)[1, 0, 0]], length=30, radius=2, first=10, placed="beyond")
    assert set(shop(model)) == {"hole near bend"}
    forces = model.study("sheet checks", on=model.nodes())["force"]
    (force,) = forces.values()
    assert force == pytest.approx(1.42 * 400 * 1.5**2 * 50 / 9 / 1000), "air bending of 50 mm over a die of 9 mm"


def test_blanks_of_a_stock_sheet(tmp_path):
    """Rows of 1980 by 980 mm with 5 mm between: against counting."""
    model = plate(tmp_path, 300, 210)
    found = model.study("blanks", on=model.nodes())
    upright, lying = (1985 // 305) * (985 // 215), (1985 // 215) * (985 // 305)
    assert found["count"] == max(upright, lying) == 27
    assert found["turned"]
    assert found["share"] == pytest.approx(27 * 300 * 210 / 2e6)
    with pytest.raises(EditError, match="does not fit on a sheet"):
        model.study("blanks", on=model.nodes(), long=200, wide=200)


# --- faults ------------------------------------------------------------------------------------------------------


def bracket(t=2.0, r=3.0, inner=(0.0, 0.0), thin=0.0):
    """A profile pulled out: inner bend's axis off by `inner`, upright wall thinner by `thin`."""
    s, a, b = math.sqrt(0.5), 40.0, 30.0
    c = (a, r + t)
    corners = [(0, 0), (a, 0), (a + r + t, r + t), (a + r + t, r + t + b), (a + r + thin, r + t + b),
               (a + r + thin, r + t), (a, t), (0, t)]  # fmt: skip
    outer = (a + (r + t) * s, c[1] - (r + t) * s)
    bent = (a + r * s + inner[0], c[1] - r * s + inner[1])
    middles = [None, outer, None, None, None, bent, None, None]
    lifted = [None if m is None else (m[0], 0, m[1]) for m in middles]
    return build.extrude(build.outline([(x, 0, z) for x, z in corners], lifted), (0, 25, 0))


def kinds(shape, folder):
    model = model_of(folder, shape, "Bracket")[0]
    return {f.kind for f in model.sheet(body(model)).faults}, model


def test_planted_faults_are_found_and_sound_sheets_have_none(tmp_path):
    assert kinds(bracket(), tmp_path)[0] == set()
    found, model = kinds(bracket(thin=0.01), tmp_path)
    assert "thickness" in found, "off by half a percent"
    (fault, *_) = [f for f in model.sheet(body(model)).faults if f.kind == "thickness"]
    assert fault.size == pytest.approx(-0.01)
    assert "0.01 mm" in fault.words
    assert "axis" in kinds(bracket(inner=(0.05, -0.05)), tmp_path)[0]
    leaning = build.subtract(bracket(), build.moved(build.box(9, 60, 9, (-9, -20, -3)), [0.99, 0, -0.141, 1,
                                                     0, 1, 0, 0, 0.141, 0, 0.99, 0]))  # fmt: skip
    assert "square" in kinds(leaning, tmp_path)[0]
    soft = build.fillet(bracket(), 0.5, lambda e: abs(e.middle[0]) < 1e-6 and abs(e.middle[1] - 12.5) < 1e-6)
    assert "round" in kinds(soft, tmp_path)[0]
    knob = build.unite(bracket(), build.cylinder(3, 6, (15, 12, -6)))
    assert "piece" in kinds(knob, tmp_path)[0]


def test_a_wall_off_by_half_a_percent_beside_a_relief(tmp_path):
    """Pushing it shrinks an edge in the corner of the relief to nothing, which is no reason to fail."""
    model = plate(tmp_path, 156, 73.7, 0.8)
    edge = uppers(model, 0.8)[0, -1, 0]
    model.do("flange", edges=[edge], length=33.5, radius=1.6, angle=54.76, first=29.4, counted="tangent")
    leg = max(
        (f for f in model.faces(kind="plane") if abs(f.normal[2]) < 0.9 and f.normal[2] < -0.1), key=lambda f: f.area
    )
    before = model.measure(body(model)).volume
    model.do("push", faces=[leg.id], distance=0.004)
    (fault,) = [f for f in model.sheet(body(model)).faults if f.kind == "thickness"]
    assert fault.size == pytest.approx(0.004, rel=1e-3)
    model.do("mend sheet", on=model.nodes())
    assert not model.sheet(body(model)).faults
    assert model.measure(body(model)).volume == pytest.approx(before, rel=1e-6)


@pytest.mark.parametrize("off", [-0.01, 0.01])
def test_a_wall_between_two_bends_is_brought_to_the_thickness(tmp_path, off):
    """Off by half a percent, with what that did to the bends beside it."""
    model = plate(tmp_path, 100, 60, 2)
    model.do("flange", edges=[uppers(model, 2)[1, 0, 0]], shape="step", length=20, radius=2, beyond=15)
    before = model.measure(body(model)).volume
    upright = next(w for w in model.sheet(body(model)).walls if abs(model.face(w.faces[0]).normal[0]) > 0.9)
    model.do("push", faces=[upright.faces[1]], distance=off)
    assert "thickness" in {f.kind for f in model.sheet(body(model)).faults}
    model.do("mend sheet", on=model.nodes())
    assert not model.sheet(body(model)).faults
    assert model.measure(body(model)).volume == pytest.approx(before, rel=1e-9)
    flat_is_whole(model)


def test_planted_faults_are_mended(tmp_path):
    sound = model_of(tmp_path, bracket(), "Sound")[0]
    volume = sound.measure(body(sound)).volume
    soft = build.fillet(bracket(), 0.5, lambda e: abs(e.middle[0]) < 1e-6 and abs(e.middle[1] - 12.5) < 1e-6)
    for shape, what in ((bracket(inner=(0.05, -0.05)), "axis"), (bracket(thin=0.01), "thickness"), (soft, "round")):
        model = model_of(tmp_path, shape, what)[0]
        change = model.do("mend sheet", on=model.nodes())
        assert not model.sheet(body(model)).faults, (what, change.warnings)
        assert model.measure(body(model)).volume == pytest.approx(volume, rel=1e-7), what
        flat_is_whole(model)


def test_what_was_pressed_out_is_no_cut(tmp_path):
    """A dimple lies in the flat as an outline on a layer of its own; the blank is whole there."""
    bump = build.unite(build.box(80, 50, 2), build.cone(9, 6, 3, (30, 25, 2)))
    dimple = build.subtract(bump, build.cone(9 - 2, 6 - 2, 3, (30, 25, 0)), build.cylinder(3, 9, (65, 25, -3)))
    model = model_of(tmp_path, dimple, "Dimpled")[0]
    assert not model.sheet(body(model)).faults
    found = model.flat(body(model), model.faces(normal=(0, 0, -1)).largest().id)
    assert len(found.outline) == 2, "its border and the hole"
    assert [c.kind for c in found.whole.forms[0]] == ["round"]
    assert found.area == pytest.approx(80 * 50 - 9 * math.pi, rel=1e-9)
    change = model.do("save flat", on=model.nodes())
    (data,) = change.files.values()
    assert b"FORMS" in data
    for kind, begins in (("dxf", b""), ("svg", b"<svg"), ("pdf", b"%PDF")):
        assert found.save(tmp_path / f"flat.{kind}").read_bytes().startswith(begins)
    with pytest.raises(EditError, match="dxf, svg, pdf, not “step”"):
        found.save(tmp_path / "flat.step")


@pytest.mark.parametrize(
    ("asked", "outline"),
    [({"kind": "dimple", "size": 16}, ["round"]), ({"kind": "collar", "size": 8}, ["round"]),
     ({"kind": "bead", "size": 12, "length": 40, "turn": "20°"}, ["line", "line", "round", "round"])],
)  # fmt: skip
def test_pressed_forms_read_as_forms(tmp_path, asked, outline):
    model = plate(tmp_path)
    model.do("flange", edges=[uppers(model, 1.5)[1, 0, 0]], length=20, radius=2)
    before = model.flat(body(model))
    face = model.faces(normal=(0, 0, 1)).largest().id
    model.do("press", face=[face], height=2.5, **asked)
    found = model.flat(body(model))
    assert not model.sheet(body(model)).faults
    assert [sorted(c.kind for c in loop) for loop in found.whole.forms] == [outline]
    assert found.area == pytest.approx(before.area, rel=1e-9), "the blank is as it was"
    assert len(found.outline) == 1


def test_forms_that_cannot_be_name_the_nearest(tmp_path):
    model = plate(tmp_path)
    face = model.faces(normal=(0, 0, 1)).largest().id
    with pytest.raises(EditError, match="no top left") as refused:
        model.do("press", face=[face], size=10, height=9)
    model.do("press", face=[face], size=10, height=refused.value.nearest)
    with pytest.raises(EditError, match="longer than wide"):
        model.do("press", face=[face], kind="bead", size=10, length=8, height=1)


def test_bends_get_another_radius_and_the_flat_follows(tmp_path):
    model = plate(tmp_path)
    model.do("flange", edges=list(uppers(model, 1.5).values()), length=20, radius=2)
    model.do("set bend", bends=[model.faces(kind="cylinder", radius=2)[0].id], radius=1.5)
    assert sorted(b.radius for b in flat_is_whole(model).bends) == pytest.approx([1.5, 2, 2, 2])
    change = model.do("set bend", bends=[model.faces(kind="cylinder", radius=2)[0].id], radius=1, riders="alike")
    assert change.fact("bends") == 3
    assert sorted(b.radius for b in flat_is_whole(model).bends) == pytest.approx([1, 1, 1, 1.5])
    with pytest.raises(EditError, match="that radius already"):
        model.do("set bend", bends=[model.faces(kind="cylinder", radius=1)[0].id], radius=1)
    with pytest.raises(EditError, match="anew"):
        model.do("set bend", bends=[model.faces(kind="cylinder", radius=1)[0].id], radius=9)


def test_a_closed_profile_opens_by_a_slit(tmp_path):
    """A square tube with rounded corners: flat only once it has a seam."""

    def tube(half, radius):
        block = build.box(2 * half, 2 * half, 50, (-half, -half, 0))
        return build.fillet(block, radius, lambda e: e.kind == "line" and abs(e.length - 50) < 1e-6)

    model = model_of(tmp_path, build.subtract(tube(20, 4), tube(18, 2)), "Tube")[0]
    assert {f.kind for f in model.sheet(body(model)).faults} == {"closed"}
    end = EdgeSet(e for e in model.edges(kind="line") if abs(e.middle[2] - 50) < 1e-6).highest((1, 0, 0)).id
    model.do("slit", ends=[end], gap=0.5)
    found = flat_is_whole(model)
    assert found.size == pytest.approx((4 * 32 - 0.5 + 2 * math.pi * (2 + 0.44 * 2), 50), rel=1e-9)
    with pytest.raises(EditError, match="one edge of a wall, or two corners"):
        model.do("slit", ends=[v for e in model.edges()[:1] for v in [e.id]] + [model.edges()[1].id])


def test_a_box_with_corners_that_were_never_ripped(tmp_path):
    shell = build.subtract(build.box(60, 40, 20), build.box(57, 37, 30, (1.5, 1.5, 1.5)))
    found, _model = kinds(shell, tmp_path)
    assert "corner" in found


@pytest.mark.parametrize(
    ("t", "r", "size"),
    [(1.8589, 2.4838, (103.6155, 115.396, 40.9)), (0.911, 1.603, (88.2, 40.3, 38.7)), (1.2, 1, (60, 50, 20))],
)
def test_reliefs_may_end_the_edges_that_are_bent(tmp_path, t, r, size):
    """A ripped box of any thickness and radius: what is left of its lower edges is bent, whatever ids they have."""
    x, y, z = size
    shell = build.subtract(build.box(x, y, z), build.box(x - 2 * t, y - 2 * t, z, (t, t, t)))
    model = model_of(tmp_path, shell, "Box")[0]
    model.do(
        "rip", edges=[e.id for e in model.edges(kind="line", direction=(0, 0, 1)) if e.length > z - t / 2], gap=0.3
    )
    model.do("bend edge", edges=[e.id for e in model.edges(kind="line") if abs(e.middle[2]) < 1e-6 and e.length > 20],
             radius=r)  # fmt: skip
    found = flat_is_whole(model)
    reach = z - r - t + math.pi / 2 * (r + 0.44 * t)
    sizes = (side - 2 * (r + t) + 2 * reach for side in (x, y))
    assert found.size == pytest.approx(tuple(sorted(sizes, reverse=True)), rel=1e-9)


@pytest.mark.parametrize("way", ["first", "second", "open"])
def test_a_box_becomes_sheet_by_rips_and_bends(tmp_path, way):
    shell = build.subtract(build.box(60, 40, 20), build.box(57, 37, 30, (1.5, 1.5, 1.5)))
    model = model_of(tmp_path, shell, "Box")[0]
    upright = [e.id for e in model.edges(kind="line", direction=(0, 0, 1)) if e.length > 19]
    lower = [e.id for e in model.edges(kind="line") if abs(e.middle[2]) < 1e-6]
    assert (len(upright), len(lower)) == (8 - 4, 4)
    model.do("rip", edges=upright, way=way, gap=0.3)
    model.do("bend edge", edges=lower, radius=2)
    found = flat_is_whole(model)
    assert len(found.bends) == 4
    reach = 20 - 3.5 + math.pi / 2 * (2 + 0.44 * 1.5)
    assert found.size == pytest.approx((60 - 7 + 2 * reach, 40 - 7 + 2 * reach), rel=1e-9)
    with pytest.raises(EditError, match="no sharp corner between two walls"):
        model.do("rip", edges=[lower[0]] if lower[0] in [e.id for e in model.edges()] else [model.edges()[0].id])

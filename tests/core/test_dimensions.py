"""Dimensions on plain solids driven: the part is that built at the new size, and what is held stays."""

from __future__ import annotations

import math

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from ravine.core import EditError, Model
from ravine.core.kernel import build
from ravine.core.kernel.volumes import volume_properties
from ravine.demo.mast_clamp import mast_clamp
from tests.parts import model_of

EXACT = 1e-9


def plate(length=80.0, first=15.0, last=65.0, boss=40.0):
    body = build.unite(build.box(length, 40, 10), build.cylinder(6, 9, (boss, 20, 9)))
    tools = [build.cylinder(3, 12, (x, 20, -1)) for x in (first, last)]
    return build.subtract(body, *tools, build.cylinder(2, 5, (length - 4, 20, 5), (1, 0, 0)))


def ends(model, body):
    side = {s: model.faces(body, kind="plane", normal=(s, 0, 0)).highest((s, 0, 0)).id for s in (-1, 1)}
    holes = sorted(
        (f for f in model.faces(body, kind="cylinder") if abs(f.radius - 3) < 1e-9), key=lambda f: f.axis[0][0]
    )
    return side[-1], side[1], holes[0].id, holes[1].id


def dimension(model, *on, **more):
    change = model.do("add dimension", ends=list(on), **more)
    (found,) = [a for a in change.added if a.startswith("d")]
    return found


def value(model, ident):
    return next(d.value for d in model.dimensions() if d.id == ident)


@pytest.fixture
def part(tmp_path):
    model, body = model_of(tmp_path, plate())
    low, high, one, two = ends(model, body)
    return model, body, {
        "length": dimension(model, low, high), "first": dimension(model, low, one), "last": dimension(model, two, high),
        "pitch": dimension(model, one, two), "bore": dimension(model, one),
    }  # fmt: skip


def same(model, body, shape):
    assert model.measure(body).volume == pytest.approx(volume_properties(shape).amount, rel=EXACT)
    want = volume_properties(shape).centroid
    assert model.measure(body).centroid == pytest.approx(want, abs=1e-6)


def test_values_are_read(part):
    model, _, d = part
    assert [value(model, d[n]) for n in ("length", "first", "last", "pitch", "bore")] == pytest.approx(
        [80, 15, 15, 50, 6]
    )


def test_a_side_moves_and_what_stands_on_it_rides(part):
    model, body, d = part
    model.do("drive", dimension=d["length"], value="90 mm")
    same(model, body, plate(length=90))
    model.undo()
    model.do("drive", dimension=d["length"], value=90, held=[d["last"]])
    same(model, body, plate(length=90, last=75))
    assert [value(model, d[n]) for n in ("length", "first", "last", "pitch")] == pytest.approx(
        [90, 15, 15, 60], abs=EXACT
    )


def test_features_move_whole_one_side_the_other_or_both(part):
    model, body, d = part
    model.do("drive", dimension=d["pitch"], value=44)
    same(model, body, plate(last=59))
    model.undo()
    model.do("drive", dimension=d["pitch"], value=44, side="first")
    same(model, body, plate(first=21))
    model.undo()
    model.do("drive", dimension=d["pitch"], value=44, side="both")
    same(model, body, plate(first=18, last=62))
    model.undo()
    model.do("drive", dimension=d["bore"], value=8)
    assert value(model, d["bore"]) == pytest.approx(8)


def test_held_dimensions_that_stand_against_it_are_named(part):
    model, _, d = part
    before = model.snapshot
    with pytest.raises(EditError, match="D1 cannot change while D2, D4, D3 is held"):
        model.do("drive", dimension=d["length"], value=90, held=[d["first"], d["pitch"], d["last"]], side="second")
    with pytest.raises(EditError, match="is the one that is driven"):
        model.do("drive", dimension=d["length"], value=90, held=[d["length"]])
    with pytest.raises(EditError, match="has this value already"):
        model.do("drive", dimension=d["length"], value=80)
    with pytest.raises(EditError, match="there is no dimension d9999"):
        model.do("drive", dimension="d9999", value=90)
    assert model.snapshot is before


def test_what_cannot_be_measured_is_told(tmp_path):
    model, body = model_of(tmp_path, plate())
    low, _, one, two = ends(model, body)
    front = model.faces(body, kind="plane", normal=(0, 1, 0)).largest().id
    with pytest.raises(EditError, match="is not square to the direction"):
        model.do("add dimension", ends=[low, front], way="y")
    with pytest.raises(EditError, match="does not run across"):
        model.do("add dimension", ends=[one, two], way="z")
    with pytest.raises(EditError, match="a radius is that of one round face"):
        model.do("add dimension", ends=[low, front], way="radius")


def test_one_flat_face_has_a_wall_and_a_round_one_a_radius(tmp_path):
    model, body = model_of(tmp_path, plate())
    _, high, one, _ = ends(model, body)
    wall, bend = dimension(model, high, called="wall"), dimension(model, one, way="radius", called="bore")
    assert [value(model, i) for i in (wall, bend)] == pytest.approx([80, 3])
    model.do("set values", rows={"wall": "84", "bore": "wall/21"})
    assert model.faces(body, kind="cylinder", radius=4)
    same_size = [f.radius for f in model.faces(body, kind="cylinder") if f.id == one]
    assert same_size == pytest.approx([4])
    assert model.measure(body).size[0] == pytest.approx(84)


def test_one_that_lost_its_face_says_so_and_can_be_dropped(part):
    model, body, d = part
    _, _, one, _ = ends(model, body)
    model.do("remove", faces=[one])
    told = {v.id: v for v in model.dimensions()}
    assert told[d["first"]].value is None
    assert "an edit ended it" in told[d["first"]].lost
    assert told[d["length"]].value == pytest.approx(80)
    with pytest.raises(EditError, match="an edit ended it"):
        model.do("drive", dimension=d["first"], value=20)
    model.do("drop dimension", dimension=d["first"])
    assert d["first"] not in {v.id for v in model.dimensions()}


def test_names_stand_for_them_and_they_are_stored(part, tmp_path):
    model, body, _ = part
    low, high, *_ = ends(model, body)
    dimension(model, low, high, called="long")
    with pytest.raises(EditError, match="called long already"):
        dimension(model, low, high, called="long")
    again = Model(snapshot=type(model.snapshot).from_json(model.snapshot.to_json()), geometry=model.geometry)
    again.do("drive", dimension="long", value=76)
    assert value(again, next(v.id for v in again.dimensions() if v.name == "long")) == pytest.approx(76)


@settings(max_examples=12, deadline=None)
@given(st.floats(72, 120), st.floats(8, 26), st.booleans())
def test_random_sizes_leave_the_part_built_so(tmp_path_factory, length, first, turned):
    model, body = model_of(tmp_path_factory.mktemp("drive"), plate())
    if turned:
        model.do("move body", parts=model.nodes(), along="x", distance=7, angle="30°")
    low, high, one, two = (model.face(i).id for i in _ends_by_number(model, body))
    long, near, far = dimension(model, low, high), dimension(model, low, one), dimension(model, two, high)
    assume(first != value(model, near))  # refused: nothing would change
    assume(length != value(model, long))
    model.do("drive", dimension=long, value=length, held=[far])
    model.do("drive", dimension=near, value=first, held=[long])
    want = plate(length=length, first=first, last=length - 15)
    assert model.measure(body).volume == pytest.approx(volume_properties(want).amount, rel=EXACT)
    assert [value(model, i) for i in (long, near, far)] == pytest.approx([length, first, 15], abs=1e-8)


def test_the_bolts_of_the_mast_clamp_drive_both_jaws_and_their_edges_stay(tmp_path):
    """Both holes of a bolt and their bosses go together, and the walls with all rounds and chamfers around them."""
    model, body = model_of(tmp_path, mast_clamp())
    holes = [f for f in model.features(body) if f.kind == "hole" and f.sizes["diameter"] == pytest.approx(11)]
    left, right = ([h for h in holes if (h.place[1] > 0) is up] for up in (False, True))
    sides = [next(f.id for f in model.faces(body, kind="plane", normal=(0, s, 0))
                  if abs(f.centroid[1]) == pytest.approx(30)) for s in (-1, 1)]  # fmt: skip
    dimension(model, left[0].faces[0], right[0].faces[0], called="bolts")
    dimension(model, sides[0], left[0].faces[0], called="near")
    dimension(model, right[0].faces[0], sides[1], called="far")
    model.do("drive", dimension="bolts", value="26 mm", side="both", held=["near", "far"])
    assert model.values == pytest.approx({"bolts": 26, "near": 15, "far": 15})
    after = [f for f in model.features(body) if f.kind == "hole" and f.sizes["diameter"] == pytest.approx(11)]
    assert sorted(round(h.place[1], 6) for h in after) == [-13, -13, 13, 13]
    assert model.measure(body).size[1] == pytest.approx(84)  # the foot is as wide as before
    model.undo()
    model.do("drive", dimension="bolts", value="26 mm", line="alone")
    after = [f for f in model.features(body) if f.kind == "hole" and f.sizes["diameter"] == pytest.approx(11)]
    assert sorted(round(h.place[1], 6) for h in after) == [-15, -15, 11, 15]


def test_edges_and_corners_go_with_the_face_square_to_the_dimension(tmp_path):
    model, body = model_of(tmp_path, build.box(80, 40, 10))
    upright = model.edges(body, direction=(0, 0, 1))
    near = next(e.id for e in upright if e.middle[0] < 1 and e.middle[1] < 1)
    corner = next(v.id for v in model.vertices(body) if v.point == pytest.approx((80, 40, 10)))
    dimension(model, near, corner, way="x", called="long")
    dimension(model, near, corner, way="y", called="wide")
    model.do("set values", rows={"long": "90", "wide": "long/3"})
    assert model.measure(body).size == pytest.approx((90, 30, 10))
    with pytest.raises(EditError, match="does not run across"):
        dimension(model, near, corner, way="z")


@pytest.mark.parametrize(("side", "angle"), [("second", 75), ("second", 98.5), ("first", 80)])
def test_an_angle_is_read_between_two_faces_and_driven(tmp_path, side, angle):
    model, body = model_of(tmp_path, build.box(60, 30, 20))
    bottom = model.faces(body, kind="plane", normal=(0, 0, -1)).largest().id
    end = model.faces(body, kind="plane", normal=(1, 0, 0)).largest().id
    change = model.do("add dimension", ends=[bottom, end], called="lean")
    assert change.fact("dimension") == "90°"
    ident = next(v.id for v in model.dimensions())
    assert value(model, ident) == pytest.approx(90)
    model.do("drive", dimension="lean", value=f"{angle}°", side=side)
    assert value(model, ident) == pytest.approx(angle, abs=1e-9)
    if side == "second":
        assert model.face(bottom).normal == pytest.approx((0, 0, -1))
        assert math.degrees(math.acos(-model.face(end).normal[2])) == pytest.approx(180 - angle)
    assert model.values["lean"] == pytest.approx(angle)
    with pytest.raises(EditError, match="between 0° and 180°"):
        model.do("drive", dimension="lean", value="190°")


def _two_leans(tmp_path):
    """A block with an angle at either end, and a length."""
    model, body = model_of(tmp_path, build.box(60, 30, 20))
    flat = {
        way: model.faces(body, kind="plane", normal=way).largest().id for way in ((0, 0, -1), (1, 0, 0), (-1, 0, 0))
    }
    dimension(model, flat[0, 0, -1], flat[1, 0, 0], called="lean")
    dimension(model, flat[0, 0, -1], flat[-1, 0, 0], called="other")
    model.do("set value", name="wall", value="3 mm")
    return model


def test_formulas_over_angles_follow_one_another(tmp_path):
    model = _two_leans(tmp_path)
    model.do("drive", dimension="other", value="lean - 10°")
    assert model.values == pytest.approx({"lean": 90, "other": 80, "wall": 3})
    model.do("set value", name="lean", value="84°")
    assert model.values == pytest.approx({"lean": 84, "other": 74, "wall": 3})
    model.do("set values", rows={"lean": "1.5 rad", "wall": "4"})
    assert model.values["other"] == pytest.approx(math.degrees(1.5) - 10)
    model.do("drop dimension", dimension="lean")
    assert model.values["other"] == pytest.approx(math.degrees(1.5) - 10), "it keeps its value"
    model.do("set value", name="other", value="80")
    assert model.values["other"] == pytest.approx(80), "a bare number is in degrees"


@pytest.mark.parametrize(
    ("name", "value", "why"),
    [("wall", "2*lean", "is a length"), ("gap", "12°", "is a length"), ("other", "lean + wall", "no size is called"),
     ("lean", "2*other", "leads back to itself"), ("wall", "lean*wall", "no size is called"),
     ("other", "2*lean + 5", "would be 185°")],
)  # fmt: skip
def test_angles_and_lengths_are_kept_apart(tmp_path, name, value, why):
    model = _two_leans(tmp_path)
    model.do("drive", dimension="other", value="lean - 10°")
    before = model.snapshot
    with pytest.raises(EditError, match=why):
        model.do("set value", name=name, value=value)
    assert model.snapshot is before


def test_an_angle_is_no_value_of_a_length(tmp_path):
    model, body = model_of(tmp_path, build.box(60, 30, 20))
    dimension(model, model.faces(body, kind="plane", normal=(1, 0, 0)).largest().id, called="long")
    with pytest.raises(EditError, match="long is a length, not an angle"):
        model.do("drive", dimension="long", value="50°")


@pytest.mark.parametrize("of", ["face", "edge"])
def test_a_length_of_arc_is_read_and_driven(tmp_path, of):
    """Radius times angle; driven it keeps the angle."""
    model, body = model_of(tmp_path, build.box(60, 30, 20))
    edge = next(e.id for e in model.edges(body, direction=(0, 0, 1)) if e.middle[0] > 59 and e.middle[1] > 29)
    model.do("round", edges=[edge], size=6)
    on = model.faces(body, kind="cylinder")[0].id if of == "face" else model.edges(body, kind="circle")[0].id
    dimension(model, on, way="arc", called="bow")
    (kept,) = model.dimensions()
    assert kept.value == pytest.approx(3 * math.pi)
    steps = [math.dist(a, b) for a, b in zip(kept.arc, kept.arc[1:], strict=False)]
    assert sum(steps) == pytest.approx(3 * math.pi, rel=1e-3)
    model.do("drive", dimension="bow", value="4*2 mm")
    assert model.faces(body, kind="cylinder")[0].radius == pytest.approx(16 / math.pi)
    assert model.measure(body).volume == pytest.approx(20 * (1800 - (1 - math.pi / 4) * (16 / math.pi) ** 2))
    with pytest.raises(EditError, match="one round face or edge"):
        dimension(model, model.faces(body, kind="plane")[0].id, way="arc")


def test_a_round_in_the_way_of_an_angle_comes_along(tmp_path):
    model, body = model_of(tmp_path, build.box(60, 30, 20))
    edge = next(e.id for e in model.edges(body, direction=(0, 1, 0)) if e.middle[0] > 59 and e.middle[2] > 19)
    model.do("round", edges=[edge], size=4)
    bottom = model.faces(body, kind="plane", normal=(0, 0, -1)).largest().id
    end = model.faces(body, kind="plane", normal=(1, 0, 0)).largest().id
    dimension(model, bottom, end, called="lean")
    model.do("drive", dimension="lean", value=80)
    assert next(f.sizes["radius"] for f in model.features(body) if f.kind == "fillet") == pytest.approx(4)
    assert [d.value for d in model.dimensions()] == pytest.approx([80])


def _ends_by_number(model, body):
    """In the part's own coordinates, wherever it stands."""
    solid = model.geometry.solid(model.body(body).shape)
    places = [solid.topology.middle(f) for f in range(solid.index.count("face"))]
    flat = [k for k, (_, n) in enumerate(places) if abs(n[0]) > 1 - 1e-9 and solid.topology.surface(k).kind == "plane"]
    low = min(flat, key=lambda k: places[k][0][0])
    high = max(flat, key=lambda k: places[k][0][0])
    bores = [k for k in range(len(places)) if solid.topology.surface(k).kind == "cylinder"
             and math.isclose(solid.topology.surface(k).radius, 3)]  # fmt: skip
    bores.sort(key=lambda k: solid.topology.surface(k).axial.origin[0])
    return [f"f{model.body(body).faces[k]}" for k in (low, high, *bores)]


def test_where_it_is_written_is_kept_and_goes_along(part, tmp_path):
    model, _, d = part
    assert all(v.off is None for v in model.dimensions())
    change = model.do("place dimension", dimension=d["pitch"], off=[0, 0, 25])
    assert change.sentence.startswith("Put ")
    model.do("drive", dimension=d["pitch"], value="52 mm")
    kept = next(v for v in model.dimensions() if v.id == d["pitch"])
    assert (kept.off, kept.value) == ((0, 0, 25), pytest.approx(52))
    assert model.snapshot.__class__.from_json(model.snapshot.to_json()) == model.snapshot
    model.do("place dimension", dimension=d["pitch"])
    assert next(v for v in model.dimensions() if v.id == d["pitch"]).off is None
    for off in ([1, 2], ["a", 1, 2], [math.inf, 0, 0]):
        with pytest.raises(EditError, match="takes 3 numbers"):
            model.do("place dimension", dimension=d["pitch"], off=off)

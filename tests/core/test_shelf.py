"""The shelf: solids against figures of the standards, sizes and lengths that holes ask for, what is refused."""

import math

import pytest

from ravine.core import EditError, Model
from ravine.core.kernel import build
from ravine.core.kernel.boolean import combine
from ravine.core.kernel.check import fault
from ravine.core.kernel.tessellate import mesh_afresh, whole_mesh
from ravine.core.kernel.volumes import volume_properties
from ravine.core.model.records import PARTS
from ravine.core.model.snapshot import Snapshot
from ravine.core.rigid import Rigid
from ravine.core.shelf.bodies import shape_of
from ravine.core.shelf.items import FAMILIES, Item, item_of, search, sizes
from tests.parts import step_file


def box_of(item):
    shape = shape_of(item)
    mesh_afresh(shape, 0.02, 0.2)
    points, _ = whole_mesh(shape)
    return [float(v) for v in (*points.min(axis=0), *points.max(axis=0))]


def test_every_size_is_a_sound_solid_and_has_one_id():
    ids = set()
    for family, size in sizes():
        lengths = family.lengths(size) or (None,)
        ids |= {Item(family, size, v).id for v in lengths[:90]}
        shape = shape_of(Item(family, size, lengths[0]))
        assert fault(shape) is None, (family.name, size)
        assert volume_properties(shape).amount > 0
        for length in lengths[:3]:
            assert item_of(Item(family, size, length).id) == Item(family, size, length)
    assert len(ids) == sum(min(len(f.lengths(s)), 90) or 1 for f, s in sizes())


# figures printed in the standards themselves, mm: over the head or corners, its height, below the seat
@pytest.mark.parametrize(
    ("item", "wide", "above", "below"),
    [
        ("iso4762-m8x30", 13, 8, 30),
        ("iso4762-m3x10", 5.5, 3, 10),
        ("iso4762-m12x50", 18, 12, 50),
        ("iso4017-m10x40", 16 * 2 / math.sqrt(3), 6.4, 40),
        ("iso10642-m6x20", 0.94 * 13.44, 0, 20),
        ("iso7380-m5x12", 9.5, 2.75, 12),
        ("iso4026-m6x10", 6, 0, 10),
        ("iso4032-m8", 13 * 2 / math.sqrt(3), 6.8, 0),
        ("iso7089-m6", 12, 1.6, 0),
        ("iso2338-6x20", 6, 0, 20),
        ("iso2341-8x30", 14, 3, 30),
        ("iso15-8x22x7", 22, 0, 7),
        ("din319-m8", 32, 29, 0),
        ("iso3601-9.25x1.78", 9.25 + 2 * 1.78, 0.89, 0.89),
        ("spring-1x10x40", 10, 40, 0),
        ("tube-20x2x300", 20, 300, 0),
    ],
)
def test_solids_have_the_sizes_of_their_standard(item, wide, above, below):
    low_x, _, low_z, high_x, _, high_z = box_of(item_of(item))
    slack = 0.03 if item.startswith(("iso7380", "spring", "iso3601", "din319")) else 4e-3
    assert high_x - low_x == pytest.approx(wide, rel=slack)
    assert (high_z, -low_z) == (pytest.approx(above, abs=slack), pytest.approx(below, abs=slack))


def test_volumes_by_their_formulas():
    assert volume_properties(shape_of(item_of("iso7089-m8"))).amount == pytest.approx(
        math.pi / 4 * (16**2 - 8.4**2) * 1.6
    )
    nut = math.sqrt(3) / 2 * 13**2 * 6.8 - math.pi * 16 * 6.8
    assert volume_properties(shape_of(item_of("iso4032-m8"))).amount == pytest.approx(nut)
    ring = 2 * math.pi**2 * (12.42 + 1.78) / 2 * 0.89**2
    assert volume_properties(shape_of(item_of("iso3601-12.42x1.78"))).amount == pytest.approx(ring)


def test_search_by_words_kind_size_material():
    assert [i.id for i in search("socket m5x16")] == ["iso4762-m5x16", "iso10642-m5x16", "iso7380-m5x16"]
    assert [i.id for i in search("iso 4762 m5 x 16")] == ["iso4762-m5x16"]
    assert {i.family.kind for i in search(size="M8")} == {"screw", "nut", "washer", "knob"}
    assert [i.size for i in search("bearing", size="8 × 22 × 7")] == ["8 × 22 × 7"]
    assert {i.family.name for i in search(material="brass")} == {"standoff"}
    assert search("sprocket") == []


# --- put where they belong -----------------------------------------------------------------------------------------


def stack(folder, lid_hole=5.5, base_hole=4.2, deep=8.0, thick=4.0):
    """A lid on a base, four holes through one and into the other."""
    spots = [(x, y) for x in (10, 50) for y in (10, 30)]
    lid = build.subtract(
        build.box(60, 40, thick, (0, 0, 20)), *(build.cylinder(lid_hole / 2, thick + 2, (x, y, 19)) for x, y in spots)
    )
    base = build.subtract(
        build.box(60, 40, 20), *(build.cylinder(base_hole / 2, deep + 1, (x, y, 20 - deep)) for x, y in spots)
    )
    model = Model()
    for name, shape in (("Lid", lid), ("Base", base)):
        model.do("import", path=str(step_file(folder / f"{name}.step", shape, name)))
    return model


def lid_hole(model):
    lid = next(b for b in model.bodies() if model.body(b).name == "Lid")
    return model.faces(lid, kind="cylinder")[0].id


def places(model, title):
    rows = [o for o in model.snapshot.occurrences() if o.body.name.startswith(title)]
    return [(o.body.name, [round(v, 6) for v in o.matrix.shift.tolist()], round(o.matrix.turn[2, 2])) for o in rows]


@pytest.mark.parametrize(
    ("holes", "size", "deep", "name"),
    [
        (5.5, 4.2, 8.0, "M5 × 12"),  # 4 clear and 7.5 wanted, of 8 that there are
        (5.3, 4.2, 6.0, "M5 × 10"),  # no deeper than the thread
        (6.6, 5.0, 12.0, "M6 × 12"),
        (3.4, 2.5, 10.0, "M3 × 8"),
        (9.0, 6.8, 18.0, "M8 × 16"),
    ],
)
def test_size_and_length_come_from_the_hole_and_what_lies_behind(tmp_path, holes, size, deep, name):
    model = stack(tmp_path, holes, size, deep)
    change = model.do("take from the shelf", item="iso4762", on=[lid_hole(model)])
    (only,) = places(model, "ISO 4762")
    assert only[0] == f"ISO 4762 {name}"
    assert only[1][2] == 24
    assert only[2] == 1
    assert change.facts[0].value == f"Socket head screw {only[0]}"
    assert [j.state for j in model.joints()] == ["holds", "holds"]
    (free,) = model.freedoms(model.nodes(only[0])[0])
    assert free.words == "turns about Z"


def test_a_nut_and_washers_go_with_it_in_all_holes_of_the_repeat(tmp_path):
    model = stack(tmp_path, 5.5, 5.5, 20.0)
    values = {"item": "iso4017", "holes": "alike", "extras": "nut and washers"}
    change = model.do("take from the shelf", on=[lid_hole(model)], **values)
    screw = "Hexagon head screw ISO 4017"
    assert (
        change.sentence == f"Took {screw} with a nut and two washers from the shelf for a hole of Lid and all like it"
    )
    # grip 24, two washers of 1, the nut of 4.7, two pitches of 0.8: 32.3
    rows = {(f.label, f.value) for f in change.facts}
    assert rows == {("4 ×", f"{screw} M5 × 35"), ("8 ×", "Washer ISO 7089 M5"), ("4 ×", "Hexagon nut ISO 4032 M5")}
    assert {p[0] for p in places(model, "ISO 4017")} == {"ISO 4017 M5 × 35"}
    assert {p[1][2] for p in places(model, "ISO 4017")} == {25}
    assert {(p[1][2], p[2]) for p in places(model, "ISO 7089")} == {(24, 1), (0, -1)}
    assert {(p[1][2], p[2]) for p in places(model, "ISO 4032")} == {(-1, -1)}
    assert len({o.body.id for o in model.snapshot.occurrences()}) == 5, "the same thing is one body in many places"
    assert all(j.state == "holds" for j in model.joints())
    model.do("push", faces=[model.faces(model.bodies()[0], normal=(0, 0, 1), kind="plane").highest().id], distance=2)
    assert {p[1][2] for p in places(model, "ISO 4017")} == {27}, "what sits on the face goes with it"
    model.undo()
    model.undo()
    assert len(model.bodies()) == 2


def test_a_far_rim_and_the_ears_of_a_clamp(tmp_path):
    """The rim tells the side; a bolt goes through both ears and the slot between them."""
    ears = build.subtract(
        build.box(60, 30, 40), build.box(8, 32, 30, (26, -1, 15)), build.cylinder(4.5, 62, (-1, 15, 30), (1, 0, 0))
    )
    model = Model()
    model.do("import", path=str(step_file(tmp_path / "p.step", ears, "Clamp")))
    rims = {round(e.middle[0]): e.id for e in model.edges(kind="circle")}
    for x, way in ((0, -1), (60, 1)):
        model.do("take from the shelf", item="iso4017", on=[rims[x]], extras="nut and washers")
        (bolt,) = places(model, "ISO 4017")
        assert bolt[0] == "ISO 4017 M8 × 80", "60 of clamp, 2 washers of 1.6, nut 6.8, 2 pitches"
        assert bolt[1][0] == pytest.approx(x + way * 1.6)
        (nut,) = places(model, "ISO 4032")
        assert nut[1][0] == pytest.approx(60 - x - way * 1.6)
        assert not model.clearances()
        model.undo()


def test_countersunk_pins_bearings_and_plain_faces(tmp_path):
    plate = build.subtract(
        build.box(80, 50, 10), build.cylinder(11, 12, (20, 25, -1)), build.cylinder(3, 12, (50, 25, -1)),
        build.cylinder(2.75, 12, (65, 25, -1)),
    )  # fmt: skip
    model = Model()
    model.do("import", path=str(step_file(tmp_path / "p.step", plate, "Plate")))
    (body,) = model.bodies()
    by_radius = {round(f.radius, 3): f.id for f in model.faces(body, kind="cylinder")}
    model.do("take from the shelf", item="iso15", on=[by_radius[11]])
    (bearing,) = places(model, "ISO 15")
    assert bearing[0].endswith("8 × 22 × 7")
    assert bearing[1][2] in (0, 10)
    model.do("take from the shelf", item="iso2338", on=[by_radius[3]])
    assert places(model, "ISO 2338")[0][0] == "ISO 2338 6 × 12", "as long as the hole, or the next"
    model.do("take from the shelf", item="iso10642-m5x12", on=[by_radius[2.75]])
    (sunk,) = places(model, "ISO 10642")
    assert sunk[1][2] in (0, 10)
    top = model.faces(body, kind="plane", normal=(0, 0, 1)).highest().id
    model.do("take from the shelf", item="standoff-m3x10", on=[top], stay="joined")
    assert places(model, "Hexagon standoff")[0][1][2] == 10
    model.do("take from the shelf", item="tube-20x2x300")
    assert places(model, "Round tube")[0][1] == [0, 0, 0]
    assert all(j.state == "holds" for j in model.joints())


PITCHES = 4  # of a slab in the middle of a thread, where it is the same all along


def slab(item, real, middle):
    """Matter within some pitches about a height, mm³."""
    pitch, wide = item.row["pitch"], 4 * item.row["d"]
    box = build.box(wide, wide, PITCHES * pitch, (-wide / 2, -wide / 2, middle - PITCHES * pitch / 2))
    return volume_properties(combine("common", shape_of(item, real), [box], merge=False)[0]).amount


def groove(at_root, at_top, pitch, sense, middle):
    """Area (mm²) of a thread's groove between two radii, and the radius of its centre; its flanks lie at 30°, and it is
    half a pitch wide at `middle`."""
    radii = [at_root + (at_top - at_root) * k / 2000 for k in range(2001)]
    wide = [pitch / 2 + sense * 2 * (r - middle) * math.tan(math.pi / 6) for r in radii]
    step = (at_top - at_root) / 2000
    area = step * (sum(wide) - (wide[0] + wide[-1]) / 2)
    moment = step * (
        sum(w * r for w, r in zip(wide, radii, strict=True)) - (wide[0] * radii[0] + wide[-1] * radii[-1]) / 2
    )
    return area, moment / area


@pytest.mark.parametrize("named", ["iso4762-m5x20", "iso4017-m8x40", "iso4026-m6x16", "iso10642-m6x30"])
def test_a_real_thread_takes_away_its_groove_around_the_axis(named):
    """By Guldin's rule, with the profile of ISO 68-1 and the play of 6g: 15 + 11 P µm (ISO 965-1)."""
    item = item_of(named)
    pitch, over = item.row["pitch"], item.row["d"] - (15 + 11 * item.row["pitch"]) / 1000
    shape = shape_of(item, True)
    assert fault(shape) is None
    area, centre = groove(over / 2 - 1.226869 * pitch / 2, over / 2, pitch, 1, over / 2 - 0.649519 * pitch / 2)
    whole = math.pi * over**2 / 4 * pitch * PITCHES
    rest = whole - PITCHES * 2 * math.pi * centre * area
    assert slab(item, True, -item.length + 4 * pitch) == pytest.approx(rest, rel=2e-4)


def test_a_real_thread_of_a_nut_and_a_screw_in_it_share_nothing():
    nut, screw = item_of("iso4032-m5"), item_of("iso4017-m5x30")
    pitch, d = nut.row["pitch"], nut.row["d"]
    bore = d - 1.082532 * pitch
    area, centre = groove(bore / 2, d / 2, pitch, -1, d / 2 - 0.649519 * pitch / 2)
    hexagon = math.sqrt(3) / 2 * nut.row["s"] ** 2
    open_ = math.pi * bore**2 / 4 * pitch * PITCHES + PITCHES * 2 * math.pi * centre * area
    own = slab(nut, True, nut.row["m"] / 2) if nut.row["m"] > PITCHES * pitch else None
    assert own == pytest.approx(hexagon * pitch * PITCHES - open_, rel=2e-4)
    shapes = [shape_of(i, True) for i in (nut, screw)]
    for turn, most in ((0.5, 1e-6), (0.0, math.inf)):
        # both grooves begin at one angle, a pitch below nut and tip: ridges meet, unless they are half a turn off
        there = build.moved(shapes[1], Rigid.slide((0, 0, screw.length - 8 * pitch + turn * pitch)))
        shared = volume_properties(combine("common", shapes[0], [there], merge=False)[0]).amount
        assert (shared < most) if turn else shared > 0.5


def test_a_bolt_and_its_nut_are_turned_so_that_their_threads_fit(tmp_path):
    """Over a grip of no whole number of pitches nothing is shared."""
    model = stack(tmp_path, 5.5, 5.5, 20.0, 4.3)
    model.do("take from the shelf", item="iso4017", on=[lid_hole(model)], extras="nut", threads="real")
    screw, nut = (o for o in model.snapshot.occurrences() if o.body.name.startswith("ISO 40"))
    shapes = [build.moved(model.geometry.solid(o.body.shape).shape, o.matrix) for o in (screw, nut)]
    assert volume_properties(combine("common", shapes[0], [shapes[1]], merge=False)[0]).amount < 1e-6


def test_the_same_screw_comes_plain_and_with_its_thread(tmp_path):
    model = stack(tmp_path)
    hole = lid_hole(model)
    model.do("take from the shelf", item="iso4762-m5x16", on=[hole])
    change = model.do("take from the shelf", item="iso4762-m5x16", threads="real", extras="washer")
    assert change.sentence == "Took Socket head screw ISO 4762 M5 × 16 from the shelf"
    for values in ({"threads": "real"}, {"threads": "plain"}):
        count = len(model.snapshot.bodies)
        model.do("take from the shelf", item="iso4762-m5x16", **values)
        assert len(model.snapshot.bodies) == count, "each is one body in many places"
    assert Snapshot.from_json(model.snapshot.to_json()) == model.snapshot
    model.do("take from the shelf", item="iso7089-m5", threads="real")
    assert model.snapshot.kept(PARTS)[max(model.snapshot.kept(PARTS))].thread == "", "a washer has none"


@pytest.fixture
def shaft(tmp_path):
    """Ø 20 with a groove for a retaining ring, one for an O-ring, and a chamfered stud of Ø 8 at its end."""
    profile = [(0, 0), (10, 0), (10, 20), (9.5, 20), (9.5, 21.3), (10, 21.3), (10, 40), (7.95, 40), (7.95, 42.4),
               (10, 42.4), (10, 60), (4, 60), (4, 72), (3, 73), (0, 73)]  # fmt: skip
    model = Model()
    turned = build.revolve(build.outline([(r, 0.0, float(z)) for r, z in profile]))
    model.do("import", path=str(step_file(tmp_path / "s.step", turned, "Shaft")))
    return model


def wall(model, radius):
    return next(f.id for f in model.faces(model.bodies()[0], kind="cylinder") if abs(f.radius - radius) < 1e-6)


def test_rings_sit_in_grooves_and_a_knob_over_the_end_of_a_shaft(shaft):
    model = shaft
    for item, radius, name, at in (
        ("din471", 9.5, "DIN 471 20", 20), ("iso3601", 7.95, "ISO 3601-1 15.6 × 1.78", 41.2),
        ("din319", 4, "DIN 319 M8", 60),
    ):  # fmt: skip
        model.do("take from the shelf", item=item, on=[wall(model, radius)])
        ((found, spot, _),) = places(model, name)
        assert (found, spot) == (name, [0, 0, pytest.approx(at, abs=1e-3)])
    assert all(j.state == "holds" for j in model.joints())
    assert model.clearances() == [], "a ring opens into its groove, rubber gives way, the knob stops at the shoulder"
    low, high = model.measure(model.bodies()[1]).box
    assert high[2] - low[2] == pytest.approx(1.2), "as thick as DIN 471 says"


def test_an_end_is_known_by_its_face_and_its_rim_too(shaft):
    model = shaft
    body = model.bodies()[0]
    end = model.faces(body, kind="plane", normal=(0, 0, 1)).highest().id
    rim = max((e for e in model.edges(body, kind="circle")), key=lambda e: e.middle[2]).id
    for place in (end, rim):
        model.do("take from the shelf", item="din319", on=[place])
        assert places(model, "DIN 319")[0][1][2] == 60
        model.undo()


@pytest.mark.parametrize(
    ("item", "radius", "words"),
    [
        ("din471", 7.95, "no retaining ring suits Ø 15.9 mm, 2.4 mm wide; there are some for grooves of Ø 7.6, 9.6"),
        ("iso3601", 9.5, "no o-ring suits Ø 19 mm, 1.3 mm wide; there are some for grooves 1.1 to 1.7 times as wide"),
        ("din319", 10, "no ball knob suits Ø 20 mm; there are some for shafts of Ø 4, 5, 6"),
        ("din471", 4, "is no groove around a shaft, where rings sit"),
        ("din319", 9.5, "is no end of a round shaft, which a knob goes over"),
    ],
)
def test_a_shaft_that_suits_nothing_says_what_there_is(shaft, item, radius, words):
    before = shaft.snapshot
    with pytest.raises(EditError, match=words):
        shaft.do("take from the shelf", item=item, on=[wall(shaft, radius)])
    assert shaft.snapshot is before


@pytest.mark.parametrize(
    ("values", "words"),
    [
        ({"item": "sprocket"}, "the shelf has nothing for “sprocket”"),
        ({"item": "iso4762-m5x17"}, "M5 is not made 17 mm long; the nearest is 16"),
        ({"item": "iso4762-m7x16"}, "has no socket head screw “m7x16”"),
        ({"item": "iso4762-m5"}, "say how long"),
        ({"item": "iso4762"}, "say which size"),
        ({"item": "iso15", "on": True}, "no deep groove bearing suits a hole of Ø 5.5"),
        ({"item": "iso4762", "on": True, "extras": "nut"}, "no far side that a nut could sit on"),
    ],
)
def test_refusals(tmp_path, values, words):
    model = stack(tmp_path)
    before = model.snapshot
    if values.get("on"):
        values = {**values, "on": [lid_hole(model)]}
    with pytest.raises(EditError, match=words):
        model.do("take from the shelf", **values)
    assert model.snapshot is before


def test_every_family_says_where_its_sizes_are_from():
    own = {f.name for f in FAMILIES.values() if not f.standard}
    assert own == {"standoff", "gland", "pin_header", "terminal", "spring", "profile", "tube"}, "a maker's own"

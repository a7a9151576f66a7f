"""Sketches through the edits: planes, drawing, and the solids made of their areas, by formula."""

from __future__ import annotations

import math

import numpy as np
import pytest
import trimesh
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.special import ellipe

from ravine.core import EditError, Model
from ravine.core.kernel import build
from ravine.core.kernel.boolean import combine
from ravine.core.kernel.check import fault
from ravine.core.kernel.tessellate import mesh_afresh, whole_mesh
from ravine.core.kernel.volumes import volume_properties
from ravine.core.model.sketch_regions import regions_of_sketch
from ravine.core.model.snapshot import Snapshot, area_id
from ravine.core.sketch.entities import Plane
from tests.core.test_shaping_edits import sound
from tests.parts import model_of


class Desk:
    """A model with sketches begun and drawn in through the edits."""

    def __init__(self, model: Model | None = None) -> None:
        self.model = model or Model(units="mm")

    def begin(self, **values: object) -> str:
        self.model.do("sketch", **values)
        return f"s{max(self.model.snapshot.sketches)}"

    def draw(self, sketch: str, shape: str, places: str, **values: object) -> list[str]:
        known = set(self.of(sketch).curves)
        self.model.do("draw", sketch=[sketch], shape=shape, places=places, **values)
        return [f"c{n}" for n in self.of(sketch).curves if n not in known]

    def of(self, sketch: str):
        return self.model.snapshot.sketch(int(sketch[1:]))

    def area(self, sketch: str, number: int = 0) -> str:
        return area_id(int(sketch[1:]), regions_of_sketch(self.of(sketch))[number].inside)

    def volume(self, body: str) -> float:
        return self.model.measure(body).volume

    def solid(self, body: str):
        return self.model.geometry.solid(self.model.snapshot.body(int(body[1:])).shape)


def test_a_plate_drawn_pulled_bored_and_sized() -> None:
    desk = Desk()
    sketch = desk.begin(plane="xy")
    bottom = desk.draw(sketch, "rectangle", "0,0 +60,40")[0]
    desk.draw(sketch, "circle", "30,20", size="8 mm")
    change = desk.model.do("extrude", areas=[desk.area(sketch)], distance="10 mm")
    assert change.sentence == "Extruded an area of Sketch 1 by 10 mm"
    body = change.added[0]
    sound(desk.model, body, 10 * (2400 - 64 * math.pi))
    change = desk.model.do("dimension", on=[bottom], kind="distance", size="70 mm")
    assert change.sentence == "Dimensioned a line of Sketch 1: distance 70 mm"
    assert max(a.amount for a in regions_of_sketch(desk.of(sketch))) == pytest.approx(2800 - 64 * math.pi)
    with pytest.raises(EditError, match=r"that contradicts c[0-9]+ \w+") as told:
        desk.model.do("keep", on=[bottom], rule="upright")
    assert told.value.where
    stored = desk.model.snapshot
    assert Snapshot.from_json(stored.to_json()) == stored


@pytest.mark.parametrize(("way", "change"), [("joining", 240.0), ("cutting", -240.0)])
def test_matter_goes_to_what_it_touches_or_out_of_it(tmp_path, way: str, change: float) -> None:
    model, body = model_of(tmp_path, build.box(40, 30, 20))
    desk = Desk(model)
    sketch = desk.begin(on=[model.faces(body, kind="plane", normal=(0, 0, 1)).highest().id])
    assert desk.of(sketch).plane == Plane((0, 0, 20), (1, 0, 0), (0, 1, 0))
    desk.draw(sketch, "rectangle", "10,10 18,16")
    ids = {f.id for f in model.faces(body)}
    model.do("extrude", areas=[desk.area(sketch)], distance=5 if way == "joining" else -5, way=way)
    sound(model, body, 24000 + change)
    assert ids <= {f.id for f in model.faces(body)}


def test_locked_parts_are_neither_joined_nor_cut(tmp_path) -> None:
    model, body = model_of(tmp_path, build.box(40, 30, 20))
    model.do("lock", parts=[f"n{model.snapshot.roots[0]}"])
    before = model.snapshot.bodies
    desk = Desk(model)
    sketch = desk.begin(plane="xy", offset=20)
    desk.draw(sketch, "circle", "20,15", size=4)
    with pytest.raises(EditError, match="no matter in its way"):
        model.do("extrude", areas=[desk.area(sketch)], distance=-30, way="cutting")
    added = model.do("extrude", areas=[desk.area(sketch)], distance=5).added
    assert len(added) == 1
    assert model.snapshot.body(int(body[1:])) == before[int(body[1:])]


def test_what_bridges_two_parts_makes_them_one(tmp_path) -> None:
    desk = Desk()
    for x in (0, 50):
        sketch = desk.begin(plane="xy")
        desk.draw(sketch, "rectangle", f"{x},0 +20,20")
        desk.model.do("extrude", areas=[desk.area(sketch)], distance=10, way="apart")
    sketch = desk.begin(plane="xy")
    desk.draw(sketch, "rectangle", "20,5 50,15")
    change = desk.model.do("extrude", areas=[desk.area(sketch)], distance=10)
    assert len(desk.model.snapshot.bodies) == 1
    assert desk.volume(f"b{next(iter(desk.model.snapshot.bodies))}") == pytest.approx(8000 + 3000)
    assert any(f.code == "joins" for f in change.facts)


@settings(max_examples=25, deadline=None)
@given(st.floats(3, 20), st.floats(3, 20), st.floats(1, 20), st.floats(-12, 12))
def test_a_tapered_box_is_a_frustum(width: float, depth: float, height: float, degrees: float) -> None:
    assume(abs(degrees) > 0.02)
    slope = height * math.tan(math.radians(degrees))
    desk = Desk()
    sketch = desk.begin(plane="xz")
    desk.draw(sketch, "rectangle", f"0,0 {width:.12g},{depth:.12g}")
    values = {"areas": [desk.area(sketch)], "distance": height, "taper": f"{degrees} deg"}
    if 2 * slope > min(width, depth) - 1e-3:
        if 2 * slope > min(width, depth) + 1e-3:
            with pytest.raises(EditError, match="meet before"):
                desk.model.do("extrude", **values)
        return
    body = desk.model.do("extrude", **values).added[0]
    top = (width - 2 * slope) * (depth - 2 * slope)
    middle = (width - slope) * (depth - slope)
    assert desk.volume(body) == pytest.approx(height / 6 * (width * depth + 4 * middle + top), rel=1e-9)


def test_until_a_face_and_half_to_each_side(tmp_path) -> None:
    model, body = model_of(tmp_path, build.box(40, 30, 20))
    desk = Desk(model)
    sketch = desk.begin(plane="xy", offset=-15)
    desk.draw(sketch, "circle", "20,15", size=4)
    bottom = model.faces(body, kind="plane", normal=(0, 0, -1)).ids[0]
    change = model.do("extrude", areas=[desk.area(sketch)], until=[bottom], way="apart")
    assert desk.volume(change.added[0]) == pytest.approx(16 * math.pi * 15)
    change = model.do("extrude", areas=[desk.area(sketch)], distance=8, sides="both", way="apart")
    low, high = desk.solid(change.added[0]).box
    assert (low[2], high[2]) == pytest.approx((-19, -11), abs=1e-6)


def test_revolved_areas_have_the_volume_of_pappus() -> None:
    desk = Desk()
    sketch = desk.begin(plane="xz")
    (axis,) = desk.draw(sketch, "line", "0,-10 0,40", role="helper")
    desk.draw(sketch, "line", "10,0 +8,0 +0,5 10,0")
    area = desk.area(sketch)
    for degrees in (360, 90):
        body = desk.model.do("revolve", areas=[area], axis=[axis], angle=f"{degrees} deg", way="apart").added[0]
        assert desk.volume(body) == pytest.approx(20 * math.radians(degrees) * (10 + 16 / 3), rel=1e-9)
        assert fault(desk.solid(body).shape) is None
    (across,) = desk.draw(sketch, "line", "12,-10 12,40", role="helper")
    before = desk.model.snapshot.to_json()
    with pytest.raises(EditError, match="the axis runs through the area"):
        desk.model.do("revolve", areas=[area], axis=[across])
    assert desk.model.snapshot.to_json() == before


def test_lofts_and_sweeps_by_formula() -> None:
    desk = Desk()
    areas = []
    for height, half in ((60, 10), (90, 5)):
        sketch = desk.begin(plane="xy", offset=height)
        desk.draw(sketch, "rectangle about", f"0,0 {half},{half}")
        areas.append(desk.area(sketch))
    body = desk.model.do("loft", areas=areas, walls="straight", way="apart").added[0]
    assert desk.volume(body) == pytest.approx(30 / 3 * (400 + 100 + 200), rel=1e-9)
    for height, size in ((120, 1.0), (150, 0.5)):
        sketch = desk.begin(plane="xy", offset=height)
        desk.draw(sketch, "rectangle about", f"0,0 {20 * size},{10 * size}")
        for x in (-10, 10):
            desk.draw(sketch, "circle", f"{x * size},0", size=4 * size)
        areas.append(area_id(int(sketch[1:]), max(regions_of_sketch(desk.of(sketch)), key=lambda a: a.amount).inside))
    for walls in ("straight", "smooth"):
        body = desk.model.do("loft", areas=areas[2:], walls=walls, way="apart").added[0]
        solid_part, holes = 30 / 3 * 800 * (1 + 0.25 + 0.5), 2 * math.pi * 10 * (16 + 4 + 8)
        assert desk.volume(body) == pytest.approx(solid_part - holes, rel=1e-6)
    with pytest.raises(EditError, match=r"different numbers of holes \(0, 2\)"):
        desk.model.do("loft", areas=[areas[0], areas[2]], way="apart")
    way = desk.begin(plane="yz")
    along = desk.draw(way, "line", "100,0 100,30") + desk.draw(way, "arc about", "120,30 120,50 100,30")
    disc = desk.begin(plane="xy")
    desk.draw(disc, "circle", "0,100", size=3)
    body = desk.model.do("sweep", areas=[desk.area(disc)], along=along, way="apart").added[0]
    assert desk.volume(body) == pytest.approx(9 * math.pi * (30 + 10 * math.pi), rel=1e-7)
    (flat,) = desk.draw(disc, "line", "0,120 40,120", role="helper")
    with pytest.raises(EditError, match="lies in the plane of the areas"):
        desk.model.do("sweep", areas=[desk.area(disc)], along=[flat])


def threaded(desk: Desk, radius: float, inner: bool, pitch: float, height: float, clearance: float = 0.0) -> str:
    """A bolt of 20 mm, or a nut around it, with a trapezoid thread cut right through; its body."""
    disc = desk.begin(plane="xy", offset=0 if not inner else 100)
    if inner:
        desk.draw(disc, "polygon", "0,0 16,0")
    desk.draw(disc, "circle", "0,0", size=radius)
    body = desk.model.do("extrude", areas=[desk.area(disc)], distance=20, way="apart").added[0]
    side = desk.begin(plane="xz")
    (axis,) = desk.draw(side, "line", "0,-5 0,140", role="helper")
    base = 100 if inner else 0
    sign, c = (1, clearance) if inner else (-1, 0.0)
    root, tip = radius - 0.3 * sign, radius + (0.8 + c) * sign
    wide, narrow = pitch * 0.36 + c, pitch * 0.18 + c
    mid = base - 2 * pitch
    desk.draw(
        side,
        "line",
        f"{root},{mid - wide} {root},{mid + wide} {tip},{mid + narrow} {tip},{mid - narrow} {root},{mid - wide}",
    )
    desk.model.do("wind", areas=[desk.area(side)], axis=[axis], height=height, pitch=pitch, way="cutting")
    return body


@pytest.mark.parametrize("hand", ["right", "left"])
def test_a_spring_has_its_length_times_its_section(hand: str) -> None:
    desk = Desk()
    sketch = desk.begin(plane="xz")
    (axis,) = desk.draw(sketch, "line", "0,-5 0,40", role="helper")
    desk.draw(sketch, "circle", "20,0", size=1.5)
    values = {"areas": [desk.area(sketch)], "axis": [axis], "height": 30, "pitch": 6, "hand": hand, "way": "apart"}
    body = desk.model.do("wind", **values).added[0]
    # the section stands upright, so it is the disc's area times the way its middle goes around
    assert desk.volume(body) == pytest.approx(2.25 * math.pi * 2 * math.pi * 20 * 5, rel=2e-3)
    solid = desk.solid(body)
    assert fault(solid.shape) is None
    mesh_afresh(solid.shape, 0.05, 0.3)
    points = whole_mesh(solid.shape)[0]
    quarter = points[(np.abs(points[:, 2] - 1.5) < 0.1) & (np.hypot(*points[:, :2].T) > 20)]
    assert np.sign(np.median(quarter[:, 1])) == (1 if hand == "right" else -1)  # a quarter turn up it stands at ±y
    with pytest.raises(EditError, match="its turns would run into one another") as told:
        desk.model.do("wind", **{**values, "pitch": 2.5})
    assert told.value.nearest


def test_a_thread_cuts_right_through_and_is_a_closed_mesh() -> None:
    desk = Desk()
    bolt = threaded(desk, 8, False, 2.0, 30)
    solid = desk.solid(bolt)
    assert fault(solid.shape) is None
    cut = 64 * math.pi * 20 - desk.volume(bolt)
    section = (0.36 + 0.18) * 2.0 * 1.1 * 0.8 / 1.1  # about: what of the trapezoid lies inside
    turns = 10
    assert cut == pytest.approx(section * turns * 2 * math.pi * 7.6, rel=0.12)
    low, high = solid.box
    assert (low[2], high[2]) == pytest.approx((0, 20), abs=1e-6)
    mesh_afresh(solid.shape, 0.02, 0.2)
    mesh = trimesh.Trimesh(*whole_mesh(solid.shape), process=True)
    assert mesh.is_watertight
    assert mesh.volume == pytest.approx(desk.volume(bolt), rel=5e-3)


def test_a_plane_of_each_kind(tmp_path) -> None:
    model, body = model_of(tmp_path, build.box(40, 30, 20))
    desk = Desk(model)
    faces = {n: model.faces(body, kind="plane", normal=n).ids[0] for n in ((0, 0, 1), (0, 0, -1), (1, 0, 0))}
    middle = desk.of(desk.begin(on=[faces[0, 0, 1], faces[0, 0, -1]])).plane
    assert middle.origin[2] == pytest.approx(10)
    corners = {tuple(round(c) for c in v.point): v.id for v in model.vertices(body)}
    three = desk.of(desk.begin(on=[corners[0, 0, 0], corners[40, 30, 0], corners[0, 0, 20]])).plane
    assert abs(np.dot(three.normal, (3, -4, 0))) == pytest.approx(5)
    edges = {tuple(round(c) for c in e.middle): e.id for e in model.edges(body)}
    diagonal = desk.of(desk.begin(on=[edges[20, 0, 0], edges[20, 30, 20]])).plane
    assert abs(np.dot(diagonal.normal, (0, 2, -3))) == pytest.approx(math.sqrt(13))
    across = desk.of(desk.begin(on=[edges[20, 0, 0], corners[40, 0, 0]])).plane
    assert np.abs(across.normal) == pytest.approx((1, 0, 0))
    assert across.place(across.flat((40, 0, 0))) == pytest.approx((40, 0, 0))
    leaning = desk.of(desk.begin(on=[edges[20, 0, 20], faces[0, 0, 1]], angle="30 deg")).plane
    assert abs(leaning.normal[2]) == pytest.approx(math.cos(math.radians(30)))
    with pytest.raises(EditError, match="the two faces are not parallel"):
        desk.begin(on=[faces[0, 0, 1], faces[1, 0, 0]])


@pytest.mark.parametrize(
    ("values", "words"),
    [
        ({"places": "0,0"}, "line takes 2 or more places; there are 1"),
        ({"places": "0,0 x"}, "“x” is no place"),
        ({"places": "40<30"}, "measured from the place before"),
        ({"places": "p999 1,1"}, "there is no point p999"),
        ({"places": "0,0 0,0"}, "two places of the line are the same"),
        ({"places": "0,0 1e9,0"}, "farther out than a kilometre"),
        ({"shape": "arc", "places": "0,0 1,0 2,0"}, "lie on one line"),
        ({"shape": "polygon", "places": "0,0 5,0", "count": 2}, "3 to 120 corners"),
        ({"shape": "blob", "places": "0,0 5,0"}, "the shape is one of"),
    ],
)
def test_bad_places_are_told_and_change_nothing(values: dict, words: str) -> None:
    desk = Desk()
    sketch = desk.begin()
    before = desk.model.snapshot.to_json()
    with pytest.raises(EditError, match=words):
        desk.model.do("draw", sketch=[sketch], **values)
    assert desk.model.snapshot.to_json() == before


def test_places_are_written_in_many_ways() -> None:
    desk = Desk(Model(units="mm"))
    sketch = desk.begin()
    (first, second) = desk.draw(sketch, "line", "0,0 1in,0 +0,10")
    point = desk.of(sketch).curves[int(second[1:])].points[1]
    desk.draw(sketch, "line", f"p{point} 20<90 m{first[1:]} c{first[1:]}:5,0")
    places = set(desk.of(sketch).points.values())
    assert {(0, 0), (25.4, 0), (25.4, 10), (12.7, 0), (5, 0)} <= {(round(x, 6), round(y, 6)) for x, y in places}
    kinds = [r.kind for r in desk.of(sketch).constraints.values()]
    assert "middle" in kinds
    assert "on" in kinds
    desk.model.do("drag", what=[f"p{point}"], to="30,12")
    assert desk.of(sketch).points[point] == pytest.approx((30, 12), abs=1e-3)
    desk.model.do("erase", what=[first])
    assert int(first[1:]) not in desk.of(sketch).curves
    desk.model.do("erase", what=[sketch])
    assert not desk.model.snapshot.sketches


def test_areas_split_the_faces_they_lie_on_and_nothing_else(tmp_path) -> None:
    model, body = model_of(tmp_path, build.subtract(build.box(40, 30, 20), build.cylinder(4, 22, (20, 15, -1))))
    desk = Desk(model)
    top = model.faces(body, kind="plane", normal=(0, 0, 1)).highest().id
    sketch = desk.begin(on=[top])
    desk.draw(sketch, "rectangle", "14,9 26,40")  # around the hole and over the border
    faces = len(model.faces(body).ids)
    known = {f.id for f in model.faces(body)}
    model.do("imprint", areas=[desk.area(sketch)])
    sound(model, body, 40 * 30 * 20 - 16 * math.pi * 20)
    assert len(model.faces(body).ids) == faces + 1
    assert known <= {f.id for f in model.faces(body)}
    pieces = sorted(f.area for f in model.faces(body, kind="plane", normal=(0, 0, 1)))
    assert pieces == pytest.approx([12 * 21 - 16 * math.pi, 40 * 30 - 12 * 21])
    small = min(model.faces(body, kind="plane", normal=(0, 0, 1)), key=lambda f: f.area)
    model.do("push", faces=[small.id], distance=3, border="kept")
    sound(model, body, 40 * 30 * 20 - 16 * math.pi * 20 + 3 * (12 * 21 - 16 * math.pi))


def test_edges_are_taken_into_a_sketch_as_what_they_are(tmp_path) -> None:
    model, body = model_of(tmp_path, build.subtract(build.box(40, 30, 20), build.cylinder(4, 22, (20, 15, -1))))
    desk = Desk(model)
    sketch = desk.begin(plane="xy", offset=50)
    top = model.faces(body, kind="plane", normal=(0, 0, 1)).highest().id
    model.do("project", edges=[top], sketch=[sketch])
    kinds = sorted(c.kind for c in desk.of(sketch).curves.values())
    assert kinds == ["circle", "line", "line", "line", "line"]
    amounts = [a.amount for a in regions_of_sketch(desk.of(sketch))]
    assert amounts == pytest.approx([1200 - 16 * math.pi, 16 * math.pi])
    side = desk.begin(plane="xz")
    model.do("project", edges=[f.id for f in model.faces(body, kind="cylinder")], sketch=[side])
    upright = next(e.id for e in model.edges(body) if e.kind == "line" and abs(e.middle[2] - 10) < 1e-6)
    with pytest.raises(EditError, match="mere points"):
        model.do("project", edges=[upright], sketch=[sketch])


def test_copies_in_a_row_around_and_mirrored() -> None:
    desk = Desk()
    sketch = desk.begin()
    desk.draw(sketch, "circle", "0,0", size=30)
    (hole,) = desk.draw(sketch, "circle", "20,0", size=3)
    desk.model.do("copy curves", curves=[hole], way="around", middle="0,0", count=8)
    amounts = [a.amount for a in regions_of_sketch(desk.of(sketch))]
    assert amounts == pytest.approx([900 * math.pi - 72 * math.pi] + [9 * math.pi] * 8)
    rule = next(r for r in desk.of(sketch).constraints.values() if r.kind == "radius" and r.on == (int(hole[1:]),))
    assert rule.value == 3
    desk.model.do("dimension", on=[hole], kind="radius", size=4)  # all eight follow the first
    assert regions_of_sketch(desk.of(sketch))[0].amount == pytest.approx(900 * math.pi - 128 * math.pi)

    half = desk.begin()
    (axis,) = desk.draw(half, "line", "0,-5 0,40", role="helper")
    sides = desk.draw(half, "line", "0,0 12,0 12,20 0,30")
    desk.model.do("copy curves", curves=sides, way="mirrored", line=[axis])
    assert regions_of_sketch(desk.of(half))[0].amount == pytest.approx(24 * 20 + 24 * 10 / 2)
    corner = next(n for n, at in desk.of(half).points.items() if at == pytest.approx((12, 20)))
    ends = desk.of(half).curves[int(axis[1:])].points
    desk.model.do("keep", on=[f"p{n}" for n in ends], rule="fixed")
    desk.model.do("drag", what=[f"p{corner}"], to="15,22")  # the mirror stays live
    places = {(round(x, 4), round(y, 4)) for x, y in desk.of(half).points.values()}
    assert {(15, 22), (-15, 22)} <= places
    assert {(-x, y) for x, y in places} == {(x or 0.0, y) for x, y in places}

    row = desk.begin()
    box = desk.draw(row, "rectangle", "0,0 4,4")
    desk.model.do("copy curves", curves=box, way="row", step="6,1", count=5)
    assert [a.amount for a in regions_of_sketch(desk.of(row))] == pytest.approx([16] * 5)
    with pytest.raises(EditError, match="pick the line to mirror about"):
        desk.model.do("copy curves", curves=box, way="mirrored")


@pytest.mark.parametrize("taper", [5.0, -5.0, 1.0])
def test_walls_on_free_curves_lean(taper: float) -> None:
    """By the area of parallels: A − P d + π d² within an outline, with P its length (Steiner)."""
    desk = Desk()
    sketch = desk.begin()
    desk.draw(sketch, "ellipse", "0,0 30,0 0,20")
    desk.draw(sketch, "circle", "0,0", size="5")
    change = desk.model.do("extrude", areas=[desk.area(sketch)], distance="10", taper=f"{taper}°")
    around, lean = 4 * 30 * float(ellipe(1 - 400 / 900)), math.tan(math.radians(taper))

    def section(height: float) -> float:
        off = lean * height
        return math.pi * 600 - around * off + math.pi * off**2 - math.pi * (5 + off) ** 2

    volume = 10 / 6 * (section(0) + 4 * section(5) + section(10))
    sound(desk.model, change.added[0], volume, rel=1e-4)


def test_a_bolt_fits_its_nut_with_the_clearance_given_and_not_half_a_turn_off() -> None:
    """Both cut to one profile, the bolt's smaller by the clearance all around: no matter in common where their turns
    agree."""
    bore, crest, pitch, gap = 6.0, 6.8, 1.5, 0.12

    def profile(desk: Desk, inner: float, outer: float, wide: float, narrow: float, way: str, height: str) -> None:
        sketch = desk.begin(plane="xz")
        (axis,) = desk.draw(sketch, "line", "0,-9 0,20", role="helper")
        corners = [(inner, -1.5 - wide), (inner, -1.5 + wide), (outer, -1.5 + narrow), (outer, -1.5 - narrow)]
        desk.draw(sketch, "line", " ".join(f"{x:.6g},{y:.6g}" for x, y in [*corners, corners[0]]))
        desk.model.do("wind", areas=[desk.area(sketch)], axis=[axis], height=height, pitch=f"{pitch} mm", way=way)

    nut = Desk()
    ring = nut.begin()
    nut.draw(ring, "circle", "0,0", size="10")
    nut.draw(ring, "circle", "0,0", size=f"{bore}")
    nut.model.do("extrude", areas=[nut.area(ring)], distance="3 mm")
    profile(nut, bore - 0.2, crest, 0.55, 0.12, "cutting", "6 mm")
    bolt = Desk()
    core = bolt.begin(offset="-3 mm")
    bolt.draw(core, "circle", "0,0", size=f"{bore - gap}")
    bolt.model.do("extrude", areas=[bolt.area(core)], distance="9 mm")
    profile(bolt, bore - 0.3, crest - gap, 0.55 - gap / 2, 0.12 - gap / 2, "joining", "6 mm")
    shapes = [d.solid(f"b{min(d.model.snapshot.bodies)}").shape for d in (nut, bolt)]
    assert [fault(s) for s in shapes] == [None, None]
    for turn, most in ((0.0, 0.0), (0.5, math.inf)):
        there = build.moved(shapes[1], [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, turn * pitch])
        shared = volume_properties(combine("common", shapes[0], [there], merge=False)[0]).amount
        assert (shared < 1e-9) if not most else shared > 5

"""Parts that are joined: mechanisms against their closed forms, what stays free, what cannot be met."""

import math

import pytest

from ravine.core import EditError, Model
from ravine.core.kernel import build
from tests.parts import step_file


def bar(length, thick=4.0):
    """With a hole at the origin and one at its other end."""
    holes = [build.cylinder(3, thick + 2, (x, 0, -1)) for x in (0, length)]
    return build.subtract(build.box(length + 20, 20, thick, (-10, -10, 0)), *holes)


def brought_in(folder, **shapes):
    model = Model()
    for name, shape in shapes.items():
        model.do("import", path=str(step_file(folder / f"{name}.step", shape, name)))
    return model


def body_of(model, name):
    return next(b for b in model.bodies() if model.body(b).name == name)


def hole(model, name, which=0):
    return sorted(model.faces(body_of(model, name), kind="cylinder"), key=lambda f: f.axis[0][0])[which].id


def face(model, name, way):
    return model.faces(body_of(model, name), kind="plane", normal=way).highest(way).id


def place(model, name):
    number = int(model.nodes(name)[0][1:])
    return next(matrix for node, matrix, _ in model.snapshot.walk() if node.id == number)


def turned(model, name):
    turn = place(model, name).turn
    return math.atan2(turn[1, 0], turn[0, 0])


def hinge(model, one, at, other, there):
    model.do("join", of=[hole(model, one, at)], to=[hole(model, other, there)])


def free(model, name):
    return sorted(f.kind for f in model.freedoms(model.nodes(name)[0]))


UP, DOWN = (0, 0, 1), (0, 0, -1)
GROUND, CRANK, COUPLER, ROCKER = 100.0, 30.0, 90.0, 70.0


@pytest.fixture
def four_bar(tmp_path):
    """Links in one line, a dead point, joined one after the other."""
    lengths = {"Ground": GROUND, "Crank": CRANK, "Coupler": COUPLER, "Rocker": ROCKER}
    model = brought_in(tmp_path, **{name: bar(length) for name, length in lengths.items()})
    model.do("lock", parts=model.nodes("Ground"))
    for one, at, other, there in (("Crank", 0, "Ground", 0), ("Coupler", 0, "Crank", 1), ("Rocker", 1, "Coupler", 1)):
        hinge(model, one, at, other, there)
        model.do("join", of=[face(model, one, DOWN)], to=[face(model, other, UP)], kind="on")
    hinge(model, "Rocker", 0, "Ground", 1)
    return model


def freudenstein(crank, rocker):
    """How far a four-bar linkage is off its closed form (Freudenstein, 1954); angles in rad."""
    one, two = GROUND / CRANK, GROUND / ROCKER
    three = (CRANK**2 - COUPLER**2 + ROCKER**2 + GROUND**2) / (2 * CRANK * ROCKER)
    return one * math.cos(rocker) - two * math.cos(crank) + three - math.cos(crank - rocker)


def test_a_four_bar_linkage_keeps_its_closed_form(four_bar):
    model = four_bar
    assert all(j.state == "holds" for j in model.joints())
    for name in ("Crank", "Coupler", "Rocker"):
        (only,) = model.freedoms(model.nodes(name)[0])
        assert only.words == "turns about Z", "redundant rows leave one motion, as in the plane"
    change = model.do("move free", part=model.nodes("Crank"), angle="25°")
    assert change.sentence == "Turned Crank by 25° as its joints leave it; Coupler, Rocker follow"
    for _ in range(8):
        before = turned(model, "Crank")
        model.do("move free", part=model.nodes("Crank"), angle="20°")
        assert (turned(model, "Crank") - before) % math.tau == pytest.approx(math.radians(20), abs=1e-9)
        assert freudenstein(turned(model, "Crank"), turned(model, "Rocker")) == pytest.approx(0, abs=1e-9)
        assert place(model, "Rocker").shift[:2] == pytest.approx([GROUND, 0], abs=1e-9)


def test_a_slider_crank_keeps_its_closed_form(tmp_path):
    """A slide has its pin's hole across the way it slides."""
    slide = build.subtract(build.box(20, 20, 4, (-10, -10, 0)), build.cylinder(3, 6, (0, 0, -1)))
    rail = build.subtract(build.box(200, 60, 4, (-50, -30, 0)), build.cylinder(3, 6, (0, 0, -1)))
    model = brought_in(tmp_path, Rail=rail, Crank=bar(30), Rod=bar(90), Slide=slide)
    model.do("lock", parts=model.nodes("Rail"))
    hinge(model, "Crank", 0, "Rail", 0)
    model.do("join", of=[face(model, "Crank", DOWN)], to=[face(model, "Rail", UP)])
    hinge(model, "Rod", 0, "Crank", 1)
    hinge(model, "Slide", 0, "Rod", 1)
    model.do("join", of=[face(model, "Rod", DOWN)], to=[face(model, "Crank", UP)])
    model.do("join", of=[face(model, "Slide", DOWN)], to=[face(model, "Rod", UP)])
    model.do("join", of=[face(model, "Slide", (0, 1, 0))], to=[face(model, "Rail", (0, 1, 0))], kind="distance",
             distance=-20)  # fmt: skip
    for _ in range(6):
        model.do("move free", part=model.nodes("Crank"), angle=math.radians(25))
        angle = turned(model, "Crank")
        ahead = CRANK * math.cos(angle) + math.sqrt(90**2 - (CRANK * math.sin(angle)) ** 2)
        assert place(model, "Slide").shift == pytest.approx([ahead, 0, 12], abs=1e-8)
    (only,) = model.freedoms(model.nodes("Slide")[0])
    assert only.words == "slides along X"
    model.do("move body", parts=model.nodes("Slide"), along="x", distance=-5)
    assert place(model, "Slide").shift[0] == pytest.approx(ahead - 5), "the hand has the slide; the crank follows"
    assert all(j.state == "holds" for j in model.joints())


def pair(tmp_path):
    """A base with a bore, and a pin with a head that stands askew elsewhere."""
    pin = build.unite(build.cylinder(3, 20), build.cylinder(6, 4, (0, 0, 20)))
    model = brought_in(
        tmp_path, Base=build.subtract(build.box(40, 30, 10), build.cylinder(3, 12, (12, 15, -1))), Pin=pin
    )
    model.do("lock", parts=model.nodes("Base"))
    model.do("move body", parts=model.nodes("Pin"), along="x", distance=70, angle="35°")
    return model


def pin_wall(model, radius=3):
    return next(f.id for f in model.faces(body_of(model, "Pin"), kind="cylinder") if f.radius == pytest.approx(radius))


def test_a_pin_goes_into_its_bore_and_sits_on_the_face(tmp_path):
    model = pair(tmp_path)
    change = model.do("join", of=[pin_wall(model)], to=[hole(model, "Base")])
    assert change.sentence == "Joined a round face of Pin to a hole of Base"
    assert free(model, "Pin") == ["slide", "turn"]
    model.do("join", of=[_under_head(model)], to=[face(model, "Base", UP)])
    stands = place(model, "Pin")
    assert stands.shift == pytest.approx([12, 15, -10], abs=1e-9)
    assert stands.turn[:, 2] == pytest.approx([0, 0, 1], abs=1e-12)
    (only,) = model.freedoms(model.nodes("Pin")[0])
    assert (only.words, only.point[:2]) == ("turns about Z", pytest.approx((12, 15)))
    model.do("set joint", joint="J2", way="flipped")
    assert place(model, "Pin").turn[:, 2] == pytest.approx([0, 0, -1], abs=1e-12)


def _under_head(model):
    rows = model.faces(body_of(model, "Pin"), kind="plane")
    return next(f.id for f in rows if f.area == pytest.approx(math.pi * (36 - 9)))


def test_what_an_edit_moves_takes_along_what_is_joined(tmp_path):
    model = pair(tmp_path)
    model.do("lock", parts=model.nodes("Base"), state="unlocked")
    model.do("join", of=[pin_wall(model)], to=[hole(model, "Base")])
    model.do("join", of=[_under_head(model)], to=[face(model, "Base", UP)])
    change = model.do("push", faces=[face(model, "Base", UP)], distance=5)
    assert change.sentence.endswith("; Pin follows")
    assert place(model, "Pin").shift == pytest.approx([12, 15, -5], abs=1e-9)
    change = model.do("move faces", faces=[hole(model, "Base")], along="x", distance=8)
    assert place(model, "Pin").shift == pytest.approx([20, 15, -5], abs=1e-9)
    model.do("move body", parts=model.nodes("Base"), along="y", distance=100)
    assert place(model, "Pin").shift == pytest.approx([20, 115, -5], abs=1e-9)
    model.do("rest joint", joint="J2")
    model.do("push", faces=[face(model, "Base", UP)], distance=1)
    assert place(model, "Pin").shift[2] == pytest.approx(-5), "at rest it is not followed"
    model.do("rest joint", joint="J2", state="wake")
    assert place(model, "Pin").shift[2] == pytest.approx(-4)
    model.undo()
    assert [j.state for j in model.joints()] == ["holds", "rests"]
    model.do("drop joint", joint="J1")
    assert [j.name for j in model.joints()] == ["J2"]
    model.do("delete body", parts=model.nodes("Pin"))
    assert model.joints() == []


def test_a_part_pulled_askew_goes_only_as_it_is_free(tmp_path):
    model = pair(tmp_path)
    model.do("join", of=[pin_wall(model)], to=[hole(model, "Base")])
    before = place(model, "Pin").shift[2]
    change = model.do("move body", parts=model.nodes("Pin"), along="z", distance=7)
    assert place(model, "Pin").shift == pytest.approx([12, 15, before + 7])
    assert change.fact("held") is None
    change = model.do("move body", parts=model.nodes("Pin"), along="x", distance=4)
    assert change.fact("held")
    assert place(model, "Pin").shift == pytest.approx([12, 15, before + 7], abs=1e-9)


def test_contradictions_are_named_and_nothing_changes(tmp_path):
    model = pair(tmp_path)
    model.do("join", of=[_under_head(model)], to=[face(model, "Base", UP)], kind="distance", distance=2, called="gap")
    before = model.snapshot
    with pytest.raises(EditError, match=r"gap, J1 cannot all be met; let one of them rest or drop it"):
        model.do("join", of=[_under_head(model)], to=[face(model, "Base", UP)], kind="distance", distance=3)
    assert model.snapshot is before
    with pytest.raises(EditError, match="both are on the same part"):
        model.do("join", of=[_under_head(model)], to=[pin_wall(model)])
    with pytest.raises(EditError, match="coaxial are round or straight"):
        model.do("join", of=[_under_head(model)], to=[hole(model, "Base")], kind="coaxial")
    with pytest.raises(EditError, match="there is no joint J9; there is gap"):
        model.do("drop joint", joint="J9")
    model.do("join", of=[pin_wall(model)], to=[hole(model, "Base")], called="axis")
    with pytest.raises(EditError, match="axis is coaxial, which has no value"):
        model.do("set joint", joint="axis", distance=3)
    model.do("drop joint", joint="axis")
    model.do("drop joint", joint="gap")
    with pytest.raises(EditError, match="Pin is joined to nothing"):
        model.do("move free", part=model.nodes("Pin"), angle=0.1)


@pytest.mark.parametrize(
    ("kind", "of", "to", "values", "left"),
    [
        ("coaxial", "wall", "bore", {}, ["slide", "turn"]),
        ("on", "head", "top", {}, ["slide", "slide", "turn"]),
        ("distance", "head", "top", {"distance": 4}, ["slide", "slide", "turn"]),
        ("parallel", "head", "top", {}, ["slide", "slide", "slide", "turn"]),
        ("parallel", "wall", "top", {}, ["slide", "slide", "slide", "turn", "turn"]),
        ("angle", "wall", "bore", {"angle": "30°"}, ["slide", "slide", "slide", "turn", "turn"]),
        ("tangent", "wall", "top", {}, ["slide", "slide", "turn", "turn"]),
        ("distance", "wall", "bore", {"distance": 9}, ["slide", "slide", "turn"]),
        ("fixed", "wall", "bore", {}, []),
    ],
)
def test_each_kind_takes_the_freedoms_that_it_should(tmp_path, kind, of, to, values, left):
    """Six less the rank of what the kind holds."""
    model = pair(tmp_path)
    ends = {"wall": pin_wall(model), "head": _under_head(model), "bore": hole(model, "Base"),
            "top": face(model, "Base", UP)}  # fmt: skip
    model.do("join", of=[ends[of]], to=[ends[to]], kind=kind, **values)
    assert free(model, "Pin") == left
    (joint,) = model.joints()
    assert joint.state == "holds"
    upright = place(model, "Pin").turn[2, 2]
    if kind == "angle":
        assert abs(upright) == pytest.approx(math.cos(math.radians(30)))
    if kind == "tangent":
        assert upright == pytest.approx(0, abs=1e-9)


def test_centred_between_two_faces(tmp_path):
    block = build.subtract(build.box(60, 30, 20), build.box(17, 32, 12, (20, -1, 9)))
    model = brought_in(tmp_path, Fork=block, Tongue=build.box(6, 50, 9, (100, 40, 30)))
    model.do("lock", parts=model.nodes("Fork"))
    walls = [f.id for f in model.faces(body_of(model, "Fork"), kind="plane") if abs(f.normal[0]) > 0.9]
    inner = [w for w in walls if 19 < model.face(w).centroid[0] < 38]
    sides = [face(model, "Tongue", (1, 0, 0)), face(model, "Tongue", (-1, 0, 0))]
    model.do("join", of=sides, to=inner, kind="centred")
    middle = place(model, "Tongue").point((103, 0, 0))[0]
    assert middle == pytest.approx(28.5)
    model.do("lock", parts=model.nodes("Fork"), state="unlocked")
    model.do("push", faces=[inner[0]], distance=-3)
    now = [model.face(w).centroid[0] for w in inner]
    assert place(model, "Tongue").point((103, 0, 0))[0] == pytest.approx(sum(now) / 2)


def test_limits_hold_only_at_their_ends(tmp_path):
    model = pair(tmp_path)
    model.do("join", of=[pin_wall(model)], to=[hole(model, "Base")])
    model.do("join", of=[_under_head(model)], to=[face(model, "Base", UP)], kind="distance", least=1, most=6)
    gap = lambda: place(model, "Pin").point((0, 0, 20))[2] - 10  # noqa: E731
    assert 1 - 1e-9 <= gap() <= 6 + 1e-9
    model.do("move free", part=model.nodes("Pin"), motion="slide", distance=3.5 - gap())
    assert gap() == pytest.approx(3.5)
    model.do("move free", part=model.nodes("Pin"), motion="slide", distance=40)
    assert gap() == pytest.approx(6), "it stops at its limit"
    model.do("set joint", joint="J2", distance=2)
    assert gap() == pytest.approx(2)


def test_a_motion_stops_where_another_part_is_met(tmp_path):
    model = brought_in(tmp_path, Ground=bar(100), Lever=bar(60), Post=build.cylinder(5, 20, (40, 40, 0)))
    model.do("lock", parts=[*model.nodes("Ground"), *model.nodes("Post")])
    hinge(model, "Lever", 0, "Ground", 0)
    model.do("join", of=[face(model, "Lever", DOWN)], to=[face(model, "Ground", UP)])
    change = model.do("move free", part=model.nodes("Lever"), angle="90°", contact="stop")
    assert change.fact("contact") == "Lever meets Post"
    angle = turned(model, "Lever")
    side = -math.sin(angle) * 40 + math.cos(angle) * 40  # of the post's axis, across the lever
    assert side == pytest.approx(10 + 5, abs=2e-4), "its side touches the post"
    with pytest.raises(EditError, match="Lever meets Post"):
        model.do("move free", part=model.nodes("Lever"), angle="5°", contact="stop")


def test_parts_of_a_group_go_as_one_where_the_joint_is_to_another(tmp_path):
    """A group of two is brought in; a third part is joined to one of them, and the group goes with it."""
    from ravine.core.formats import step
    from ravine.core.kernel.exchange import WriteNode, WritePart
    from ravine.core.rigid import IDENTITY

    parts = [WritePart("Bar", bar(40), None, {}), WritePart("Cube", build.box(5, 5, 5, (60, 0, 0)), None, {})]
    tree = [WriteNode("Unit", IDENTITY, None, [WriteNode("Bar", IDENTITY, 0, []), WriteNode("Cube", IDENTITY, 1, [])])]
    path = tmp_path / "unit.step"
    path.write_bytes(step.write(tree, parts, "unit"))
    model = brought_in(tmp_path, Ground=bar(100))
    model.do("lock", parts=model.nodes("Ground"))
    model.do("import", path=str(path))
    hinge(model, "Bar", 0, "Ground", 1)
    assert place(model, "Cube").shift[0] == pytest.approx(100), "the whole unit went"
    assert model.joints()[0].parts == ("Bar", "Ground")
    model.do("lock", parts=model.nodes("Ground"), state="unlocked")
    change = model.do("move body", parts=model.nodes("Bar"), along="y", distance=7)
    assert change.sentence.endswith("; Ground follows"), "what was moved within its group stays where it was put"
    assert place(model, "Bar").shift[1] == pytest.approx(7)
    assert place(model, "Ground").shift[1] == pytest.approx(7)
    assert place(model, "Cube").shift[1] == pytest.approx(0)


def test_copies_and_stored_states_keep_joints(tmp_path):
    model = pair(tmp_path)
    model.do("join", of=[pin_wall(model)], to=[hole(model, "Base")])
    stored = model.snapshot.to_json()
    again = type(model.snapshot).from_json(stored)
    assert again.to_json() == stored
    assert Model(snapshot=again, geometry=model.geometry).joints() == model.joints()


def test_a_motion_played_tells_where_it_clashes_and_how_near_it_comes(tmp_path):
    """A lever of half width 10 about the origin, and a post of radius 5 beside it at a reach of 40√2."""
    model = brought_in(tmp_path, Ground=bar(100), Lever=bar(60), Post=build.cylinder(5, 20, (40, 40, 0)))
    model.do("lock", parts=[*model.nodes("Ground"), *model.nodes("Post")])
    hinge(model, "Lever", 0, "Ground", 0)
    model.do("join", of=[face(model, "Lever", DOWN)], to=[face(model, "Ground", UP)])
    before = model.snapshot
    told = model.study("play", part=model.nodes("Lever"), least_angle="-40°", most_angle="100°", steps=20)
    assert model.snapshot is before
    assert not told["stopped"]
    assert [s["value"] for s in told["steps"]] == pytest.approx([*range(-40, 0, 2), 0, *range(5, 101, 5)])
    (node,) = model.nodes("Lever")
    for step in told["steps"]:
        angle = math.radians(step["value"])
        side = 40 * math.cos(angle) - 40 * math.sin(angle)  # of the post's axis, across the lever
        along = 40 * math.cos(angle) + 40 * math.sin(angle)
        if along > 0 and abs(abs(side) - 15) > 1e-6:
            assert bool(step["clashes"]) == (abs(side) < 15), step["value"]
        if step["value"]:
            assert step["matrices"][node][0] == pytest.approx(math.cos(angle))
    (gap,) = [s["gap"] for s in told["steps"] if abs(s["value"] - 20) < 1e-9]
    assert gap == pytest.approx(40 * math.cos(math.radians(20)) - 40 * math.sin(math.radians(20)) - 15) or gap is None
    hinged = model.do("join", of=[face(model, "Lever", (0, 1, 0))], to=[face(model, "Ground", (0, 1, 0))], kind="angle",
                      least_angle="0°", most_angle="12°")  # fmt: skip
    assert hinged.added
    told = model.study("play", part=model.nodes("Lever"), steps=36)
    assert told["stopped"]
    assert max(abs(s["value"]) for s in told["steps"]) == pytest.approx(10)

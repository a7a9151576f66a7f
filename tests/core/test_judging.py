"""What looks at a result by other means than it was made with: pushes that pass others, removals, whole bodies."""

import math
from importlib import import_module
from types import SimpleNamespace

import pytest
from OCP.BRep import BRep_Builder
from OCP.TopoDS import TopoDS_Shell, TopoDS_Solid

from ravine.core import EditError
from ravine.core.errors import CannotDo
from ravine.core.kernel import build
from ravine.core.kernel.check import fault_of_change
from ravine.core.kernel.shapes import ShapeIndex
from ravine.core.local.dependents import Growth, bend, growths
from ravine.core.local.passed_levels import first_level, levels_passed
from ravine.core.local.swept_judge import contradiction
from ravine.core.local.topology import SolidTopology
from tests.parts import boss_block, model_of

judging, push, remove = (import_module(f"ravine.core.operations.{name}") for name in ("judging", "push", "remove"))

BOX = build.box(40, 30, 20)
BOSS = build.unite(BOX, build.cylinder(6, 5, (15, 15, 20)))
POCKET = build.subtract(BOX, build.box(12, 9, 7, (10, 10, 13)))
STEPPED = build.subtract(BOX, build.cylinder(3, 30, (20, 15, -1)), build.cylinder(6, 9, (20, 15, 12)))


def read(shape):
    return SolidTopology(ShapeIndex(shape))


def face_at(topology, kind, *, level=None, radius=None, up=None):
    """The face of a kind at a height (a plane that looks up or down), or of a radius."""
    for f in range(topology.index.count("face")):
        surface = topology.surface(f)
        if surface.kind != kind:
            continue
        if kind == "cylinder" and abs(surface.radius - radius) < 1e-9:
            return f
        if kind == "plane":
            (_, _, z), (_, _, k) = topology.middle(f)
            if abs(k) > 0.99 and abs(z - level) < 1e-9 and (up is None or (k > 0) == up):
                return f
    raise LookupError(kind)


@pytest.mark.parametrize(
    ("shape", "level", "distance", "passed"),
    [
        (BOSS, 20, 6, 5.0),
        (BOSS, 20, 4.9, None),
        (BOSS, 20, 5.0, None),  # it ends level with it: nothing is passed
        (BOSS, 20, -6, None),
        (POCKET, 20, -8, -7.0),
        (POCKET, 20, -6, None),
        (STEPPED, 20, -9, -8.0),
        (BOX, 20, -9, None),
    ],
)
def test_the_level_at_which_a_face_is_joined_by_another(shape, level, distance, passed):
    topology = read(shape)
    assert first_level(topology, face_at(topology, "plane", level=level), distance) == (
        None if passed is None else pytest.approx(passed)
    )


def test_a_bore_passes_the_step_to_a_wider_one():
    topology = read(STEPPED)
    found = levels_passed(topology, face_at(topology, "cylinder", radius=3), -4)
    assert [(round(level, 9), topology.surface(f).radius) for level, f in found] == [(-3.0, 6.0)]


def test_a_push_is_the_same_as_its_parts(tmp_path):
    """Past the top of a boss, and past the floor of a pocket."""
    for shape, distances, volume in ((BOSS, (3, 2, 4), 1200 * 29), (POCKET, (-6, -1, -3), 1200 * 10)):
        model, body = model_of(tmp_path, shape)
        top = next(f.id for f in model.faces(body, normal=(0, 0, 1)) if f.centroid[0] > 15.5)
        model.do("push", faces=[top], distance=sum(distances))
        assert model.measure(body).volume == pytest.approx(volume)
        assert len(model.faces(body)) == 6
        model.undo()
        for distance in distances:
            rows = [f for f in model.faces(body, normal=(0, 0, 1)) if f.area > 500]
            model.do("push", faces=[rows[0].id], distance=distance)
        assert model.measure(body).volume == pytest.approx(volume)


WRONG = {
    "what the boss stood on rises around it": (
        BOSS, 6, build.subtract(build.box(40, 30, 26), build.cylinder(6, 9, (15, 15, 25))), "a gap",
    ),
    "too little is taken": (BOX, -5, build.unite(build.box(40, 30, 15), build.box(20, 15, 5, (8, 6, 15))), "standing"),
    "the column below a pocket stays": (
        POCKET, -9, build.unite(build.box(40, 30, 11), build.box(12, 9, 2, (10, 10, 11))), "standing",
    ),
    "another wall goes along": (BOX, 5, build.box(43, 30, 25), "did not go"),
    "a ring stays where the wall leans outwards": (
        build.revolve(build.outline([(0, 0, 0), (9, 0, 0), (5, 0, 20), (0, 0, 20)])), -8,
        build.subtract(build.revolve(build.outline([(0, 0, 0), (9, 0, 0), (5, 0, 20), (0, 0, 20)])),
                       build.cylinder(5, 9, (0, 0, 12))), "standing",
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", WRONG)
def test_places_tell_a_push_that_was_done_wrongly(name):
    before, distance, after, words = WRONG[name]
    topology = read(before)
    told = contradiction(topology, read(after), {face_at(topology, "plane", level=20, up=True): distance})
    assert told is not None
    assert words in told


def test_places_have_nothing_against_what_is_right():
    for before, distance, after in (
        (BOX, 5, build.box(40, 30, 25)),
        (BOSS, 6, build.box(40, 30, 26)),
        (POCKET, -9, build.box(40, 30, 11)),
        (POCKET, 3, build.subtract(build.box(40, 30, 23), build.box(12, 9, 11, (10, 10, 13)))),
    ):
        topology = read(before)
        face = face_at(topology, "plane", level=20, up=True)
        assert contradiction(topology, read(after), {face: distance}) is None
    topology = read(STEPPED)
    wider = build.subtract(BOX, build.cylinder(7, 30, (20, 15, -1)))
    assert contradiction(topology, read(wider), {face_at(topology, "cylinder", radius=3): -4}) is None


def test_a_rung_that_does_it_wrongly_is_passed_over(tmp_path, monkeypatch):
    """The prism, planted to come first for a push that its walls lean away from, is not believed."""
    cone = build.revolve(build.outline([(0, 0, 0), (9, 0, 0), (5, 0, 20), (0, 0, 20)]))
    model, body = model_of(tmp_path, cone)
    top = next(f.id for f in model.faces(body, normal=(0, 0, 1)))
    monkeypatch.setattr(push._BodyPush, "_locally", lambda self: self._by_prism(stepped=True))
    monkeypatch.setattr(push._BodyPush, "_by_plain_prism", lambda self, flat: self._by_prism(stepped=True))
    monkeypatch.setattr(
        push._BodyPush, "_climbed", lambda self, flat: push.first_that_works(self.work, "push", self._further(flat))
    )
    change = model.do("push", faces=[top], distance=-8)
    assert "would leave matter standing" in next(f.value for f in change.facts if f.label == "push")
    assert model.measure(body).volume == pytest.approx(math.pi / 3 * 12 * (9**2 + 9 * 6.6 + 6.6**2))


def sets_of(shape, **where):
    topology = read(shape)
    first = face_at(topology, **where)
    return topology, [(len(g.faces), g.sinks) for g in growths(topology, [first])]


def test_what_cannot_stand_without_a_face_goes_with_it():
    through = build.subtract(BOX, build.cylinder(3, 30, (20, 15, -1)))
    rimmed = build.chamfer(through, 1, lambda e: e.kind == "circle" and e.middle[2] > 19)
    blind = build.subtract(BOX, build.cylinder(3, 30, (20, 15, 8)))
    assert sets_of(through, kind="cylinder", radius=3)[1][0] == (1, None)
    assert sets_of(rimmed, kind="cylinder", radius=3)[1][0] == (2, None)  # the chamfer leans on the wall
    assert (2, True) in sets_of(blind, kind="cylinder", radius=3)[1]  # and its bottom
    assert (2, False) in sets_of(BOSS, kind="cylinder", radius=6)[1]  # and its top
    topology, rows = sets_of(POCKET, kind="plane", level=13)
    assert rows == [(1, None), (5, True)]
    edges = [e for e in range(topology.index.count("edge")) if topology.meeting(e) == "sharp"]
    assert sorted({bend(topology, e) for e in edges}) == [-1, 1]
    assert sum(bend(topology, e) == -1 for e in edges) == 8  # four roots of the floor, four in the corners


REMOVALS = {
    "a chamfer of a hub": (
        build.chamfer(build.unite(build.cylinder(20, 5), build.cylinder(8, 15)), 1,
                      lambda e: e.kind == "circle" and e.middle[2] > 14), lambda f: f.kind == "cone", 0,
        math.pi * (400 * 5 + 64 * 10)),
    "a bored boss by its wall": (boss_block(), lambda f: f.kind == "cylinder" and f.radius == 10, 1,
                                 24000 - math.pi * 16 * 10),
    "a groove by its floor": (
        build.subtract(build.cylinder(10, 40), build.subtract(build.cylinder(12, 5, (0, 0, 15)),
                                                             build.cylinder(8, 7, (0, 0, 14)))),
        lambda f: f.kind == "cylinder" and f.radius == 8, 2, math.pi * 4000),
    "a blind hole with its bottom": (
        build.subtract(BOX, build.cylinder(3, 30, (20, 15, 8))), lambda f: f.kind == "cylinder", 1, 24000),
    "a cross hole in a bar": (
        build.subtract(build.cylinder(10, 40), build.cylinder(2, 40, (0, -20, 20), (0, 1, 0))),
        lambda f: f.kind == "cylinder" and f.radius == 2, 0, math.pi * 4000),
    "a passage that crosses another": (
        build.subtract(BOX, build.cylinder(3, 60, (-1, 15, 10), (1, 0, 0)), build.cylinder(4, 30, (20, 15, -1))),
        lambda f: f.kind == "cylinder" and f.radius == 4, 0, 24000 - math.pi * 9 * 40),
}  # fmt: skip


@pytest.mark.parametrize("name", REMOVALS)
def test_removing_takes_no_more_than_it_has_to(tmp_path, name):
    shape, test, more, volume = REMOVALS[name]
    model, body = model_of(tmp_path, shape)
    change = model.do("remove", faces=[next(f.id for f in model.faces(body) if test(f))])
    assert model.measure(body).volume == pytest.approx(volume, rel=1e-6)
    assert change.fact("along") == ({0: None, 1: "1 more face"}.get(more) or (f"{more} more faces" if more else None))


def test_a_removal_that_fills_too_much_or_falls_apart_is_refused(tmp_path):
    model, body = model_of(tmp_path, POCKET)
    work = SimpleNamespace(geometry=model.geometry)
    before = model.snapshot.bodies[next(iter(model.snapshot.bodies))]
    top = next(f.id for f in model.faces(body, normal=(0, 0, 1)) if f.centroid[0] > 16)
    model.do("push", faces=[top], distance=30)
    floor = SolidTopology(model.geometry.solid(before.shape).index)
    gone = frozenset({face_at(floor, "plane", level=13)})
    with pytest.raises(CannotDo, match="only meet far away"):
        judging.judge_removal(work, before, model.snapshot, Growth(gone))
    with pytest.raises(CannotDo, match="wrong side"):
        judging.judge_removal(work, before, model.snapshot, Growth(gone, sinks=False))


def test_a_body_that_is_not_sound_is_no_result(tmp_path, monkeypatch):
    """One face is turned over; each face alone, and the borders, look whole."""
    good = ShapeIndex(BOX)
    make, shell, solid = BRep_Builder(), TopoDS_Shell(), TopoDS_Solid()
    make.MakeShell(shell)
    for number, face in enumerate(good.all("face")):
        make.Add(shell, face.Reversed() if number == 2 else face)
    make.MakeSolid(solid)
    make.Add(solid, shell)
    turned = ShapeIndex(solid)
    assert fault_of_change(good, good) is None
    assert fault_of_change(turned, good) == "faces beside one another would look to different sides"
    assert fault_of_change(turned) is not None

    model, body = model_of(tmp_path, POCKET)
    address = model.geometry.put_shape(solid)
    floor = next(f.id for f in model.faces(body, normal=(0, 0, 1)) if f.centroid[2] < 14)
    monkeypatch.setattr(
        remove, "_closed",
        lambda work, snapshot, b, faces: snapshot.with_body(
            remove.reshape_body(snapshot, work.geometry, b, work.geometry.solid(address),
                                {"face": b.faces[:6], "edge": b.edges[:12], "vertex": b.vertices[:8]}).body(b.id)),
    )  # fmt: skip
    monkeypatch.setattr(remove, "judge_removal", lambda *a: None)
    monkeypatch.setattr(remove, "defeature", lambda *a: (_ for _ in ()).throw(EditError("not this way")))
    before = model.snapshot
    with pytest.raises(EditError):
        model.do("remove", faces=[floor])
    assert model.snapshot == before

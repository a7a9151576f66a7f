"""Parts of another model: linked in at a state, brought to a newer one with what hangs on them, cut loose."""

import pytest

from ravine.core import EditError, Model
from ravine.core.kernel import build
from ravine.core.model.records import LINKS
from ravine.core.model.snapshot import Snapshot
from tests.parts import model_of, step_file


@pytest.fixture
def there(tmp_path):
    """A plate and a pin, the model that is linked in."""
    model = model_of(tmp_path, build.box(40, 30, 10), "Plate")[0]
    model.do("import", path=str(step_file(tmp_path / "Pin.step", build.cylinder(4, 30, (20, 15, 10)), "Pin")))
    return model


@pytest.fixture
def here(there):
    model = Model()
    model.link(there, "Base")
    return model


def body_called(model, name):
    return next(b for b in model.bodies() if model.body(b).name == name)


def test_parts_come_in_as_one_locked_group(there, here):
    assert [n.name for n, _, _ in here.snapshot.walk()] == ["Base", "Plate", "Pin"]
    assert here.journal == ["Linked in Base, revision 1"]
    plate = body_called(here, "Plate")
    assert here.measure(plate).volume == pytest.approx(12_000, rel=1e-9)
    with pytest.raises(EditError, match="Plate comes from the model Base; change it there, or cut the link"):
        here.do("push", faces=[here.faces(plate, normal=(0, 0, 1)).highest().id], distance=1)
    assert Snapshot.from_json(here.snapshot.to_json()) == here.snapshot


def test_a_newer_state_is_taken_over_and_what_hangs_on_it_stays(there, here, tmp_path):
    here.do("import", path=str(step_file(tmp_path / "Own.step", build.box(5, 5, 5, (60, 0, 40)), "Own")))
    plate = body_called(here, "Plate")
    top = here.faces(plate, normal=(0, 0, 1)).highest().id
    own = here.faces(body_called(here, "Own"), normal=(0, 0, -1)).highest((0, 0, -1)).id
    here.do("join", kind="fixed", of=[top])
    here.do("join", of=[own], to=[top], kind="distance", distance="3 mm")
    here.do("name set", things=[top], called="Seat")
    pushed = there.faces(body_called(there, "Plate"), normal=(0, 0, 1)).highest().id
    there.do("push", faces=[pushed], distance="4 mm")
    change = here.take_over("Base", there, "Base", 2)
    assert change.sentence.startswith("Brought Base to Base, revision 2")
    assert change.fact("volume_change") == pytest.approx(4800, rel=1e-9)
    assert here.faces(plate, normal=(0, 0, 1)).highest().id == top, "a face that is still there keeps its id"
    assert here.snapshot.set_left("Seat") == (top,)
    place = next(m for n, m, _ in here.snapshot.walk() if n.name == "Own")
    assert place.point((60, 0, 40))[2] == pytest.approx(17), "3 mm above the new top at 14"
    here.undo()
    assert here.measure(plate).volume == pytest.approx(12_000, rel=1e-9)


def test_what_is_new_comes_and_what_is_no_more_is_told(there, here, tmp_path):
    there.do("delete body", parts=["Pin"])
    there.do("import", path=str(step_file(tmp_path / "Knob.step", build.box(6, 6, 6, (0, 0, 10)), "Knob")))
    here.do("name set", things=here.nodes("Pin"), called="Pins")
    change = here.take_over("Plate", there, "Base", 2)
    assert [n.name for n, _, _ in here.snapshot.walk()] == ["Base", "Plate", "Knob"]
    assert "Pin is no more" in change.warnings
    assert "the set Pins lost 1 of 1" in change.warnings
    assert change.fact("changed") == 0
    assert change.fact("fresh") == 1


def test_places_stay_where_they_were_put_here(there, here):
    here.do("move body", parts=["Base"], along="x", distance="100 mm")
    here.do("move body", parts=["Pin"], along="z", distance="7 mm")
    there.do("move body", parts=["Plate"], along="y", distance="5 mm")
    there.do("move body", parts=["Pin"], along="y", distance="5 mm")
    here.take_over("Base", there, "Base", 2)
    places = {n.name: m.point((0, 0, 0)) for n, m, _ in here.snapshot.walk()}
    assert places["Plate"] == pytest.approx((100, 5, 0)), "moved there, not here"
    assert places["Pin"] == pytest.approx((100, 0, 7)), "moved here"


def test_a_link_is_cut_and_refusals_say_why(there, here):
    with pytest.raises(EditError, match="Base is as it is linked already, at revision 1"):
        here.take_over("Base", there, "Base", 2)
    with pytest.raises(EditError, match="this is linked to Base, not to Other"):
        here.take_over("Base", there, "Other", 2)
    with pytest.raises(EditError, match="Empty holds no parts yet"):
        here.link(Model(), "Empty")
    with pytest.raises(EditError, match="the number of a model"):
        here.do("link in", source="the other one")
    plate = body_called(here, "Plate")
    here.do("cut link", part=["Base"])
    here.do("push", faces=[here.faces(plate, normal=(0, 0, 1)).highest().id], distance=1)
    assert not here.snapshot.kept(LINKS)
    with pytest.raises(EditError, match="comes from no other model"):
        here.do("cut link", part=["Base"])


def test_a_change_made_here_is_not_lost_without_a_word(there, here):
    here.do("lock", parts=["Plate"], state="unlocked")
    plate = body_called(here, "Plate")
    here.do("push", faces=[here.faces(plate, normal=(0, 0, 1)).highest().id], distance=1)
    there.do(
        "push", faces=[there.faces(body_called(there, "Plate"), normal=(1, 0, 0)).highest((1, 0, 0)).id], distance=1
    )
    change = here.take_over("Base", there, "Base", 2)
    assert any("Plate had been changed here" in w for w in change.warnings)
    assert here.measure(plate).volume == pytest.approx(41 * 30 * 10, rel=1e-9)


@pytest.fixture
def hinged(tmp_path):
    """A pin in the hole of a plate, coaxial with it and on it: another model than the one it is linked into."""
    plate = build.subtract(build.box(40, 30, 10), build.cylinder(4, 12, (20, 15, -1)))
    model = model_of(tmp_path, plate, "Plate")[0]
    model.do("import", path=str(step_file(tmp_path / "Arm.step", arm(), "Arm")))
    hole, bore = (model.faces(body_called(model, n), kind="cylinder")[0].id for n in ("Plate", "Arm"))
    top = model.faces(body_called(model, "Plate"), kind="plane", normal=(0, 0, 1)).highest().id
    under = model.faces(body_called(model, "Arm"), kind="plane", normal=(0, 0, -1)).highest((0, 0, -1)).id
    model.do("join", kind="coaxial", of=[bore], to=[hole])
    model.do("join", kind="on", of=[under], to=[top])
    return model


def arm():
    return build.subtract(build.box(60, 14, 5, (0, -7, 30)), build.cylinder(4, 7, (6, 0, 29)))


def test_joints_between_linked_parts_hold_here(hinged):
    here = Model()
    here.link(hinged, "Hinge")
    assert [(j.kind, j.state) for j in here.joints()] == [("coaxial", "holds"), ("on", "holds")]
    node = here.nodes("Arm")[0]
    (free,) = here.freedoms(node)
    assert free.words == "turns about Z"
    here.do("move body", parts=["Hinge"], along="x", distance="100 mm")
    here.do("move free", part=[node], motion="turn", angle="90 deg")
    assert all(j.state == "holds" for j in here.joints())
    tip = next(m for n, m, _ in here.snapshot.walk() if n.name == "Arm").point((60, 0, 30))
    assert tip == pytest.approx((120, 15 + 54, 10), abs=1e-6)
    assert Snapshot.from_json(here.snapshot.to_json()) == here.snapshot


def test_a_newer_state_brings_its_joints_and_keeps_what_was_set_of_them_here(hinged):
    here = Model()
    here.link(hinged, "Hinge")
    first, second = here.joints()
    here.do("rest joint", joint=second.name)
    hinged.do("drop joint", joint=hinged.joints()[0].name)
    here.take_over("Hinge", hinged, "Hinge", 2)
    (left,) = here.joints()
    assert (left.name, left.state) == (second.name, "rests")
    assert first.name not in {j.name for j in here.joints()}
    hole, bore = (hinged.faces(body_called(hinged, n), kind="cylinder")[0].id for n in ("Plate", "Arm"))
    hinged.do("join", kind="coaxial", of=[bore], to=[hole])
    here.take_over("Hinge", hinged, "Hinge", 3)
    assert sorted(j.kind for j in here.joints()) == ["coaxial", "on"]
    here.do("drop joint", joint=here.joints()[0].name)
    count = len(here.joints())
    hinged.do("rename", part=hinged.nodes("Arm"), to="Lever")
    here.take_over("Hinge", hinged, "Hinge", 4)
    assert len(here.joints()) == count, "what was dropped here does not come back"


def test_a_part_that_is_fixed_there_goes_with_its_group_here(hinged):
    hinged.do("join", kind="fixed", of=hinged.nodes("Plate"))
    here = Model()
    here.link(hinged, "Hinge")
    assert [j.kind for j in here.joints()] == ["coaxial", "on"]
    here.do("move body", parts=["Hinge"], along="y", distance="30 mm")
    assert next(m for n, m, _ in here.snapshot.walk() if n.name == "Plate").point((0, 0, 0)) == (0, 30, 0)
    names = {j.name for j in here.joints()}
    here.link(hinged, "Other")
    assert len(here.joints()) == 4
    assert len({j.name for j in here.joints()}) == 4 > len(names), "names stay apart"

"""Parts drawn apart by steps under a name: where they go, that nothing in the model moves, and steps taken back."""

import pytest

from ravine.core import EditError, Model
from ravine.core.edits.perform import perform
from ravine.core.kernel import build
from ravine.core.model.records import EXPLOSIONS
from ravine.core.model.snapshot import Snapshot
from ravine.core.operations.explode import exploded
from ravine.core.operations.work import Mode, Work
from tests.parts import step_file


@pytest.fixture
def model(tmp_path):
    """A base, and a lid with its screw in a group that stands turned."""
    found = Model()
    for name, at in (("Base", (0, 0, 0)), ("Lid", (0, 0, 10)), ("Screw", (5, 5, 12))):
        found.do("import", path=str(step_file(tmp_path / f"{name}.step", build.box(10, 10, 2, at), name)))
    found.do("group parts", parts=["Lid", "Screw"], called="Top")
    found.do("move body", parts=["Top"], along="z", angle="90°")
    return found


def places(snapshot):
    return {n.name: m.point((0, 0, 0)) for n, m, _ in snapshot.walk() if n.body is not None}


def apart(model, name="Exploded"):
    before, after = places(model.snapshot), places(exploded(model.snapshot, model.snapshot.kept(EXPLOSIONS)[name]))
    return {n: tuple(round(b - a, 9) for a, b in zip(before[n], after[n], strict=True)) for n in before}


def test_steps_add_up_and_nothing_moves(model):
    still = places(model.snapshot)
    change = model.do("spread", parts=["Top"], distance="30 mm")
    assert change.sentence == "Drew Top apart by 30 mm, in Exploded"
    assert change.fact("steps") == 1
    model.do("spread", parts=["Screw"], distance="20 mm")
    model.do("spread", parts=["Screw", "Base"], along="x", distance="-5 mm", called="Exploded")
    assert places(model.snapshot) == still
    assert apart(model) == {"Base": (-5, 0, 0), "Lid": (0, 0, 30), "Screw": (-5, 0, 50)}
    assert Snapshot.from_json(model.snapshot.to_json()) == model.snapshot


def test_along_a_face_of_a_part(model):
    side = model.faces(normal=(1, 0, 0)).highest((1, 0, 0)).id
    model.do("spread", parts=["Base"], axis=[side], along="z", distance="7 mm")
    assert sum(abs(v) for v in apart(model)["Base"]) == pytest.approx(7)


def test_looked_at_the_parts_stand_where_the_steps_take_them(model):
    """The preview shows all steps so far with the new one, also of parts that joints hold together."""
    screw = model.faces(model.bodies()[2], normal=(0, 0, -1)).highest((0, 0, -1)).id
    lid = model.faces(model.bodies()[1], normal=(0, 0, 1)).highest().id
    model.do("join", of=[screw], to=[lid])
    model.do("spread", parts=["Top"], distance="30 mm")
    work = Work(model.snapshot, model.geometry, mode=Mode.PREVIEW)
    _, change = perform("spread", {"parts": ["Screw"], "distance": "20 mm"}, work)
    before, after = places(model.snapshot), places(change.after)
    assert after["Screw"][2] - before["Screw"][2] == pytest.approx(50)
    assert after["Lid"][2] - before["Lid"][2] == pytest.approx(30)


def test_steps_are_taken_back_and_what_is_gone_is_passed_over(model):
    for part, along in (("Top", "z"), ("Base", "x"), ("Screw", "y")):
        model.do("spread", parts=[part], along=along, distance="10 mm", called="Service")
    model.do("gather", called="Service", step=2)
    assert apart(model, "Service")["Base"] == (0, 0, 0)
    with pytest.raises(EditError, match="Service has 2 steps") as refused:
        model.do("gather", called="Service", step=3)
    assert refused.value.nearest == "2"
    model.do("delete body", parts=["Screw"])
    assert apart(model, "Service")["Lid"] == (0, 0, 10)
    model.do("gather", called="Service")
    with pytest.raises(EditError, match="nothing is drawn apart under the name Service; there is none yet"):
        model.do("gather", called="Service")
    with pytest.raises(EditError, match="no length"):
        model.do("spread", parts=["Top"], distance=0)

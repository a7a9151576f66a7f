"""Things tied together: what is tied to what an edit moved follows, in its part or with its whole part."""

import pytest

from ravine.core import EditError, Model
from ravine.core.kernel import build
from tests.core.test_dimensions import ends, plate
from tests.parts import model_of, step_file


@pytest.fixture
def stack(tmp_path):
    """A base with a lid that lies on it."""
    model, base = model_of(tmp_path, build.box(60, 40, 10), "Base")
    model.do("import", path=str(step_file(tmp_path / "lid.step", build.box(60, 40, 4, (0, 0, 10)), "Lid")))
    lid = model.bodies()[1]
    return model, base, lid


def face(model, body, normal):
    return model.faces(body, kind="plane", normal=normal).highest(normal).id


def height(model, node):
    return model.snapshot.nodes[int(node[1:])].placement.shift[2]


def test_a_part_follows_the_face_that_it_lies_on(stack):
    model, base, lid = stack
    (node,) = model.nodes("Lid")
    top, under = face(model, base, (0, 0, 1)), face(model, lid, (0, 0, -1))
    model.do("tie", ends=[top, under], distance=0)
    change = model.do("push", faces=[top], distance=5)
    assert change.fact("follows") == "Lid"
    assert change.sentence.endswith("; Lid follows")
    assert height(model, node) == pytest.approx(5)
    assert model.measure(base).volume == pytest.approx(60 * 40 * 15)
    change = model.do("move body", parts=[node], along="z", distance=3)
    assert change.fact("follows") == "Base", "moved itself, it takes the other along"
    assert height(model, model.nodes("Base")[0]) == pytest.approx(3)
    model.undo()
    model.undo()
    assert height(model, node) == pytest.approx(0)


def test_a_tie_at_a_distance_brings_the_second_there(stack):
    model, base, lid = stack
    (node,) = model.nodes("Lid")
    model.do("tie", ends=[face(model, base, (0, 0, 1)), face(model, lid, (0, 0, -1))], distance="2 mm", called="gap")
    assert height(model, node) == pytest.approx(2)
    assert model.values["gap"] == pytest.approx(2)
    model.do("drop dimension", dimension="gap")
    model.do("push", faces=[face(model, base, (0, 0, 1))], distance=1)
    assert height(model, node) == pytest.approx(2), "what is dropped no longer follows"


def test_within_a_part_the_feature_follows(tmp_path):
    model, body = model_of(tmp_path, plate())
    low, high, one, two = ends(model, body)
    model.do("tie", ends=[high, two])
    model.do("push", faces=[high], distance=6)
    assert ends(model, body)
    hole = next(f for f in model.features(body) if f.kind == "hole" and two in f.faces)
    assert hole.place[0] == pytest.approx(71)
    again = Model(snapshot=type(model.snapshot).from_json(model.snapshot.to_json()), geometry=model.geometry)
    again.do("push", faces=[high], distance=-6)
    hole = next(f for f in again.features(body) if f.kind == "hole" and two in f.faces)
    assert hole.place[0] == pytest.approx(65)
    assert low
    assert one


def test_one_that_cannot_be_followed_is_told_and_never_wrong_in_silence(stack):
    model, base, lid = stack
    top = face(model, base, (0, 0, 1))
    model.do("tie", ends=[top, face(model, lid, (0, 0, -1))], called="on")
    model.do("lock", parts=model.nodes("Lid"))
    change = model.do("push", faces=[top], distance=3)
    assert "on could not be kept and measures 3 mm: Lid is locked" in change.warnings
    model.do("lock", parts=model.nodes("Lid"), state="unlocked")
    assert height(model, model.nodes("Lid")[0]) == pytest.approx(3), "with the next edit it is as it has to be"
    with pytest.raises(EditError, match="two things are tied"):
        model.do("tie", ends=[top])


def test_a_lost_end_leaves_the_rest_alone(stack):
    model, base, lid = stack
    top = face(model, base, (0, 0, 1))
    model.do("tie", ends=[top, face(model, lid, (0, 0, -1))], called="on")
    model.do("delete body", parts=model.nodes("Lid"))
    assert not model.dimensions()
    model.do("push", faces=[top], distance=2)
    assert model.measure(base).volume == pytest.approx(60 * 40 * 12)

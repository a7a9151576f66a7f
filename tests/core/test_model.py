"""The other edits, ids through everything, and the model's own promises."""

import math

import pytest

from ravine.core import EditError, Model, UnknownId, registry
from ravine.core.edits.base import Edit
from ravine.core.edits.declared import field
from ravine.core.edits.fields import PickField
from ravine.core.edits.registry import edit
from ravine.core.kernel import build
from ravine.core.model.geometry import GeometryStore
from ravine.core.model.snapshot import Snapshot
from tests.parts import boss_block, drilled_block, model_of


def test_named_faces_live_through_push_undo_redo_store_and_load(tmp_path):
    model, body = model_of(tmp_path, boss_block())
    named = {"end": model.faces(body, normal=(0, 0, 1)).highest().id, "side": model.faces(body, normal=(1, 0, 0))[0].id}
    places = {n: model.face(i).centroid for n, i in named.items()}
    model.do("push", faces=[named["end"]], distance=5)
    model.do("push", faces=[named["side"]], distance=2)
    model.undo()
    model.undo()
    assert {n: model.face(i).centroid for n, i in named.items()} == places
    model.redo()
    model.redo()
    blobs = model.geometry.take_fresh()
    stored = Snapshot.from_json(model.snapshot.to_json())
    assert stored == model.snapshot
    fresh = Model(snapshot=stored, geometry=GeometryStore(blobs.__getitem__))
    assert fresh.face(named["end"]).centroid[2] == pytest.approx(27)
    assert fresh.face(named["side"]).centroid[0] == pytest.approx(62)
    fresh.do("push", faces=[named["end"]], distance=1)
    assert fresh.face(named["end"]).centroid[2] == pytest.approx(28)


def test_move_turns_about_the_parts_middle_and_keeps_geometry(tmp_path):
    model, body = model_of(tmp_path, build.box(30, 20, 10))
    shape = model.body(body).shape
    model.do("move body", parts=model.nodes(), along="z", distance="1 in", angle="90")
    assert model.body(body).shape == shape
    assert model.measure(body).centroid == pytest.approx((15, 10, 5 + 25.4))
    right = model.faces(body, normal=(0, 1, 0))
    assert right[0].area == pytest.approx(20 * 10)
    model.do("move body", parts=model.nodes(), along="z", angle="-90")
    model.do("move body", parts=model.nodes(), along="z", distance=-25.4)
    assert model.measure(body).centroid == pytest.approx((15, 10, 5))
    with pytest.raises(EditError, match="both zero"):
        model.do("move body", parts=model.nodes())


def test_small_edits_tell_and_change_what_they_say(tmp_path):
    model, body = model_of(tmp_path, build.box(10, 10, 10))
    node, face = model.nodes()[0], model.faces(body)[0].id
    assert model.do("rename", part=[node], to="  Base\nplate ").sentence == "Renamed Part to Base plate"
    assert model.body(body).name == "Base plate"
    model.do("set finish colour", parts=[node], colour="#ABC")
    assert model.body(body).finish == "#aabbcc"
    model.do("set face finish colour", faces=[face], colour="#102030")
    model.do("push", faces=[face], distance=2)
    assert model.body(body).face_finishes == {int(face[1:]): "#102030"}
    change = model.do("set material", parts=[node], material="brass")
    assert change.fact("mass_change") == pytest.approx(1200 * 8500e-9)
    assert model.do("push", faces=[face], distance=1).fact("mass_change") == pytest.approx(100 * 8500e-9)
    change = model.do("delete body", parts=[node])
    assert (model.bodies(), model.nodes(), change.removed) == ([], [], (body,))
    with pytest.raises(UnknownId, match="ended it"):
        model.measure(body)
    model.undo()
    assert model.body(body).name == "Base plate"
    assert model.journal[-1].startswith("Pushed")


@pytest.mark.parametrize(
    ("name", "values", "words"),
    [
        ("rename", {"to": "   "}, "empty"),
        ("rename", {"to": "x" * 121}, "up to 120"),
        ("set finish colour", {"colour": "red"}, "six hexadecimal"),
        ("set material", {"material": "cheese"}, "one of"),
        ("frobnicate", {}, "no edit"),
    ],
)
def test_bad_values_are_refused(tmp_path, name, values, words):
    model, _ = model_of(tmp_path, build.box(10, 10, 10))
    key = "part" if name == "rename" else "parts"
    with pytest.raises(EditError, match=words):
        model.do(name, **{key: model.nodes()}, **values)


def test_undo_and_redo_at_their_ends_say_so():
    model = Model()
    with pytest.raises(EditError, match="step back"):
        model.undo()
    with pytest.raises(EditError, match="step forward"):
        model.redo()
    with pytest.raises(EditError, match="unit"):
        Model(units="parsec")


def test_a_new_edit_after_stepping_back_replaces_what_lay_ahead(tmp_path):
    model, body = model_of(tmp_path, build.box(10, 10, 10))
    top = model.faces(body, normal=(0, 0, 1))[0].id
    model.do("push", faces=[top], distance=5)
    model.undo()
    model.do("push", faces=[top], distance=1)
    with pytest.raises(EditError):
        model.redo()
    assert model.measure(body).volume == pytest.approx(1100)


@pytest.mark.parametrize("name", list(registry()))
def test_every_declaration_is_whole(name):
    cls = registry()[name]
    schema = cls.schema()
    words = {f: word for word, f in cls.spelled.items()}
    assert set(schema["properties"]) == {words.get(f, f) for f in cls.fields()}
    assert cls.help.endswith(".")
    assert cls.title
    assert cls.drawing
    assert all(g.help and g.label for g in cls.fields().values())


def test_a_sentence_with_an_undeclared_gap_is_caught_at_once():
    with pytest.raises(ValueError, match="not declared"):

        @edit
        class Wrong(Edit):
            name = "wrong"
            title = sentence = past = "{missing}"
            help = "."
            faces: tuple = field(PickField("faces", "faces"))


def test_instances_share_one_body(tmp_path, station_file):
    model = Model()
    model.do("import", path=str(station_file))
    clamps = model.nodes("Clamp")
    assert len(clamps) == 2
    assert len(model.bodies()) == 2
    body = next(b for b in model.bodies() if model.body(b).name == "Clamp")
    top = model.faces(body, normal=(0, 0, 1)).highest()
    change = model.do("push", faces=[top.id], distance=5)
    assert change.fact("volume_change") == pytest.approx(5 * 100)
    model.do("delete body", parts=[clamps[0]])
    assert body in model.bodies()
    model.do("delete body", parts=[clamps[1]])
    assert body not in model.bodies()
    assert math.isclose(model.measure(model.bodies()[0]).volume, math.pi * 25 * 10, rel_tol=1e-9)


def test_a_named_set_holds_through_edits_and_stands_for_a_pick(tmp_path):
    model, body = model_of(tmp_path, drilled_block())
    hole = model.faces(body, kind="cylinder")[0].id
    tops = [f.id for f in model.faces(body, normal=(0, 0, 1))]
    assert model.do("name set", things=[hole, *tops], called="Seat").sentence == "Kept 2 faces of Part as the set Seat"
    model.do("push", faces=tops, distance="3")
    assert Snapshot.from_json(model.snapshot.to_json()) == model.snapshot
    assert model.snapshot.set_left("Seat") == (hole, *tops)
    model.do("remove", faces=[hole])
    assert model.snapshot.set_left("Seat") == tuple(tops)
    before = model.measure(body).volume
    model.do("push", faces="set:Seat", distance="2")
    assert model.measure(body).volume == pytest.approx(before + 2 * 40 * 30)
    model.undo(), model.undo()
    assert model.snapshot.set_left("Seat") == (hole, *tops)
    model.do("name set", way="forget", called="Seat")
    with pytest.raises(UnknownId, match="no set “Seat”"):
        model.do("push", faces="set:Seat", distance="2")
    with pytest.raises(EditError, match="there is no set “Rim”"):
        model.do("name set", way="add", things=tops, called="Rim")

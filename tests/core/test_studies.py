"""Studies: declared once, they change nothing, read their values at the edge, and give what the engine can send."""

from __future__ import annotations

import json
import pickle

import pytest

from ravine.core import EditError, Model
from ravine.core.kernel import build
from ravine.core.model.records import DRAWINGS
from ravine.core.studies import find_study, studies
from tests.parts import boss_block, model_of, step_file

PLANE = [30, 20, 5, 0, 1, 0]


@pytest.fixture(scope="module")
def pair(tmp_path_factory):
    """A plate with a boss, and a pin with room in its hole."""
    folder = tmp_path_factory.mktemp("pair")
    model = model_of(folder, boss_block(), "Boss")[0]
    model.do("set value", name="gap", value="9 mm")
    model.do("import", path=str(step_file(folder / "pin.step", build.cylinder(3.9, 30, (30, 20, -2)), "Pin")))
    hole, shaft = picks(model)
    model.do("set material", parts=model.nodes(), material="structural steel")
    study = model.study(parts=model.nodes("Boss"))
    under = model.faces(model.bodies()[0], normal=(0, 0, -1)).highest((0, 0, -1))
    study.fix([under.id]).pressure([hole], 5)
    model.study(parts=model.nodes("Pin"))
    model.do("join", of=[shaft], to=[hole])
    model.drawing(views="usual")
    model.do("spread", parts=model.nodes("Pin"), distance="9 mm")
    return model


def view_of(model):
    """One that looks from above."""
    (sheet,) = model.snapshot.kept(DRAWINGS).values()
    return next(v.id for v in sheet.views.values() if v.eye == (0, 0, 1))


def picks(model):
    hole = next(f.id for f in model.faces(kind="cylinder") if abs(f.radius - 4) < 1e-9)
    shaft = next(f.id for f in model.faces(kind="cylinder") if abs(f.radius - 3.9) < 1e-9)
    return hole, shaft


VALUES = {
    "alike": lambda m: {"picked": picks(m)[0]},
    "apart": lambda m: {"called": "Exploded"},
    "bill": lambda m: {"level": "tree"},
    "bill file": lambda m: {"kind": "xlsx"},
    "bounds": lambda m: {"edit": "push", "values": {"faces": [picks(m)[0]]}, "of": "distance"},
    "check up": lambda m: {},
    "clearance": lambda m: {"within": "1 mm"},
    "cut": lambda m: {"plane": PLANE},
    "describe": lambda m: {"picked": [picks(m)[0]]},
    "dimensions": lambda m: {},
    "features": lambda m: {"part": m.nodes("Boss")[0]},
    "symmetry": lambda m: {"part": m.nodes("Boss")[0]},
    "fits": lambda m: {"picked": list(picks(m))},
    "fits of all": lambda m: {},
    "print check": lambda m: {"part": m.nodes("Boss")},
    "orientations": lambda m: {"part": m.nodes("Boss"), "count": 3},
    "print mesh": lambda m: {"part": m.nodes("Boss")},
    "print layer": lambda m: {"part": m.nodes("Boss"), "layer": 12},
    "frequencies": lambda m: {"called": "Study 1", "count": 2, "which": 2},
    "loose motion": lambda m: {"called": "Study 2", "which": 3},
    "simulate": lambda m: {"called": "Study 1", "scale": 2},
    "simulated figures": lambda m: {"called": "Study 1", "scale": 2},
    "simulated variant": lambda m: {"called": "Study 1", "rows": {"gap": "12"}},
    "freedoms": lambda m: {"node": m.nodes()[0]},
    "grow selection": lambda m: {"picked": [m.edges(m.bodies()[0], kind="line")[0].id], "way": "loop"},
    "joints": lambda m: {},
    "map": lambda m: {"kind": "walls", "nodes": [m.nodes()[0]]},
    "folding": lambda m: {"on": m.nodes("Boss"), "share": 0.5},
    "blanks": lambda m: {"on": m.nodes("Boss")},
    "bend order": lambda m: {"on": m.nodes("Boss")},
    "compare": lambda m: {"before": m.geometry.put_state(m.snapshot)},
    "review page": lambda m: {"before": m.geometry.put_state(m.snapshot), "notes": ["One"]},
    "review report": lambda m: {"before": m.geometry.put_state(m.snapshot), "notes": [{"text": "One"}]},
    "package missing": lambda m: {"parts": m.nodes("Boss")},
    "shared page": lambda m: {"title": "Boss", "views": [{"name": "A", "eye": [0, 0, 90, [1, 2, 3]]}]},
    "sheet drawing": lambda m: {},
    "on sheet": lambda m: {"view": view_of(m), "on": [picks(m)[0]], "near": [[0, 0]]},
    "sheet picture": lambda m: {},
    "sheet item": lambda m: {"view": view_of(m), "kind": "diameter", "on": [picks(m)[0]], "at": [30, 20]},
    "sheet checks": lambda m: {"on": m.nodes("Boss")},
    "sheet": lambda m: {"on": m.nodes("Boss")},
    "flat": lambda m: {"on": m.nodes("Boss")},
    "tolerance chain": lambda m: {"formula": "2*gap"},
    "masses": lambda m: {},
    "mesh": lambda m: {"body": m.bodies()[0]},
    "overlap": lambda m: {"nodes": m.nodes()},
    "pins": lambda m: {"pins": [{"picked": [picks(m)[0]], "label": "Diameter"}]},
    "play": lambda m: {"part": m.nodes("Pin"), "steps": 2},
    "plane through": lambda m: {"picked": [m.faces(normal=(0, 0, 1))[0].id]},
    "portrait": lambda m: {},
    "read ahead": lambda m: {},
    "section facts": lambda m: {"plane": PLANE, "hidden": []},
    "section width": lambda m: {"plane": PLANE, "at": [0, 0]},
    "shelf": lambda m: {"text": "socket m5x16"},
    "shelf picture": lambda m: {"item": "iso4032-m5"},
    "standing check": lambda m: {"least": "0.5 mm"},
    "variant": lambda m: {"rows": {"gap": "12"}},
    "variant file": lambda m: {"rows": "gap = 12"},
}


def test_every_study_is_tried_here():
    assert set(VALUES) == set(studies())


@pytest.mark.parametrize("name", sorted(VALUES))
def test_a_study_changes_nothing_and_gives_what_can_be_sent(pair, name):
    before = pair.snapshot
    found = pair.study(name, **VALUES[name](pair))
    assert pair.snapshot is before
    assert isinstance(found, bytes) or json.dumps(found)
    assert pickle.loads(pickle.dumps(found)) == found
    if find_study(name).keeps:
        assert pair.study(name, **VALUES[name](pair)) == found, "the same state and values give the same"


def test_figures_of_studies(pair):
    hole, shaft = picks(pair)
    assert pair.study("fits", picked=[hole, shaft])["clearance"] == pytest.approx(0.2, abs=1e-9)
    (found,) = pair.study("clearance", within="1 mm")["pairs"]
    assert found["gap"] == pytest.approx(0.1, abs=1e-9)
    areas = {f["name"]: f["area"] for f in pair.study("section facts", plane=PLANE)}
    assert areas["Boss"] == pytest.approx(60 * 10 + 20 * 12 - 8 * 22, rel=1e-9)
    assert areas["Pin"] == pytest.approx(7.8 * 30, rel=1e-9)
    bounds = pair.study("bounds", **VALUES["bounds"](pair))
    assert bounds["high"] == pytest.approx(4, rel=0.02), "a hole vanishes when its wall goes in by its radius"
    described = pair.study("describe", picked=[hole])
    assert ["Diameter", "Ø 8 mm"] in [list(row) for row in described["rows"]]
    assert {"push", "resize", "remove"} <= {name for name, _ in described["actions"]}
    assert ["import", 1] in [list(row) for row in pair.study("describe", picked=[], stage="Bring in")["actions"]]


def test_what_is_hidden_is_left_out(pair):
    pin = pair.nodes("Pin")[0]
    assert [f["name"] for f in pair.study("section facts", plane=PLANE, hidden=[pin])] == ["Boss"]
    assert pair.study("clearance", within="1 mm", hidden=[pin])["pairs"] == []


@pytest.mark.parametrize(
    ("name", "values", "words"),
    [
        ("no such", {}, "there is no study"),
        ("cut", {}, "still empty"),
        ("cut", {"plane": [1, 2]}, "takes 6 numbers"),
        ("cut", {"plane": ["a"] * 6}, "takes 6 numbers"),
        ("cut", {"plane": PLANE, "hidden": ["what"]}, "is not the id"),
        ("cut", {"plane": PLANE, "hidden": 7}, "takes a list"),
        ("cut", {"plane": PLANE, "extra": 1}, "has no field “extra”"),
        ("alike", {"picked": "f1", "everywhere": "perhaps"}, "is yes or no"),
        ("alike", {"picked": "f1", "tolerance": "5 sheep"}, "is a share"),
        ("grow selection", {"picked": [], "way": "sideways"}, "is one of"),
        ("plane through", {"picked": ["f999999"]}, "there is no face"),
        ("pins", {"pins": "x"}, "an object or a list"),
        ("bounds", {"edit": "push", "values": {}, "of": "colour"}, "has no field"),
        ("bounds", {"edit": "no such", "values": {}, "of": "x"}, "there is no edit"),
        ("map", {"kind": "moods", "nodes": []}, "."),
    ],
)
def test_bad_values_are_refused_in_words(pair, name, values, words):
    with pytest.raises(EditError, match=words):
        pair.study(name, **values)


def test_a_pin_that_makes_no_sense_is_told_as_lost_and_stops_no_other(pair):
    model = pair
    good = {"picked": [picks(model)[0]], "label": "Diameter"}
    for bad in (
        {"label": "x"},
        {"picked": [], "label": 3},
        {"picked": [7]},
        3,
        {"plane": [0] * 6, "at": "x", "nodes": 1},
    ):
        lost, taken = model.study("pins", pins=[bad, good])
        assert lost["lost"]
        assert taken["value"]


def test_a_study_is_found_by_its_name():
    assert find_study("clearance").follows
    assert find_study("portrait").lane == "picture"
    assert Model().study("masses") == {}

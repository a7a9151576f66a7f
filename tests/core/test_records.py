"""Room in the snapshot: records of trades, stored forms of every earlier format, what this version does not know."""

from __future__ import annotations

import json
from dataclasses import replace

import pytest

from ravine.core import Model, RavineError
from ravine.core.kernel import build
from ravine.core.model import records
from ravine.core.model.records import Trade
from ravine.core.model.snapshot import Snapshot
from ravine.core.model.stored_forms import FORMAT, STEPS, upgraded
from tests.parts import model_of
from tests.samples import BASES


def as_format_1(snapshot: Snapshot) -> str:
    """As the first versions stored it: sketches, patterns and sets each in a form of its own."""
    data = json.loads(snapshot.to_json())
    kept = data.pop("records")
    old = {"format": 1, **{k: v for k, v in data.items() if k != "format"}}
    for name in ("patterns", "sketches"):
        if kept.get(name):
            old[name] = [record for _, record in kept[name]]
    if kept.get("sets"):
        old["sets"] = dict(kept["sets"])
    return json.dumps(old)


def as_format_2(snapshot: Snapshot) -> str:
    """Before dimensions kept what they measure."""
    data = {**json.loads(snapshot.to_json()), "format": 2}
    for _, row in data["records"].get("dimensions", ()):
        del row["value"], row["text"], row["stays"]
    return json.dumps(data)


STORED = {1: as_format_1, 2: as_format_2, 3: Snapshot.to_json}


@pytest.fixture(scope="module")
def full(tmp_path_factory):
    """A state with everything: a sketch with constraints and a named size, a pattern, a set, a group, attributes."""
    model = BASES["pattern"](tmp_path_factory.mktemp("full"))
    model.do("sketch", plane="xy")
    (sketch,) = model.snapshot.sketches
    model.do("draw", sketch=[f"s{sketch}"], shape="rectangle", places="0,0 20,10")
    curve = next(iter(model.snapshot.sketches[sketch].curves))
    model.do("dimension", on=[f"c{curve}"], kind="distance", size="25", called="wide")
    model.do("name set", things=[model.faces()[0].id], called="First")
    model.do("set face finish colour", faces=[model.faces()[0].id], colour="#123456")
    return model


@pytest.mark.parametrize("form", sorted(STORED))
def test_a_model_stored_in_any_format_so_far_comes_back_whole(full, form):
    back = Snapshot.from_json(STORED[form](full.snapshot))
    assert back == full.snapshot
    assert (len(back.patterns), len(back.sketches), list(back.sets)) == (1, 1, ["First"])
    again = Model(snapshot=back, geometry=full.geometry)
    again.do("dimension", on=[f"c{next(iter(next(iter(back.sketches.values())).curves))}"], kind="distance", size="30")


def test_a_dimension_of_an_earlier_format_measures_again_with_the_next_edit(tmp_path):
    model = BASES["dimensioned"](tmp_path)
    back = Snapshot.from_json(as_format_2(model.snapshot))
    assert "reach" not in back.named_sizes()
    again = Model(snapshot=back, geometry=model.geometry)
    again.do("move body", parts=again.nodes(), along="x", distance=5)
    assert again.values["reach"] == pytest.approx(model.values["reach"])


def test_there_is_a_way_to_store_every_format_that_there_is_a_step_from():
    assert set(STORED) == {*STEPS, FORMAT}
    assert sorted(STEPS) == list(range(1, FORMAT))


@pytest.mark.parametrize("form", [0, FORMAT + 1, "two", None])
def test_another_format_is_refused_in_words(form):
    with pytest.raises(RavineError, match="stored by another version"):
        upgraded({"format": form})


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda d: d.update(joints=[]), "joints"),
        (lambda d: d["records"].update(hinges=[[1, {}]]), "hinges"),
        (lambda d: d["bodies"][0].update(weight=3), "weight"),
        (lambda d: d["nodes"][0].update(hinge=3), "hinge"),
    ],
)
def test_what_this_version_does_not_know_is_refused_rather_than_lost(full, change, words):
    data = json.loads(full.snapshot.to_json())
    change(data)
    with pytest.raises(RavineError, match=f"{words}.*does not know"):
        Snapshot.from_json(json.dumps(data))


def test_a_new_trade_is_one_line(tmp_path, monkeypatch):
    """Stored, read back, its blobs named and its records pruned, by its declaration alone."""
    notes = Trade("notes", lambda n: n, tuple, blobs=lambda n: (n[1],), lives=lambda n, bodies: n[0] in bodies)
    monkeypatch.setitem(records.TRADES, "notes", notes)
    model, body = model_of(tmp_path, build.box(1, 2, 3), "Block")
    number = int(body[1:])
    state = model.snapshot.with_kept(notes, {7: (number, "address"), 8: (number + 100, "other")})
    data = json.loads(state.to_json())
    assert data["records"]["notes"] == [[7, [number, "address"]], [8, [number + 100, "other"]]]
    back = Snapshot.from_json(state.to_json())
    assert back.kept(notes) == state.kept(notes)
    assert {"address", "other"} <= state.addresses()
    bare = state.without_nodes({model.snapshot.roots[0]})
    assert bare.kept(notes) == {}
    assert "address" not in bare.addresses()
    assert replace(state, records={}).kept(notes) == {}

"""The edit API under requests with one thing or another wrong: an answer in words, no fault of ours, and soon."""

import json
import random
import re
import time

import pytest

from ravine.core.edits.registry import registry
from ravine.core.studies import find_study

RAW = re.compile(r"Ravine itself is at fault|kernel gave up|TypeError|KeyError|ValueError|AttributeError|object has no")
ODD = [
    None, True, -1, 0, 999999, 10**30, 1e308, float("nan"), "", " ", "§", "\x00", "x" * 5000, "1e999 mm", "nan", "-0",
    [], [[]], [None], ["f1"] * 3, ["f999999"], ["n1", "f2", "e3"], {}, {"a": {"b": []}}, "f1 f2 f3", "e1", "n0", "12,5",
    "1/0", "(" * 300, "9" * 400, ["f1", {"f": 1}], [1, 2, 3], "999999 999999", "999999",
]  # fmt: skip
SECONDS = 25


def deep(levels):
    return '{"edit": "push", "base": 1, "values": {"faces": ' + "[" * levels + "]" * levels + "}}"


@pytest.fixture
def parts(client, boss):
    scene = client.ask("GET", f"/m/{boss.id}/scene").get_json()
    body = scene["bodies"][0]
    return {"base": scene["revision"], "node": scene["nodes"][0]["id"], "faces": [f"f{n}" for n in body["faces"]],
            "edges": [f"e{n}" for n in body["edges"]]}  # fmt: skip


def plausible(field, parts, draw):
    """What a field would take, or something of another field."""
    schema = json.dumps(field.schema())
    if "face" in field.label or "faces" in field.label:
        return draw.sample(parts["faces"], 1)
    if "edge" in field.label:
        return draw.sample(parts["edges"], 1)
    if "part" in field.label:
        return [parts["node"]]
    return draw.choice(["1", "2.5 mm", "30°", "x", "", "Top", *re.findall(r'"enum": \["([^"]+)"', schema)])


@pytest.mark.parametrize("seed", range(6))
def test_mutated_edits_are_answered_in_words(client, boss, parts, seed):
    draw = random.Random(seed)
    edits = [cls for cls in registry().values() if not cls.takes_file() and not cls.name.startswith("zz")]
    faults = []
    for _ in range(50):
        cls = draw.choice(edits)
        values = {n: plausible(f, parts, draw) for n, f in cls.fields().items()}
        for name in draw.sample(list(values), min(len(values), draw.randrange(3))):
            values[name] = draw.choice(ODD)
        if draw.random() < 0.1:
            values[draw.choice(["", "faces ", "__class__", "x" * 300])] = draw.choice(ODD)
        asked = {"edit": cls.name, "values": values, "base": parts["base"]}
        if draw.random() < 0.15:
            asked[draw.choice(["edit", "values", "base", "comma", "plane", "token", "watch"])] = draw.choice(ODD)
        where = draw.choice(["preview", "preview", "limits", "line"])
        began = time.monotonic()
        if where == "line":
            picked, node = " ".join(map(str, parts["faces"][:2])), parts["node"]
            form = {"edit": str(asked["edit"]), "picked": picked, "nodes": node,
                    "values": json.dumps(asked["values"], default=str)}  # fmt: skip
            answer = client.ask("POST", f"/m/{boss.id}/line", data=form)
        else:
            of = {"field": draw.choice(["distance", "size", "x", "faces"])} if where == "limits" else {}
            body = json.dumps(asked | of)
            answer = client.ask("POST", f"/m/{boss.id}/{where}", data=body, content_type="application/json")
        told = answer.get_data().decode("latin-1")
        if answer.status_code >= 500 or RAW.search(told) or time.monotonic() - began > SECONDS:
            faults.append((where, answer.status_code, round(time.monotonic() - began, 1), str(asked)[:400],
                           re.sub(r"<[^>]+>", " ", told)[-300:]))  # fmt: skip
    assert faults == []


@pytest.mark.parametrize("levels", [50, 3000, 200_000])
def test_json_that_is_nested_without_end(client, boss, levels):
    for where in ("edits", "preview", "limits", "step"):
        answer = client.ask("POST", f"/m/{boss.id}/{where}", data=deep(levels), content_type="application/json")
        assert 400 <= answer.status_code < 500


def test_copies_without_number_are_estimated_first(client, boss, parts):
    began = time.monotonic()
    values = {"parts": [parts["node"]], "count": "999999", "step": "10 mm", "count2": "999999"}
    known = registry()["repeat parts"].fields()
    asked = {"edit": "repeat parts", "values": {n: v for n, v in values.items() if n in known}, "base": parts["base"]}
    answer = client.ask("POST", f"/m/{boss.id}/edits", json=asked)
    assert answer.status_code == 422
    assert time.monotonic() - began < 5


def test_a_pin_that_makes_no_sense_stops_no_preview(client, boss, parts, rows):
    from ravine.store.tables import Kept

    Kept.create(owner=boss.owner, design=boss, kind="pin", name="Broken", data=json.dumps({"picked": [], "label": 3}))
    Kept.create(owner=boss.owner, design=boss, kind="pin", name="Gone", data=json.dumps({"at": "x"}))
    values = {"faces": parts["faces"][:1], "distance": "1"}
    answer = client.ask("POST", f"/m/{boss.id}/preview", json={"edit": "push", "values": values, "base": parts["base"]})
    assert answer.status_code in (200, 422)
    assert not RAW.search(answer.get_data().decode("latin-1"))
    assert find_study("pins")

"""Every address of the web application with requests that make no sense: told in words, never our own fault."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest
from peewee import OperationalError

from ravine.engine.client import LocalEngine
from ravine.service import connection
from ravine.web.app import create_app

ROUTES = sorted(
    (rule.rule, method)
    for rule in create_app(LocalEngine.__new__(LocalEngine), "k", Path("nowhere")).url_map.iter_rules()
    for method in (rule.methods or set()) - {"HEAD", "OPTIONS"}
    if rule.endpoint != "static"
)
CHANGES = {"/models/<int:ident>/delete"}
BODIES = {
    "nothing": {},
    "not JSON": {"data": "{", "content_type": "application/json"},
    "a list": {"json": [1, "2"]},
    "an empty object": {"json": {}},
    "wrong kinds": {
        "json": {
            "base": "x", "edit": 7, "values": [], "picked": {"a": 1}, "target": None, "plane": "no", "kind": [],
            "nodes": 3, "name": {}, "data": "text", "of": [], "hidden": 5, "stage": 1,
        }
    },
    "names that are not there": {
        "json": {"base": 10**12, "edit": "no such edit", "values": {"faces": ["f0"]}, "picked": ["f999999"],
                 "target": -5}
    },
    "a form of rubbish": {
        "data": {
            "name": "\x00" * 9, "units": "furlong", "values": "{", "picked": "f999999 § b-1", "plane": "1,2", "x": "a",
            "hidden": "n0 n-1 x", "stage": "Nowhere", "tolerance": "--", "within": "3 km", "token": "§", "pull": "up",
        }
    },
}  # fmt: skip


def address(rule, ident):
    """The rule with the model's number, and rubbish in all other places."""
    path = rule.replace("<int:ident>", str(ident)).replace("<int:number>", "987654")
    return re.sub(r"<[^>]*>", "f0§x", path)


MADE: list[int] = []


@pytest.fixture
def model(request):
    """One model for all of them: none of these requests changes it."""
    if not MADE:
        MADE.append(request.getfixturevalue("boss").id)
    return MADE[0]


@pytest.mark.parametrize("body", BODIES)
@pytest.mark.parametrize(("rule", "method"), ROUTES)
def test_a_request_that_makes_no_sense_is_answered_in_words(client, model, rule, method, body):
    for ident in (model, 987654):
        more = dict(BODIES[body])
        if method == "GET" and "data" in more and isinstance(more["data"], dict):
            more["query_string"] = more.pop("data")
        if rule in CHANGES and ident == model:
            continue
        answer = client.ask(method, address(rule, ident), **more)
        assert answer.status_code < 500, answer.get_data(as_text=True)[:500]
        if answer.status_code >= 400:
            told = re.sub(r"<[^>]+>", " ", answer.get_data(as_text=True))
            assert len(told.split()) > 2
            assert "Traceback" not in told


@pytest.mark.parametrize(
    ("error", "words"),
    [
        (OperationalError(1021, "Disk full (/tmp/x); waiting for someone to free some space"), "disk .* is full"),
        (
            OperationalError(1030, 'Got error 28 "No space left on device" from storage engine InnoDB'),
            "disk .* is full",
        ),
        (OperationalError(3, "Error writing file './x' (Errcode: 28)"), "disk .* is full"),
        (OperationalError(1036, "Table 'blob' is read only"), "only be read"),
        (OperationalError(1290, "running with the --read-only option"), "only be read"),
        (OperationalError(2013, "Lost connection to server during query"), "restarts by itself"),
    ],
)
def test_what_keeps_the_database_from_saving_is_told(error, words):
    assert re.search(words, connection.words_of(error))


def test_an_edit_whose_answer_was_lost_is_told_again(client, boss):
    scene = client.ask("GET", f"/m/{boss.id}/scene").get_json()
    values = {"part": scene["nodes"][0]["id"], "to": "Once"}
    asked = {"edit": "rename", "values": values, "base": scene["revision"], "token": "a" * 36}
    first = client.ask("POST", f"/m/{boss.id}/edits", json=asked)
    again = client.ask("POST", f"/m/{boss.id}/edits", json=asked)
    assert first.status_code == again.status_code == 200
    assert first.get_data() == again.get_data()
    assert client.ask("GET", f"/m/{boss.id}/panels").get_data(as_text=True).count("Renamed") == 1
    other = client.ask("POST", f"/m/{boss.id}/edits", json={**asked, "token": "b" * 36})
    assert other.status_code == 409
    assert client.ask("POST", f"/m/{boss.id}/edits", json={**asked, "token": "§"}).status_code == 422


@pytest.mark.parametrize("kind", ["kernel", "wrong"])
def test_faults_in_a_worker_are_told_and_leave_the_model_alone(client, model, kind):
    base = client.ask("GET", f"/m/{model}/scene").json["revision"]
    told = {"edit": "zz misbehave", "base": base, "values": {"kind": kind}}
    answer = client.ask("POST", f"/m/{model}/edits", data=json.dumps(told), content_type="application/json")
    assert answer.status_code == {"kernel": 422, "wrong": 503}[kind]
    assert {"kernel": "the kernel gave up", "wrong": "Ravine itself is at fault"}[kind] in answer.get_data(as_text=True)
    assert client.ask("GET", f"/m/{model}/scene").json["revision"] == base


def test_without_its_header_or_from_elsewhere_nothing_is_changed(client, model):
    assert client.client.post(f"/m/{model}/hidden", data={"hidden": ""}).status_code == 403
    assert client.ask("POST", f"/m/{model}/hidden", headers={"Host": "example.org"}).status_code == 403


def test_a_question_about_hundreds_of_picks_goes_in_the_body(client, boss):
    """As an address it was cut off by the server, which takes 4 094 letters of one."""
    scene = client.ask("GET", f"/m/{boss.id}/scene").get_json()
    picked = " ".join(f"f{n}" for n in scene["bodies"][0]["faces"] * 200)
    where, query = f"/m/{boss.id}/grow", {"picked": picked, "way": "run"}
    short = client.ask("GET", where, query_string=query)
    long = client.ask("POST", where, data=query, headers={"X-Ravine-Query": "1"})
    assert len(picked) > 4094
    assert short.status_code == long.status_code == 200
    assert long.get_data() == short.get_data()
    assert client.ask("POST", where, data=query).status_code == 405
    huge = client.ask("POST", where, data={"picked": "x" * (2 << 20)}, headers={"X-Ravine-Query": "1"})
    assert huge.status_code == 413

import re
import time

import pytest

from ravine.core import Model, registry
from ravine.core.kernel import build
from ravine.engine.client import DEADLINES
from ravine.web.exchange import with_libraries
from ravine.web.sentence import tokens, typed_values
from tests.core.test_formats import BAD
from tests.core.test_view import unpack, volume
from tests.parts import boss_block, drilled_block, grid_plate, step_file


@pytest.fixture(scope="module")
def boss_file(tmp_path_factory):
    return step_file(tmp_path_factory.mktemp("files") / "boss.step", boss_block(), "Boss plate")


def top_face(page, ident, scene, opposite="22 mm"):
    for face in scene["bodies"][0]["faces"]:
        if f"<dd>{opposite}</dd>" in page.form(f"/m/{ident}/pick", picked=f"f{face}", stage="Shape").text:
            return f"f{face}"
    raise AssertionError("no such face")


def test_only_own_pages_on_this_machine_are_served(page):
    assert page.get("/").status == 200
    assert page.get("/", host="evil.example").status == 403
    assert page.ask("POST", "/models", "name=x", {"X-Ravine": ""}).status == 403
    headers = page.get("/").headers
    assert "default-src 'self'" in headers["Content-Security-Policy"]
    assert headers["X-Content-Type-Options"] == "nosniff"


def test_the_page_asks_nothing_from_elsewhere(page, boss_file):
    ident, _ = page.model_with(boss_file)
    for path in ("/", f"/m/{ident}", "/help"):
        text = page.get(path).text
        assert "http://" not in text.replace("http://www.w3.org", "")
        assert "https://" not in text


def test_models_are_made_renamed_deleted_and_brought_back(page):
    ident = page.new("Pump  foot")
    assert 'value="Pump foot"' in page.get("/").text
    assert 'value="Pump base"' in page.form(f"/models/{ident}/rename", name="Pump base").text
    assert "at least one letter" in page.form(f"/models/{ident}/rename", name="  ").text
    gone = page.form(f"/models/{ident}/delete").text
    assert "Bring it back" in gone
    assert 'value="Pump base"' not in gone
    assert page.get(f"/m/{ident}").status == 404
    assert 'value="Pump base"' in page.form(f"/models/{ident}/restore").text
    assert "Pump seat is deleted" in page.form(f"/models/{ident}/delete", name="Pump seat").text
    assert 'value="Pump seat"' in page.form(f"/models/{ident}/restore").text
    assert page.get("/m/999999").status == 404
    picture = page.get(f"/models/{ident}/picture.png")
    assert picture.body[:4] == b"\x89PNG"


def test_import_edit_preview_step_and_export_over_http(page, boss_file, tmp_path):
    ident, scene = page.model_with(boss_file)
    body = scene["bodies"][0]
    mesh = page.get(f"/m/{ident}/mesh/{body['id']}?revision={scene['revision']}").body
    before = unpack(mesh)
    face = top_face(page, ident, scene)
    line = page.form(f"/m/{ident}/line", edit="push", picked=face, values="{}").text
    assert 'name="distance"' in line
    assert "1 face" in line
    values = {"faces": [face], "distance": "12.5 mm"}
    preview = page.send(f"/m/{ident}/preview", {"edit": "push", "base": scene["revision"], "values": values})
    assert preview.head["numbers"] == {"distance": 12.5}
    assert page.scene(ident) == scene
    done = page.edit(ident, scene["revision"], "push", **values)
    assert done.status == 200
    assert "+3299 mm³" in done.head["factsHtml"]
    after = unpack(done.blobs[0], before)
    assert volume(after) == pytest.approx(60 * 40 * 10 + 3.14159265 * (100 * 24.5 - 16 * 34.5), rel=5e-3)
    assert page.scene(ident)["bodies"] == done.head["scene"]["bodies"]
    assert "Pushed top of Boss plate out by 12.5 mm" in page.get(f"/m/{ident}/panels").text
    base = done.head["revision"]
    stepped = page.send(f"/m/{ident}/step", {"base": base, "direction": -1}).json["revision"]
    assert page.scene(ident)["bodies"] == scene["bodies"]
    assert page.send(f"/m/{ident}/step", {"base": stepped, "direction": 1}).json["revision"] == base
    saved = page.edit(ident, base, "export", parts=[], format="step")
    assert saved.head["files"] == ["Boss plate.step"]
    (tmp_path / "out.step").write_bytes(saved.blobs[-1])
    model = Model()
    exact = model.measure(model.do("import", path=str(tmp_path / "out.step")).added[0]).volume
    assert exact == pytest.approx(60 * 40 * 10 + 3.14159265 * (100 * 24.5 - 16 * 34.5), rel=1e-6)
    assert page.scene(ident)["revision"] == base


def test_a_stale_page_is_told_and_overwrites_nothing(page, boss_file):
    ident, scene = page.model_with(boss_file)
    face = top_face(page, ident, scene)
    first = page.edit(ident, scene["revision"], "push", faces=[face], distance="1")
    second = page.edit(ident, scene["revision"], "push", faces=[face], distance="2")
    assert (first.status, second.status) == (200, 409)
    assert "changed meanwhile" in second.head["error"]["reason"]
    assert page.scene(ident)["revision"] == first.head["revision"]


@pytest.mark.parametrize(
    ("data", "words"),
    [
        ({"edit": "push", "base": 1, "values": []}, "an edit comes as"),
        ({"edit": "import", "base": 1, "values": {"path": "/etc/passwd"}}, "takes a file"),
        ({"edit": "melt", "base": 1, "values": {}}, "no edit"),
        ([], "not JSON"),
    ],
)
def test_requests_that_make_no_sense(page, boss_file, data, words):
    ident = page.new()
    answer = page.send(f"/m/{ident}/edits", data)
    assert answer.status == 422
    assert words in answer.head["error"]["reason"]


def test_a_refusal_carries_field_and_nearest_value(page, boss_file):
    ident, scene = page.model_with(boss_file)
    face = top_face(page, ident, scene)
    answer = page.edit(ident, scene["revision"], "push", faces=[face], distance="12,5")
    assert answer.head["error"] | {"reason": "", "where": []} == {
        "reason": "", "where": [], "nearest": "12.5", "field": "distance", "kind": "UnitError",
    }  # fmt: skip


@pytest.mark.parametrize("kind", ["crash", "hang"])
def test_a_fault_in_the_kernel_costs_that_edit_only(page, boss_file, kind, monkeypatch):
    ident, scene = page.model_with(boss_file)
    values = {"edit": "zz misbehave", "base": scene["revision"], "values": {"kind": kind}}
    began = time.monotonic()
    answer = page.send(f"/m/{ident}/preview" if kind == "hang" else f"/m/{ident}/edits", values)
    assert answer.status == 503
    assert "nothing changed" in answer.head["error"]["reason"]
    assert time.monotonic() - began < DEADLINES["drag"] + 10
    face = top_face(page, ident, scene)
    assert page.edit(ident, scene["revision"], "push", faces=[face], distance="1").status == 200


def uploaded(data):
    return step_file_cut() if data == "cut" else data


def step_file_cut():
    import tempfile
    from pathlib import Path

    with tempfile.TemporaryDirectory() as folder:
        whole = step_file(Path(folder) / "w.step", drilled_block()).read_bytes()
    return whole[: len(whole) * 2 // 3]


@pytest.mark.parametrize("name", list(BAD))
def test_bad_uploads_are_told_and_leave_nothing(page, name):
    data, _ = BAD[name]
    ident = page.new("Bad")
    answer = page.upload(f"/m/{ident}/import", name, uploaded(data), units="mm")
    text = answer.text if "refusal" in answer.text else page.wait_for_jobs(ident)
    assert "refusal" in text or 'data-state="failed"' in text
    assert page.scene(ident)["bodies"] == []
    started = page.upload("/models/from-file", "never-" + name, uploaded(data), units="mm")
    if started.status == 200:
        begun = int(started.json["address"].rsplit("/", 1)[1])
        assert 'data-state="failed"' in page.wait_for_jobs(begun)
        assert page.scene(begun)["bodies"] == []
    else:
        assert started.status == 422
        assert "refusal" in started.text
    assert f"never-{name.partition('.')[0]}" not in page.get("/").text, "no blank card is left"


def test_200_megabytes_of_rubbish(page):
    ident = page.new("Big")
    rubbish = (b"\x01\x02" * 512 + b"\0" * 1024) * (100 << 10)
    assert len(rubbish) == 200 << 20
    for name in ("big.step", "big.stl"):
        assert "refusal" in page.upload(f"/m/{ident}/import", name, rubbish, units="mm").text
    assert page.scene(ident)["bodies"] == []
    answer = page.upload(f"/m/{ident}/import", "huge.step", rubbish * 2)
    assert answer.status == 413
    assert "300 MB" in answer.text


def test_an_stl_needs_its_unit(page, tmp_path):
    import trimesh

    trimesh.creation.box((1, 2, 3)).export(tmp_path / "box.stl")
    ident = page.new()
    data = (tmp_path / "box.stl").read_bytes()
    assert "does not say its unit" in page.upload(f"/m/{ident}/import", "box.stl", data).text
    page.upload(f"/m/{ident}/import", "box.stl", data, units="in")
    assert "Brought in box.stl" in page.wait_for_jobs(ident)
    node = page.scene(ident)["nodes"][0]
    assert node["name"] == "box"
    assert "98\u202f322 mm³" in page.form(f"/m/{ident}/pick", picked=node["id"], stage="Shape").text


def test_a_file_with_a_very_long_or_odd_name_comes_in(page, boss_file):
    ident = page.new("Names")
    for name in ("x" * 200 + ".step", "../../etc/passwd.step", "Teil Ø8 – Kopie.STEP", "noending"):
        page.upload(f"/m/{ident}/import", name, boss_file.read_bytes())
    text = page.wait_for_jobs(ident)
    assert text.count('data-state="done"') == 4
    assert len(page.scene(ident)["bodies"]) == 4


def test_an_import_can_be_stopped(page, boss_file, tmp_path):
    """The second of two waits behind the first, which is large, so it is stopped before it began."""
    ident = page.new("Stop")
    grid = step_file(tmp_path / "grid.step", grid_plate(10, 10), "Grid")
    page.upload(f"/m/{ident}/import", grid.name, grid.read_bytes())
    text = page.upload(f"/m/{ident}/import", "boss.step", boss_file.read_bytes()).text
    job = max(int(number) for number in re.findall(r'data-job="([0-9]+)"', text))
    page.form(f"/m/{ident}/jobs/{job}/cancel")
    text = page.wait_for_jobs(ident, 90)
    assert f'data-job="{job}" data-state="cancelled"' in text
    assert [b["name"] for b in page.scene(ident)["bodies"]] == ["Grid"]


def test_hidden_parts_are_kept_for_next_time(page, boss_file):
    ident, scene = page.model_with(boss_file)
    node = scene["nodes"][0]["id"]
    for hidden, away in ((f"{node} n999999 rubbish", True), ("", False)):
        assert page.form(f"/m/{ident}/hidden", hidden=hidden).status == 204
        assert ("part away" in page.get(f"/m/{ident}/panels").text.replace("part  ", "part ")) == away


@pytest.mark.parametrize(
    ("text", "edit", "values"),
    [
        ("push 12.5", "push", {"distance": "12.5"}),
        ("pu 1/2 in + 3", "push", {"distance": "1/2 in + 3"}),
        ("push distance=4 touching keeping apart", "push", {"distance": "4", "touching": "keeping apart"}),
        ("rename Lid of the box", "rename", {"to": "Lid of the box"}),
        ("move body z distance 10 angle 45", "move body", {"along": "z", "distance": "10", "angle": "45"}),
        ("delete body", "delete body", {}),
        ("tilt 4", "tilt", {"angle": "4"}),
        ("draw circle 0,0 size 5", "draw", {"shape": "circle", "places": "0,0", "size": "5"}),
        ("draw 0,0 +5,0", "draw", {"places": "0,0 +5,0"}),
        ("extrude 12", "extrude", {"distance": "12"}),
    ],
)
def test_typed_sentences(page, text, edit, values):
    ident = page.new()
    from urllib.parse import quote

    found = page.get(f"/m/{ident}/typed?text={quote(text)}").json
    assert found == {"edit": edit, "values": values}


def test_typed_nonsense_is_told(page):
    ident = page.new()
    assert "none of the edits" in page.get(f"/m/{ident}/typed?text=quux").text
    assert "one letter more" in page.get(f"/m/{ident}/typed?text=s").text


@pytest.mark.parametrize("name", list(registry()))
def test_every_edit_has_line_schema_and_reference(page, name):
    cls = registry()[name]
    shown = {n for kind, n, _ in tokens(cls) if kind == "field"}
    assert shown <= set(cls.fields())
    assert name in page.get("/edits.json").json
    if name != "zz misbehave":
        assert f"<h2>{name}</h2>" in page.get("/help").text
    typed_values(cls, "")


def test_json_api_from_a_script(page, tmp_path):
    """The same edits without the page: begin, bring in by upload, push by what the scene tells."""
    ident = page.new("Scripted", units="in")
    assert page.scene(ident)["units"] == "in"
    schema = page.get("/edits.json").json["push"]
    assert schema["required"] == ["faces"]
    path = step_file(tmp_path / "b.step", build.box(25.4, 25.4, 50.8), "Bar")
    page.upload(f"/m/{ident}/import", "b.step", path.read_bytes())
    page.wait_for_jobs(ident)
    scene = page.scene(ident)
    values = {"faces": [top_face(page, ident, scene, "2 in")], "distance": "0.5"}
    assert set(values) <= set(schema["properties"])
    done = page.send(f"/m/{ident}/edits", {"edit": "push", "base": scene["revision"], "values": values}).head
    assert "+0.5 in³" in done["factsHtml"]
    told = page.send(f"/m/{ident}/edits", {"edit": "push", "base": scene["revision"], "values": values})
    assert told.status == 409, "it starts from a state that is no longer the newest"
    studies = page.get("/studies.json").json
    assert studies["clearance"]["properties"]["within"]["description"]


def test_units_of_the_model_are_used_throughout(page, tmp_path):
    ident = page.new("Inch", units="in")
    path = step_file(tmp_path / "b.step", build.box(25.4, 25.4, 50.8), "Bar")
    page.upload(f"/m/{ident}/import", "b.step", path.read_bytes())
    page.wait_for_jobs(ident)
    scene = page.scene(ident)
    face = top_face(page, ident, scene, "2 in")
    done = page.edit(ident, scene["revision"], "push", faces=[face], distance="1")
    assert "+1 in³" in done.head["factsHtml"]


def test_a_library_goes_with_the_board_of_the_same_request():
    board, library = (f".HEADER\n{kind}_FILE 3.0 X 1 1\n.END_HEADER\n".encode() for kind in ("BOARD", "LIBRARY"))
    sent = [("b.emn", board), ("other.step", b"ISO-10303-21;"), ("b.emp", library)]
    assert with_libraries(sent) == [("b.emn", board + b"\n" + library), sent[1]]
    assert with_libraries(sent[1:]) == sent[1:]  # a library alone is told by its reader

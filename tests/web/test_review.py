"""Reviews over HTTP: what is compared with what, notes with pictures and sheets, and the files that go out."""

import base64
import io
import json
import re
import subprocess

import numpy as np
import pytest
from PIL import Image

from ravine.core import Model
from tests.core.test_sharing import read
from tests.parts import boss_block, step_file


@pytest.fixture(scope="module")
def plate(page, tmp_path_factory):
    """Id of a model that was pushed, and of the revision before; its top face."""
    path = step_file(tmp_path_factory.mktemp("plate") / "boss.step", boss_block(), "Boss")
    ident, scene = page.model_with(path, "Reviewed")
    before, model = scene["revision"], Model()
    model.do("import", path=str(path))
    answer = page.edit(ident, before, "push", faces=[model.faces(normal=(1, 0, 0))[0].id], distance="5 mm")
    assert answer.status == 200, answer.text
    return ident, before, path


def png(colour=(200, 30, 30), size=(40, 30)):
    stream = io.BytesIO()
    Image.new("RGB", size, colour).save(stream, "PNG")
    return "data:image/png;base64," + base64.b64encode(stream.getvalue()).decode()


def told(page, ident, since):
    text = page.get(f"/m/{ident}/review?since={since}").text
    return json.loads(re.search(r"data-review='([^']*)'", text)[1].replace("&#34;", '"')), text


def test_another_model_is_compared_by_form(page, plate):
    ident, before, path = plate
    data, text = told(page, ident, before)
    assert "stepped back over" not in text
    by_ids = data["faces"]
    other, _ = page.model_with(path, "As it came")
    again, text = told(page, ident, f"m{other}")
    assert again["faces"] == by_ids  # though the ids of the other model mean other faces
    scene = page.get(f"/m/{ident}/review/before?since=m{other}").json
    assert (scene["model"], scene["called"]) == (other, "As it came")
    assert page.get(f"/m/{other}/mesh/{scene['bodies'][0]['id']}?revision={scene['revision']}").status == 200
    earlier = page.get(f"/m/{ident}/review/before?since={before}").json
    assert (earlier["model"], earlier["revision"]) == (ident, before)


@pytest.mark.parametrize("since", ["m999999", "999999", "x", "m", "-1"])
def test_what_is_not_there_is_told(page, plate, since):
    ident, _, _ = plate
    assert "no such revision" in (text := page.get(f"/m/{ident}/review?since={since}").text) or "does not exist" in text
    assert page.get(f"/m/{ident}/review/before?since={since}").status in (404, 422)
    assert page.get(f"/m/{ident}/review.pdf?since={since}").status in (404, 422)


def test_pictures_and_sheets_are_pinned_and_go_out_with_the_review(page, plate, tmp_path):
    ident, before, _ = plate
    head = page.scene(ident)["revision"]
    begun = page.edit(ident, head, "begin sheet", size="A3", called="Plate")
    assert begun.status == 200, begun.text
    first = page.send(f"/m/{ident}/notes", {"on": [], "at": [1, 2, 3], "text": "Look there.", "picture": png()})
    number = re.search(r'data-note="(\d+)"', first.text)[1]
    assert f"/notes/{number}/shown" in first.text
    shown = page.get(f"/m/{ident}/notes/{number}/shown")
    assert Image.open(io.BytesIO(shown.body)).size == (40, 30)
    second = page.send(f"/m/{ident}/notes", {"on": [], "text": "And this.", "sheet": "Plate"})
    last = re.findall(r'data-note="(\d+)"', second.text)[-1]
    page.edit(ident, page.scene(ident)["revision"], "drop sheet", sheet="Plate")
    kept = page.get(f"/m/{ident}/notes/{last}/shown")  # as it was then, though it is gone now
    assert kept.text.count("<path") > 20
    page.send(f"/m/{ident}/verdict", {"what": "approved"})

    html = page.get(f"/m/{ident}/review.html?since={before}")
    notes = read(html.body)[0]["notes"]
    assert [kind for text, kind in notes if kind.startswith("data:image/png")]
    assert [kind for text, kind in notes if kind.startswith("data:image/svg+xml")]
    assert any("Look there. (open)" in text for text, _ in notes)

    answer = page.get(f"/m/{ident}/review.pdf?since={before}")
    assert re.search(r"filename=.review revision", answer.headers["Content-Disposition"])
    path = tmp_path / "review.pdf"
    path.write_bytes(answer.body)
    text = subprocess.run(["pdftotext", path, "-"], check=True, capture_output=True, text=True).stdout
    assert "approved by" in text
    assert "Look there." in text
    images = subprocess.run(["pdfimages", "-list", path], check=True, capture_output=True, text=True).stdout
    assert sorted(line.split()[3:5] for line in images.splitlines()[2:]) == [["1040", "840"]] * 2 + [["40", "30"]]
    sizes = subprocess.run(["pdfinfo", "-f", "1", "-l", "9", path], check=True, capture_output=True, text=True).stdout
    pages = re.findall(r"Page +\d+ size: +([\d.]+) x ([\d.]+)", sizes)
    assert [round(float(v) / 72 * 25.4) for v in pages[-1]] == [420, 297]  # the sheet at its true size
    subprocess.run(["pdfimages", "-png", path, tmp_path / "image"], check=True)
    was, now = (np.asarray(Image.open(p).convert("RGB")).astype(int) for p in sorted(tmp_path.glob("image-*.png"))[:2])
    assert was.shape == now.shape
    assert (was != now).any(axis=2).mean() > 0.01
    for one in (was, now):  # what moved has the colour of the legend in both
        blue = (one[:, :, 2] > one[:, :, 0] + 40).sum()
        assert blue > 500


@pytest.mark.parametrize(
    ("data", "words"),
    [
        ({"text": "x", "picture": "data:image/png;base64,****"}, "PNG"),
        ({"text": "x", "picture": "data:image/svg+xml;base64,AAAA"}, "PNG"),
        ({"text": "x", "picture": "data:image/png;base64,AAAA"}, "PNG"),
        ({"text": "x", "picture": png(size=(4100, 1))}, "4100 × 1"),
        ({"text": "x", "sheet": "Nowhere"}, "no sheet Nowhere"),
        ({"text": "", "picture": png()}, "says something"),
    ],
)
def test_what_cannot_be_pinned_is_told_and_no_note_is_made(page, plate, data, words):
    ident, _, _ = plate
    before = page.get(f"/m/{ident}/notes").text.count("data-note=")
    answer = page.send(f"/m/{ident}/notes", data)
    assert answer.status == 422
    assert words in str(answer.head)
    assert page.get(f"/m/{ident}/notes").text.count("data-note=") == before
    assert page.get(f"/m/{ident}/notes/999999/shown").status in (404, 422)


def test_a_page_made_on_the_line_has_the_kept_views_and_where_asked_the_notes(page, plate):
    ident, _, _ = plate
    camera = {"target": [1, 2, 3], "span": 80, "yaw": 0.3, "pitch": 0.4}
    assert (
        page.send(f"/m/{ident}/kept", {"kind": "view", "name": "From the left", "data": {"camera": camera}}).status
        == 200
    )
    page.send(f"/m/{ident}/notes", {"on": [], "text": "Mind the edge."})

    def shared(**values):
        head = page.scene(ident)["revision"]
        answer = page.edit(ident, head, "share", **values)
        assert answer.status == 200, answer.head
        (data,) = [b for b in answer.blobs if b.startswith(b"<!doctype html>") or b"<html" in b[:200]]
        return read(data)[0]

    plain = shared()
    assert [v["name"] for v in plain["views"]] == ["From the left"]
    assert plain["views"][0]["eye"] == [0.3, 0.4, 80, [1, 2, 3]]
    assert plain["notes"] == []
    assert any("Mind the edge." in text for text, _ in shared(along="both")["notes"])
    assert shared(names="no")["views"][0]["name"] == "view 1"
    left = shared(along="none")
    assert (left["views"], left["notes"]) == ([], [])

"""The panels of each trade for a model that has something for all of them, as the pages ask for them; and files that
others read."""

from __future__ import annotations

import csv
import html
import io
import json
import re
import subprocess

import numpy as np
import openpyxl
import pytest
import trimesh

from ravine.core.formats import stl


@pytest.fixture
def plate(designs, boss):
    """A block with a boss and a hole, of steel, with a number, a value, a drawing and a study; and how it is edited."""

    def do(edit, **values):
        now = designs.get(boss.id)
        designs.edit(now, now.head, edit, values)
        return designs.snapshot(designs.head(designs.get(boss.id)))

    do("set material", parts=["Boss"], material="structural steel")
    do("set part data", parts=["Boss"], what="part_number", value="R-100")
    do("set value", called="wall", value="4 mm")
    do("begin sheet", size="A4")
    do("begin study", called="Standing")
    return boss, do


@pytest.fixture
def ask(client, plate):
    return lambda path, method="GET", **more: client.ask(method, f"/m/{plate[0].id}/{path}", **more)


def words(answer) -> str:
    """What is read on it, and what stands in its gaps."""
    text = answer.get_data(as_text=True)
    assert answer.status_code == 200, text[:400]
    plain = " ".join([re.sub(r"<[^>]+>", " ", text), *re.findall(r'value="([^"]*)"', text)])
    return re.sub(r"\s+", " ", html.unescape(plain))


PANELS = {
    "features": ["Features of Boss", "Holes 1", "through", "Bosses 1", "8 20 12"],
    "values": ["Values", "wall", "4 mm"],
    "simulations": ["Standing of Boss", "Hold it here"],
    "drawings": ["Sheet 1 A4, 4 views"],
    "printing": ["60 × 40 × 22 mm", "All of it prints on this machine"],
    "bill": ["R-100", "structural steel", "Boss"],
    "joints": ["there is only one here"],
    "clearance": ["No two parts come nearer"],
    "checkup": ["Sound: nothing found in 1 body"],
    "notes": ["pin it", "Sheet 1"],
    "review": ["Gave Boss the part number R-100", "Brought in boss.step"],
    "links": ["make a link"],
    "shelf": ["ISO 4762", "M5 × 8"],
    "variants": ["Variants of Boss", "Each row is the part with other values"],
}


@pytest.mark.parametrize("panel", PANELS)
def test_a_panel_tells_what_the_model_has(ask, panel):
    told = words(ask(panel))
    for word in PANELS[panel]:
        assert word in told, (panel, word, told[:800])
    assert not [odd for odd in ("Traceback", "None", "{{", "undefined") if odd in told]


def test_what_changed_since_an_earlier_state_is_told(ask, designs, plate):
    design, do = plate
    first = next(r for r in designs.journal(designs.get(design.id)) if "Brought in" in r.sentence).id
    state = do("scale", parts=["Boss"], factor="2")
    assert len(state.bodies) == 1
    told = words(ask(f"review?since={first}"))
    assert "volume 26 664 mm³ → 213 313 mm³" in told, "eight times as much"
    assert "wall: none → 4 mm" in told
    page = ask(f"review.html?since={first}")
    assert page.data.lower().startswith(b"<!doctype html>")
    report = ask(f"review.pdf?since={first}")
    assert report.data.startswith(b"%PDF-")
    read = subprocess.run(["pdftotext", "-layout", "-", "-"], input=report.data, capture_output=True, check=True).stdout
    assert "Boss" in read.decode()


# --- the bill, by its readers ------------------------------------------------------------------------------------


def test_the_bill_is_the_same_in_every_file(ask):
    rows = list(csv.reader(io.StringIO(ask("bill.csv").get_data(as_text=True).lstrip("\ufeff"))))
    head = [cell.lower() for cell in rows[0]]
    (line,) = [r for r in rows[1:] if "Boss" in r]
    assert "R-100" in line
    book = openpyxl.load_workbook(io.BytesIO(ask("bill.xlsx").data))
    sheet = [[str(c) if c is not None else "" for c in row] for row in book.active.iter_rows(values_only=True)]
    assert [cell.lower() for cell in next(r for r in sheet if "Boss" not in r and any("name" in c.lower() for c in r))]
    assert any("R-100" in row and "Boss" in row for row in sheet)
    told = json.loads(ask("bill.json").data)
    assert "R-100" in json.dumps(told)
    assert any("name" in cell for cell in head)
    pdf = ask("bill.pdf").data
    read = subprocess.run(
        ["pdftotext", "-layout", "-", "-"], input=pdf, capture_output=True, check=True
    ).stdout.decode()
    assert "R-100" in read
    assert "Boss" in read


@pytest.mark.parametrize(
    ("path", "reason"),
    [("bill.docx", "a bill is saved as csv, json, pdf, xlsx"), ("bill.csv?level=sideways", "one of"),
     ("bill.csv?columns=shoe", "shoe"), ("bill.csv?lot=-3", "lot")],
)  # fmt: skip
def test_a_bill_that_is_none_is_refused(ask, path, reason):
    answer = ask(path)
    assert answer.status_code == 422
    assert reason in html.unescape(answer.get_data(as_text=True))


# --- what is asked while an edit is written ----------------------------------------------------------------------


def typed(ask, text):
    return ask("typed", query_string={"text": text, "kind": "face"})


@pytest.mark.parametrize(
    ("text", "edit", "values"),
    [("push 12.5", "push", {"distance": "12.5"}), ("push 1/2 in", "push", {"distance": "1/2 in"}),
     ("remove", "remove", {}), ("tilt 3°", "tilt", {"angle": "3°"})],
)  # fmt: skip
def test_a_typed_sentence_opens_its_edit_with_its_values(ask, text, edit, values):
    found = typed(ask, text).json
    assert found["edit"] == edit
    assert {k: found["values"][k] for k in values} == values


@pytest.mark.parametrize("text", ["", "   ", "zzz 4", "push 3 4 5 6 7 8 9", "\x00", "x" * 3000])
def test_a_typed_sentence_that_means_nothing_is_told_so(ask, text):
    answer = typed(ask, text)
    assert answer.status_code in (200, 422)
    if answer.status_code == 422:
        assert len(words_of_refusal(answer)) > 10


def words_of_refusal(answer) -> str:
    return re.sub(r"\s+", " ", html.unescape(re.sub(r"<[^>]+>", " ", answer.get_data(as_text=True)))).strip()


@pytest.mark.parametrize("start", ["p", "ro", "hol", "draw", "off", "mirr"])
def test_words_are_completed_from_their_first_letters(ask, start):
    """By their name, their title, or another word that people have for them."""
    told = words(ask("complete", query_string={"text": start, "kind": ""}))
    assert start in told.lower()
    assert len(told) > 10


def test_stepping_back_and_on_and_to_any_state(ask, designs, plate):
    design, _ = plate
    head = designs.head(designs.get(design.id)).id
    back = ask("step", "POST", json={"base": head, "direction": -1}).json["revision"]
    assert designs.head(designs.get(design.id)).id == back != head
    stale = ask("step", "POST", json={"base": head, "direction": -1})
    assert stale.status_code == 409
    assert ask("step", "POST", json={"base": back, "direction": 1}).json["revision"] == head
    first = designs.journal(designs.get(design.id))[-1].id
    ask("step", "POST", json={"base": head, "target": min(first, head)})
    now = designs.head(designs.get(design.id)).id
    assert now == min(first, head)
    assert ask("scene").json["revision"] == now


@pytest.mark.parametrize(("at", "told"), [((30, 20, 5), "overlap"), ((30, 20, 40), "about gap 13 mm")])
def test_a_scan_beside_a_part_is_told_without_figures_that_nobody_knows(ask, plate, tmp_path, at, told):
    """A box of 10 mm in the plate, or over its boss: what both take up of a mesh is not known, so none is said."""
    _, do = plate
    scan = trimesh.creation.box((10, 10, 10))
    scan.apply_translation(at)
    (tmp_path / "scan.stl").write_bytes(stl.write(np.asarray(scan.triangles)))
    do("import", path=str(tmp_path / "scan.stl"), name_as="scan.stl", units="mm")
    panel = words(ask("clearance?within=20"))
    assert told in panel
    assert "scan" in panel
    assert "mm³" not in panel
    nodes = "+".join(n["id"] for n in ask("scene").json["nodes"])
    assert ask(f"overlap?nodes={nodes}").status_code == 200, "to go there is no refusal"
    standing = words(ask("standing"))
    assert ("Nothing is found" in standing) is (told != "overlap")

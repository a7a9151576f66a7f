"""What people keep beside a model (views, pins, notes, links): kept as it was said, refused in words, gone with it."""

from __future__ import annotations

import base64
import datetime
import html
import io
import re

import pytest
from PIL import Image

from ravine.service import kept, notes, shares
from ravine.store.tables import Kept, ShareLink, now

CAMERA = {"target": [1, 2, 3], "span": 90, "yaw": 0.5, "pitch": -0.25, "parallel": True}
PNG = b"\x89PNG\r\n\x1a\n"


def png(width: int, height: int, mode: str = "RGB") -> bytes:
    data = io.BytesIO()
    Image.new(mode, (width, height), "white").save(data, "PNG")
    return data.getvalue()


def uri(data: bytes) -> str:
    return "data:image/png;base64," + base64.b64encode(data).decode()


@pytest.fixture
def ask(client, boss):
    """A request under the model's address: status and words."""

    def done(method: str, path: str, **more):
        return client.ask(method, f"/m/{boss.id}/{path}", **more)

    return done


def words(answer) -> str:
    return re.sub(r"\s+", " ", html.unescape(re.sub(r"<[^>]+>", " ", answer.get_data(as_text=True))))


def face(designs, boss) -> str:
    (body,) = designs.snapshot(designs.head(designs.get(boss.id))).bodies.values()
    return f"f{body.faces[0]}"


# --- views and pins ----------------------------------------------------------------------------------------------

VIEWS = {
    "with everything": {"camera": CAMERA, "section": [0, 0, 5, 0, 0, 1], "look": "finish", "hidden": ["n1"],
                        "picked": ["f1"], "picture": {"width": 800, "height": 600, "turning": 0, "ground": "shadow"}},
    "a section alone": {"section": [0, 0, 5, 0, 0, 1]},
}  # fmt: skip


@pytest.mark.parametrize("name", VIEWS)
def test_a_view_comes_back_as_it_was_kept(ask, name):
    made = ask("POST", "kept", json={"kind": "view", "name": None, "data": VIEWS[name]}).json
    assert made["name"] == ("Section 1" if name == "a section alone" else "View 1")
    assert ask("GET", f"kept/{made['id']}").json == {**made, "data": VIEWS[name]}
    assert ask("POST", f"kept/{made['id']}/name", data={"name": "  From   above "}).status_code == 204
    assert ask("GET", f"kept/{made['id']}").json["name"] == "From above"
    assert ask("POST", f"kept/{made['id']}/drop").status_code == 204
    gone = ask("GET", f"kept/{made['id']}")
    assert (gone.status_code, "dropped already" in words(gone)) == (422, True)


NO_VIEWS = [
    ("view", [], "a view is an object with a camera or a section"),
    ("view", {}, "there is no section to keep; open one first"),
    ("view", {"camera": [1, 2]}, "a camera has target, span, yaw and pitch"),
    ("view", {"camera": {**CAMERA, "span": "wide"}}, "a camera takes 3 numbers"),
    ("view", {"camera": {**CAMERA, "target": [0, 0]}}, "a camera's target takes 3 numbers"),
    ("view", {"camera": {**CAMERA, "pitch": float("inf")}}, "a camera takes 3 numbers"),
    ("view", {"section": [0, 0, 1]}, "a section takes 6 numbers"),
    ("view", {"camera": CAMERA, "picture": 7}, "a picture has width, height, ground and turning"),
    ("view", {"camera": CAMERA, "picture": {"width": 3}}, "a picture takes 3 numbers"),
    ("view", {"camera": CAMERA, "hidden": "n1"}, "a list of up to"),
    ("view", {"camera": CAMERA, "picked": ["hello"]}, "is not the id of a face"),
    ("view", {"camera": CAMERA, "picked": ["f1"] * 100_000}, "a list of up to"),
    ("pin", "here", "a pin is an object with picked and label"),
    ("pin", {"picked": [], "label": "Length"}, "pick what is to be measured"),
    ("pin", {"picked": ["f1"], "label": "x" * 61}, "pick what is to be measured"),
    ("pin", {"plane": [0, 0, 1], "at": [0, 0], "nodes": []}, "a section takes 6 numbers"),
    ("pin", {"plane": [0, 0, 5, 0, 0, 1], "at": [0], "nodes": []}, "a place in it takes 2 numbers"),
    ("note", {"text": "x"}, "a view or a pin can be kept"),
    (None, {}, "a view or a pin can be kept"),
]


@pytest.mark.parametrize(("kind", "data", "reason"), NO_VIEWS, ids=[f"{k}: {r}" for k, _, r in NO_VIEWS])
def test_what_is_no_view_and_no_pin_is_refused(ask, boss, kind, data, reason):
    answer = ask("POST", "kept", json={"kind": kind, "name": "x", "data": data})
    assert answer.status_code == 422
    assert reason in words(answer)
    assert not Kept.select().where(Kept.design == boss).count()


def test_a_pin_measures_again_in_every_state(ask, designs, boss):
    picked = [face(designs, boss)]
    made = ask("POST", "kept", json={"kind": "pin", "name": None, "data": {"picked": picked, "label": "Area"}}).json
    (pin,) = ask("GET", "pins").json
    assert pin["id"] == made["id"]
    assert pin["label"] == "Area"
    before = {k: v for k, v in pin.items() if k != "id"}
    head = designs.get(boss.id)
    parts = [f"n{n}" for n, node in designs.snapshot(designs.head(head)).nodes.items() if node.body is not None]
    designs.edit(head, head.head, "scale", {"parts": parts, "factor": "2"})
    (after,) = ask("GET", "pins").json
    assert {k: v for k, v in after.items() if k != "id"} != before


def test_there_is_an_end_to_what_is_kept(ask, designs, boss, monkeypatch):
    monkeypatch.setattr(kept, "MOST", 2)
    for _ in range(2):
        assert ask("POST", "kept", json={"kind": "view", "data": {"camera": CAMERA}}).status_code == 200
    full = ask("POST", "kept", json={"kind": "view", "data": {"camera": CAMERA}})
    assert full.status_code == 422
    assert "2 are kept already; drop one first" in words(full)


# --- notes -------------------------------------------------------------------------------------------------------


def test_a_note_is_answered_settled_and_shown_with_its_picture(ask, designs, boss):
    picture = png(12, 7)
    said = {"on": [face(designs, boss)], "at": [1, 2.5, -3], "text": " Thin here ", "picture": uri(picture)}
    assert ask("POST", "notes", json=said).status_code == 200
    (note,) = notes.notes_of(designs.get(boss.id))
    assert (note.on, note.at, note.state) == ((face(designs, boss),), (1.0, 2.5, -3.0), "open")
    assert notes.picture_of(note) == picture
    assert ask("POST", f"notes/{note.id}", json={"text": "Thicker now", "state": "settled"}).status_code == 200
    note = notes.note_of(boss, note.id)
    assert [row["text"] for row in note.said] == ["Thin here", "Thicker now"]
    assert note.state == "settled"
    assert ask("POST", f"notes/{note.id}", json={"state": "open"}).status_code == 200
    assert notes.note_of(boss, note.id).state == "open"


NO_NOTES = [
    ({"text": "  "}, "a note says something"),
    ({"text": "x" * 2001}, "the note has 2001 letters; up to 2000 fit"),
    ({"text": "Here", "at": [1, 2]}, "a place of three numbers"),
    ({"text": "Here", "at": "there"}, "a place of three numbers"),
    ({"text": "Here", "at": [0, 0, float("nan")]}, "a place of three numbers"),
    ({"text": "Here", "on": ["somewhere"]}, "is not the id of a face"),
    ({"text": "Here", "sheet": "Sheet 9"}, "there is no sheet Sheet 9; there is none"),
    ({"text": "Here", "picture": "data:image/jpeg;base64,AAAA"}, "a picture comes as PNG in a data URI"),
    ({"text": "Here", "picture": "data:image/png;base64,%%%"}, "a picture comes as PNG in a data URI"),
    ({"text": "Here", "picture": uri(b"GIF89a")}, "what is pinned to a note is a PNG"),
    ({"text": "Here", "picture": uri(PNG + b"\0" * 8)}, "the picture is 0 × 0; sides go up to 4096 pixels"),
    ({"text": "Here", "picture": uri(PNG + b"\0" * 8 + (5000).to_bytes(4, "big") * 2)}, "5000 × 5000"),
    ({"text": "Here", "picture": uri(PNG + b"\0" * 3_000_001)}, "the picture has 3"),
]


@pytest.mark.parametrize(("said", "reason"), NO_NOTES, ids=[r for _, r in NO_NOTES])
def test_what_is_no_note_is_refused(ask, designs, boss, said, reason):
    answer = ask("POST", "notes", json=said)
    assert answer.status_code == 422
    assert reason in words(answer)
    assert notes.notes_of(designs.get(boss.id)) == []


def test_a_note_has_two_states_an_end_and_is_missed_once_dropped(ask, designs, boss, monkeypatch):
    assert ask("POST", "notes", json={"text": "One"}).status_code == 200
    (note,) = notes.notes_of(boss)
    odd = ask("POST", f"notes/{note.id}", json={"state": "half"})
    assert "a note is open or settled" in words(odd)
    assert "a note says something" in words(ask("POST", f"notes/{note.id}", json={"text": ""}))
    assert "dropped already" in words(ask("POST", f"notes/{note.id + 99}", json={"text": "x"}))
    with pytest.raises(Exception, match="nothing is pinned to this note"):
        notes.picture_of(note)
    monkeypatch.setattr(notes, "MOST", 1)
    assert "1 notes are kept already" in words(ask("POST", "notes", json={"text": "Two"}))
    assert len(notes.notes_of(boss)) == 1


# --- links -------------------------------------------------------------------------------------------------------


def made_link(ask, **asked) -> str:
    answer = ask("POST", "links", json={"days": 7, **asked})
    assert answer.status_code == 200, words(answer)
    return re.search(r"/s/([\w-]{20,})", answer.get_data(as_text=True))[1]


def test_a_link_shows_the_state_until_it_is_revoked_or_over(ask, client, boss):
    secret, other = made_link(ask), made_link(ask)
    shown = client.ask("GET", f"/s/{secret}")
    assert shown.status_code == 200
    assert b"Boss" in shown.data
    assert "default-src 'none'" in shown.headers["Content-Security-Policy"]
    assert shown.headers["Cache-Control"] == "no-store"
    rows = shares.links_of(boss)
    assert [row.opened for row in rows] == [0, 1]
    assert secret not in " ".join(str(vars(r)) for r in ShareLink.select()), "kept nowhere"
    ask("POST", f"links/{rows[1].id}/revoke")
    gone = client.ask("GET", f"/s/{secret}")
    ShareLink.update(until=now() - datetime.timedelta(seconds=1)).where(ShareLink.id == rows[0].id).execute()
    over = client.ask("GET", f"/s/{other}")
    never = client.ask("GET", "/s/abcdefghijklmnopqrstuvwxyz")
    assert gone.status_code == over.status_code == never.status_code == 404
    assert words(gone) == words(over) == words(never), "nobody learns which of them it was"
    assert "revoked already" in words(ask("POST", f"links/{rows[1].id}/revoke"))
    assert [row.state for row in shares.links_of(boss)] == ["over", "revoked"]


@pytest.mark.parametrize(
    ("asked", "reason"),
    [({"days": 0}, "a link holds for"), ({"days": 9999}, "a link holds for"), ({"days": "soon"}, "is a whole number"),
     ({"days": True}, "is a whole number"), ({"days": None}, "is a whole number")],
)  # fmt: skip
def test_a_link_holds_for_some_days(ask, boss, asked, reason):
    answer = ask("POST", "links", json=asked)
    assert answer.status_code == 422
    assert reason in words(answer)
    assert shares.links_of(boss) == []


def test_there_is_an_end_to_links(ask, boss, monkeypatch):
    monkeypatch.setattr(shares, "MOST", 1)
    made_link(ask)
    full = ask("POST", "links", json={"days": 7})
    assert "1 links are kept of this model; drop one first" in words(full)


# --- variants ----------------------------------------------------------------------------------------------------


TABLES = [
    ([], "no row to try; write one, or make a range"),
    ([{"wall": str(k)} for k in range(201)], "201 rows are too many for one archive; up to 200 are saved at once"),
    ("wall;floor\n3;2;9", "a line has more values than the first has names"),
    ("wall", "no row to try"),
]


@pytest.mark.parametrize(("table", "reason"), TABLES, ids=[r for _, r in TABLES])
def test_variants_that_cannot_be_saved_are_refused(ask, table, reason):
    answer = ask("POST", "variants/files", json={"rows": table})
    assert answer.status_code == 422
    assert reason in words(answer)
    assert ask("POST", "variants/try", json={"rows": []}).status_code == 422

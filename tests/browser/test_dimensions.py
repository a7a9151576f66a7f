"""Dimensions on a solid: put on, drawn, driven by a click, others held, dropped."""

import json

import pytest
from selenium.webdriver.common.keys import Keys

from ravine.core.kernel import build
from tests.parts import step_file


@pytest.fixture
def plate(hand, page, tmp_path):
    shape = build.subtract(build.box(80, 40, 10), *(build.cylinder(3, 12, (x, 20, -1)) for x in (15, 65)))
    ident, _ = page.model_with(step_file(tmp_path / "plate.step", shape, "Plate"), "Plate")
    hand.open(ident)
    faces = """const {drawable, body} = [...bench.view.places.values()][0];
        const first = (row) => row.slice(0, 3);
        return body.faces.map((id, k) => {
          const {normals, points} = drawable.shape.faces[k];
          return {id, n: first(normals), p: first(points)};
        })"""
    rows = hand.js(faces)
    hand.named = {
        "low": next(r["id"] for r in rows if r["n"][0] < -100), "high": next(r["id"] for r in rows if r["n"][0] > 100),
    }  # fmt: skip
    bores = [r for r in rows if abs(r["n"][2]) < 5 and abs(r["p"][1] - 20) < 4]
    bores.sort(key=lambda r: r["p"][0])
    hand.named |= {"one": bores[0]["id"], "two": bores[-1]["id"]}
    return hand


def put(hand, *names):
    ids = " ".join(f"f{hand.named[n]}" for n in names)
    hand.until(f"{json.dumps(ids)}.split(' ').every((id) => bench.features.things(id)[0])", "its faces")
    hand.js("const f = arguments[0].split(' ').map((id) => bench.features.things(id)[0]); bench.pick(f)", ids)
    hand.until(f"page.ids.length === {len(names)} && page.offered", "the pick")
    hand.act("add dimension")
    hand.until("page.edit === 'add dimension'", "the line")
    hand.accept()


def tags(hand):
    return hand.js("return [...document.querySelectorAll('.dimension-tag text')].map((e) => e.textContent)")


def test_put_on_driven_with_another_held_and_dropped(plate):
    hand = plate
    hand.until("document.querySelector('.features, #features .none')", "the features")
    put(hand, "low", "high")
    hand.until("document.querySelectorAll('.dimension-tag').length === 1", "the dimension")
    put(hand, "two", "high")
    hand.until("document.querySelectorAll('.dimension-tag').length === 2", "both dimensions")
    assert tags(hand) == ["80", "15"]

    click = "document.querySelectorAll('.dimension-tag')[{}].dispatchEvent(new MouseEvent('click', {{bubbles: true}}))"
    hand.js(click.format(0))
    hand.until("page.edit === 'drive'", "the line")
    hand.until("document.querySelector('.knob')", "the bead")
    hand.quiet()
    assert not hand.js("return document.querySelector('#line .refusal')"), "no error before anything was entered"
    hand.until("document.querySelectorAll('.dimension-tag').length === 1", "the driven one's value on the bead only")
    hand.js(click.format(0))
    hand.until("document.querySelector('.dimension.held')", "the other one held")
    assert hand.js("return bench.line.words()") == "Drive D1 to 80 mm, holding D2"
    hand.put("#line [name=value]", Keys.CONTROL, "a", Keys.NULL, "95")
    hand.until("document.querySelector('.fact.plus')", "the preview")
    hand.accept()
    hand.until("document.querySelectorAll('.dimension-tag text').length === 2", "the line away")
    hand.until("document.querySelectorAll('.dimension-tag text')[0]?.textContent === '95'", "the new value")
    assert tags(hand) == ["95", "15"]
    assert hand.js("return Math.round(page.box.max.x)") == 95
    assert "Drove D1 to 95" in hand.text(".journal .here")

    hand.js("document.querySelectorAll('.dimension-tag')[1].focus()")
    hand.keys(Keys.DELETE)
    hand.until("document.querySelectorAll('.dimension-tag').length === 1", "one left")
    hand.js("bench.step(-1)")
    hand.until("document.querySelectorAll('.dimension-tag').length === 2", "both again")


def test_its_value_is_dragged_to_a_place_and_stays_there(plate):
    hand = plate
    hand.until("document.querySelector('.features, #features .none')", "the features")
    put(hand, "low", "high")
    hand.until("document.querySelectorAll('.dimension-tag').length === 1", "the dimension")
    spot = """const b = document.querySelector('.dimension-tag').getBoundingClientRect();
        return [b.x + b.width / 2, b.y + b.height / 2]"""
    before, base = hand.js(spot), hand.revision()
    hand.drag(".dimension-tag", 60, -45)
    hand.until(f"page.revision !== {base}", "the place kept")
    hand.until("document.querySelectorAll('.dimension-tag').length === 1", "the dimension drawn again")
    after = hand.js(spot)
    assert after == pytest.approx([before[0] + 60, before[1] - 45], abs=2)
    assert "Put D1 elsewhere" in hand.text(".journal .here")
    assert not hand.js("return page.edit"), "a drag drives nothing"
    hand.js("document.querySelector('.dimension-tag').focus()")
    hand.keys(Keys.HOME)
    hand.until("document.querySelector('.journal .here').innerText.includes('where it fits')", "as fits again")


def test_one_whose_face_went_says_so(plate):
    hand = plate
    hand.until("document.querySelector('.features, #features .none')", "the features")
    put(hand, "low", "one")
    hand.until("document.querySelectorAll('.dimension-tag').length === 1", "the dimension")
    hand.js("bench.pick(bench.features.things('f' + arguments[0]))", hand.named["one"])
    hand.until("page.ids.length === 1 && page.offered", "the pick")
    hand.keys(Keys.DELETE)
    hand.until("page.edit === 'remove'", "the line")
    hand.accept()
    hand.until("document.querySelector('.dimension.lost')", "the word")
    assert "an edit ended it" in tags(hand)[0]


def test_a_word_being_written_leaves_the_view_drawing(plate):
    hand = plate
    hand.until("document.querySelector('.features, #features .none')", "the features")
    put(hand, "low", "high")
    hand.until("document.querySelectorAll('.dimension-tag').length === 1", "the dimension")
    hand.js("page.pick([])")
    hand.keys("checkup")
    hand.until("document.querySelector('#line .typing')", "the word")
    drawn = hand.js("return bench.view.frames")
    hand.js("bench.view.camera.pan(30, 0); bench.view.draw()")
    hand.until(f"bench.view.frames > {drawn} && bench.root.dataset.drawn === String(bench.view.frames)", "all of it")
    assert tags(hand) == ["80"]
    hand.keys(Keys.ESCAPE)
    hand.js("page.pick(arguments[0])", [f"f{hand.named['high']}"])
    hand.offered()
    hand.keys("push 2")
    hand.js("document.activeElement.blur()")
    hand.keys(Keys.ENTER)
    hand.until("page.edit === 'push'", "the sentence, though the keys had gone elsewhere")
    hand.quiet()
    hand.accept()
    hand.until("document.querySelector('.dimension-tag text')?.textContent === '82'", "the dimension follows")

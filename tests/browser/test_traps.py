"""What people fell into, each tried once as they did."""

import math
import time

import pytest
from selenium.webdriver.common.keys import Keys

from ravine.core.kernel import build
from tests.parts import step_file


@pytest.fixture
def station(hand, page, station_file):
    ident, _ = page.model_with(station_file, "Station")
    hand.open(ident)
    hand.ident = ident
    return hand


def pushing(hand, text):
    """The line to push the boss's end, with a text in its gap."""
    hand.pick(hand.faces["end"])
    hand.keys("1")
    hand.until("document.activeElement?.name === 'distance'", "the gap")
    hand.put("#line [name=distance]", Keys.CONTROL, "a", Keys.NULL, text)


def test_a_length_beyond_all_measure_is_asked_back_and_never_freezes(boss):
    hand = boss
    began = time.monotonic()
    pushing(hand, "10000")
    hand.until(
        "document.querySelector('#line .refusal')?.innerText.includes('times the size of the model')", "the word"
    )
    assert time.monotonic() - began < 15
    assert hand.js("return document.querySelectorAll('#overlay *').length") < 1500
    hand.quiet()
    hand.js("document.querySelector('[name=distance]').value = '1e9'")
    hand.js("document.querySelector('[name=distance]').dispatchEvent(new Event('input', {bubbles: true}))")
    hand.until("document.querySelector('#line .refusal')?.innerText.includes('up to 1000 times')", "the bound")
    assert hand.js("return document.querySelectorAll('#overlay *').length") < 1500
    hand.keys(Keys.ESCAPE)
    pushing(hand, "10000 mm")  # with its unit it is meant
    hand.until("document.querySelector('.fact.plus')", "the preview")
    hand.accept()
    assert hand.js("return Math.round(page.box.max.z)") == 10022


def test_stepping_back_after_hiding_shows_again_and_undoes_nothing(station):
    hand = station
    base = hand.revision()
    hidden = "document.querySelector('#foot-hidden').innerText"
    pin = "//tr[contains(@class,'part')][.//button[contains(., 'Bolzen')]]"
    for _ in range(2):
        hand.on(pin, lambda e: e.find_element("css selector", "[data-toggle-hidden]").get_attribute("title"))
        hand.js("[...document.querySelectorAll('.part')].find((r) => r.innerText.includes('Bolzen'))"
                ".querySelector('[data-toggle-hidden]').click()")  # fmt: skip
        hand.until(f"{hidden} === '1 part'", "the hidden part")
        hand.with_control("z")
        hand.until(f"{hidden} === 'nothing'", "the part again")
        assert hand.revision() == base, "no edit was stepped back over"
    hand.js("document.querySelector('#step-forward').click()")
    hand.until(f"{hidden} === '1 part'", "what was hidden")
    hand.until("page.settled", "the panels")
    assert hand.on(pin, lambda row: row.value_of_css_property("text-decoration-line")) == "none"
    hand.click("#foot-show-all")
    hand.until(f"{hidden} === 'nothing'", "all")
    assert not hand.find("#foot-show-all").is_displayed()
    hand.js("[...document.querySelectorAll('.part')].find((r) => r.innerText.includes('Bolzen'))"
            ".querySelector('[data-toggle-hidden]').click()")  # fmt: skip
    hand.until("page.settled", "the panels")
    hand.pick(hand.js("return page.bodies[0].faces[0]"))
    hand.keys("push 2", Keys.ENTER)
    hand.until("page.edit === 'push'", "the line")
    hand.accept()
    hand.with_control("z")
    hand.until(f"page.revision === {base}", "the step back over the push")
    assert hand.js(f"return {hidden}") == "1 part", "the push goes first, then the hiding"
    hand.with_control("z")
    hand.until(f"{hidden} === 'nothing'", "the part again")


def test_fit_and_corner_show_what_is_shown_and_what_is_picked(station):
    hand = station

    def fitted(word):
        hand.click(f'[data-look="{word}"]')
        return hand.js("return [page.camera.span, page.camera.target.toArray().map(Math.round)]")

    whole, middle = fitted("fit")
    hand.js("bench.hide(new Set(page.nodes.filter((n) => n.matrix[3] > 10).map((n) => n.id)))")
    less, _ = fitted("corner")
    assert less < whole
    hand.js("bench.hide(new Set())")
    pin = hand.js("return page.nodes.find((n) => Math.abs(n.matrix[7] - 40) < 1e-6).id")
    hand.js("bench.pick([{kind: 'node', node: arguments[0], index: 0, id: arguments[0]}])", pin)
    span, target = fitted("fit")
    assert target == [0, 40, 5]
    assert span < 0.6 * whole
    hand.js("bench.pick([])")
    assert fitted("fit") == [whole, middle]


def test_what_another_window_does_is_shown_here(boss, page):
    hand = boss
    node = hand.js("return page.nodes[0].id")
    page.edit(hand.ident, hand.revision(), "rename", part=[node], to="Renamed elsewhere")
    hand.until("page.bodies[0].name === 'Renamed elsewhere'", "the newest state", 8)
    hand.until("document.querySelector('#parts').innerText.includes('Renamed elsewhere')", "the list")
    assert "Changed in another window" in hand.text("#told")


def test_the_journal_shows_its_newest_entry(boss, page):
    hand = boss
    node = hand.js("return page.nodes[0].id")
    base = hand.revision()
    for number in range(24):
        base = page.edit(hand.ident, base, "rename", part=[node], to=f"Name {number}").head["revision"]
    hand.open(hand.ident)
    hand.pick(hand.faces["end"])
    hand.keys("push 2", Keys.ENTER)
    hand.until("page.edit === 'push'", "the line")
    hand.accept()
    box = hand.js(
        """const here = document.querySelector('.journal .here').getBoundingClientRect();
        const list = document.querySelector('#journal').getBoundingClientRect();
        return here.top >= list.top - 1 && here.bottom <= list.bottom + 1 && here.bottom <= innerHeight;"""
    )
    assert box, "the newest entry is in sight"


def test_a_sentence_is_short_until_more_is_wanted(boss):
    hand = boss
    shown = """return [...document.querySelectorAll('#line .field')].filter((e) => e.offsetParent)
        .map((e) => e.name || e.dataset.field)"""
    said = "return bench.line.words()"
    pushing(hand, "3")
    assert hand.js(shown) == ["faces", "distance"]
    assert hand.js(said) == "Push 1 face out by 3"
    hand.js("document.querySelector('#line [data-unfold]').focus()")
    hand.keys(Keys.ENTER)  # by the keyboard, too
    assert hand.js(shown) == ["faces", "riders", "distance", "until", "sides", "border", "touching"]
    assert hand.js("return document.activeElement.name") == "riders"
    hand.js(
        """const s = document.querySelector('#line [name=sides]'); s.value = 'both';
        s.dispatchEvent(new Event('input', {bubbles: true}));"""
    )
    hand.click("#line [data-unfold]")
    assert hand.js(shown) == ["faces", "distance", "sides"], "what is said otherwise stays in sight"
    assert hand.js(said) == "Push 1 face out by 3 on both sides"
    hand.quiet()
    hand.keys(Keys.ESCAPE)
    pushing(hand, "-")
    hand.quiet()
    assert not hand.js("return document.querySelector('#line .refusal, #line [aria-invalid]')"), "not written yet"
    hand.put("#line [name=distance]", "2")
    hand.until("document.querySelector('.fact.minus')", "the preview")
    assert not hand.js("return document.querySelector('#line [aria-invalid]')"), "a negative length is right"


def test_what_is_alike_is_picked_by_one_click_and_nothing_marked_is_left_out(hand, page, tmp_path):
    """Four holes of a plate get their size in four actions: the hole, what is alike, the action, the size."""
    plate = build.subtract(
        build.box(60, 40, 6), *(build.cylinder(3, 8, (x, y, -1)) for x in (10, 50) for y in (10, 30))
    )
    ident, scene = page.model_with(step_file(tmp_path / "plate.step", plate, "Plate"), "Plate")
    hand.open(ident)
    index = hand.js(
        """const [[, place]] = bench.view.places; return place.drawable.shape.faces.findIndex((f) =>
        f.points.length > 30 && new Set(f.normals.filter((_, i) => i % 3 === 0)).size > 4)"""
    )
    face = scene["bodies"][0]["faces"][index]
    pick = (
        "const [[node]] = bench.view.places; bench.pick([{kind: 'face', node, index: arguments[0], id: arguments[1]}])"
    )
    for way in ({"bubbles": True}, {"bubbles": True, "shiftKey": True}):
        hand.js(pick, index, f"f{face}")
        hand.offered()
        hand.until("document.querySelector('[data-alike]')", "what is alike")
        row = "[...document.querySelectorAll('[data-alike]')].find((r) => r.dataset.alike.split(' ').length === 4)"
        hand.js(f"{row}.dispatchEvent(new MouseEvent('click', arguments[0]))", way)
        if not way.get("shiftKey"):
            hand.until("page.picked.length === 4", "the four holes")
            hand.offered()
        hand.act("resize")
        hand.until("page.edit === 'resize'", "the line")
        assert "4 faces" in hand.js("return bench.line.words()")
        hand.keys(Keys.ESCAPE)
    hand.act("resize")
    hand.put("#line [name=size]", Keys.CONTROL, "a", Keys.NULL, "8")
    hand.quiet()
    hand.accept()
    volume = 6 * (60 * 40 - 4 * math.pi * 16)
    told = page.form(f"/m/{ident}/pick", picked="", stage="Shape").text
    assert f"{volume:,.0f}".replace(",", "\u202f")[:5] in told


def test_the_usual_keys(boss):
    hand = boss
    base = hand.revision()
    hand.with_control("a")
    hand.until("page.picked.length === 1 && page.picked[0].kind === 'node'", "all parts")
    hand.js("bench.pick([])")
    hand.pick(hand.faces["wall"])
    hand.keys(Keys.DELETE)
    hand.until("page.edit === 'remove'", "the line")
    hand.accept()
    after = hand.revision()
    hand.with_control("z")
    hand.until(f"page.revision === {base}", "the step back")
    hand.with_control("y")
    hand.until(f"page.revision === {after}", "the step forward")
    windows = len(hand.driver.window_handles)
    hand.keys(Keys.F1)
    hand.until("true", "help")
    assert len(hand.driver.window_handles) == windows + 1
    here = hand.driver.current_window_handle
    hand.driver.switch_to.window(hand.driver.window_handles[-1])
    assert "/help" in hand.driver.current_url
    hand.driver.close()
    hand.driver.switch_to.window(here)


def test_the_same_face_of_two_copies_is_measured_and_pinned(station):
    """The two clamps of the pair stand 50 mm apart and are 10 mm wide; the pin between what is measured keeps off."""
    hand = station
    hand.js("page.look('front')")
    side = hand.js(
        """const places = [...bench.view.places].filter(([, p]) => p.node.name === 'Clamp');
        const {body, drawable} = places[0][1];
        const index = drawable.shape.faces.findIndex((f) => f.normals[1] < -126);
        return places.map(([node]) => ({kind: 'face', node, index, id: `f${body.faces[index]}`}));"""
    )
    hand.js("bench.pick([arguments[0]]); bench.pick([arguments[1]], true)", *side)
    hand.until("page.offered", "what lies between them")
    facts = "[...document.querySelectorAll('.facts div')].map((d) => d.innerText.replace(/\\s+/g, ' '))"
    hand.until(f"{facts}.some((t) => t.includes('40 mm'))", "the room between the two")
    assert hand.js("return bench.view.marks.picked.children.length") >= 2, "both are marked"
    hand.js("document.querySelector('[data-pin=Gap]').click()")
    hand.until("bench.pins.shown.length === 1 && bench.pins.shown[0].value === '40 mm'", "the pin")
    hand.js("document.querySelector('[data-pin=Area]').click()")
    hand.until("bench.pins.shown.length === 2", "another pin")
    boxes = hand.js(
        "return [...document.querySelectorAll('.pin-tag')].map((t) => t.getBoundingClientRect()).map((r) => [r.x, r.y, r.right, r.bottom])"  # noqa: E501
    )
    (a, b) = boxes
    assert a[2] <= b[0] or b[2] <= a[0] or a[3] <= b[1] or b[3] <= a[1], "no pin covers another"
    assert hand.js("return page.ids.length") == 1, "an edit takes the face once"


def test_a_pin_loses_its_leader_when_a_section_takes_away_what_it_measured(boss):
    hand = boss
    hand.pick(hand.faces["wall"])
    hand.js("document.querySelector('[data-pin=Diameter]').click()")
    hand.until("document.querySelectorAll('.pin path').length === 2", "the pin with its leader")
    hand.js("page.look('corner')")
    hand.click('[data-cut="y"]')
    hand.until("bench.section.cut && !bench.section.busy", "the cut")
    for _ in range(2):  # one of the two halves has the middle of the wall
        gone = hand.js("return bench.section.removed(bench.view.box.min.clone().set(...bench.pins.shown[0].ends[0]))")
        assert hand.js("return document.querySelectorAll('.pin path').length") == (1 if gone else 2)
        hand.js("document.querySelector('[data-cut=flip]').click()")
        hand.until("!bench.section.busy", "the other half")
        hand.js("bench.view.draw()")
        hand.until("!bench.view.waiting", "the picture")


def test_a_hole_is_drilled_where_it_was_clicked_and_dragged_both_ways(boss):
    hand = boss
    hand.js("page.look('top')")
    hand.click_canvas(*hand.js("return page.spot(8, 8, 10)"))
    hand.until("page.picked[0]?.kind === 'face' && page.offered", "the plate")
    hand.act("drill")
    hand.until("page.edit === 'drill'", "the line")
    gaps = [float(hand.js("return page.gap(arguments[0])", g).split(" ")[0]) for g in ("across", "up")]
    assert gaps == pytest.approx([-22, -12], abs=1.5)
    hand.js(
        """const s = document.querySelector('#line [name=kind]'); s.value = 'plain';
        s.dispatchEvent(new Event('input', {bubbles: true}));
        const d = document.querySelector('#line [name=diameter]'); d.value = '5';
        d.dispatchEvent(new Event('input', {bubbles: true}));"""
    )
    hand.quiet()
    hand.drag("[data-length=up]", 0, -60)
    hand.until("bench.line.grips.used.field === 'up'", "the other wire in use")
    hand.quiet()
    up = float(hand.js("return page.gap('up')").split(" ")[0])
    assert up > gaps[1] + 1
    hand.accept()
    hole = hand.js(
        """const [[, p]] = bench.view.places, middles = p.drawable.shape.faces.filter((f) => f.points.length > 60).map((f) => [0, 1].map(
          (k) => { const row = [...f.points].filter((_, i) => i % 3 === k); return (Math.min(...row) + Math.max(...row)) / 2; }));
        return middles.find(([x]) => Math.abs(x - 30) > 1);"""  # noqa: E501
    )
    assert hole == pytest.approx([30 + gaps[0], 20 + up], abs=0.2)


def test_draft_is_judged_against_a_chosen_limit(boss):
    hand = boss
    hand.js("bench.pick([{kind: 'node', node: page.nodes[0].id, index: 0, id: page.nodes[0].id}])")
    hand.until("page.offered", "its actions")
    hand.click("[data-map=draft]")
    hand.until("document.querySelector('#legend')?.innerText.includes('Draft of Boss plate')", "the draft")
    words = "[...document.querySelectorAll('#legend li')].map((l) => l.innerText.trim())"
    rows = hand.js(f"return {words}")
    assert (rows[0], rows[-1]) == ("3° and more", "looks away")
    hand.js(
        """const i = document.querySelector('#legend [name=limit]'); i.value = '1.8';
        i.dispatchEvent(new Event('change', {bubbles: true}));"""
    )
    hand.until(f"{words}[0] === '1.8° and more'", "the new limit")
    assert hand.js(f"return {words}[9]") == "0 to 0.2°"
    hand.js(
        """const i = document.querySelector('#legend [name=limit]'); i.value = 'steep';
        i.dispatchEvent(new Event('change', {bubbles: true}));"""
    )
    hand.until("document.querySelector('#told').innerText.includes('more than 0°')", "why not")
    assert hand.js(f"return {words}[0]") == "1.8° and more"
    planes = "return bench.maps.shown.mesh.material.clippingPlanes?.length || 0"
    assert hand.js(planes) == 0
    hand.click('[data-cut="y"]')
    hand.until("Boolean(bench.section.cut)", "the cut")
    assert hand.js(planes) == 1  # the colours are cut with the part that they lie on


def test_what_is_typed_while_the_line_opens_anew_stays(boss):
    """As after a pick for a gap that changes the others: the answer took a while, and the letters were lost."""
    hand = boss
    hand.pick(hand.faces["end"])
    hand.keys(*"push", Keys.ENTER)
    hand.until("page.edit === 'push'", "the line")
    hand.js("""const real = window.fetch; document.getElementById('line-form').dataset.old = '1';
        window.fetch = async (url, init) => {
          if (String(url).endsWith('/line')) await new Promise((done) => setTimeout(done, 900));
          return real(url, init);
        };
        bench.line.open('push', page.ids, bench.line.others());""")
    hand.put('#line [name="distance"]', Keys.CONTROL, "a", Keys.NULL, "3")
    hand.until("document.getElementById('line-form') && !document.getElementById('line-form').dataset.old", "it anew")
    hand.keys(".5")
    assert hand.js("return document.querySelector('#line [name=distance]').value") == "3.5"
    hand.accept()
    hand.until("document.querySelector('.journal .here')?.innerText.includes('by 3.5 mm')", "the push")


def test_what_is_edited_stays_in_sight_and_the_view_goes_back(boss):
    """The view slides up as far as the line would lie over it; how near and from where it is seen is the person's."""
    hand = boss
    hand.js("const c = bench.view.camera; c.pan(0, 260); c.apply()")
    eye = "const c = bench.view.camera; return [c.span, c.yaw, c.pitch, c.target.x, c.target.y, c.target.z]"
    before = hand.js(eye)
    foot = "document.querySelector('#line').getBoundingClientRect().top - bench.view.canvas.getBoundingClientRect().top"
    pushing(hand, "3")
    hand.until("document.querySelector('.fact.plus')", "the preview")
    assert hand.spot_of(hand.faces["end"])[1] < hand.js(f"return {foot}")
    assert hand.js(eye)[:3] == before[:3]
    hand.keys(Keys.ESCAPE)
    hand.until("document.querySelector('#line').hidden", "the line away")
    assert hand.js(eye) == before
    pushing(hand, "3")
    hand.until("document.querySelector('.fact.plus')", "the preview")
    hand.js("bench.view.camera.orbit(40, 0)")
    turned = hand.js(eye)
    hand.js("bench.view.camera.pan(5, 0)")
    hand.keys(Keys.ESCAPE)
    hand.until("document.querySelector('#line').hidden", "the line away")
    assert hand.js(eye)[3:] != before[3:], "who looked elsewhere stays there"
    assert hand.js(eye)[:3] == turned[:3]


def test_a_figure_is_marked_as_a_first_one_until_it_is_settled(boss):
    hand = boss
    hand.pick(hand.faces["end"])
    hand.keys("1")
    hand.until("document.activeElement?.name === 'distance'", "the gap")
    hand.js(
        """window.seen = []; new MutationObserver(() => {
          const facts = document.querySelector('#line-facts'); const estimate = facts?.querySelector('.estimate');
          if (facts?.querySelector('.fact')) seen.push(estimate ? estimate.textContent : 'settled');
        }).observe(document.querySelector('#line'), {subtree: true, childList: true});"""
    )
    hand.put("#line [name=distance]", Keys.CONTROL, "a", Keys.NULL, "3")
    hand.until("window.seen.at(-1) === 'settled'", "the exact figure")
    assert "being checked" in hand.js("return window.seen")

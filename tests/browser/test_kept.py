"""Measures pinned in the view, and views kept under a name."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.keys import Keys

PINS = "bench.pins.shown.map((p) => p.value || p.lost)"


def pin(hand, label):
    hand.js("document.querySelector(arguments[0]).click()", f'[data-pin="{label}"]')


def test_a_pinned_measure_follows_what_is_tried_and_what_is_done(boss):
    hand = boss
    hand.pick(hand.faces["end"])
    pin(hand, "To opposite")
    hand.until(f"{PINS}.join() === '22 mm'", "the pin")
    hand.keys(*"push 3", Keys.ENTER)
    hand.until("page.edit === 'push'", "the line")
    hand.until(f"{PINS}.join() === '25 mm' && document.querySelector('.pin.changed')", "the pin of what is tried")
    hand.keys(Keys.ESCAPE)
    hand.until(f"{PINS}.join() === '22 mm'", "the pin as it was")
    hand.keys(*"push 3", Keys.ENTER)
    hand.until("page.edit === 'push'", "the line")
    hand.accept()
    hand.until(f"{PINS}.join() === '25 mm' && !document.querySelector('.pin.changed')", "the pin afterwards")
    hand.pick(hand.faces["wall"])
    pin(hand, "Diameter")
    hand.until(f"{PINS}.join() === '25 mm,Ø 20 mm'", "a second pin")
    hand.keys(*"remove", Keys.ENTER)
    hand.until("page.edit === 'remove'", "the line")
    hand.accept()
    hand.until("document.querySelectorAll('.pin.lost').length === 2", "what was measured has gone, and they say so")
    hand.js("document.querySelector('.pin-off').dispatchEvent(new MouseEvent('click', {bubbles: true}))")
    hand.until("bench.pins.shown.length === 1", "one dropped")
    hand.js("bench.step(-1)")
    hand.until(f"{PINS}.join() === 'Ø 20 mm'", "the other one again, a step back")


def test_a_kept_view_brings_back_eye_section_pick_and_what_is_hidden(boss):
    hand = boss
    hand.js("page.look('front')")
    hand.pick(hand.faces["wall"])
    hand.click('[data-cut="x"]')
    hand.until("Boolean(bench.section.cut)", "the cut")
    hand.click('[data-look] ~ [data-keep="view"]')
    hand.until("document.querySelector('[data-show-kept]')", "its row")
    assert "section, picked" in hand.text(".view-row")
    seen = hand.js("const {yaw, pitch, span} = page.camera; return [yaw, pitch, span, bench.section.at]")
    hand.click("[data-rename-kept]")
    hand.put(".rename-in", Keys.CONTROL, "a", Keys.NULL, "Bore from the front", Keys.ENTER)
    hand.until("document.querySelector('[data-show-kept]')?.innerText === 'Bore from the front'", "the new name")
    hand.click('[data-cut="off"]')
    hand.js("bench.look('corner'); bench.pick([])")
    hand.open(hand.ident)  # it stays
    hand.click("[data-show-kept]")
    hand.until(f"bench.section.cut && page.ids.join() === 'f{hand.faces['wall']}'", "section and pick")
    now = hand.js("const {yaw, pitch, span} = page.camera; return [yaw, pitch, span, bench.section.at]")
    assert now == pytest.approx(seen)
    hand.click("[data-drop-kept]")
    hand.until("!document.querySelector('[data-show-kept]')", "nothing kept")

"""Every main screen passes an automated check of WCAG 2.1 A and AA, by axe-core (tests/vendor)."""

from __future__ import annotations

from pathlib import Path

import pytest

AXE = (Path(__file__).parents[1] / "vendor" / "axe-core" / "axe.min.js").read_text()
RUN = """const done = arguments[arguments.length - 1];
axe.run(document, {runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa']}).then(
  (found) => done(found.violations.map((v) => `${v.id}: ${v.nodes.slice(0, 3).map((n) => n.html.slice(0, 160)).join(' | ')}`)),
  (error) => done([`${error}`]));"""  # noqa: E501


def faults(hand) -> list[str]:
    if not hand.js("return Boolean(window.axe)"):
        hand.js(AXE)
    return hand.driver.execute_async_script(RUN)


def test_the_checker_finds_what_is_planted(hand):
    hand.driver.get(f"{hand.address}/help")
    hand.js("document.body.insertAdjacentHTML('beforeend', '<button></button><img src=\"data:,\">')")
    found = faults(hand)
    assert any(f.startswith("button-name") for f in found)
    assert any(f.startswith("image-alt") for f in found)


@pytest.mark.parametrize("page_of", ["/", "/help"])
def test_pages(hand, page_of):
    hand.driver.get(hand.address + page_of)
    assert faults(hand) == []


def test_the_bench_with_a_pick_a_line_a_section_and_a_check_up(boss):
    hand = boss
    assert faults(hand) == []
    hand.pick(hand.faces["wall"])
    hand.until("document.querySelector('#alike h2')", "what is alike")
    assert faults(hand) == []
    hand.act("resize")
    hand.until("page.edit === 'resize'", "the line")
    hand.click("#line [data-unfold]")
    assert faults(hand) == []
    hand.js("bench.line.leave(); bench.setStage('Mend')")
    hand.until("!document.querySelector('#checkup').hidden", "the check-up")
    hand.click('[data-cut="y"]')
    hand.until("bench.section.cut && !bench.section.busy", "the cut")
    hand.js("bench.section.flat.toggle()")
    hand.click("[data-of=look] > .edge-word")
    assert faults(hand) == []


def test_the_bench_with_nothing_in_it(hand):
    hand.driver.get(hand.address)
    hand.until("document.querySelector('.begin-first button')", "the first model")
    hand.click(".begin-first button")
    hand.ready()
    assert faults(hand) == []

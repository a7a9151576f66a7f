"""A part that nobody here made, at every stage and width; and the bench worked with a touch pad alone."""

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.actions.wheel_input import ScrollOrigin
from selenium.webdriver.common.keys import Keys

from tests.parts import step_file
from tests.varied import varied

STAGES = ["Bring in", "Mend", "Shape", "Assemble", "Sheet", "Prove", "Hand over"]


@pytest.fixture(scope="module")
def foreign(page, tmp_path_factory):
    """A casting with splines, in a model in inches, under a name that no column is made for."""
    shape = varied("casting", 9)
    path = step_file(
        tmp_path_factory.mktemp("foreign") / "c.step", shape, "Gehäuse, Oberteil links (Änderung 7) 4711-003"
    )
    ident = page.new("Zulieferteil Nr. 4711, zweite Lieferung", units="in")
    assert page.upload(f"/m/{ident}/import", path.name, path.read_bytes()).status == 200
    assert 'data-state="done"' in page.wait_for_jobs(ident)
    return ident


@pytest.mark.parametrize("size", [(1024, 768), (1280, 800), (1920, 1080)])
def test_no_stage_lays_words_over_one_another(hand, foreign, size):
    hand.open(foreign)
    first = hand.js("return page.bodies[0].faces[0]")
    with hand.sized(*size):
        for stage in STAGES:
            hand.click(f'.stage[data-stage="{stage}"]')
            for picked in ([], [first]):
                hand.js(
                    """const [[node, p]] = bench.view.places;
                    const index = (n) => p.body.faces.indexOf(n);
                    bench.pick(arguments[0].map((n) => ({kind: 'face', node, index: index(n), id: `f${n}`})))""",
                    picked,
                )
                hand.offered()
                hand.until("page.settled", "the panels")
                assert hand.overlapping() == [], (stage, picked)
                wide, high = hand.js("const e = document.documentElement; return [e.scrollWidth, e.scrollHeight]")
                assert wide <= size[0], (stage, picked)
                assert high <= size[1], (stage, picked)


def test_a_touch_pad_alone_turns_shifts_picks_drags_and_accepts(boss):
    hand = boss

    def slide(dx, dy, key=None):
        chain = ActionChains(hand.driver, duration=60)
        if key:
            chain.key_down(key)
        chain.scroll_from_origin(ScrollOrigin.from_element(hand.find("#canvas"), 40, 30), dx, dy)
        if key:
            chain.key_up(key)
        chain.perform()

    def eye():
        return hand.js(
            "const c = page.camera; return {span: c.span, yaw: c.yaw, pitch: c.pitch, at: c.target.toArray()}"
        )

    before = eye()
    slide(60, -20, Keys.ALT)
    hand.until(f"page.camera.yaw !== {before['yaw']}", "the turn")
    turned = eye()
    assert (turned["span"], turned["at"]) == (before["span"], before["at"])
    slide(20, 10, Keys.SHIFT)
    hand.until(f"page.camera.target.x !== {before['at'][0]}", "the shift")
    shifted = eye()
    assert (shifted["yaw"], shifted["pitch"], shifted["span"]) == (turned["yaw"], turned["pitch"], turned["span"])
    slide(0, -60)
    hand.until(f"page.camera.span < {before['span']}", "nearer")
    high = hand.js("return page.box.max.z")
    hand.pick(hand.faces["end"])
    hand.act("push")
    hand.until("page.edit === 'push'", "the line")
    hand.quiet()
    hand.drag(".knob", 0, -40)
    hand.until("document.querySelector('.fact.plus')", "the preview")
    hand.quiet()
    base = hand.revision()
    hand.click("#line .btn-key")
    hand.until(f"page.revision !== {base}", "the accepted edit")
    assert hand.js("return page.box.max.z") > high

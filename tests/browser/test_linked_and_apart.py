"""A model linked in another, its newer state looked at and taken over; parts drawn apart by steps, and put together."""

from selenium.webdriver.common.keys import Keys

from ravine.core.kernel import build
from tests.parts import step_file

CHOOSE = """const gap = document.querySelector('#line-form select[name=source]');
    gap.value = [...gap.options].find((o) => o.text.startsWith(arguments[0])).value;
    gap.dispatchEvent(new Event('input', {bubbles: true}))"""
HEIGHT = """const places = [...bench.view.places.values()].filter((p) => p.node.name === arguments[0]);
    return places[0].group.matrix.elements[14]"""
SLIDE = """const slider = document.querySelector('[data-slide-apart]');
    slider.value = 1.5;
    slider.dispatchEvent(new Event('input', {bubbles: true}))"""
SAID = "document.querySelector('.journal .here')?.innerText"


def test_another_model_is_linked_and_its_newer_state_taken_over(hand, page, tmp_path):
    there, _ = page.model_with(step_file(tmp_path / "pump.step", build.box(30, 20, 10), "Pump"), "Pump unit")
    ident, _ = page.model_with(step_file(tmp_path / "frame.step", build.box(90, 60, 4, (0, 0, -4)), "Frame"), "Rig")
    hand.open(ident)
    hand.js("bench.setStage('Bring in')")
    hand.offered()
    hand.act("link in")
    hand.until("page.edit === 'link in'", "the line")
    hand.js(CHOOSE, "Pump unit")
    hand.quiet()
    hand.accept()
    assert "Linked in Pump unit, revision 2" in hand.js(f"return {SAID}")
    assert hand.js("return document.querySelector('.part-link').innerText") == "linked at revision 2"

    scene = page.scene(there)
    done = page.edit(there, scene["revision"], "push", faces=[f"f{scene['bodies'][0]['faces'][0]}"], distance=5)
    assert done.status == 200, done.text
    hand.open(ident)
    hand.until("document.querySelector('[data-take-newer]')?.innerText === 'take 3'", "that there is a newer state")
    hand.click("[data-take-newer]")
    hand.until("page.edit === 'take newer'", "the line")
    hand.until("document.querySelector('#line-facts').innerText.includes('1 part changed')", "what would change")
    hand.quiet()
    hand.accept()
    assert hand.js("return document.querySelector('[data-take-newer]')") is None
    assert "Brought Pump unit to Pump unit, revision 3" in hand.js(f"return {SAID}")


def test_parts_are_drawn_apart_by_steps_and_put_together(hand, page, tmp_path):
    ident, _ = page.model_with(step_file(tmp_path / "base.step", build.box(40, 40, 4), "Base"), "Stack")
    for k, name in enumerate(("Middle", "Lid")):
        file = step_file(tmp_path / f"{name}.step", build.box(40, 40, 4, (0, 0, 4 * k + 4)), name)
        page.upload(f"/m/{ident}/import", file.name, file.read_bytes())
    page.wait_for_jobs(ident)
    hand.open(ident)
    hand.js("bench.setStage('Assemble')")

    def step(name, distance):
        hand.js(
            "[...document.querySelectorAll('.part')].find((r) => r.innerText.trim().startsWith(arguments[0]))"
            ".querySelector('[data-pick]').click()", name,
        )  # fmt: skip
        hand.offered()
        hand.act("spread")
        hand.until("page.edit === 'spread'", "the line")
        hand.put("#line [name=distance]", Keys.CONTROL, "a", Keys.NULL, distance)
        hand.quiet()
        hand.accept()

    step("Lid", "60 mm")
    hand.until("bench.explode.at === 1", "the step is shown")
    assert hand.js(HEIGHT, "Lid") == 60
    step("Middle", "25 mm")
    hand.until("bench.explode.at === 2", "both steps are shown")
    assert (hand.js(HEIGHT, "Lid"), hand.js(HEIGHT, "Middle")) == (60, 25)
    hand.until("document.querySelectorAll('.trace').length === 2", "a line for each")
    hand.js(SLIDE)
    assert (hand.js(HEIGHT, "Lid"), hand.js(HEIGHT, "Middle")) == (60, 12.5)
    hand.click("[data-back-apart]")
    hand.until("document.querySelector('[data-apart]')?.dataset.steps === '1'", "one step less")
    hand.until("bench.explode.steps.length === 1", "as it is now")
    hand.click("[data-show-apart]")
    hand.until("!document.querySelector('.trace')", "together again")
    assert hand.js(HEIGHT, "Lid") == 0
    assert hand.js("return page.bodies.length") == 3

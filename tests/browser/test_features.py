"""The features of a part beside the view: pointed at, picked, sized where they stand."""

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from ravine.core.kernel import build
from tests.parts import step_file


@pytest.fixture
def plate(hand, page, tmp_path):
    tools = [build.cylinder(3.3, 20, (20 + 20 * i, 15, -1)) for i in range(3)]
    tools += [build.cylinder(5.5, 7, (20 + 20 * i, 15, 6)) for i in range(3)]
    shape = build.subtract(build.box(80, 50, 12), *tools, build.box(30, 14, 5, (20, 30, 8)))
    ident, _ = page.model_with(step_file(tmp_path / "plate.step", shape, "Plate"), "Plate")
    hand.open(ident)
    hand.until("document.querySelectorAll('.feature-kind').length === 2", "the features")
    return hand


def sizes(hand):
    rows = hand.js("return [...document.querySelectorAll('.feature input')].map((e) => [e.dataset.size, e.value])")
    return dict(rows)


def test_features_are_listed_lit_up_picked_and_sized(plate):
    hand = plate
    assert hand.js(
        "return [...document.querySelectorAll('.feature-kind summary')].slice(0, 1).map((e) => e.textContent.trim())"
    ) == ["Holes 3"]
    hand.click('[data-kind="Holes"] > summary')
    assert "clearance for M6, medium; in a row, 20 apart" in hand.text('[data-kind="Holes"] .flaw-means')
    ActionChains(hand.driver).move_to_element(hand.find('[data-kind="Holes"] [data-pick-feature]')).perform()
    hand.until("bench.view.marks.hover.children.length > 0", "the light")
    hand.click('[data-kind="Holes"] [data-pick-feature]')
    assert hand.js("return bench.picked.length") == 9
    hand.click(".feature-ones summary")
    hand.click("[data-one]")
    assert hand.js("return bench.picked.length") == 3

    before = hand.revision()
    hand.put('[data-size="diameter"]', Keys.CONTROL, "a", Keys.NULL, "8 mm", Keys.ENTER)
    hand.until("document.querySelector('[data-size=\"diameter\"]')?.value === '8'", "the new size")
    assert hand.revision() == before + 1
    assert "diameter" in hand.text(".journal .here")
    assert hand.js("return document.querySelector('.feature-kind[data-kind=Holes]').open"), "what was unfolded stays so"
    hand.js("bench.step(-1)")
    hand.until("document.querySelector('[data-size=\"diameter\"]')?.value === '6.6'", "the size before")


def test_a_size_that_cannot_be_is_told_and_put_back(plate):
    hand = plate
    hand.click('[data-kind="Pockets"] > summary')
    before = hand.revision()
    hand.put('[data-kind="Pockets"] [data-size="depth"]', Keys.CONTROL, "a", Keys.NULL, "40", Keys.ENTER)
    hand.until("document.querySelector('#told')?.innerText.trim()", "the refusal")
    hand.until(
        "document.querySelector('[data-kind=\"Pockets\"] [data-size=\"depth\"]').value === '4'", "the size as it is"
    )
    hand.put('[data-kind="Pockets"] [data-size="width"]', Keys.CONTROL, "a", Keys.NULL, "9", Keys.ESCAPE)
    assert sizes(hand)["width"] == "14"
    assert hand.revision() == before

"""The features of a part beside the view: pointed at, picked, sized where they stand."""

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from ravine.core.formats import step
from ravine.core.kernel import build
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.rigid import IDENTITY, Rigid
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


def test_a_boss_is_lifted_out_and_planted_on_another_part(hand, page, tmp_path):
    bossed = build.unite(build.box(40, 30, 10), build.cylinder(6, 10, (15, 15, 9)))
    parts = [WritePart("Bossed", bossed, None, {}), WritePart("Block", build.box(60, 50, 20), None, {})]
    places = [WriteNode("Bossed", IDENTITY, 0, []), WriteNode("Block", Rigid.slide((60, 0, 0)), 1, [])]
    path = tmp_path / "both.step"
    path.write_bytes(step.write([WriteNode("Both", IDENTITY, None, places)], parts, "Both"))
    ident, _ = page.model_with(path, "Both")
    hand.open(ident)
    face = """const [name, test] = arguments; const body = bench.scene.bodies.find((b) => b.name === name);
        const [node, place] = [...bench.view.places].find(([, p]) => p.body.id === body.id);
        const index = place.drawable.shape.faces.findIndex((m) => eval(test));
        bench.pick([{kind: 'face', node, index, id: 'f' + body.faces[index]}]);"""
    hand.js(face, "Bossed", "Math.abs(m.points[2] - 19) < 1e-6 && m.normals[2] > 126")
    hand.until("page.ids.length === 1 && page.offered", "the pick")
    hand.act("lift out")
    hand.until("page.edit === 'lift out'", "the line")
    hand.accept()
    hand.until("bench.scene.bodies.some((b) => b.name === 'Boss of Bossed')", "the boss by itself")
    hand.js(face, "Block", "Math.abs(m.points[2] - 20) < 1e-6 && m.normals[2] > 126")
    hand.until("page.ids.length === 1 && page.offered", "the pick")
    hand.act("plant")
    hand.until("page.edit === 'plant'", "the line")
    hand.until("document.querySelector('.knob')", "the bead")
    hand.until("document.querySelector('.fact.plus')", "the preview")
    hand.accept()
    assert "Planted" in hand.text(".journal .here")
    assert hand.js("return Math.round(page.box.max.z)") == 29

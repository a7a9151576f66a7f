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


def test_the_planes_that_a_part_is_mirrored_in_are_told(hand, page, tmp_path):
    shape = build.subtract(build.box(80, 50, 12), build.cylinder(3, 14, (40, 15, -1)))
    ident, _ = page.model_with(step_file(tmp_path / "plate.step", shape, "Plate"), "Plate")
    hand.open(ident)
    told = "document.querySelector('.feature-symmetry')?.innerText"
    hand.until(f"{told} === 'Symmetric across X at 40 mm and Z at 6 mm'", "the planes")


def test_the_feature_under_the_pointer_is_told_and_the_pick_grows_with_each_click(plate):
    hand = plate
    wall = next(f for f in hand.js("return document.querySelectorAll('[data-one]')[1].dataset.one").split() if hand.js(
        "return Boolean(page.spotOf(arguments[0]))", int(f[1:])))[1:]  # fmt: skip
    hand.click_canvas(*hand.spot_of(int(wall)))
    hand.until("page.picked.length === 1 && page.offered", "the face")
    assert "one of 3: click once more for all of it" in hand.text("#foot-hint")
    assert hand.text("#foot-hint").startswith("Hole, counterbored")
    hand.js("bench.pick([]); bench.hover(null)")
    ActionChains(hand.driver).move_by_offset(1, 0).perform()
    hand.until("bench.view.marks.hover.children.length > 2", "its other faces outlined")
    hand.click_canvas(*hand.spot_of(int(wall)))
    hand.until("page.picked.length === 1 && page.offered", "the face again")
    for count in (3, 9, 1):
        hand.click_canvas(*hand.spot_of(int(wall)))
        hand.until(f"page.picked.length === {count} && page.offered", f"{count} faces")


def test_features_are_set_aside_and_put_back(plate):
    hand = plate
    volume = "document.querySelector('#actions').innerText"
    hand.click('[data-kind="Holes"] > summary')
    hand.js("document.querySelector('[data-kind=Holes] [data-aside]').click()")
    hand.until("document.querySelector('[data-back]')", "what waits")
    hand.until("!document.querySelector('[data-kind=Holes]')", "no hole")
    assert "3 × counterbored" in hand.text(".waiting")
    assert "Set 3 holes of Plate aside" in hand.text(".journal .here")
    full = hand.js(f"return {volume}")
    hand.click("[data-back]")
    hand.until("document.querySelector('[data-kind=Holes]') && !document.querySelector('[data-back]')", "the holes")
    assert "Put back hole-1" in hand.text(".journal .here")
    assert hand.js(f"return {volume}") != full
    hand.js("document.querySelector('[data-kind=Pockets] [data-aside]').click()")
    hand.until("document.querySelector('[data-forget=pocket-1]')", "the pocket waits")
    hand.click("[data-forget=pocket-1]")
    hand.until("!document.querySelector('.waiting')", "nothing waits")


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

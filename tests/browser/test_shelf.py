"""The shelf on the page: found by words, dragged on to a hole, put in all holes of its repeat with length proposed."""

from selenium.webdriver.common.action_chains import ActionChains

from ravine.core.kernel import build
from tests.parts import step_file

CHOOSE = """const gap = document.querySelector(arguments[0]);
    gap.value = arguments[1];
    gap.dispatchEvent(new Event('input', {bubbles: true}))"""


def test_a_screw_is_dragged_on_to_a_hole_and_goes_in_all_of_them(hand, page, tmp_path):
    holes = [build.cylinder(2.75, 12, (x, y, -1)) for x in (10, 50) for y in (10, 30)]
    plate = build.subtract(build.box(60, 40, 3), *holes)
    ident, _ = page.model_with(step_file(tmp_path / "plate.step", plate, "Plate"), "Plate")
    hand.open(ident)
    hand.js("bench.setStage('Assemble')")
    hand.click("#shelf summary")
    hand.put("#shelf-text", "socket m5x16")
    hand.until("document.querySelectorAll('#shelf [data-whole]').length === 3", "what is found")
    hand.put("#shelf-text", "zz")
    hand.until("document.querySelector('#shelf .none')?.innerText.includes('Nothing on the shelf')", "nothing found")
    hand.js("document.querySelector('#shelf-text').value = ''")
    hand.js(CHOOSE, "#shelf-kind", "screw")
    hand.until("document.querySelector('#shelf [data-take=\"ISO 4762\"]')", "screws")
    hand.click('#shelf [data-take="ISO 4762"]')
    hand.until("document.querySelector('#told').innerText.includes('Pick a hole first')", "what to do first")

    wall = """for (const place of bench.view.places.values()) {
        const faces = place.drawable.shape.faces, upright = faces.filter((f) => Math.abs(f.normals[2]) < 9);
        const most = Math.max(...upright.map((f) => f.normals.length));
        for (const [k, id] of place.body.faces.entries()) {
          const spot = upright.includes(faces[k]) && faces[k].normals.length === most ? page.spotOf(id) : null;
          if (spot) return [...spot, bench.view.canvas.clientWidth, bench.view.canvas.clientHeight];
        }
      }"""
    x, y, width, height = hand.js(wall)
    drag = ActionChains(hand.driver, duration=80).click_and_hold(hand.find('#shelf [data-take="ISO 4762"]'))
    for share in (0.4, 1):
        at = (round(share * x - width / 2 + (1 - share) * 60), round(share * y - height / 2 + (1 - share) * 60))
        drag = drag.move_to_element_with_offset(hand.find("#canvas"), *at)
    drag.release().perform()
    hand.until("page.edit === 'take from the shelf'", "the line")
    hand.js(CHOOSE, "#line [name=holes]", "alike")
    told = "document.querySelector('#line').innerText"
    hand.until(f"{told}.includes('4 × Socket head screw ISO 4762 M5 × 8')", "the length")
    hand.quiet()
    hand.accept()
    hand.until("[...bench.view.places.values()].length === 5", "four screws in the view")
    said = "Took Socket head screw ISO 4762 from the shelf for a hole of Plate and all like it"
    assert said in hand.text(".journal .here")
    hand.until("document.querySelector('.joints-bought b')?.innerText === '8'", "what holds them")


def test_an_item_that_is_pointed_at_is_shown_and_comes_with_its_thread(hand, page):
    ident = page.new("Loose parts")
    hand.open(ident)
    hand.js("bench.setStage('Assemble')")
    hand.click("#shelf summary")
    hand.put("#shelf-text", "socket m5x16")
    hand.until("document.querySelectorAll('#shelf [data-shows]').length === 3", "what is found")
    hand.on("#shelf [data-shows]", lambda e: ActionChains(hand.driver).move_to_element(e).perform())
    hand.until("document.querySelector('#shelf-item img')?.naturalWidth === 232", "its picture")
    hand.until("document.querySelector('#shelf-item').innerText.includes('ISO 4762 M5 × 16')", "its name")
    assert "d 5, pitch 0.8, dk 8.5" in hand.text("#shelf-item")
    hand.click("#shelf [data-shows='iso4762-m5x16']")
    hand.until("page.edit === 'take from the shelf'", "the line")
    hand.js(CHOOSE, "#line [name=threads]", "real")
    hand.quiet()
    hand.accept()
    faces = "[...bench.view.places.values()].map((p) => p.body.faces.length)[0]"
    hand.until(f"{faces} > 40", "the turns of its thread")

"""The shared page from disk in a browser: turned, cut, measured, with nothing fetched; and links that end."""

import json
import re
import urllib.error
import urllib.request

import pytest
from selenium.webdriver.common.action_chains import ActionChains

from ravine.core.kernel import build
from tests.browser.conftest import start_browser
from tests.parts import model_of, step_file


@pytest.fixture(scope="module")
def viewer(tmp_path_factory):
    """A block 40 × 30 × 20 with a hole, and a pin above it."""
    folder = tmp_path_factory.mktemp("viewer")
    block = build.subtract(build.box(40, 30, 20), build.cylinder(5, 30, (20, 15, -1)))
    model, _ = model_of(folder, block, "Block")
    model.do("import", path=str(step_file(folder / "pin.step", build.cylinder(3, 20, (20, 15, 40)), "Pin")))
    page = model.share(folder / "model.html", called="Block and pin")
    driver = start_browser()
    driver.execute_cdp_cmd("Network.enable", {})
    driver.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})
    driver.get(page.as_uri())
    for _ in range(200):
        if driver.execute_script("return document.querySelector('canvas').dataset.frames > 0"):
            break
    yield driver
    driver.quit()


def pixels(driver):
    """Where the model is drawn: share of places that are not ground."""
    return driver.execute_script("""viewer.paint();
        const gl = document.querySelector('canvas').getContext('webgl2');
        const [w, h] = [gl.drawingBufferWidth, gl.drawingBufferHeight];
        const data = new Uint8Array(4 * w * h); gl.readPixels(0, 0, w, h, gl.RGBA, gl.UNSIGNED_BYTE, data);
        let [count, sum] = [0, 0];
        for (let i = 0; i < data.length; i += 4)
            if (Math.abs(data[i] - 242) > 6) { count++; sum += data[i] + 3 * data[i + 1]; }
        return [count / (w * h), sum]""")


def test_it_is_drawn_turned_cut_and_taken_apart(viewer):
    first = pixels(viewer)
    assert 0.03 < first[0] < 0.8
    canvas = viewer.find_element("css selector", "canvas")
    ActionChains(viewer, duration=30).drag_and_drop_by_offset(canvas, 120, 40).perform()
    turned = pixels(viewer)
    assert turned != first
    viewer.execute_script("""const s = document.querySelector('#across'); s.value = 'X';
        s.dispatchEvent(new Event('change', {bubbles: true}))""")
    assert pixels(viewer)[0] < turned[0]
    viewer.execute_script("""const s = document.querySelector('#across'); s.value = '';
        s.dispatchEvent(new Event('change', {bubbles: true}))""")
    assert pixels(viewer) == turned
    viewer.find_element("css selector", "#parts tr:nth-child(2)").click()
    viewer.execute_script("document.querySelector('#parts tr').dispatchEvent(new Event('pointerleave'))")
    assert viewer.execute_script("return viewer.model.places.filter((p) => p.shown).length") == 1
    viewer.find_element("css selector", "#parts tr:nth-child(2)").click()


def test_it_measures_as_the_model_is(viewer):
    found = viewer.execute_script("""const m = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];
        const [block, pin] = viewer.model.places;
        const hit = (place, test) => {
            const {forms} = viewer.model.shapes[place.shape];
            return {place, face: forms.findIndex(test), m, where: [0, 0, 0]};
        };
        const round = (f) => f[0] === 'cylinder';
        const side = (s) => (f) => f[0] === 'plane' && f[4] * s > 0.9;
        return [viewer.between(hit(block, side(1)), hit(block, side(-1))),
                viewer.between(hit(block, round), hit(pin, round)),
                viewer.between(hit(block, side(-1)), hit(block, round))]""")
    assert found == ["40 mm between the two faces", "0 mm from axis to axis", "20 mm from the face to the axis"]
    look = """document.querySelectorAll('nav button')[5].click(); viewer.paint();
        const c = document.querySelector('canvas');
        const hit = viewer.under(c.clientWidth * arguments[0], c.clientHeight / 2);
        return hit && [hit.place.name, hit.where[2]]"""
    assert viewer.execute_script(look, 0.5) == ["Pin", pytest.approx(60)]
    assert viewer.execute_script(look, 0.02) is None


def test_nothing_is_fetched_and_nothing_complains(viewer):
    assert viewer.execute_script("return performance.getEntriesByType('resource').length") == 0
    assert not [e for e in viewer.get_log("browser") if e["level"] == "SEVERE"]
    text = viewer.execute_script("return document.documentElement.outerHTML")
    assert not [w for w in ("http://", "https://", "src=", "@import") if w in text]


def _get(address):
    try:
        with urllib.request.urlopen(address) as answer:
            return answer.status, answer.read().decode(), dict(answer.headers)
    except urllib.error.HTTPError as error:
        return error.code, error.read().decode(), dict(error.headers)


def test_a_link_shows_the_model_until_it_is_revoked(boss, hand):
    hand.js("bench.setStage('Hand over')")
    hand.until("Boolean(document.querySelector('[data-make-link]'))", "the links")
    hand.click("[data-make-link]")
    hand.until("Boolean(document.querySelector('[data-fresh-link]'))", "the new link")
    address = hand.js("return document.querySelector('[data-fresh-link]').value")
    status, text, headers = _get(address)  # without a cookie, as whoever has it
    assert (status, "Boss plate" in text) == (200, True)
    assert "default-src 'none'" in headers["Content-Security-Policy"]
    hand.js("document.querySelector('[data-fresh-link]').remove()")
    hand.js("bench.links.refresh()")
    hand.until("document.querySelector('#links').innerText.includes('looked at 1 time')", "it is counted")
    assert address.rsplit("/", 1)[1] not in hand.js("return document.documentElement.outerHTML")
    hand.click("[data-revoke]")
    hand.until("document.querySelector('#links').innerText.includes('revoked')", "the end of it")
    gone, unknown = _get(address), _get(address[:-4] + "xxxx")
    assert gone[0] == unknown[0] == 404
    plain = [re.sub(r'nonce="[^"]*"', "", page[1]) for page in (gone, unknown)]
    assert plain[0] == plain[1]  # whoever tries learns nothing
    assert "Boss plate" not in gone[1]
    rest = _get(address.split("/s/")[0] + "/m/1")
    assert rest[0] == 403
    assert json.dumps(rest[1]).find("Boss plate") < 0

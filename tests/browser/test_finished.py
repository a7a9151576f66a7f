"""The finished look, its surroundings and its shadow; a picture at a chosen size."""

from __future__ import annotations

import struct
import time
import zlib

import numpy as np
import pytest
from PIL import Image
from selenium.webdriver.common.keys import Keys

from .conftest import SCALE

WINDOW = {"width": 1280, "height": 800, "deviceScaleFactor": SCALE, "mobile": False}


def pixels(data):
    """Width, height and rows of RGBA of a PNG of eight bits, without filters undone but the first byte of a row."""
    assert data[:8] == b"\x89PNG\r\n\x1a\n"
    width, height, depth, kind = struct.unpack_from(">IIBB", data, 16)
    at, packed = 8, b""
    while at < len(data):
        (size,) = struct.unpack_from(">I", data, at)
        if data[at + 4 : at + 8] == b"IDAT":
            packed += data[at + 8 : at + 8 + size]
        at += 12 + size
    return width, height, depth, kind, zlib.decompress(packed)


def middle(hand):
    """Colour in the middle of the canvas."""
    return hand.js(
        """const {view} = bench; view.beforeDraw(); view.renderer.render(view.scene, view.camera.lens);
        const gl = view.renderer.getContext(), p = new Uint8Array(4);
        gl.readPixels(gl.drawingBufferWidth / 2, gl.drawingBufferHeight / 2, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, p);
        return [...p];"""
    )


def arrived(downloads, seconds):
    """The saved picture, once it is there."""
    path = downloads / "Boss plate.png"
    end = time.monotonic() + seconds
    while not path.exists() and time.monotonic() < end:
        time.sleep(0.1)
    return path


@pytest.fixture
def finished(boss):
    """In a small window: drawing surfaces as they will be takes a software renderer seconds at the usual size."""
    hand = boss
    hand.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", {**WINDOW, "width": 900, "height": 600})
    hand.js("page.look('corner')")
    part = hand.js("return page.nodes[0].id")
    hand.js("bench.pick([{kind: 'node', node: arguments[0], index: 0, id: arguments[0]}])", part)
    hand.offered()
    hand.keys(*"set finish brass", Keys.ENTER)
    hand.until("page.edit === 'set finish'", "the line")
    hand.accept()
    hand.js("bench.pick([])")
    yield hand
    hand.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", WINDOW)


def test_surfaces_show_in_their_surroundings(finished):
    hand = finished
    assert hand.body()["finish"].endswith("brass")
    plain = middle(hand)
    hand.click("[data-finished]")
    hand.until("bench.view.finished && bench.view.scene.environment", "the finished look")
    workshop = middle(hand)
    assert workshop != plain
    assert workshop[0] > workshop[2] + 25  # it is a yellow metal
    hand.js(
        """const s = document.querySelector('#surroundings'); s.value = 'evening';
        s.dispatchEvent(new Event('change', {bubbles: true}));"""
    )
    assert middle(hand) != workshop
    hand.pick(hand.faces["end"])  # it can be worked in
    hand.keys(*"push 3", Keys.ENTER)
    hand.until("page.edit === 'push'", "the line")
    hand.accept()
    hand.js("bench.pick([])")
    hand.click("[data-finished]")
    hand.until("!bench.view.finished", "the plain look again")
    assert hand.find("#surroundings").is_displayed() is False


def test_a_picture_is_saved_at_its_size(finished, downloads):
    hand = finished
    for old in downloads.glob("*.png"):
        old.unlink()
    hand.click("[data-picture]")
    hand.until("document.querySelector('#picture-dialog').open", "what is asked")
    for name, value in (("width", "9000"), ("height", "700")):
        hand.put(f"#picture-dialog [name={name}]", Keys.CONTROL, "a", Keys.NULL, value)
    hand.click("#picture-dialog .btn-main")
    hand.until("document.querySelector('#picture-told').innerText.includes('8192')", "that this is too wide")
    hand.put("#picture-dialog [name=width]", Keys.CONTROL, "a", Keys.NULL, "900")
    hand.click("#picture-dialog .btn-main")
    hand.until("!document.querySelector('#picture-dialog').open", "the end of it")
    path = arrived(downloads, 20)
    width, height, depth, _, rows = pixels(path.read_bytes())
    assert (width, height, depth) == (900, 700, 8)
    assert len(set(rows[::97])) > 20  # not blank


def test_once_around_is_one_animated_picture(finished, downloads):
    hand = finished
    for old in downloads.glob("*.png"):
        old.unlink()
    yaw = hand.js("return bench.view.camera.yaw")
    hand.click("[data-picture]")
    hand.until("document.querySelector('#picture-dialog').open", "what is asked")
    choose = "document.querySelector('#picture-dialog [name=turning]').value = arguments[0]"
    hand.js(choose, "72")
    hand.click("#picture-dialog .btn-main")
    hand.until("document.querySelector('#picture-told').innerText.includes('too much')", "that this is too much")
    hand.js(choose, "24")
    for name, value in (("width", "160"), ("height", "100")):
        hand.put(f"#picture-dialog [name={name}]", Keys.CONTROL, "a", Keys.NULL, value)
    hand.click("#picture-dialog .btn-main")
    hand.until("!document.querySelector('#picture-dialog').open", "the end of it")
    path = arrived(downloads, 20)
    with Image.open(path) as film:
        assert (film.size, film.n_frames, film.info["duration"]) == ((160, 100), 24, pytest.approx(1000 / 12))
        frames = []
        for k in range(24):
            film.seek(k)
            frames.append(film.convert("RGB").tobytes())
    assert len(set(frames)) > 12
    assert hand.js("return bench.view.camera.yaw") == yaw


def test_a_kept_view_brings_its_look_and_the_size_of_its_picture(finished, downloads):
    """And the light of a picture is gathered: the ground is dark where the part stands, and less beside it."""
    hand = finished
    for old in downloads.glob("*.png"):
        old.unlink()
    hand.js("page.look('front'); bench.appearance.wear('open sky')")
    hand.js("bench.picture.set({width: 150, height: 100, ground: 'clear', turning: 1})")
    hand.click('[data-look] ~ [data-keep="view"]')
    hand.until("document.querySelector('[data-show-kept]')", "its row")
    hand.js("bench.appearance.wear(''); page.look('corner')")
    hand.open(hand.ident)
    assert hand.js("return bench.appearance.on") is False
    hand.click("[data-picture]")
    hand.until("document.querySelector('#picture-dialog').open", "what is asked")
    hand.js("""const s = document.querySelector('[data-picture-from]'); s.selectedIndex = 1;
        s.dispatchEvent(new Event('change', {bubbles: true}))""")
    hand.until("bench.appearance.on && bench.appearance.surroundings === 'open sky'", "its look")
    asked = hand.js("return bench.picture.settings()")
    assert asked == {"width": 150, "height": 100, "ground": "clear", "turning": 1}
    hand.js("bench.view.camera.pitch = 0.5; bench.view.camera.apply()")
    floor = """const {view} = bench; const b = view.box;
        const p = view.camera.project(view.camera.target.clone().set(
            b.max.x + arguments[0], (b.min.y + b.max.y) / 2, b.min.z)); const c = view.canvas;
        const x = (p.x - c.clientWidth / 2) / c.clientHeight, y = (p.y - c.clientHeight / 2) / c.clientHeight;
        return [Math.round(75 + 100 * x), Math.round(50 + 100 * y)]"""
    places = [hand.js(floor, beside) for beside in (3, 22)]
    hand.click("#picture-dialog .btn-main")
    hand.until("!document.querySelector('#picture-dialog').open", "the end of it")
    path = arrived(downloads, 60)
    picture = np.asarray(Image.open(path).convert("RGBA")).astype(int)
    assert picture.shape == (100, 150, 4)
    near, far = (picture[y, x, 3] for x, y in places)
    assert 255 > near > far + 8
    assert len(np.unique(picture[:, :, 3])) > 20  # soft, not one dark patch
    assert (picture[:, :, 3] == 255).sum() > 500  # the part itself

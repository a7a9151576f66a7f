"""Three hundred parts: drawn with few calls, picked and hidden one by one, drawn apart, thinner while they turn."""

from __future__ import annotations

import pytest

from ravine.core.kernel import build
from tests.parts import step_file


@pytest.fixture
def many(hand, page, tmp_path):
    """A base plate, and 15 × 20 pins with a hole in them, which share one body."""
    ident, _ = page.model_with(step_file(tmp_path / "base.step", build.box(320, 420, 5), "Base"), "Many")
    pin = build.subtract(build.cylinder(6, 20, (12, 12, 5)), build.cylinder(2, 30, (12, 12, 0)))
    path = step_file(tmp_path / "pin.step", pin, "Pin")
    page.upload(f"/m/{ident}/import", path.name, path.read_bytes())
    page.wait_for_jobs(ident)
    scene = page.scene(ident)
    node = next(n["id"] for n in scene["nodes"] if n["name"] == "Pin")
    base = page.edit(ident, scene["revision"], "repeat parts", parts=[node], count="15", along="x", step="20").head
    pins = [n["id"] for n in page.scene(ident)["nodes"] if n["name"] == "Pin"]
    page.edit(ident, base["revision"], "repeat parts", parts=pins, count="20", along="y", step="20")
    hand.open(ident)
    hand.js("page.look('corner'); bench.pick([])")
    hand.until("bench.view.places.size === 301", "the pins")
    return hand


def test_copies_are_drawn_together_and_handled_one_by_one(many):
    hand = many
    frames = hand.js("bench.view.draw(); return bench.view.frames")
    hand.until(f"bench.view.frames > {frames}", "a frame")
    calls = hand.js("return bench.view.renderer.info.render.calls")
    assert calls < 12, calls
    x, y = hand.js("return page.spot(16, 12, 25)")
    hand.click_canvas(x, y)
    hand.until("page.picked.length === 1", "something of the first pin")
    first = hand.js("return page.picked[0].node")
    assert hand.js("return bench.view.places.get(arguments[0]).node.name", first) == "Pin"
    hand.js("bench.hide(new Set([arguments[0]]))", first)
    hand.until("document.querySelector('#foot-hidden').innerText === '1 part'", "one hidden")
    assert hand.js("return bench.view.crowd.slots.size") == 299
    hand.js("bench.hide(new Set())")
    hand.until("bench.view.crowd.slots.size === 300", "all again")


def test_the_slider_draws_the_parts_apart_and_edits_bring_them_back(many):
    hand = many
    slide = """const s = document.querySelector('#apart'); s.value = arguments[0];
        s.dispatchEvent(new Event('input', {bubbles: true}));"""
    matrices = """const found = new Set(); const {mesh} = bench.view.crowd.slots.values().next().value;
        for (let i = 0; i < 300; i++) found.add(Math.round(mesh.instanceMatrix.array[16 * i + 12]));
        return found.size"""
    assert hand.js(matrices) == 15
    start = hand.js("return bench.view.crowd.slots.values().next().value.mesh.instanceMatrix.array[12]")
    hand.js(slide, "100")
    apart = hand.js("return bench.view.crowd.slots.values().next().value.mesh.instanceMatrix.array[12]")
    assert apart < start - 100  # twice as far from the middle
    base = hand.js("return page.nodes.find((n) => n.name === 'Base').id")
    hand.js("bench.pick([{kind: 'node', node: arguments[0], index: 0, id: arguments[0]}])", base)
    hand.offered()
    hand.act("move body")
    hand.until("bench.line.isOpen", "the line")
    assert hand.js("return bench.explode.share") == 0
    assert hand.js("return bench.view.crowd.slots.values().next().value.mesh.instanceMatrix.array[12]") == start
    assert hand.js("return document.querySelector('#apart').value") == "0"


def test_a_large_model_is_drawn_thinner_while_it_turns(many):
    hand = many
    hand.js(
        """const {crowd} = bench.view, show = crowd.showEdges.bind(crowd); window.told = [];
        crowd.showEdges = (on) => { told.push(on); show(on); };
        Object.defineProperty(bench.view, "heavy", {get: () => true, set() {}}); page.camera.orbit(20, 0);"""
    )
    hand.until("told[0] === false", "no edges while it turns")
    hand.until("told.at(-1) === true && !bench.view.moving", "all of it once it rests")
    edges = "[...bench.view.crowd.slots.values()].every((s) => s.lines.visible)"
    assert hand.js(f"return {edges}")

"""Meshes on the page: told apart into faces, pushed up to, made into solids; and figures over surfaces as colours."""

from __future__ import annotations

import numpy as np
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from ravine.core.formats import stl
from ravine.core.kernel import build
from ravine.core.kernel.tessellate import mesh_afresh, whole_mesh
from tests.parts import step_file

SHOWN = "bench.maps.shown && !document.getElementById('legend').hidden"


@pytest.fixture
def scan(hand, page, tmp_path):
    """The bench with a mesh of a bored block at x = 60, and an exact one, 4 mm high, at the origin."""
    block = build.subtract(build.box(30, 20, 12, (60, 0, 0)), build.cylinder(5, 20, (75, 10, -4)))
    mesh_afresh(block, 0.05, 0.2)
    points, triangles = whole_mesh(block)
    (tmp_path / "scan.stl").write_bytes(stl.write(points[triangles]))
    ident, _ = page.model_with(step_file(tmp_path / "Plate.step", build.box(30, 20, 4), "Plate"), "Scan")
    hand.open(ident)
    hand.driver.find_element(By.ID, "file").send_keys(str(tmp_path / "scan.stl"))
    hand.until("document.querySelector('#units-dialog').open", "the question for the unit")
    hand.click("#units-dialog button[value=take]")
    hand.until("page.bodies.some((b) => b.kind === 'mesh') && page.settled", "the mesh")
    hand.js("page.look('corner')")
    return hand


def part(hand, name):
    return hand.js("return page.nodes.find((n) => n.name === arguments[0]).id", name)


def pick_part(hand, *names):
    hand.js("bench.pick(arguments[0].map((id) => ({kind: 'node', node: id, index: 0, id})))",
            [part(hand, n) for n in names])  # fmt: skip
    hand.until("page.offered", "its actions")


def spot_of(hand, x, y, z):
    """Pixels on the canvas of a place in the model."""
    return hand.js(
        """return page.spot(...arguments)""",
        x, y, z,
    )  # fmt: skip


def test_a_face_is_pushed_until_a_facet_and_the_mesh_becomes_a_solid(scan):
    hand = scan
    hand.js(
        """const node = arguments[0], place = bench.view.places.get(node);
        const index = place.drawable.shape.faces.findIndex((f) => f.normals[2] === 127);
        bench.pick([{kind: 'face', node, index, id: 'f' + place.body.faces[index]}]);""",
        part(hand, "Plate"),
    )  # fmt: skip
    hand.act("push")
    hand.until("page.edit", "the line")
    hand.click("#line .field-pick[data-field=until]")
    hand.click_canvas(*spot_of(hand, 63, 3, 12))
    hand.quiet()
    assert hand.js("return page.gap('until')").startswith("t")
    hand.accept()
    plate = part(hand, "Plate")
    high = hand.js("return bench.view.places.get(arguments[0]).drawable.triangles.boundingBox.max.z", plate)
    assert high == pytest.approx(12)
    pick_part(hand, "scan")
    hand.act("recognise")
    hand.until("document.querySelector('#line-facts')?.innerText.includes('1 cylinder')", "what was recognised")
    hand.accept()
    assert len(hand.js("return page.bodies.find((b) => b.kind === 'mesh').faces")) == 7
    hand.js("bench.pick([])")
    hand.click_canvas(*spot_of(hand, 63, 3, 12))
    hand.until("document.querySelector('.facts-say')?.innerText.includes('as recognised in the mesh')", "its measures")
    hand.js(  # a divided mesh still gives its single facets, with Alt
        """const place = bench.view.places.get(arguments[0]);
        bench.pick([{kind: 'face', node: arguments[0], index: 0, id: 'f' + place.body.faces[0]}]);""", plate,
    )  # fmt: skip
    hand.act("push")
    hand.until("page.edit", "the line")
    hand.click("#line .field-pick[data-field=until]")
    x, y = spot_of(hand, 63, 3, 12)
    box = hand.find("#canvas").rect
    ActionChains(hand.driver, duration=60).move_to_element_with_offset(
        hand.find("#canvas"), round(x - box["width"] / 2), round(y - box["height"] / 2)
    ).key_down(Keys.ALT).click().key_up(Keys.ALT).perform()
    hand.until("page.gap('until').startsWith('t')", "the facet")
    hand.js("bench.line.leave()")
    pick_part(hand, "scan")
    hand.act("mesh to solid")
    hand.until("document.querySelector('#line-facts')?.innerText.includes('corners off')", "the preview")
    hand.accept()
    assert hand.js("return page.bodies.every((b) => b.kind === 'solid')")
    exact = 30 * 20 * 12 - np.pi * 25 * 12
    pick_part(hand, "scan")
    assert f"{exact:.0f} mm³" in hand.text("#actions")


def test_a_part_is_coloured_by_its_walls_and_by_another_part(scan):
    hand = scan
    pick_part(hand, "Plate")
    hand.click("[data-map=walls]")
    hand.until(SHOWN, "the legend")
    assert "Wall thickness" in hand.text("#legend")
    assert "thinnest 4.0" in hand.text("#legend")
    assert hand.js("return bench.view.places.get(arguments[0]).group.children[0].visible", part(hand, "Plate")) is False
    x, y = spot_of(hand, 15, 10, 4)
    canvas = hand.find("#canvas")
    box = canvas.rect
    ActionChains(hand.driver, duration=60).move_to_element_with_offset(
        canvas, round(x - box["width"] / 2), round(y - box["height"] / 2)
    ).perform()
    hand.until("document.querySelector('.probe').innerText.startsWith('4.0')", "the figure at the pointer")
    hand.click("[data-worst]")
    hand.click("[data-map=draft]")
    hand.until("document.querySelector('#legend').innerText.includes('Draft')", "the draft")
    hand.click("[data-leave-map]")
    assert hand.find("#legend").is_displayed() is False
    pick_part(hand, "Plate", "scan")
    hand.click("[data-map=deviation]")
    hand.until(SHOWN, "the legend")
    assert "largest 60" in hand.text("#legend")
    pick_part(hand, "Plate")
    hand.click("[data-map=stripes]")
    hand.until("bench.maps.shown?.found.normals", "the stripes")
    assert "Stripes" in hand.text("#legend")
    hand.click("[data-leave-map]")
    hand.js("bench.maps.progress(0.4, 'measuring through the matter')")  # as while it takes long
    assert hand.js("return document.querySelector('#legend progress').value") == pytest.approx(0.4)
    hand.click("[data-leave-map]")
    assert hand.find("#legend").is_displayed() is False


def test_a_number_is_drawn_sideways(scan):
    hand = scan
    pick_part(hand, "scan")
    hand.act("smooth")
    hand.until("bench.line.form && !bench.line.busy", "the line")
    field = hand.find("#line input[name=rounds]")
    ActionChains(hand.driver, duration=60).click_and_hold(field).move_by_offset(60, 0).move_by_offset(
        60, 0
    ).release().perform()
    assert hand.js("return page.gap('rounds')") == "20"
    hand.quiet()
    hand.accept()
    assert "20" in hand.text("#journal")


def test_two_bores_are_lined_up_and_a_map_does_not_outlive_its_state(hand, page, tmp_path):
    fork = build.subtract(
        build.box(60, 40, 50), build.box(70, 20, 40, (-5, 10, 15)),
        build.cylinder(6, 12, (30, -1, 35), (0, 1, 0)), build.cylinder(6, 14, (30.4, 29, 35), (0, 1, 0)),
    )  # fmt: skip
    ident, _ = page.model_with(step_file(tmp_path / "Fork.step", fork, "Fork"), "Fork")
    hand.open(ident)
    hand.js(
        """const [[node, place]] = bench.view.places, found = [];
        const bent = (f) => f.normals.filter((_, k) => k % 4 === 0).some((v) => v % 127);
        place.drawable.shape.faces.forEach((f, index) => { if (bent(f))
          found.push({kind: 'face', node, index, id: 'f' + place.body.faces[index]}); });
        bench.pick(found);"""
    )
    hand.until("page.offered", "its actions")
    assert "Axes apart 0.4 mm" in hand.text("#actions").replace("\n", " ")
    hand.act("line up")
    hand.until("document.querySelector('#line-facts')?.innerText.includes('0.4 mm')", "the mismatch")
    hand.accept()
    row = "document.querySelector('[data-pin=\"Axes apart\"]')?.closest('div')"
    hand.until(f"{row}?.querySelector('dd').textContent === 'none'", "one axis")
    pick_part(hand, "Fork")
    hand.click("[data-map=walls]")
    hand.until(SHOWN, "the legend")
    hand.click("#step-back")
    hand.until("document.getElementById('legend').hidden", "the map to go")

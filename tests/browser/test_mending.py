"""The check-up on the page: what is wrong is listed, gone to and mended; how files come in is chosen once."""

from __future__ import annotations

import math
import random
import time

import trimesh
from selenium.webdriver.common.by import By

from ravine.core.formats import step
from ravine.core.kernel.damage import DAMAGES
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.rigid import IDENTITY
from tests.parts import drilled_block

FLAWS = "[...document.querySelectorAll('#checkup .flaw b')].map((b) => b.innerText)"


def damaged(folder, *kinds: str, name: str = "Hurt") -> str:
    """A file of a drilled block with these damages."""
    shape = drilled_block()
    for seed, kind in enumerate(kinds, 3):
        shape = DAMAGES[kind](shape, random.Random(seed)).shape
    path = folder / f"{name}.step"
    path.write_bytes(step.write([WriteNode(name, IDENTITY, 0, [])], [WritePart(name, shape, None, {})], name))
    return str(path)


def hurt_file(folder) -> str:
    return damaged(folder, "drop a face", "duplicate a face")


def test_a_damaged_part_is_looked_over_and_mended(sheet, tmp_path):
    hand = sheet.hand
    hand.js("bench.pick([]); bench.setStage('Bring in')")
    hand.until("document.querySelector('#how-in select')", "how files come in")
    hand.driver.find_element(By.ID, "file").send_keys(hurt_file(tmp_path))
    hand.until("page.bodies.some((b) => b.kind === 'surface')", "the part")
    hand.js("bench.setStage('Mend')")
    hand.until(f"{FLAWS}.length === 2", "the check-up")
    assert hand.js(f"return {FLAWS}") == ["1 missing face", "1 duplicate face"]
    hand.click("#checkup .flaw [data-next]")
    hand.until("page.picked.length && page.picked.every((p) => p.kind === 'edge')", "its border")
    assert hand.js("return getComputedStyle(document.querySelector('.finding')).display") != "none"
    hand.click("#checkup > [data-mend='everything']")
    hand.until("document.querySelector('#line-facts')?.innerText.includes('1 missing face')", "what would be mended")
    hand.js("bench.line.accept()")
    hand.until("page.bodies.every((b) => b.kind === 'solid')", "the solid")
    hand.until(
        "document.querySelector('#checkup').innerText.includes('Sound: nothing found in 1 body')", "a clean bill"
    )
    hand.click("#step-back")
    hand.until(f"{FLAWS}.length === 2", "the faults again")
    assert hand.complaints() == []


def test_choices_for_files_are_remembered(sheet, tmp_path):
    hand = sheet.hand
    hand.js("bench.pick([]); bench.setStage('Bring in')")
    hand.until("document.querySelector('#how-in select[name=heal]')", "how files come in")
    hand.js("""const pick = (name, value) => { const f = document.querySelector(`#how-in [name=${name}]`);
        f.value = value; f.dispatchEvent(new Event('change', {bubbles: true})); };
        pick('heal', 'mend'); pick('what', 'locked');""")
    hand.driver.refresh()
    hand.until("document.getElementById('view')?.dataset.ready && Boolean(window.bench?.checkup)", "the page")
    hand.js("bench.setStage('Bring in')")
    hand.until("document.querySelector('#how-in select[name=heal]')?.value === 'mend'", "the choice")
    hand.driver.find_element(By.ID, "file").send_keys(hurt_file(tmp_path))
    hand.until("page.bodies.some((b) => b.kind === 'solid' && b.locked)", "the mended, locked part")
    hand.js("localStorage.clear()")
    assert hand.complaints() == []


def test_a_mesh_is_cut_with_a_sketch_and_thinned(sheet, tmp_path):
    hand = sheet.hand
    (tmp_path / "pin.obj").write_text(trimesh.creation.icosphere(4, 8).export(file_type="obj"))
    hand.driver.find_element(By.ID, "file").send_keys(str(tmp_path / "pin.obj"))
    hand.until("document.querySelector('#units-dialog').open", "the question for the unit")
    hand.click("#units-dialog button[value=take]")
    hand.until("page.bodies.some((b) => b.kind === 'mesh')", "the mesh")
    sheet.do("section curves", hand.js("return bench.sketches.saved.at(-1).id"), deviation="0.1")
    sheet.said("Cut all parts with Sketch 1")
    assert hand.js("return bench.sketches.saved.at(-1).curves.map((c) => c.kind)") == ["circle"]
    sheet.do("decimate", hand.js("return page.nodes[0].id"), share="50 %")
    sheet.said("Kept 50 % of the triangles")
    assert hand.complaints() == []


def bring_in(hand, path: str, test: str) -> None:
    hand.driver.find_element(By.ID, "file").send_keys(path)
    hand.until(f"page.bodies.some((b) => {test}) && page.settled", "the part")


def test_loose_faces_are_stitched_turned_over_and_replaced(sheet, tmp_path, downloads):
    hand = sheet.hand
    hand.js("bench.pick([])")
    bring_in(hand, damaged(tmp_path, "drop a face", "loosen", name="Loose"), "b.name === 'Loose'")
    node = hand.js("return page.nodes[0].id")
    sheet.do("stitch", node, tolerance="0.001")
    sheet.said("Stitched Loose")
    face = hand.js("return page.bodies[0].faces[1]")
    sheet.do("turn over", f"f{face}")
    sheet.said("Turned")
    hand.js("bench.setStage('Mend')")
    hand.until(f"{FLAWS}.includes('1 turned face')", "the turned face")
    hand.js("bench.line.open('check up', [])")
    hand.until("page.edit === 'check up' && !bench.line.busy", "the line")
    hand.js("bench.line.accept()")
    end = time.monotonic() + 20
    while not (kept := list(downloads.glob("*check-up.txt"))) and time.monotonic() < end:
        time.sleep(0.1)
    assert "1  turned face" in kept[0].read_text()
    bring_in(hand, damaged(tmp_path, name="Sound"), "b.name === 'Sound'")
    newer = hand.js("return page.nodes.find((n) => n.name === 'Sound').id")
    sheet.do("replace", node, newer=(newer,))
    sheet.said("Replaced Loose by Sound")
    assert hand.js("return page.bodies.map((b) => [b.name, b.kind])") == [["Loose", "solid"]]
    assert face in hand.js("return page.bodies[0].faces")
    assert hand.complaints() == []


def test_a_run_of_short_lines_is_simplified(sheet):
    hand = sheet.hand
    places = [(20 * math.cos(a), 20 * math.sin(a)) for a in (2 * math.pi * k / 60 for k in range(61))]
    sheet.open("draw")
    sheet.draw("line", " ".join(f"{x:.6f},{y:.6f}" for x, y in places))
    sheet.leave()
    curves = hand.js("return bench.sketches.saved.at(-1).curves.map((c) => c.id)")
    assert len(curves) == 60
    sheet.do("simplify curves", *curves, deviation="0.1")
    sheet.said("Simplified")
    assert hand.js("return bench.sketches.saved.at(-1).curves.map((c) => c.kind)") == ["circle"]

"""The check-up on the page: what is wrong is listed, gone to and mended; how files come in is chosen once."""

from __future__ import annotations

import random

import trimesh
from selenium.webdriver.common.by import By

from ravine.core.formats import step
from ravine.core.kernel.damage import DAMAGES
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.model.placement import IDENTITY
from tests.parts import drilled_block

FLAWS = "[...document.querySelectorAll('#checkup .flaw b')].map((b) => b.innerText)"


def hurt_file(folder) -> str:
    shape = DAMAGES["drop a face"](drilled_block(), random.Random(3)).shape
    shape = DAMAGES["duplicate a face"](shape, random.Random(4)).shape
    path = folder / "Hurt.step"
    path.write_bytes(step.write([WriteNode("Hurt", IDENTITY, 0, [])], [WritePart("Hurt", shape, None, {})], "Hurt"))
    return str(path)


def test_a_damaged_part_is_looked_over_and_mended(sheet, tmp_path):
    hand = sheet.hand
    hand.js("bench.pick([]); bench.setStage('Bring in')")
    hand.until("document.querySelector('#how-in select')", "how files come in")
    hand.driver.find_element(By.ID, "file").send_keys(hurt_file(tmp_path))
    hand.until("bench.scene.bodies.some((b) => b.kind === 'surface')", "the part")
    hand.js("bench.setStage('Mend')")
    hand.until(f"{FLAWS}.length === 2", "the check-up")
    assert hand.js(f"return {FLAWS}") == ["1 missing face", "1 duplicate face"]
    hand.click("#checkup .flaw [data-next]")
    hand.until("bench.picked.length && bench.picked.every((p) => p.kind === 'edge')", "its border")
    assert hand.js("return getComputedStyle(document.querySelector('.finding')).display") != "none"
    hand.click("#checkup > [data-mend='everything']")
    hand.until("document.querySelector('#line-facts')?.innerText.includes('1 missing face')", "what would be mended")
    hand.js("bench.line.accept()")
    hand.until("bench.scene.bodies.every((b) => b.kind === 'solid')", "the solid")
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
    hand.until("bench.scene.bodies.some((b) => b.kind === 'solid' && b.locked)", "the mended, locked part")
    hand.js("localStorage.clear()")
    assert hand.complaints() == []


def test_a_mesh_is_cut_with_a_sketch_and_thinned(sheet, tmp_path):
    hand = sheet.hand
    (tmp_path / "pin.obj").write_text(trimesh.creation.icosphere(4, 8).export(file_type="obj"))
    hand.driver.find_element(By.ID, "file").send_keys(str(tmp_path / "pin.obj"))
    hand.until("document.querySelector('#units-dialog').open", "the question for the unit")
    hand.click("#units-dialog button[value=take]")
    hand.until("bench.scene.bodies.some((b) => b.kind === 'mesh')", "the mesh")
    sheet.do("section curves", hand.js("return bench.sketches.saved.at(-1).id"), deviation="0.1")
    sheet.said("Cut all parts with Sketch 1")
    assert hand.js("return bench.sketches.saved.at(-1).curves.map((c) => c.kind)") == ["circle"]
    sheet.do("decimate", hand.js("return bench.scene.nodes[0].id"), share="50 %")
    sheet.said("Kept 50 % of the triangles")
    assert hand.complaints() == []

"""The section: slid on its grip, picked in, edited in, measured in, seen flat and saved."""

from __future__ import annotations

import time

import ezdxf
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from ravine.core.kernel import build
from tests.parts import step_file


@pytest.fixture
def opened(boss):
    """The boss plate, 60 × 40 × 10 with a boss Ø 20 × 12 and a hole Ø 8, cut across Y through the hole's middle."""
    boss.js("page.look('corner'); bench.pick([])")
    boss.click('[data-cut="y"]')
    cut_at(boss, "20")
    return boss


def cut_at(hand, text):
    hand.put("#cut-at", Keys.CONTROL, "a", Keys.NULL, text, Keys.ENTER)
    hand.until(
        f"bench.section.cut && !bench.section.busy && Math.abs(bench.section.at - {float(text)}) < 1e-9", "the cut"
    )


def spot(hand, x, y, z):
    return hand.js(
        """const p = page.box.min.clone().set(...arguments); const s = page.camera.project(p);
        return [s.x, s.y];""",
        x, y, z,
    )  # fmt: skip


def hover(hand, x, y, z):
    canvas = hand.find("#canvas")
    px, py = spot(hand, x, y, z)
    dx, dy = round(px - canvas.rect["width"] / 2), round(py - canvas.rect["height"] / 2)
    ActionChains(hand.driver, duration=60).move_to_element_with_offset(canvas, dx - 9, dy).move_by_offset(
        9, 0
    ).perform()


def test_the_plane_slides_on_its_bead_and_is_typed_and_turned_round(opened):
    hand = opened
    assert hand.text("#foot-section") == "Y 20 mm, 1 part cut"
    x, y = hand.js(
        "const b = document.querySelector('#grips .knob').getBoundingClientRect(); return [b.x + 8, b.y + 8]"
    )
    pointer = hand.pointer()
    pointer.move_to_location(round(x), round(y)).pointer_down()
    for k in range(1, 6):
        pointer.move_to_location(round(x + 6 * k), round(y - 3 * k)).pause(0.05)
    pointer.pointer_up()
    hand.actions.perform()
    hand.until("!bench.section.busy && Math.abs(bench.section.at - 20) > 0.5", "the plane elsewhere")
    at = hand.js("return bench.section.at")
    assert hand.js("return bench.section.cut.origin.y") == pytest.approx(at)
    cut_at(hand, "5")
    assert hand.js("return bench.section.cut.parts[0].rings.length") == 1  # beside the boss: one box
    # what is before the plane is neither drawn nor picked
    assert hand.js("return bench.section.removed(page.box.min)")
    hand.click('[data-cut="flip"]')
    hand.until("!bench.section.removed(page.box.min)", "the other side")
    hand.click('[data-cut="off"]')
    hand.until("!bench.section.cut && document.querySelector('#foot-section').innerText === 'none'", "the whole model")


def test_a_line_of_the_cut_is_its_face_and_a_corner_its_edge(opened):
    hand = opened
    hand.click_canvas(*spot(hand, 34, 20, 6))  # the hole's wall, as the plane cuts it
    hand.until("page.picked.length === 1 && page.picked[0].kind === 'face'", "a face")
    hand.offered()
    assert "Ø 8 mm" in hand.text("#actions")
    hand.keys(*"resize 10", Keys.ENTER)
    hand.until("page.edit === 'resize'", "the line")
    hand.until("bench.previewing", "a preview")
    hand.until("bench.section.cut.parts[0].places.length > 0", "its cut")
    hand.accept()
    hand.until("!bench.section.busy", "the cut of the new state")
    radius = hand.js(  # the plane's origin is the middle of the plate
        "return Math.min(...[...bench.section.cut.parts[0].places].filter((_, i) => i % 2 === 0).map(Math.abs))"
    )
    assert radius == pytest.approx(5, abs=1e-4)
    hand.click_canvas(*spot(hand, 40, 20, 22))  # where boss and end meet: the rim that the plane cuts
    hand.until("page.picked.length === 1 && page.picked[0].kind === 'edge'", "an edge")
    hand.offered()
    volume = hand.body()["shape"]
    hand.keys(*"round 2", Keys.ENTER)
    hand.until("page.edit === 'round'", "the line")
    hand.quiet()
    hand.accept()
    assert hand.body()["shape"] != volume
    hand.until("!bench.section.busy && bench.section.cut.parts[0].faces.length > 12", "a round in the cut")
    hand.click_canvas(*spot(hand, 12, 20, 5))  # matter
    hand.until("page.picked.length === 1 && page.picked[0].kind === 'node'", "the part")


def test_the_pick_gives_the_plane_and_the_pointer_the_widths(opened):
    hand = opened
    hover(hand, 31, 20, 14)
    found = hand.until("bench.section.widths.found", "a width")
    assert (found["kind"], found["value"]) == ("gap", pytest.approx(8))
    hover(hand, 37, 20, 15.5)
    found = hand.until("bench.section.widths.found?.kind === 'wall' && bench.section.widths.found", "a wall")
    assert found["value"] == pytest.approx(6)
    hand.click('[data-cut="off"]')
    hand.pick(hand.faces["end"])
    hand.click('[data-cut="pick"]')
    hand.until("bench.section.cut?.parts.length === 1", "the cut along the end of the boss")
    assert hand.text("#foot-section") == "Z 22 mm, 1 part cut"


def test_beside_the_model_the_section_is_flat_and_goes_to_a_file(opened, downloads):
    hand = opened
    hand.click('[data-cut="flat"]')
    hand.until("document.querySelectorAll('#flat .flat-part').length === 1", "the flat section")
    hand.until("document.querySelector('#flat-areas tr[data-node]')", "its areas")
    assert "664 mm²" in hand.text("#flat-areas")  # 2 × (26 × 10 + 6 × 12)
    cut_at(hand, "15")
    hand.until("!document.querySelector('#flat-areas').innerText.includes('664')", "other areas")
    cut_at(hand, "20")
    hand.until("document.querySelector('#flat-areas').innerText.includes('664')", "the areas again")
    x, y = hand.js(
        """const f = bench.section.flat, [u, v] = bench.section.cut.flat({x: 34, y: 20, z: 6}), s = f.spot(u, v);
        const r = f.sheet.getBoundingClientRect(); return [r.x + s.x, r.y + s.y];"""
    )
    pointer = hand.pointer()
    pointer.move_to_location(round(x), round(y)).pointer_down().pointer_up()
    hand.actions.perform()
    hand.until("page.picked[0]?.kind === 'face'", "the wall picked on the sheet")
    for old in downloads.glob("section*"):
        old.unlink()
    hand.click('[data-save-section="dxf"]')
    hand.until("page.edit === 'save section'", "the line")
    hand.quiet()
    hand.keys(Keys.ENTER)
    end = time.monotonic() + 20
    while not (downloads / "section.dxf").exists() and time.monotonic() < end:
        time.sleep(0.1)
    lines = ezdxf.readfile(downloads / "section.dxf").modelspace().query("LINE")
    assert sum(line.dxf.start.distance(line.dxf.end) for line in lines) == pytest.approx(2 * (26 * 2 + 22 * 2 + 6 - 6))
    hand.click('[data-cut="off"]')
    assert not hand.js("return document.querySelector('#view').classList.contains('halved')")


def test_a_part_is_moved_while_its_gap_is_watched(hand, page, tmp_path):
    ident, _ = page.model_with(step_file(tmp_path / "low.step", build.box(20, 20, 10), "Low"), "Low")
    high = step_file(tmp_path / "high.step", build.box(20, 20, 10, (0, 0, 12)), "High")
    page.upload(f"/m/{ident}/import", "high.step", high.read_bytes())
    page.wait_for_jobs(ident)
    hand.open(ident)
    hand.js("page.look('corner')")
    hand.click('[data-cut="y"]')
    hand.until("bench.section.cut?.parts.length === 2", "both parts cut")
    hover(hand, 4, 10, 11)
    assert hand.until("bench.section.widths.found", "the gap")["value"] == pytest.approx(2)
    node = hand.js("return page.nodes.find((n) => n.name === 'High').id")
    hand.js("bench.pick([{kind: 'node', node: arguments[0], index: 0, id: arguments[0]}])", node)
    hand.offered()
    hand.keys(*"move body along z distance 3 mm", Keys.ENTER)
    hand.until("page.edit === 'move body'", "the line")
    hand.until("Math.abs(bench.section.widths.found?.value - 5) < 1e-9", "the gap as it would be")
    hand.keys(Keys.ESCAPE)
    hand.until("Math.abs(bench.section.widths.found?.value - 2) < 1e-9", "the gap as it is")

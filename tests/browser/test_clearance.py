"""Room between parts at the stage Prove, and the fit of a picked pin in a picked hole."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.keys import Keys

from ravine.core.kernel import build
from tests.parts import step_file


@pytest.fixture
def fitted(hand, page, tmp_path):
    """A plate with a hole Ø 25.02, a pin Ø 25 in it, and a block sunk 2 mm into the plate."""
    plate = build.subtract(build.box(60, 40, 10), build.cylinder(12.51, 12, (20, 20, -1)))
    shapes = {"Plate": plate, "Pin": build.cylinder(12.5, 30, (20, 20, -10)), "Sunk": build.box(8, 8, 8, (48, 16, 8))}
    ident = page.new("Fitted")
    for name, shape in shapes.items():
        path = step_file(tmp_path / f"{name}.step", shape, name)
        page.upload(f"/m/{ident}/import", path.name, path.read_bytes())
        page.wait_for_jobs(ident)
    hand.open(ident)
    hand.js("page.look('corner')")
    return hand


def test_overlaps_and_gaps_are_listed_gone_to_and_followed(fitted):
    hand = fitted
    hand.click('.stage[data-stage="Prove"]')
    hand.until("document.querySelectorAll('#clearance .flaw').length === 2", "the list")
    assert "overlap 128 mm³" in hand.text("#clearance .flaw:nth-child(1)")
    assert "gap 0.01 mm" in hand.text("#clearance .flaw:nth-child(2)")
    hand.click("#clearance .flaw:nth-child(1) [data-pair-go]")
    hand.until("bench.clearance.shared && page.picked.length === 2", "what both take up")
    low, high = hand.js(
        """const g = bench.clearance.shared.geometry; g.computeBoundingBox();
        return [g.boundingBox.min.toArray(), g.boundingBox.max.toArray()];"""
    )
    assert (low, high) == (pytest.approx([48, 16, 8]), pytest.approx([56, 24, 10]))
    hand.click("#clearance .flaw:nth-child(1) [data-pair-alone]")
    hand.until("document.querySelector('#foot-hidden').innerText === '1 part'", "the two alone")
    hand.until("document.querySelectorAll('#clearance .flaw').length === 1", "hidden parts are left out")
    hand.js("bench.hide(new Set())")
    hand.until("document.querySelectorAll('#clearance .flaw').length === 2", "the whole list")
    hand.click("#clearance .flaw:nth-child(2) [data-pair-cut]")
    hand.until("bench.section.cut?.parts.length >= 2", "the model cut open there")
    hand.click('[data-cut="off"]')
    sunk = hand.js("return page.nodes.find((n) => n.name === 'Sunk').id")
    hand.js("bench.pick([{kind: 'node', node: arguments[0], index: 0, id: arguments[0]}])", sunk)
    hand.offered()
    hand.keys(*"move body along z distance 2.4 mm", Keys.ENTER)
    hand.until("page.edit === 'move body'", "the line")
    hand.accept()
    hand.until("document.querySelector('#clearance')?.innerText.includes('gap 0.4 mm')", "the gap that is left")
    assert "overlap" not in hand.text("#clearance")
    hand.put("#clearance [name=within]", Keys.CONTROL, "a", Keys.NULL, "0.1 mm", Keys.ENTER)
    hand.until("document.querySelectorAll('#clearance .flaw').length === 1", "what is nearer than a tenth")


def test_two_round_faces_tell_their_fit(fitted):
    hand = fitted
    round_ = hand.js(
        """const found = []; for (const [node, place] of bench.view.places)
        place.drawable.shape.faces.forEach((m, index) => { if (m.normals[2] === 0 && m.points.length > 60)
          found.push({kind: 'face', node, index, id: 'f' + place.body.faces[index]}); });
        bench.pick(found); return found.length;"""
    )
    assert round_ == 2
    agree = "[...document.querySelectorAll('#fits .agrees b')].map((b) => b.innerText).join(' ')"
    hand.until(f"{agree} === 'H8/f7 H7/g6 H7/h6'", "the fits it agrees with")
    assert "Clearance 0.02 mm" in " ".join(hand.text("#fits .facts").split())

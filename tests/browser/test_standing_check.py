"""The standing check on the page: its count at the foot, its findings at Prove, one accepted with a note."""

from selenium.webdriver.common.keys import Keys

from ravine.core.kernel import build
from tests.parts import step_file


def test_findings_are_counted_gone_to_and_accepted(hand, page, tmp_path):
    plate = build.subtract(build.box(40, 30, 10), build.cylinder(4, 12, (10, 15, -1)))
    ident, _ = page.model_with(step_file(tmp_path / "plate.step", plate, "Plate"), "Press fit")
    for name, shape in (("Pin", build.cylinder(4, 20, (10, 15, 0))), ("Block", build.box(8, 8, 8, (30, 10, 6)))):
        file = step_file(tmp_path / f"{name}.step", shape, name)
        assert page.upload(f"/m/{ident}/import", file.name, file.read_bytes()).status == 200
    page.wait_for_jobs(ident)
    hand.open(ident)
    hand.until("document.querySelector('#foot-check').innerText === '1 to look at'", "the count at the foot")
    hand.click("#foot-check")
    hand.until("document.querySelector('#standing [data-key]')?.innerText.includes('Plate and Block overlap')", "it")
    hand.until("document.querySelector('.fits-of-all b')?.innerText === '1'", "the pin in its hole")
    hand.click("#standing [data-find]")
    hand.until("page.ids.length === 2", "both parts picked")
    hand.put("#standing [data-accept]", "glued in", Keys.ENTER)
    hand.until("document.querySelector('#foot-check').innerText === 'nothing found'", "nothing left")
    hand.until("document.querySelector('#standing .flaw')?.innerText.includes('accepted: glued in')", "the note")

"""The stage Hand over: a sheet begun on the line, sizes picked and placed, views moved and cut, the sheet follows the
model."""

import re
import time

import pytest
from selenium.webdriver.common.action_chains import ActionChains

from ravine.core import Model

SPOT = """const svg = document.querySelector('.paper-sheet');
    const at = new DOMPoint(arguments[0], -arguments[1]).matrixTransform(svg.getScreenCTM());
    return [at.x, at.y]"""
VIEWS = "document.querySelectorAll('.sheet-view').length"
SAYS = "[...document.querySelectorAll('.sheet-item')].map((g) => g.dataset.says)"
# the middle of a line of a view, on the paper, by a test of its ends
LINE = """for (const path of document.querySelectorAll(`.sheet-view[data-view="${arguments[0]}"] .touch`)) {
      const [a, b, m] = [0, 1, 0.37].map((t) => path.getPointAtLength(t * path.getTotalLength()));
      if (new Function('a', 'b', 'd', `return ${arguments[1]}`)(a, b, path.getAttribute('d'))) return [m.x, -m.y];
    }
    return null"""


def point(hand, place, click=True, shift=False):
    """The pointer goes to a place on the paper (mm, y up)."""
    x, y = hand.js(SPOT, *place)
    chain = ActionChains(hand.driver, duration=20)
    chain.w3c_actions.pointer_action.move_to_location(round(x), round(y))
    chain.w3c_actions.key_action.pause()
    if shift:
        chain.key_down("\ue008")
    if click:
        chain.click()
    if shift:
        chain.key_up("\ue008")
    chain.perform()


def view_numbers(hand):
    return hand.js("return [...document.querySelectorAll('.sheet-view')].map((g) => Number(g.dataset.view))")


def at(hand, view):
    return hand.js(f"return bench.paper.drawn.frame({view}).at")


@pytest.fixture(scope="module")
def faces(tmp_path_factory, boss_file):
    """Ids in a model that has just the boss: its right side, and the hole."""
    model = Model()
    model.do("import", path=str(boss_file))
    hole = min(model.faces(kind="cylinder"), key=lambda f: f.radius)
    return model.faces(kind="plane", normal=(1, 0, 0))[0].id, hole.id


def test_a_sheet_from_nothing_to_a_file(boss, hand, downloads, faces):
    right, _ = faces
    hand.js("bench.setStage('Hand over')")
    hand.until("document.querySelector('#drawings')?.innerText.includes('No sheet yet')", "the empty list")
    hand.click("[data-begin-sheet]")
    hand.until("page.edit === 'begin sheet'", "the line")
    hand.quiet()
    hand.accept()
    hand.until(f"{VIEWS} === 4", "the usual views")
    front, top, *_ = view_numbers(hand)

    # a size by picking: the front edge in the view from above, then a click where it stands
    line = hand.js(LINE, top, "d.includes('L') && Math.abs(a.y - b.y) < 1e-3 && Math.abs(a.x - b.x) > 30")
    point(hand, line)
    hand.until("document.querySelector('#on-sheet')?.innerText.includes('Length')", "what can be written")
    hand.keys("1")
    hand.until("Boolean(bench.paper.hand.placing)", "it hangs on the hand")
    x, y = at(hand, top)
    point(hand, (x, y - 48), click=False)
    hand.until("document.querySelector('.sheet-ghost').innerHTML.includes('60')", "it is drawn under the hand")
    point(hand, (x, y - 48))
    hand.until(f"{SAYS}.includes('60')", "the size")

    # two lines with Shift: the distance between them
    upright = "d.includes('L') && Math.abs(a.x - b.x) < 1e-3 && Math.abs(a.y - b.y) > 15"
    sides = [hand.js(LINE, top, f"{upright} && {sign} * (a.x - {x}) > 0") for sign in (-1, 1)]
    point(hand, sides[0])
    point(hand, sides[1], shift=True)
    hand.until("bench.paper.lines.length === 2", "both")
    hand.until("document.querySelector('#on-sheet').innerText.includes('2 lines')", "what can be written of two")
    hand.keys("1")
    hand.until("Boolean(bench.paper.hand.placing)", "it hangs on the hand")
    hand.keys("\ue007")
    hand.until(f"{SAYS}.filter((t) => t === '60').length === 2", "the distance, placed by the keyboard")

    # the front view is moved: what hangs on it goes along and keeps in line
    before = at(hand, front)
    ground = (before[0], before[1] + 9)
    x0, y0 = hand.js(SPOT, *ground)
    ActionChains(hand.driver, duration=20).w3c_actions.pointer_action.move_to_location(round(x0), round(y0))
    hand.js("bench.paper.choose({view: arguments[0]})", front)
    hand.until("document.querySelector('#on-sheet').innerText.includes('Front')", "the view is picked")
    hand.keys("\ue014")
    hand.until(f"bench.paper.drawn.frame({front}).at[0] === {before[0] + 1}", "one to the right")
    assert at(hand, top)[0] == before[0] + 1

    # a section and hidden lines, from what is offered for a view
    hand.keys("4")
    hand.until(f"{VIEWS} === 5", "the section")
    assert hand.js("return document.querySelector('#drawings').innerText.includes('Section A–A')")

    # the model changes, and the sheet with it
    hand.js("bench.paper.inPlace.keep({edit: 'push', values: {faces: [arguments[0]], distance: '5 mm'}})", right)
    hand.until(f"{SAYS}.filter((t) => t === '65').length === 2", "the sizes follow")
    hand.click("#step-back")
    hand.until(f"{SAYS}.filter((t) => t === '60').length === 2", "and go back")

    # tolerance of one, in its words
    hand.js("bench.paper.choose({item: Number(document.querySelector('.sheet-item').dataset.item)})")
    hand.until("Boolean(document.querySelector('[data-word=\"tolerance\"]'))", "its words")
    hand.put("[data-word='tolerance']", "±0.1", "\ue004")
    hand.until(f"{SAYS}.includes('60 ±0.1')", "the tolerance")

    hand.click('[data-save-sheet="pdf"]')
    hand.until("page.edit === 'save drawing'", "the line")
    hand.quiet()
    for old in downloads.glob("*.pdf"):
        old.unlink()
    hand.keys("\ue007")
    end = time.monotonic() + 20
    while not (files := list(downloads.glob("*.pdf"))) and time.monotonic() < end:
        time.sleep(0.1)
    assert files[0].read_bytes().startswith(b"%PDF")


def test_sizes_are_proposed_and_one_that_lost_its_edge_is_told(boss, hand, faces):
    _, hole = faces
    hand.js("bench.setStage('Hand over')")
    hand.js("""bench.paper.inPlace.keep({edit: 'begin sheet', values: {size: 'A3', called: 'Plate'}})
        .then(() => bench.paper.open('Plate'))""")
    hand.until(f"{VIEWS} === 4", "the sheet")
    hand.click("[data-propose]")
    hand.until("document.querySelectorAll('.sheet-item').length > 4", "the proposal")
    assert hand.js(f"return {SAYS}.some((t) => t.startsWith('⌀8'))")
    count = hand.js("return document.querySelectorAll('.sheet-item').length")
    hand.js("bench.paper.inPlace.keep({edit: 'remove', values: {faces: [arguments[0]]}})", hole)
    hand.until("document.querySelector('#drawings').innerText.includes('To be looked at')", "what is lost is told")
    assert hand.js("return document.querySelectorAll('.sheet-item').length") == count
    assert hand.js("return document.querySelectorAll('.sheet-item.lost').length") >= 2
    hand.click("#drawings .flaw .part-name")
    hand.until("bench.paper.item > 0", "it is picked")
    hand.keys("\ue017")
    hand.until(f"document.querySelectorAll('.sheet-item').length === {count - 1}", "taken off the sheet")
    hand.keys("\ue00c")
    hand.until("!bench.paper.item", "nothing is picked")
    hand.keys("\ue00c")
    hand.until("document.querySelector('#paper').hidden", "the model again")
    assert re.search(r"A3, 4 views", hand.text("#drawings"))


def test_a_cutting_line_is_drawn_from_middle_to_middle(boss, hand):
    hand.js("bench.setStage('Hand over')")
    hand.js("""bench.paper.inPlace.keep({edit: 'begin sheet', values: {size: 'A3', called: 'Plate'}})
        .then(() => bench.paper.open('Plate'))""")
    hand.until(f"{VIEWS} === 4", "the sheet")
    _, top, *_ = view_numbers(hand)
    hand.js("bench.paper.choose({view: arguments[0]})", top)
    hand.until("Boolean(document.querySelector('[data-cut-line]'))", "what can be done with it")
    hand.js("document.querySelector('[data-cut-line]').click()")
    x, y = hand.js("return bench.paper.drawn.middles(arguments[0])[0]", top)
    scale = hand.js("return bench.paper.drawn.frame(arguments[0]).factor", top)
    for place in ((x - 45 * scale, y + 1), (x + 1.2, y - 0.9), (x + 40 * scale, y + 25 * scale)):
        point(hand, place)
    assert hand.js("return bench.paper.hand.draft.places[1]") == [x, y]  # it fell on the middle of the hole
    assert hand.js("return bench.paper.hand.draft.places[0][1]") == y
    hand.keys("\ue007")
    hand.until(f"{VIEWS} === 5", "the section")
    cut = "document.querySelector('.sheet-view[data-kind=\"section\"]')"
    box = hand.js(f"const b = {cut}.getBBox(); return [b.x, -b.y - b.height, b.x + b.width, -b.y]")
    assert box[1] > 0  # on the paper
    assert box[3] < 297
    half = hand.js(f"return bench.paper.drawn.frame(Number({cut}.dataset.view)).at[0]")
    corner = (30 * 40 + 20 * 25) / (40**2 + 25**2) ** 0.5  # of the plate, behind the slanting leg, along it
    assert box[2] - half == pytest.approx(corner * scale + 3, abs=0.1)  # and 3 mm of ground around it


def test_a_review_tells_and_hatches_what_changed(boss, hand, faces):
    right, hole = faces
    hand.js("bench.setStage('Hand over')")
    hand.until("Boolean(document.querySelector('[data-since]'))", "the earlier states")
    base = hand.revision()
    hand.js("bench.paper.inPlace.keep({edit: 'push', values: {faces: [arguments[0]], distance: '5 mm'}})", right)
    hand.until(f"Boolean(document.querySelector('[data-since] option[value=\"{base}\"]'))", "the state before")
    pushed = hand.revision()
    hand.js("bench.paper.inPlace.keep({edit: 'remove', values: {faces: [arguments[0]]}})", hole)
    hand.until(f"Boolean(document.querySelector('[data-since] option[value=\"{pushed}\"]'))", "and the next")
    choose = """const s = document.querySelector('[data-since]'); s.value = String(arguments[0]);
        s.dispatchEvent(new Event('change', {bubbles: true}))"""
    hand.js(choose, base)
    hand.until("document.querySelector('.review-told')?.innerText.includes('moved by 5 mm along X')", "in words")
    told = hand.text("#review")
    assert "1 moved" in told
    assert "gone" in told
    assert hand.js("return bench.review.marks.children.length") >= 3
    hand.click("[data-pick-change]")
    hand.until(f"page.ids.includes('{right}')", "the face that moved")
    hand.click("[data-colours]")
    hand.until("bench.review.marks.children.length === 0", "without colours")
    hand.click("[data-colours]")
    compared_with_one_camera(hand)
    hand.click("[data-missing]")
    hand.until("document.querySelector('[data-lacks]').innerText.includes('no material is said')", "what is missing")
    hand.js("bench.setStage('Shape')")
    hand.until("document.querySelector('#review').hidden", "the panel is gone")


def compared_with_one_camera(hand):
    """Beside it, over it, up to a line: by what the canvas shows on either side."""
    turned = "bench.review.compared"
    ink = """const view = bench.view; view.renderer.getContext(); bench.view.comparing.render();
        const c = document.createElement('canvas'); c.width = 40; c.height = 20;
        const pen = c.getContext('2d'); pen.drawImage(view.canvas, 0, 0, 40, 20);
        const d = pen.getImageData(0, 0, 40, 20).data;
        const half = [0, 0]; for (let i = 0; i < d.length; i += 4) half[(i / 4) % 40 < 20 ? 0 : 1] += d[i + 3];
        return half"""
    hand.click("[data-way='beside']")
    hand.until(f"{turned}.way === 'beside' && {turned}.places.length === 1", "the state before, beside")
    left, right = hand.js(ink)
    assert left == pytest.approx(right, rel=0.35)
    assert left > 0
    span = hand.js("return bench.view.camera.share")
    assert span == 0.5
    before, after = (hand.js(f"return {box}") for box in (f"{turned}.box.max.x", "bench.view.box.max.x"))
    assert (before, after) == (pytest.approx(60, abs=0.01), pytest.approx(65, abs=0.01))
    assert hand.text("#compared [data-side=was]").startswith("revision")
    # a click in the picture of the state before picks what is at that place of the open one
    x, y, wide = hand.js("""const b = bench.view.canvas.getBoundingClientRect();
        const p = bench.view.camera.project(bench.view.box.getCenter(bench.view.camera.target.clone()));
        return [p.x, p.y, b.width]""")
    ways = [
        hand.js("return bench.view.camera.ray(...arguments).ray.direction.toArray()", at, y) for at in (x, x - wide / 2)
    ]
    assert ways[0] == pytest.approx(ways[1])
    hand.click("[data-way='wiped']")
    hand.until(f"{turned}.way === 'wiped'", "up to a line")
    assert hand.js("return bench.view.camera.share") == 1
    hand.js("document.querySelector('#wipe').focus()")
    hand.keys("\ue012")
    assert hand.js(f"return {turned}.share") == pytest.approx(0.48)
    hand.click("[data-way='over']")
    hand.until(f"{turned}.way === 'over' && {turned}.marks.children.length > 0", "over the model")
    hand.click("[data-way='over']")
    hand.until("bench.view.comparing === null && document.querySelector('#compared').hidden", "the model alone")


def test_notes_are_pinned_answered_and_settled(boss, hand, faces):
    right, _ = faces
    hand.js("bench.setStage('Hand over')")
    hand.until("Boolean(document.querySelector('[data-pin-note]'))", "the notes")
    hand.click("[data-pin-note]")
    hand.until("document.querySelector('#told').innerText.includes('a note says something')", "nothing was written")
    hand.js("page.pick(arguments[0])", [right])
    hand.put("[data-new-note]", "Is 40 enough here?")
    hand.click("[data-with-view]")
    hand.click("[data-pin-note]")
    hand.until("document.querySelectorAll('.note').length === 1", "the note")
    hand.until("document.querySelectorAll('.note-flag').length === 1", "its flag")
    hand.until("document.querySelector('.note-shown img')?.naturalWidth > 300", "what was seen")
    assert hand.js("return document.querySelector('.note').dataset.at.split(',').map(Number)[0]") == 60
    hand.put("[data-answer]", "Yes, see the study.", "\ue007")
    hand.until("document.querySelector('.note').innerText.includes('see the study')", "the answer")
    hand.click("[data-note-state]")
    hand.until("document.querySelector('.note').classList.contains('settled')", "it is settled")
    hand.click("[data-judge='approved']")
    hand.until("document.querySelector('#notes').innerText.includes('approved by')", "the revision is approved")
    hand.open(hand.ident)
    hand.js("bench.setStage('Hand over')")
    hand.until("document.querySelectorAll('.note.settled').length === 1", "all of it is there on a new page")
    hand.js("bench.pick([])")
    hand.click(".note [data-pick-change]")
    hand.until(f"page.ids.includes('{right}')", "the face it is pinned to")

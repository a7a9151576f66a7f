"""Joints on the page: a pin is dragged on to its bore, set, moved as it is free, and its joint flipped and dropped."""

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from ravine.core.kernel import build
from tests.parts import step_file

WALLS = """const found = {};
    for (const [node, place] of bench.view.places) {
      const faces = place.drawable.shape.faces;
      const most = Math.max(...faces.map((f) => f.normals.length));
      faces.forEach((f, k) => {
        const called = f.normals.length === most ? 'wall' : f.normals[2] > 120 ? 'top' : f.normals[2] < -120 ? 'under' : 'side';
        found[`${place.body.name} ${called}`] = {kind: 'face', node, index: k, id: `f${place.body.faces[k]}`};
      });
    }
    return found"""  # noqa: E501
CHOOSE = """const gap = document.querySelector(`#line [name=${arguments[0]}]`);
    gap.value = arguments[1];
    gap.dispatchEvent(new Event('input', {bubbles: true}))"""
PLACE = "[...bench.view.places.values()].find((p) => p.body.name === 'Pin').group.matrix.elements"


@pytest.fixture
def pin(hand, page, tmp_path):
    base = build.subtract(build.box(60, 40, 10), build.cylinder(5, 12, (20, 20, -1)))
    ident, _ = page.model_with(step_file(tmp_path / "base.step", base, "Base"), "Jig")
    file = step_file(tmp_path / "pin.step", build.cylinder(5, 30, (90, 20, 0)), "Pin")
    assert page.upload(f"/m/{ident}/import", file.name, file.read_bytes()).status == 200
    page.wait_for_jobs(ident)
    hand.open(ident)
    hand.js("bench.setStage('Assemble')")
    hand.until("document.querySelector('#joints .none')", "the empty list")
    return hand


def test_a_part_is_dragged_on_to_another_and_stays_joined(pin):
    hand = pin
    walls = hand.js(WALLS)
    hand.js("bench.pick([arguments[0]])", walls["Pin wall"])
    start, end = (hand.spot_of(int(walls[name]["id"][1:])) for name in ("Pin wall", "Base wall"))
    canvas = hand.find("#canvas")
    middle = [hand.js(f"return bench.view.canvas.client{side} / 2") for side in ("Width", "Height")]
    off = [[round(v - m) for v, m in zip(spot, middle, strict=True)] for spot in (start, end)]
    hand.js("bench.hover(null)")
    moves = ActionChains(hand.driver, duration=80).move_to_element_with_offset(canvas, *off[0]).click_and_hold()
    for share in (0.3, 0.7, 1):
        at = [round(a + share * (b - a)) for a, b in zip(*off, strict=True)]
        moves = moves.move_to_element_with_offset(canvas, *at)
    moves.perform()
    hand.until(f"Math.abs({PLACE}[12] + 70) < 1e-6", "the likely fit shown before letting go")
    ActionChains(hand.driver).send_keys("f").perform()
    hand.until(f"{PLACE}[10] < -0.999", "turned the other way round")
    ActionChains(hand.driver).send_keys("f").release().perform()
    hand.until("page.edit === 'join'", "the line")
    assert hand.js("return bench.line.words()") == "Join 1 face to 1 face coaxial"
    hand.quiet()
    hand.accept()
    assert "Joined a round face of Pin to a hole of Base, coaxial" in hand.text(".journal .here")
    hand.until("document.querySelector('.joint.holds')", "the joint in the list")
    hand.until(
        "document.querySelector('#joints .free')?.innerText.includes('slides along Z, turns about Z')", "freedoms"
    )

    hand.click("[data-play-free]")
    hand.until("document.querySelector('#played output')?.innerText.includes('nothing clashes')", "the motion played")
    turn = f"Math.hypot({PLACE}[0] - 1, {PLACE}[1]) > 1"
    hand.js("""const range = document.querySelector('#played input'); range.value = range.max / 4;
        range.dispatchEvent(new Event('input', {bubbles: true}))""")
    hand.until(turn, "the pin turned in the view")
    hand.click("[data-leave-play]")
    hand.until(f"!({turn})", "the pin back where it stands")
    hand.click("[data-move-free]")
    hand.until("page.edit === 'move free'", "the line")
    hand.js(CHOOSE, "motion", "slide")
    hand.put('#line [name="distance"]', Keys.CONTROL, "a", Keys.NULL, "8")
    hand.quiet()
    hand.accept()
    hand.until(f"Math.abs({PLACE}[14] - 8) < 1e-6", "the pin 8 mm along its bore")

    hand.js("bench.pick([arguments[0], arguments[1]])", walls["Pin under"], walls["Base top"])
    hand.until("page.ids.length === 2 && page.offered", "both faces")
    hand.act("join")
    hand.until("page.edit === 'join'", "the line")
    hand.js(CHOOSE, "kind", "distance")
    hand.put('#line [name="distance"]', "3")
    hand.quiet()
    hand.accept()
    hand.until("document.querySelectorAll('.joint').length === 2", "both joints")
    hand.until(f"Math.abs({PLACE}[14] - 13) < 1e-6", "the pin 3 mm over the base")
    hand.put("[data-joint=J2] input", Keys.CONTROL, "a", Keys.NULL, "-4", Keys.ENTER)
    hand.until(f"Math.abs({PLACE}[14] - 6) < 1e-6", "the value set in the list")
    hand.js("document.querySelector('[data-joint=J2] [data-state=rest]').click()")
    hand.until("document.querySelector('[data-joint=J2].rests')", "the joint at rest")
    hand.js("document.querySelector('[data-joint=J2] [data-drop]').click()")
    hand.until("document.querySelectorAll('.joint').length === 1", "the joint dropped")
    assert "Dropped J2" in hand.text(".journal .here")


def test_a_part_is_dragged_along_its_free_motion_into_contact(pin, page, tmp_path):
    """A lid over the bore: the pin, let go of far beyond it, stands against it."""
    hand = pin
    file = step_file(tmp_path / "lid.step", build.box(30, 30, 4, (5, 5, 45)), "Lid")
    ident = int(hand.driver.current_url.rsplit("/", 1)[1])
    assert page.upload(f"/m/{ident}/import", file.name, file.read_bytes()).status == 200
    page.wait_for_jobs(ident)
    hand.until("bench.view.places.size === 3", "the lid")
    walls = hand.js(WALLS)
    placed = [f"{walls[n]['id']}@{walls[n]['node']}" for n in ("Pin wall", "Base wall")]
    base = hand.revision()
    page.edit(ident, page.scene(ident)["revision"], "join", kind="coaxial", of=placed[:1], to=placed[1:])
    hand.until(f"page.revision !== {base}", "the joint")
    hand.until(f"Math.abs({PLACE}[12] + 70) < 1e-6", "the pin in its bore")
    hand.js(
        "bench.pick([arguments[0]])",
        {"kind": "node", "node": walls["Pin wall"]["node"], "id": walls["Pin wall"]["node"]},
    )
    hand.until("page.offered", "its actions")
    hand.js("bench.line.open('move free', page.ids, {motion: 'slide', contact: 'stop'})")
    hand.until("page.edit === 'move free'", "the line")
    hand.quiet()
    hand.js("page.look('front')")
    hand.drag(".knob", 0, -260, steps=6)
    hand.quiet()
    hand.until("document.querySelector('#line-facts')?.innerText.includes('stops at')", "what it meets")
    assert "Lid" in hand.text("#line-facts")
    hand.accept()
    # the pin is 30 high and stood at 0; the lid lies at 45
    hand.until(f"Math.abs({PLACE}[14] - 15) < 1e-4", "the pin against the lid")

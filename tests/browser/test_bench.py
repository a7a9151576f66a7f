"""The bench, worked in a real browser: bring in, pick, drag, type, accept, step, save."""

import math

import pytest
import trimesh
from selenium.webdriver.common.keys import Keys

from ravine.core import Model
from tests.part21 import Part21

RING = math.pi * (100 - 16)
WHOLE = 60 * 40 * 10 + math.pi * (100 * 12 - 16 * 22)


def volume_of(path):
    model = Model()
    return model.measure(model.do("import", path=str(path)).added[0]).volume


def test_from_a_file_to_an_exact_push_and_out_again(hand, downloads, boss_file):
    hand.driver.get(hand.address)
    hand.put("#file", str(boss_file))
    hand.until("location.pathname.startsWith('/m/')", "the bench")
    hand.ready()
    hand.until("page.bodies.length === 1 && bench.view.places.size === 1", "the part")
    hand.until("document.querySelector('.part-name')?.innerText === 'Boss plate'", "the parts list")
    assert "Brought in boss.step" in hand.text("#journal")
    body = hand.body()
    hand.js("page.look('corner')")
    end = next(f for f in body["faces"] if describe(hand, f).get("To opposite") == "22 mm")
    hand.pick(end)
    assert "1 flat face" in hand.text("#actions")
    hand.keys("1")
    hand.until("document.querySelector('[name=distance]') === document.activeElement", "the focus in the gap")
    hand.keys("12.5")
    hand.until("document.querySelector('.fact.plus')?.innerText === '+3299 mm³'", "the fact")
    assert hand.text(".knob-tag") == "12.5 mm"
    assert "not accepted yet" in hand.text("#journal")
    hand.accept()
    hand.until("document.querySelector('.journal .here')?.innerText.includes('out by 12.5 mm')", "the journal")
    path = hand.saved(downloads, "Boss plate.step", "export")
    assert volume_of(path) == pytest.approx(WHOLE + RING * 12.5, rel=1e-9)
    assert len(Part21(path.read_bytes()).all("ADVANCED_FACE")) == len(body["faces"])
    mesh = trimesh.load(hand.saved(downloads, "Boss plate.stl", "export stl"))
    assert mesh.is_watertight
    assert mesh.volume == pytest.approx(WHOLE + RING * 12.5, rel=2e-3)


def describe(hand, face):
    return hand.js(
        """const x = new XMLHttpRequest(); x.open('POST', bench.url('pick'), false);
        x.setRequestHeader('X-Ravine', '1'); x.setRequestHeader('Content-Type', 'application/x-www-form-urlencoded');
        x.send('stage=Shape&picked=f' + arguments[0]);
        const page = new DOMParser().parseFromString(x.responseText, 'text/html');
        return Object.fromEntries([...page.querySelectorAll('.facts div')].map(
          (d) => [d.querySelector('dt').firstChild.textContent.trim(), d.querySelector('dd').innerText]));""",
        face,
    )


def test_dragging_the_bead_previews_live_and_the_number_follows(boss):
    hand = boss
    hand.pick(hand.faces["end"])
    hand.click('.action[data-edit="push"]')
    hand.until("document.querySelector('.knob')", "the knob")
    start = hand.js("return bench.view.frames")
    x, y = hand.js("const s = bench.handle.onScreen(); return [s.dx * 60, s.dy * 60]")
    hand.drag(".knob", x, y, steps=8, release=False)
    hand.until("bench.previewing", "a preview while the button is down")
    hand.until("bench.view.marks.ghost.children.length > 0", "the added matter")
    assert hand.js("return bench.view.frames") > start
    hand.let_go()
    hand.quiet()
    value = float(hand.attribute('[name="distance"]', "value").split()[0])
    expected = hand.js("return 60 / bench.handle.onScreen().scale")
    assert value == pytest.approx(expected, rel=0.2)
    hand.until("document.querySelector('.fact.plus')?.innerText.startsWith('+')", "the volume")
    before = hand.revision()
    hand.accept()
    assert hand.revision() > before
    z = hand.js("return page.box.max.z")
    assert z == pytest.approx(22 + value, abs=1e-3)


def test_step_back_and_forward_through_keys_buttons_and_journal(boss):
    hand = boss
    hand.pick(hand.faces["end"])
    for distance in ("3", "4"):
        hand.keys("1")
        hand.until("document.activeElement?.name === 'distance'", "the gap")
        hand.keys(distance)
        hand.quiet()
        hand.accept()
    top = "return Math.round(1000 * page.box.max.z) / 1000"
    assert hand.js(top) == 29
    hand.with_control("z")
    hand.until("page.box.max.z < 26", "the step back")
    assert hand.js(top) == 25
    hand.until("document.querySelectorAll('.journal .ahead').length === 1", "the journal")
    hand.until("!document.querySelector('#step-forward').disabled", "the button")
    hand.click("#step-forward")
    hand.until("page.box.max.z > 28", "the step forward")
    hand.until("!document.querySelector('.journal .ahead')", "the journal")
    hand.click(".journal li:nth-child(2) [data-go]")
    hand.until("page.box.max.z < 23", "the first state")
    assert hand.js(top) == 22
    hand.open(hand.ident)
    assert hand.js(top) == 22
    assert hand.js("return document.querySelectorAll('.journal .ahead').length") == 2


def test_a_refusal_names_reason_and_nearest_value_which_one_click_takes(boss):
    hand = boss
    hand.pick(hand.faces["end"])
    hand.keys("1")
    hand.until("document.activeElement?.name === 'distance'", "the gap")
    hand.keys("12,5")
    hand.until("document.querySelector('[data-take-nearest]')", "the hint")
    assert "write 12.5" in hand.text("#line-facts")
    hand.js("document.querySelector('[data-take-nearest]').click()")
    hand.until("document.querySelector('.fact.plus')?.innerText === '+3299 mm³'", "the fact")
    hand.keys(Keys.ESCAPE)
    hand.click('[data-look="below"]')
    hand.pick(hand.faces["bottom"])
    hand.keys("1")
    hand.until("document.activeElement?.name === 'distance'", "the gap")
    hand.keys("-80")
    hand.until("document.querySelector('#line-facts')?.innerText.includes('nothing of the body')", "the reason")
    assert hand.attribute('[name="distance"]', "aria-invalid") == "true"
    hand.until("document.querySelector('[data-take-nearest]')", "the nearest value")
    hand.js("document.querySelector('[data-take-nearest]').click()")
    hand.until("document.querySelector('.fact.minus')", "a cut that works")
    hand.keys(Keys.ESCAPE)
    hand.until("document.querySelector('#line').hidden && !bench.previewing", "the end of the line")
    assert hand.js("return Math.round(page.box.max.z)") == 22


def test_picking_faces_edges_corners_and_parts(boss):
    hand = boss
    hand.pick(hand.faces["end"])
    hand.pick(hand.faces["wall"], shift=True)
    assert hand.text("#foot-picked") == "2 faces"
    assert "2 faces" in hand.text("#actions")
    hand.pick(hand.faces["end"], shift=False)
    hand.click_canvas(*hand.spot_of(hand.faces["end"]), shift=True)
    hand.until("page.ids.length === 0", "the end of the pick")
    spot = hand.js(
        """const [[node, place]] = bench.view.places; const V = page.camera.target.constructor;
        const on = (p) => page.camera.project(new V(...p).applyMatrix4(place.group.matrix));
        return {edge: on([30, 0, 10]), corner: on([60, 0, 10]), node};"""
    )
    hand.click_canvas(spot["edge"]["x"], spot["edge"]["y"])
    hand.until("page.picked[0]?.kind === 'edge'", "the edge")
    hand.until("document.querySelector('.facts')?.innerText.includes('60 mm')", "its length")
    hand.click_canvas(spot["corner"]["x"], spot["corner"]["y"])
    hand.until("page.picked[0]?.kind === 'vertex'", "the corner")
    hand.click(".part-name")
    hand.until("page.picked[0]?.kind === 'node'", "the part")
    hand.until("document.querySelector('.action[data-edit=\"move body\"]')", "its actions")
    hand.keys(Keys.ESCAPE)
    hand.until("document.querySelector('#foot-picked').innerText === 'nothing'", "the end of the pick")


def test_all_by_keyboard(boss):
    """Without the mouse: go to a face, pick it, write the edit, accept, turn the view, step back."""
    hand = boss
    hand.js("document.getElementById('canvas').focus()")
    wanted = f"f{hand.faces['end']}"
    for _ in range(20):
        hand.keys(Keys.PAGE_DOWN)
        if hand.js("return bench.hovered?.id") == wanted:
            break
    hand.keys(Keys.SPACE)
    hand.until(f"page.ids[0] === '{wanted}'", "the pick")
    yaw = hand.js("return page.camera.yaw")
    hand.keys(Keys.ARROW_LEFT)
    assert hand.js("return page.camera.yaw") != yaw
    hand.keys("push 1/4 in", Keys.ENTER)
    hand.until("page.edit", "the line")
    hand.quiet()
    hand.until("document.querySelector('.knob-tag')?.textContent === '6.35 mm'", "the value on the knob")
    hand.keys(Keys.TAB)
    assert hand.js("return document.activeElement.innerText") == "more"
    hand.keys(Keys.ENTER)
    assert hand.js("return document.activeElement.name") == "riders"
    hand.keys(Keys.TAB, Keys.TAB)
    assert hand.js("return document.activeElement.dataset.field") == "until"
    hand.keys(Keys.TAB)
    assert hand.js("return document.activeElement.name") == "sides"
    hand.accept()
    assert hand.js("return page.box.max.z") == pytest.approx(28.35, abs=1e-3)
    hand.with_control("z")
    hand.until("page.box.max.z < 23", "the step back")


def test_a_locked_part_offers_no_change_until_unlocked(boss):
    hand = boss
    hand.click(".part-name")
    hand.until("document.querySelector('.action[data-edit=\"lock\"]')", "its actions")
    hand.act("lock")
    hand.until("page.edit", "the line")
    hand.quiet()
    hand.accept()
    hand.until("document.querySelector('.part.locked')", "the mark in the list")
    assert hand.js("return bench.view.marks.locked.children.length") == 1
    hand.pick(hand.faces["end"])
    offered = hand.js("return [...document.querySelectorAll('.action')].map((a) => a.dataset.edit)")
    refers = [
        "add dimension", "cover", "hold", "load", "make sheet", "name set", "project", "save flat", "sketch",
        "take from the shelf", "thicken",
    ]  # fmt: skip
    assert sorted(offered) == refers, "what only refers to it"
    assert "Locked" in hand.text("#actions")
    hand.keys("push 5", Keys.ENTER)
    hand.until("document.querySelector('#told')?.innerText.includes('is locked')", "the reason")


def test_hide_alone_and_back_in_an_assembly(hand, page, station_file):
    ident, _ = page.model_with(station_file, "Station")
    hand.open(ident)
    names = "[...document.querySelectorAll('.part:not([hidden]) .part-name')].map((e) => e.innerText)"
    assert hand.js(f"return {names}") == [
        "Station", "Pair", "Clamp", "Bolzen Ø10",
    ]  # fmt: skip
    shown = "[...bench.view.places.values()].filter((p) => p.group.visible).length"
    assert hand.js(f"return {shown}") == 3
    row = "[...document.querySelectorAll('.part')].find((r) => r.innerText.includes('%s'))"
    hand.js(f"{row % 'Clamp'}.querySelector('[data-toggle-hidden]').click()")
    hand.until(f"{shown} === 1", "one part left")
    hand.until(f"{row % 'Clamp'}.innerText.includes('hidden')", "the word in the list")
    hand.open(ident)
    assert hand.js(f"return {shown}") == 1
    hand.click("[data-show-all]")
    hand.until(f"{shown} === 3", "all")
    hand.until("!document.querySelector('.part.away')", "the list")
    hand.js(f"{row % 'Bolzen'}.querySelector('[data-isolate]').click()")
    hand.until(f"{shown} === 1", "the pin alone")
    hand.until(f"{row % 'Clamp'}.innerText.includes('hidden')", "the list")
    hand.js(f"{row % 'Bolzen'}.querySelector('[data-isolate]').click()")
    hand.until(f"{shown} === 3", "back again")


def test_a_slow_answer_never_lies_over_a_newer_state(boss):
    """The list as it was is on its way when something is hidden; it comes late."""
    hand = boss
    hand.js(
        """const send = XMLHttpRequest.prototype.send; let slow = true;
        XMLHttpRequest.prototype.send = function (...all) { if (slow) { slow = false; const { onload } = this;
          this.onload = (event) => setTimeout(() => { window.late = true; onload.call(this, event); }, 1500); }
          return send.apply(this, all); };
        bench.refreshPanels(); document.querySelector('[data-toggle-hidden]').click();"""
    )
    hand.until("window.late && page.settled", "the late answer")
    assert hand.js("return Boolean(document.querySelector('.part.away'))")
    hand.js("for (let i = 0; i < 5; i++) bench.hide(new Set(i % 2 ? ['n0'] : []))")
    hand.until("!document.querySelector('.part.away')", "the last word")


def test_bringing_in_on_the_bench_shows_progress_refuses_rubbish_and_asks_for_units(hand, page, tmp_path, boss_file):
    ident = page.new("Empty")
    hand.open(ident)
    assert "Nothing here yet" in hand.text("#actions")
    bad = tmp_path / "bad.step"
    bad.write_bytes(b"not a part at all")
    hand.put("#file", str(bad))
    hand.until("document.querySelector('#jobs')?.innerText.includes('none of the kinds that are read')", "the refusal")
    hand.put("#file", str(boss_file))
    hand.until("bench.view.places.size === 1", "the part")
    trimesh.creation.box((5, 5, 5)).export(tmp_path / "cube.stl")
    hand.put("#file", str(tmp_path / "cube.stl"))
    hand.until("document.querySelector('dialog[open]')", "the question for the unit")
    hand.js("document.querySelector('#units-dialog select').value = 'in'")
    hand.click("#units-dialog .btn-main")
    hand.until("bench.view.places.size === 2", "the mesh")
    assert hand.js("return page.box.max.x") == pytest.approx(63.5, abs=0.1)


def test_another_page_that_edits_first_is_told_and_shown(boss, page):
    hand = boss
    hand.pick(hand.faces["end"])
    hand.keys("1")
    hand.until("document.activeElement?.name === 'distance'", "the gap")
    node = hand.js("return page.nodes[0].id")
    page.edit(hand.ident, hand.revision(), "rename", part=[node], to="Hers")
    hand.keys("5")
    hand.until("document.querySelector('#told')?.innerText.includes('changed meanwhile')", "the word of it")
    hand.until("page.bodies[0].name === 'Hers'", "the newest state")
    hand.js("document.querySelector('[name=distance]').dispatchEvent(new Event('input', {bubbles: true}))")
    hand.until("document.querySelector('.fact.plus')", "the preview on the newest state")
    hand.accept()
    assert hand.js("return Math.round(page.box.max.z)") == 27


def test_a_crash_in_the_kernel_is_told_and_the_page_goes_on(boss):
    hand = boss
    hand.keys("zz misbehave crash", Keys.ENTER)
    hand.until("page.edit", "the line")
    hand.until("document.querySelector('#line-facts')?.innerText.includes('fresh worker')", "the word of it", 40)
    hand.quiet()  # each preview of it crashes
    hand.keys(Keys.ESCAPE)
    hand.driver.get_log("browser")  # the 503 of the crash belongs here
    hand.pick(hand.faces["end"])
    hand.keys("1")
    hand.until("document.activeElement?.name === 'distance'", "the gap")
    hand.keys("2")
    hand.until("document.querySelector('.fact.plus')", "a preview as before", 40)
    hand.keys(Keys.ESCAPE)


@pytest.mark.parametrize("size", [(1024, 768), (1280, 800), (1920, 1080)])
def test_nothing_overlaps_or_leaves_the_page(boss, size):
    hand = boss
    with hand.sized(*size):
        hand.pick(hand.faces["end"])
        hand.keys("1")
        hand.until("document.activeElement?.name === 'distance'", "the gap")
        hand.keys("5")
        hand.quiet()
        boxes = hand.js(
            """return Object.fromEntries(['.strip', '.side-left', '.view', '.side-right', '.foot', '.line', '.edge',
              '.stages', '.strip-name', '.strip-end'].map((s) => {
                const r = document.querySelector(s).getBoundingClientRect();
                return [s, [r.left, r.top, r.right, r.bottom]]; }))"""
        )
        assert hand.js("return document.documentElement.scrollWidth") <= size[0]
        assert hand.js("return document.documentElement.scrollHeight") <= size[1]

        def apart(a, b):
            (l1, t1, r1, b1), (l2, t2, r2, b2) = boxes[a], boxes[b]
            return r1 <= l2 + 0.5 or r2 <= l1 + 0.5 or b1 <= t2 + 0.5 or b2 <= t1 + 0.5

        for pair in [(".side-left", ".view"), (".view", ".side-right"), (".edge", ".view"), (".edge", ".side-left"),
                     (".edge", ".strip"), (".line", ".foot"), (".stages", ".strip-name"),
                     (".stages", ".strip-end")]:  # fmt: skip
            assert apart(*pair), pair
        wide = round(boxes[".view"][2] - boxes[".view"][0])
        hand.until(f"document.getElementById('canvas').width === {wide}", "every pixel, once nothing moves")
        assert hand.overlapping() == []
        hand.keys(Keys.ESCAPE)
        for group in ("look", "pick", "section"):  # each alone, as it unfolds
            hand.click(f"[data-of={group}] > .edge-word")
            assert hand.js("return document.querySelectorAll('.edge-group.open').length") == 1
            assert hand.overlapping() == [], group
            assert hand.js("return document.documentElement.scrollWidth") <= size[0]
        hand.click_canvas(60, 60)
        assert hand.js("return document.querySelectorAll('.edge-group.open').length") == 0, "folded again"


def test_wheel_and_drag_move_the_view_and_keep_the_pick(boss):
    hand = boss
    hand.pick(hand.faces["end"])
    before = hand.js("return [page.camera.span, page.camera.yaw]")
    hand.js(
        """document.getElementById('canvas').dispatchEvent(new WheelEvent('wheel',
        {deltaY: -120, clientX: 600, clientY: 400, bubbles: true, cancelable: true}))"""
    )
    assert hand.js("return page.camera.span") < before[0]
    hand.drag("#canvas", 80, 10)
    assert hand.js("return page.camera.yaw") != before[1]
    assert hand.js("return page.ids") == [f"f{hand.faces['end']}"]
    hand.click('[data-look="top"]')
    assert hand.js("return page.camera.pitch") == pytest.approx(math.pi / 2)
    hand.click('[data-look="square on"]')
    assert hand.js("return page.camera.direction().z") == pytest.approx(1)


def test_the_list_of_models_in_the_browser(hand, page):
    ident = page.new("Card to rename")
    hand.driver.get(hand.address)
    hand.put(f'form[hx-post="/models/{ident}/rename"] input', Keys.CONTROL, "a", Keys.NULL, "Renamed card", Keys.ENTER)
    saved = "[...document.querySelectorAll('.card-foot input')].some((i) => i.defaultValue === 'Renamed card')"
    hand.until(saved, "the name")
    hand.click(f'[hx-post="/models/{ident}/delete"]')
    hand.until("document.querySelector('.notice')?.innerText.includes('Renamed card is deleted')", "the notice")
    hand.click(".notice button")
    hand.until("!document.querySelector('.notice')", "the model again")
    assert hand.js("return [...document.querySelectorAll('.card-foot input')].some((i) => i.value === 'Renamed card')")


def test_everything_like_a_face_is_shown_and_picked(boss):
    hand = boss
    hand.pick(hand.faces["plate"])
    hand.until("document.querySelector('.alike')", "the list of what is alike")
    rows = hand.js("return [...document.querySelectorAll('[data-alike]')].map((r) => r.innerText.replace('\\n', ' '))")
    assert "every flat face 7" in rows
    parallel = next(k for k, words in enumerate(rows) if words.startswith("parallel to it"))
    mark = (
        "document.querySelectorAll('[data-alike]')[arguments[0]].dispatchEvent(new MouseEvent('click', arguments[1]))"
    )
    hand.js(mark, parallel, {"bubbles": True, "shiftKey": True})
    assert hand.js("return bench.view.marks.hover.children.length") > 0
    hand.click("[data-alike-pick]")
    hand.until("page.picked.length > 1", "the faces")
    assert f"parallel to it {len(hand.js('return page.ids'))}" == rows[parallel]


def test_the_bar_tells_what_is_looked_at_and_the_axes_look_along_themselves(boss):
    hand = boss
    state = "return [...document.querySelectorAll('.edge-state')].map((e) => e.innerText)"
    assert hand.js(state) == ["freely", "anything", "none"]
    hand.click('[data-look="top"]')
    hand.click('[data-look="parallel"]')
    hand.until("document.querySelector('.edge-state').innerText === 'top, parallel'", "the look")
    hand.click('[data-look="parallel"]')
    hand.js("page.camera.orbit(30, -20)")
    hand.until("document.querySelector('.edge-state').innerText === 'freely'", "no look by name")
    hand.click('[data-look="fit"]')
    hand.until("!bench.view.waiting", "the picture")
    assert hand.js(state)[0] == "freely", "to fit is not to look from somewhere"
    reach = "document.querySelector('#axes [data-look=right] .axis-reach')"
    hand.js(f"{reach}.dispatchEvent(new MouseEvent('click', {{bubbles: true}}))")
    hand.until("document.querySelector('.edge-state').innerText === 'right'", "the look along X")
    assert hand.js("return page.camera.direction().toArray().map(Math.round)") == [1, 0, 0]
    hand.click("[data-marquee=lasso]")
    hand.until("document.querySelectorAll('.edge-state')[1].innerText === 'anything, lasso'", "the tool")
    hand.click("[data-marquee=lasso]")
    assert not hand.js("return [...document.querySelectorAll('#view > *')].filter((e) => e.innerText?.trim() && "
                       "e.checkVisibility() && !e.matches('.corner-grid, .line, .told-over, .jobs, .legend, .flat'))"
                       ".map((e) => e.className)"), "no words lie over the model"  # fmt: skip
    hand.click('[data-look="corner"]')
    hand.pick(hand.faces["end"])
    assert "grow" in hand.text("#actions .growing")
    assert "loop" not in hand.text("#actions .growing")


def test_round_forms_are_drawn_finer_from_near(boss):
    hand = boss
    points = "[...bench.view.places.values()][0].drawable.shape.faces.map((f) => f.points.length)"
    before = hand.js(f"return {points}")
    hand.js("page.look('corner'); page.camera.target.set(30, 20, 22); page.camera.span = 14; page.camera.apply()")
    hand.until("bench.fine.size === 1", "the finer form")
    after = hand.js(f"return {points}")
    assert len(after) == len(before)
    assert max(after) > 2 * max(before)
    hand.js("page.look('corner')")
    hand.pick(hand.faces["end"])  # the same faces are under the pointer
    hand.keys("1")
    hand.until("page.edit === 'push'", "the line")
    hand.put("#line [name=distance]", Keys.CONTROL, "a", Keys.NULL, "2")
    hand.quiet()
    hand.accept()
    assert hand.js("return bench.fine.size") == 0, "the new state is asked for once it is near"
    assert hand.js("return Math.round(page.box.max.z)") == 24

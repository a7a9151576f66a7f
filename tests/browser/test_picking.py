"""Picking by a line around things, through to what is hidden, by neighbours, and back to the pick before."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

LIST = "[...document.querySelectorAll('#under button')].map((b) => b.innerText)"


@pytest.fixture
def plate(boss):
    """The boss plate: 60 × 40 × 10, a boss Ø 20 × 12, a hole Ø 8 through both; 9 faces, seen from a corner."""
    boss.js(  # small enough to keep clear of the words over the view
        "page.look('corner'); page.camera.span *= 1.4; page.camera.apply();bench.pick([])"
    )
    return boss


def drag(hand, corners, *, shift=False, ctrl=False):
    """Along places from the middle of the canvas, pixels."""
    canvas = hand.find("#canvas")
    chain = ActionChains(hand.driver, duration=60)
    for held, key in ((shift, Keys.SHIFT), (ctrl, Keys.CONTROL)):
        if held:
            chain.key_down(key)
    chain.move_to_element_with_offset(canvas, *corners[0]).click_and_hold()
    for x, y in corners[1:]:
        chain.move_to_element_with_offset(canvas, x, y)
    chain.release()
    for held, key in ((shift, Keys.SHIFT), (ctrl, Keys.CONTROL)):
        if held:
            chain.key_up(key)
    chain.perform()


def around(hand, test, room=6):
    """A box, pixels from the middle of the canvas, around the faces whose number passes a JavaScript test on `m`."""
    return hand.js(
        f"""const [[_, place]] = bench.view.places, {{faces}} = place.drawable.shape, V = page.box.min.clone();
        const r = bench.view.canvas.getBoundingClientRect(), b = [1e9, 1e9, -1e9, -1e9];
        faces.forEach((m) => {{ if (!({test})) return; for (let i = 0; i < m.points.length; i += 3) {{
          const p = page.camera.project(V.clone().set(m.points[i], m.points[i + 1], m.points[i + 2]));
          b[0] = Math.min(b[0], p.x); b[1] = Math.min(b[1], p.y);
          b[2] = Math.max(b[2], p.x); b[3] = Math.max(b[3], p.y);
        }} }});
        return [[b[0] - {room}, b[1] - {room}], [b[2] + {room}, b[3] + {room}]].map(
          ([x, y]) => [Math.round(x - r.width / 2), Math.round(y - r.height / 2)]);"""
    )


def test_a_box_takes_what_is_inside_and_what_is_crossed_or_hidden(plate):
    hand = plate
    whole = around(hand, "true")
    hand.click("[data-marquee=box]")
    drag(hand, whole)
    hand.until("page.picked.length > 1", "what is in sight")
    seen = hand.js("return page.ids")
    assert f"f{hand.faces['bottom']}" not in seen
    assert f"f{hand.faces['end']}" in seen
    hand.click("[data-through]")
    drag(hand, whole)
    hand.until("page.picked.length === 9", "everything")
    boss_box = around(
        hand, "m.points.every((v, i) => i % 3 !== 2 || v > 9.9) && m.points.some((v, i) => i % 3 === 2 && v > 21)"
    )
    drag(hand, boss_box)
    inside = hand.js("return page.picked.length")
    drag(hand, boss_box, shift=True)
    assert hand.js("return page.picked.length") > inside
    hand.click("[data-marquee=lasso]")
    (a, b), (c, d) = boss_box
    drag(hand, [(a, b), (c, b), (c, d), (a, d), (a, b)])
    assert hand.js("return page.picked.length") == inside
    hand.keys(Keys.ESCAPE)
    assert hand.js("return document.querySelector('[data-marquee=lasso]').getAttribute('aria-pressed')") == "false"


def test_the_pick_grows_shrinks_turns_round_and_comes_back(plate):
    hand = plate
    hand.pick(hand.faces["end"])
    hand.click("[data-grow=grow]")
    hand.until("page.picked.length === 3", "the ring, its wall and the hole")
    hand.click("[data-grow=shrink]")
    hand.until("page.picked.length === 1", "the ring alone")
    hand.click("[data-grow=invert]")
    hand.until("page.picked.length === 8", "all others")
    hand.click("[data-grow=previous]")
    hand.until("page.picked.length === 1", "the ring again")
    assert hand.js("return page.ids") == [f"f{hand.faces['end']}"]
    hand.click("[data-grow=previous]")
    hand.until("page.picked.length === 3", "the three before")


def test_what_lies_behind_is_listed_and_picked(plate):
    hand = plate
    hand.js("page.look('top')")
    x, y = hand.js(
        """const p = page.camera.project(page.box.min.clone().set(5, 5, 10));
        const r = bench.view.canvas.getBoundingClientRect(); return [p.x - r.width / 2, p.y - r.height / 2];"""
    )
    ActionChains(hand.driver, duration=60).move_to_element_with_offset(
        hand.find("#canvas"), round(x), round(y)
    ).context_click().perform()
    hand.until("!document.querySelector('#under').hidden", "the list")
    assert hand.js(f"return {LIST}") == ["in front · Boss plate", "behind it · Boss plate"]
    hand.keys(Keys.ARROW_DOWN, Keys.ENTER)
    hand.until("page.picked.length === 1", "the face")
    assert hand.js("return page.ids") == [f"f{hand.faces['bottom']}"]
    assert hand.find("#under").is_displayed() is False


def edge_spot(hand, x, y, z):
    """A place (mm) in pixels from the middle of the canvas."""
    return hand.js(
        """const p = page.camera.project(page.box.min.clone().set(...arguments));
        const r = bench.view.canvas.getBoundingClientRect();
        return [Math.round(p.x - r.width / 2), Math.round(p.y - r.height / 2)];""",
        x, y, z,
    )  # fmt: skip


def lengths(hand):
    """Of the picked edges, mm."""
    return hand.js(
        """return page.picked.map((p) => { const l = bench.view.places.get(p.node).drawable.shape.edges[p.index];
        let sum = 0; for (let i = 3; i < l.length; i += 3) sum += Math.hypot(l[i] - l[i - 3], l[i + 1] - l[i - 2],
          l[i + 2] - l[i - 1]); return Math.round(sum); }).sort((a, b) => a - b);"""
    )


def click(hand, x, y, z, *, shift=False, double=False):
    canvas = hand.find("#canvas")
    chain = ActionChains(hand.driver, duration=60).move_to_element_with_offset(canvas, *edge_spot(hand, x, y, z))
    if shift:
        chain.key_down(Keys.SHIFT)
    chain = chain.double_click() if double else chain.click()
    (chain.key_up(Keys.SHIFT) if shift else chain).perform()


def test_loops_runs_and_chains_of_edges(plate):
    hand = plate
    click(hand, 60, 12, 10)  # the edge between the top and the right side
    hand.until("page.picked.length === 1 && page.picked[0].kind === 'edge'", "the edge")
    hand.click("[data-along=loop]")
    hand.until("page.picked.length === 4", "its loop")
    assert lengths(hand) == [10, 10, 40, 40]  # the smaller one, around the side
    hand.click("[data-along=loop]")
    hand.until("page.picked.length === 4 && page.ids.length === 4", "a loop")
    assert lengths(hand) == [40, 40, 60, 60]  # the next one, around the top
    hand.click("[data-along=loop]")
    assert lengths(hand) == [10, 10, 40, 40]
    hand.js("bench.pick([])")
    click(hand, 60, 12, 10, double=True)
    hand.until("page.picked.length === 1", "a straight edge runs on into none")
    click(hand, 12, 0, 0.2, shift=True)  # the lower edge of the front
    hand.until("page.picked.length === 2", "a first and a last edge")
    hand.click("[data-along=chain]")
    hand.until("page.picked.length === 3", "the way between them")
    assert lengths(hand) == [10, 40, 60]
    hand.js("bench.pick([])")
    hand.pick(hand.faces["end"])
    hand.offered()
    assert not hand.js("return document.querySelector('[data-along=loop]')"), "a loop goes on from an edge"


def test_only_one_kind_is_picked_while_it_is_chosen(plate):
    hand = plate

    def only(kind):
        hand.js(
            """const s = document.querySelector('#only'); s.value = arguments[0];
            s.dispatchEvent(new Event('change', {bubbles: true}));""",
            kind,
        )

    only("face")
    click(hand, 59.7, 12, 10)
    hand.until("page.picked.length === 1 && page.picked[0].kind === 'face'", "the face, not its edge")
    only("vertex")
    click(hand, 60, 1, 10)  # beside the corner
    hand.until("page.picked.length === 1 && page.picked[0].kind === 'vertex'", "the corner")
    only("edge")
    hand.click("[data-marquee=box]")
    drag(hand, around(hand, "true"))
    hand.until("page.picked.length > 8 && page.picked.every((p) => p.kind === 'edge')", "edges in the box")
    only("node")
    drag(hand, around(hand, "true"))
    hand.until("page.picked.length === 1 && page.picked[0].kind === 'node'", "the part")
    hand.keys(Keys.ESCAPE)
    only("")

"""What a newcomer does first, in no more steps than it should take: a click each, or something written with Enter."""

from __future__ import annotations

import math

import pytest
from selenium.webdriver.common.keys import Keys

from ravine.core.kernel import build
from tests.parts import step_file


class Steps:
    """The same hand, with its steps counted."""

    def __init__(self, hand):
        self.hand, self.count = hand, 0

    def click(self, css):
        self.count += 1
        self.hand.click(css)

    def canvas(self, x, y):
        self.count += 1
        self.hand.click_canvas(x, y)

    def pick(self, face):
        self.count += 1
        self.hand.pick(face)

    def write(self, *keys):
        self.count += 1
        self.hand.keys(*keys)

    def accept(self):
        self.hand.quiet()
        self.hand.accept()


def tour(hand, words):
    hand.until(f"document.querySelector('#tour').innerText.includes({words!r})", words)


def volume(hand) -> str:
    hand.js("bench.pick([])")
    hand.until("page.offered", "the whole model")
    return hand.js(
        "return [...document.querySelectorAll('.facts div')].find((d) => d.innerText.includes('Volume')).innerText"
    )


def test_from_nothing_to_a_block_with_a_hole(hand):
    """And what the first model tells on the way."""
    hand.driver.get(hand.address)
    hand.until("document.querySelector('.begin-first button')", "the first model")
    steps = Steps(hand)
    steps.click(".begin-first button")
    hand.ready()
    tour(hand, "Step 1 of 5")
    steps.click('.action[data-edit="sketch"]')
    hand.until("page.edit === 'sketch'", "the line")
    hand.until("document.querySelector('.sketch-axes polygon')", "the plane before it is taken")
    steps.count += 1
    steps.accept()
    tour(hand, "Step 2 of 5")
    hand.until("page.picked[0]?.kind === 'sketch' && page.offered", "the sketch at hand")
    assert hand.js("return [...document.querySelectorAll('.sketch-axes text')].map((t) => t.textContent)") == [
        "across",
        "up",
    ]
    steps.write("1")
    hand.until("page.edit === 'draw' && bench.drawing.active", "the line")
    steps.count += 1
    hand.js("""const s = document.querySelector('#line [name=shape]'); s.value = 'rectangle';
        s.dispatchEvent(new Event('input', {bubbles: true}));""")
    steps.canvas(*hand.js("const p = bench.sketches.toScreen(bench.sketches.saved[0], 0, 0); return [p.x, p.y]"))
    assert hand.js("return bench.drawing.input.value") == "0,0 ", "the next place can be written straight on"
    hand.put("#line [name=places]", "60x40")
    hand.quiet()
    steps.count += 1
    hand.accept()
    tour(hand, "Step 3 of 5")
    steps.write(Keys.ESCAPE)
    hand.until("!bench.line.isOpen", "the line to go")
    steps.canvas(*hand.js("const p = bench.sketches.toScreen(bench.sketches.saved[0], 30, 20); return [p.x, p.y]"))
    hand.until("page.picked[0]?.kind === 'area' && page.offered", "the area")
    square = hand.js("return page.camera.direction().z")
    steps.write("1")
    hand.until("page.edit === 'extrude'", "the line")
    assert hand.js("return page.camera.direction().z") < square - 0.05, "the view leans to show what grows"
    hand.put("#line [name=distance]", Keys.CONTROL, "a", Keys.NULL, "12")
    steps.count += 1
    steps.accept()
    tour(hand, "Step 4 of 5")
    top = hand.js(
        """const [[, p]] = bench.view.places;
        return p.body.faces[p.drawable.shape.faces.findIndex((f) => f.normals[2] > 126)];"""
    )
    hand.js("page.look('corner')")
    hand.pick(top)
    assert hand.js("return page.picked[0].kind") == "face", "a solid comes before the sketch it was made of"
    hand.keys("1")
    hand.until("page.edit === 'push'", "the line")
    hand.put("#line [name=distance]", Keys.CONTROL, "a", Keys.NULL, "3")
    steps.accept()
    tour(hand, "Step 5 of 5")
    steps.pick(top)
    steps.write("4")
    hand.until("page.edit === 'drill'", "the line")
    assert hand.js("return document.querySelectorAll('#overlay [data-length=up]').length") == 1, (
        "the other way is at hand"
    )
    steps.count += 1
    steps.accept()
    tour(hand, "That is all of it")
    assert steps.count <= 14
    told = volume(hand)
    expected = 60 * 40 * 15 - math.pi * 3.3**2 * 15
    assert f"{expected:,.0f}".replace(",", "\u202f")[:5] in told
    hand.click("[data-leave-tour]")
    assert hand.find("#tour").is_displayed() is False


def test_the_holes_of_a_flange_at_once_and_on_to_the_file(hand, page, tmp_path, downloads):
    """Bring in, what is alike, set twelve holes; then move one, remove one, round an edge, cut it open, save."""
    spots = [(40 * math.cos(k * math.pi / 6) + 60, 40 * math.sin(k * math.pi / 6) + 60) for k in range(12)]
    flange = build.subtract(build.box(120, 120, 10), *(build.cylinder(5, 12, (x, y, -1)) for x, y in spots))
    ident, scene = page.model_with(step_file(tmp_path / "flange.step", flange, "Flange"), "Flange")
    hand.open(ident)
    body = scene["bodies"][0]["faces"]
    walls = hand.js(
        """const [[, p]] = bench.view.places;
        const level = (f) => f.points.length > 60 && f.normals.every((n, i) => i % 4 !== 2 || Math.abs(n) < 2);
        return p.body.faces.filter((_, i) => level(p.drawable.shape.faces[i]));"""
    )
    assert len(walls) == 12
    hand.js("page.look('top')")
    steps = Steps(hand)
    rim = hand.js("return page.spot(...arguments)", spots[0][0], spots[0][1] + 5, 10)
    steps.canvas(*rim)  # the rim of a hole stands for the hole
    hand.until("page.picked[0]?.kind === 'edge' && page.offered", "the rim")
    assert hand.js("return document.querySelector('.action[data-digit=\"1\"]').dataset.edit") == "resize"
    hand.js("bench.pick([])")

    def one(kind, number):
        hand.js(
            """const [[node, p]] = bench.view.places; const list = p.body[arguments[0] === 'face' ? 'faces' : 'edges'];
            const index = list.indexOf(arguments[1]);
            bench.pick([{kind: arguments[0], node, index, id: arguments[0][0] + arguments[1]}])""",
            kind, number,
        )  # fmt: skip
        hand.until("page.offered", "its actions")

    steps = Steps(hand)
    steps.count += 1
    one("face", walls[1])
    hand.until("document.querySelector('[data-alike]')", "what is alike")
    steps.count += 1
    hand.js("""[...document.querySelectorAll('[data-alike]')].find((r) => r.dataset.alike.split(' ').length === 12)
        .dispatchEvent(new MouseEvent('click', {bubbles: true}))""")
    hand.until("page.picked.length === 12", "all twelve")
    steps.write("1")  # waits for its list where it is typed early
    hand.until("page.edit === 'resize'", "the line")
    hand.put("#line [name=size]", Keys.CONTROL, "a", Keys.NULL, "11")
    steps.count += 1
    steps.accept()
    assert steps.count <= 4
    hand.until(
        "document.querySelector('.journal .here').innerText.includes('Set 12 holes of Flange to Ø 11 mm')",
        "the sentence",
    )

    def does(edit, **gaps):
        hand.act(edit)
        hand.until(f"page.edit === '{edit}'", "the line")
        for gap, text in gaps.items():
            hand.put(f"#line [name={gap}]", Keys.CONTROL, "a", Keys.NULL, text)
        hand.quiet()
        hand.accept()

    one("face", walls[0])
    does("move faces", distance="2")  # along X, in the face it stands in
    one("face", walls[3])
    does("remove")
    edges = hand.js(
        """const [[, p]] = bench.view.places;
        return p.drawable.shape.edges.map((e, i) => [[...e], p.body.edges[i]]);"""
    )
    upright = next(n for e, n in edges if len(e) == 6 and e[0] == e[3] == 0 and e[1] == e[4] == 0)
    one("edge", upright)
    does("round", size="5")
    hand.click('[data-cut="y"]')
    hand.until("bench.section.cut && !bench.section.busy", "the model cut open")
    told = volume(hand)
    expected = 120 * 120 * 10 - 11 * math.pi * 5.5**2 * 10 - (4 - math.pi) / 4 * 25 * 10
    assert f"{expected:,.0f}".replace(",", "\u202f")[:6] in told
    assert set(body) - {walls[3]} <= set(hand.body()["faces"])
    saved = hand.saved(downloads, "Flange.step", "export")
    assert saved.stat().st_size > 5000


@pytest.mark.parametrize(("typed", "after"), [("undo", "before"), ("redo", "after")])
def test_the_page_knows_the_usual_words(boss, typed, after):
    hand = boss
    base = hand.revision()
    hand.pick(hand.faces["end"])
    hand.keys("push 2", Keys.ENTER)
    hand.until("page.edit === 'push'", "the line")
    hand.quiet()
    hand.accept()
    pushed = hand.revision()
    if typed == "redo":
        hand.with_control("z")
        hand.until(f"page.revision === {base}", "the step back")
    hand.keys(typed, Keys.ENTER)
    hand.until(f"page.revision === {base if after == 'before' else pushed}", typed)


def test_help_is_found_by_other_words(hand):
    hand.driver.get(f"{hand.address}/help")
    hand.until("document.querySelector('#find')", "the help")
    hand.put("#find", "fillet")
    hand.until("document.querySelector('#found').innerText.includes('found')", "what is found")
    shown = hand.js("return [...document.querySelectorAll('article')].filter((a) => a.offsetParent).map((a) => a.id)")
    assert "round" in shown
    assert "push" not in shown
    assert not hand.js("return document.querySelector('#round .drawing').getBoundingClientRect().width < 20")
    hand.put("#find", "zzzz")
    hand.until("!document.querySelector('#nothing').hidden", "a word for nothing")

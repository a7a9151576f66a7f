"""Headless Chromium on the running stack, and a hand that works the page as a person does."""

from __future__ import annotations

import contextlib
import time
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.common.exceptions import (
    ElementClickInterceptedException,
    ElementNotInteractableException,
    JavascriptException,
    NoSuchElementException,
    StaleElementReferenceException,
)
from selenium.webdriver.chrome.options import Options
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.actions.action_builder import ActionBuilder
from selenium.webdriver.common.actions.wheel_input import ScrollOrigin
from selenium.webdriver.common.keys import Keys

from tests.parts import boss_block, step_file

FLAGS = [
    "--no-sandbox", "--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--disable-quic",
    "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync",
    "--hide-scrollbars", "--force-device-scale-factor=1",
    "--webgl-msaa-sample-count=0", "--disable-gpu-compositing",  # software drawing spends most on these
]  # fmt: skip


SCALE = 0.5
MOVE = 40  # ms that the pointer takes from place to place


def start_browser(width: int = 1280, height: int = 800) -> webdriver.Chrome:
    options = Options()
    for flag in [*FLAGS, f"--window-size={width},{height}"]:
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    options.binary_location = str(Path(__file__).with_name("chromium"))
    driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    metrics = {"width": width, "height": height, "deviceScaleFactor": SCALE, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
    return driver


WAIT = """const [done] = arguments, end = performance.now() + 1000;
const look = () => {
  const found = SCRIPT;
  if (found || performance.now() > end) done(found);
  else setTimeout(() => { try { look(); } catch (error) { done(null); } }, 10);
};
look();"""

LONGEST = {"test_every_sketch_edit.py", "test_from_nothing.py"}  # few tests of a minute each


def pytest_collection_modifyitems(items):
    """The longest files first, so that none is left for the end of a run side by side."""

    def rank(item):
        ours = item.path.parent == Path(__file__).parent
        return (item.path.name not in LONGEST, -item.path.stat().st_size) if ours else (True, 0)

    items.sort(key=rank)


OVERLAPPING = """
  const rows = [], range = document.createRange();
  const places = document.querySelectorAll('.strip, .edge, .foot, .side, .line, .corner-grid');
  for (const place of places) {
    const walk = document.createTreeWalker(place, NodeFilter.SHOW_TEXT), clip = place.getBoundingClientRect();
    while (walk.nextNode()) {
      const e = walk.currentNode.parentElement;
      if (!walk.currentNode.textContent.trim() || e.closest('select, datalist, .visually-hidden')) continue;
      if (!e.checkVisibility({visibilityProperty: true, opacityProperty: true})) continue;
      const box = e.closest('section')?.getBoundingClientRect() || clip;
      range.selectNodeContents(walk.currentNode);
      for (const r of range.getClientRects()) {
        let [left, top, right, bottom] = [r.left, r.top, r.right, r.bottom];
        for (let on = e; on !== place.parentElement; on = on.parentElement)
          if (getComputedStyle(on).overflowX !== 'visible') { // what is cut off with dots is not seen
            const cut = on.getBoundingClientRect();
            [left, right] = [Math.max(left, cut.left), Math.min(right, cut.right)];
          }
        if (right - left > 1 && (!place.matches('.side') || (bottom < box.bottom && top > box.top)))
          rows.push([walk.currentNode.textContent.trim().slice(0, 30), left, top, right, bottom, walk.currentNode]);
      }
    }
  }
  const shared = (a, b, k) => Math.min(a[k + 2], b[k + 2]) - Math.max(a[k], b[k]);
  const over = (a, b) => a[5] !== b[5] && shared(a, b, 1) > 2 && shared(a, b, 2) > 4;
  const found = [];
  rows.forEach((a, i) => rows.slice(i + 1).forEach((b) => { if (over(a, b)) found.push([a[0], b[0]]); }));
  return found;"""


class Hand:
    """What a person does and sees on the bench."""

    def __init__(self, driver, address):
        self.driver, self.address = driver, address

    def js(self, script, *arguments):
        return self.driver.execute_script(script, *arguments)

    def until(self, script, what, seconds=60):
        """Wait until a JavaScript expression is true; returns its value.  The page itself waits: asking it again and
        again from here would take from the work that is waited for."""
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            try:
                found = self.driver.execute_async_script(WAIT.replace("SCRIPT", script))
            except JavascriptException as error:
                if "unloaded" not in str(error):  # another page comes
                    raise
                continue
            if found:
                return found
        told = self.js("return [...document.querySelectorAll('#told, #line')].map((e) => e.innerText)")
        log = [entry["message"] for entry in self.driver.get_log("browser")]
        raise AssertionError(f"{what} did not come; the page tells {told!r}; its console: {log}")

    def open(self, ident):
        self.driver.get(f"{self.address}/m/{ident}")
        self.ready()

    def ready(self):
        self.until("document.getElementById('view')?.dataset.ready && window.bench?.view.frames > 0", "the bench")

    def find(self, css):
        return self.driver.find_element("xpath" if css.startswith("//") else "css selector", css)

    def on(self, css, act, seconds=20):
        """Do something with an element. Panels are swapped while the page works: an element that has just gone, or lies
        under a note for a moment, is looked for again, as a person would."""
        end = time.monotonic() + seconds
        while True:
            try:
                return act(self.find(css))
            except (
                StaleElementReferenceException,
                NoSuchElementException,
                ElementNotInteractableException,
                ElementClickInterceptedException,
            ):
                if time.monotonic() > end:
                    raise
                self.unfold(css)
                time.sleep(0.1)

    def unfold(self, css):
        """What stands folded in the sentence or in the bar, as a person would look there."""
        if not css.startswith("//"):
            self.js(
                """document.querySelector(arguments[0])?.closest('.edge-group, #line')
                ?.querySelector('.edge-word[aria-expanded=false], [data-unfold][aria-expanded=false]')?.click()""",
                css,
            )

    def text(self, css):
        return self.on(css, lambda e: e.text)

    def attribute(self, css, name):
        return self.on(css, lambda e: e.get_attribute(name))

    def click(self, css):
        self.on(css, lambda e: e.click())

    def act(self, edit):
        """Click an action, behind the word for the rest of them where it stands there."""
        css = f'.action[data-edit="{edit}"]'
        self.until(f"document.querySelector('{css}')", "the action")
        if self.js("return document.querySelector(arguments[0]).offsetParent === null", css):
            self.click("[data-more]")
        self.click(css)

    def put(self, css, *keys):
        self.on(css, lambda e: e.send_keys(*keys))

    def keys(self, *keys):
        ActionChains(self.driver, duration=MOVE).send_keys(*keys).perform()

    def with_control(self, key):
        ActionChains(self.driver, duration=MOVE).key_down(Keys.CONTROL).send_keys(key).key_up(Keys.CONTROL).perform()

    def spot_of(self, face):
        """A pixel of the canvas where a face is seen: the middle of one of its triangles that nothing hides."""
        spot = self.js("return page.spotOf(arguments[0])", face)
        assert spot, f"face {face} is not to be seen from here"
        return spot

    def click_canvas(self, x, y, shift=False):
        canvas = self.find("#canvas")
        chain = ActionChains(self.driver, duration=MOVE)
        box = canvas.rect
        chain.move_to_element_with_offset(canvas, round(x - box["width"] / 2), round(y - box["height"] / 2))
        if shift:
            chain.key_down(Keys.SHIFT).click().key_up(Keys.SHIFT)
        else:
            chain.click()
        chain.perform()

    def pick(self, face, shift=False):
        self.click_canvas(*self.spot_of(face), shift=shift)
        self.until(f"page.ids.includes('f{face}')", f"the pick of face {face}")
        self.until("page.offered", "its actions")

    def drag(self, css, dx, dy, steps=4, release=True):
        """By places on the screen, since the knob is drawn anew with every frame. A handle stands still once its walls
        are known and the view is drawn from where the eye is now."""
        if css == ".knob":
            self.until("document.querySelector('#line').dataset.walls", "the walls", 90)
        self.until("page.drawn", "the view as it is now")
        x, y = self.js(
            """const b = document.querySelector(arguments[0]).getBoundingClientRect();
            return [b.x + b.width / 2, b.y + b.height / 2];""",
            css,
        )
        pointer = self.pointer()
        pointer.move_to_location(round(x), round(y)).pointer_down()
        for step in range(1, steps + 1):
            pointer.move_to_location(round(x + dx * step / steps), round(y + dy * step / steps)).pause(0.05)
        if release:
            pointer.pointer_up()
        self.actions.perform()

    def pointer(self):
        self.actions = ActionBuilder(self.driver, duration=MOVE)
        return self.actions.pointer_action

    def let_go(self):
        self.pointer().pointer_up()
        self.actions.perform()

    def quiet(self):
        """Until no preview is under way or due."""
        self.until("page.quiet", "a quiet line")

    def offered(self):
        """Until the actions are those for what is picked."""
        self.until("page.offered", "its actions")

    def revision(self):
        return int(self.js("return page.revision"))

    def accept(self):
        base = self.revision()
        self.keys(Keys.ENTER)
        self.until(f"page.revision !== {base}", "the accepted edit")
        self.until("page.settled", "the panels")

    def body(self, number=0):
        return self.js("return page.bodies[arguments[0]]", number)

    def saved(self, downloads, name, edit):
        for old in downloads.glob("*"):
            old.unlink()
        self.keys(*edit, Keys.ENTER)
        self.until("page.edit === 'export'", "the line")
        self.quiet()
        self.keys(Keys.ENTER)
        end = time.monotonic() + 20
        while not (downloads / name).exists() and time.monotonic() < end:
            time.sleep(0.1)
        return downloads / name

    @contextlib.contextmanager
    def sized(self, width, height):
        """The window as large as that, every pixel drawn; afterwards as usual."""
        self.measure(width, height, 1)
        try:
            yield
        finally:
            self.measure(1280, 800)

    def measure(self, width, height, scale=SCALE):
        metrics = {"width": width, "height": height, "deviceScaleFactor": scale, "mobile": False}
        self.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)

    def overlapping(self):
        """Pairs of texts that lie over one another, by the boxes of what is seen of them."""
        return self.js(OVERLAPPING)

    def complaints(self):
        """Errors in the browser's console, but for refusals that the page words itself."""
        return [
            entry["message"]
            for entry in self.driver.get_log("browser")
            if entry["level"] == "SEVERE" and not any(code in entry["message"] for code in ("422", "409"))
        ]


@pytest.fixture(scope="session")
def downloads(tmp_path_factory):
    return tmp_path_factory.mktemp("downloads")


@pytest.fixture(scope="session")
def browser():
    driver = start_browser()
    yield driver
    driver.quit()


@pytest.fixture
def hand(browser, stack, page, downloads):
    page.until_alive()
    if not getattr(browser, "let_in", False):
        browser.get(stack.entering())
        browser.let_in = True
    # for each test: set once for all, it was lost in the midst of a run
    browser.execute_cdp_cmd("Browser.setDownloadBehavior", {"behavior": "allow", "downloadPath": str(downloads)})
    found = Hand(browser, stack.address)
    yield found
    complaints = found.complaints()
    browser.get("about:blank")  # a bench left open goes on asking for what is new
    log = stack.folder.path / "web.log"
    assert complaints == [], log.read_text(errors="replace")[-1500:]


@pytest.fixture(scope="session")
def boss_file(tmp_path_factory):
    return step_file(tmp_path_factory.mktemp("files") / "boss.step", boss_block(), "Boss plate")


@pytest.fixture
def boss(hand, page, boss_file):
    """The bench open on the boss plate; faces by name."""
    ident, scene = page.model_with(boss_file, "Boss plate")
    hand.open(ident)
    hand.ident = ident
    hand.faces = {}
    for face in scene["bodies"][0]["faces"]:
        text = page.form(f"/m/{ident}/pick", picked=f"f{face}", stage="Shape").text
        if "<dd>22 mm</dd>" in text:
            hand.faces["end"] = face
        elif "<dd>10 mm</dd>" in text and "To opposite" in text and "square to Z" in text:
            hand.faces.setdefault("plate", face)
        elif "Ø 20 mm" in text:
            hand.faces["wall"] = face
        elif "<dd>40 mm</dd>" in text and "square to Y" in text:
            hand.faces.setdefault("side", face)
    hand.faces["bottom"] = hand.js(
        """const [[_, place]] = bench.view.places, {faces} = place.drawable.shape;
        return place.body.faces[faces.findIndex((f) => f.normals[2] === -127 && f.points[2] === 0)];"""
    )
    return hand


class Sheet:
    """A sketch worked in by pointer and keys; places are mm in its plane."""

    def __init__(self, hand, page):
        self.hand, self.page = hand, page
        self.number = 0  # of the sketch that is worked in

    @property
    def sketch(self):
        return self.hand.js("return page.sketches[arguments[0]]", self.number)

    def screen(self, x, y):
        """Where a place is, from the middle of the canvas, in pixels."""
        return self.hand.js(
            """const {id} = page.sketches[arguments[2]], s = bench.sketches.saved.find((s) => s.id === id);
            const p = bench.sketches.toScreen(s, arguments[0], arguments[1]);
            const r = bench.view.canvas.getBoundingClientRect(); return [p.x - r.width / 2, p.y - r.height / 2];""",
            x, y, self.number,
        )  # fmt: skip

    def point(self, x, y, click=True):
        dx, dy = self.screen(x, y)
        move = ActionChains(self.hand.driver, duration=80).move_to_element_with_offset(
            self.hand.find("#canvas"), int(dx), int(dy)
        )
        (move.click() if click else move).perform()

    def zoom(self, x, y, span):
        """With the wheel towards a place, until the view is no higher than `span` mm."""
        for _ in range(40):
            if self.hand.js("return page.camera.span") < span:
                return
            origin = ScrollOrigin.from_element(self.hand.find("#canvas"), *map(round, self.screen(x, y)))
            ActionChains(self.hand.driver).scroll_from_origin(origin, 0, -120).perform()
        raise AssertionError("the wheel does not zoom")

    def open(self, edit):
        self.hand.act(edit)
        self.hand.until(f"page.edit === '{edit}'", "the line")

    def choose(self, gap, value):
        self.hand.js(
            """const s = document.querySelector(`#line [name="${arguments[0]}"]`); s.value = arguments[1];
            s.dispatchEvent(new Event('input', {bubbles: true}));""",
            gap, value,
        )  # fmt: skip

    def write(self, gap, text):
        self.hand.put(f'#line [name="{gap}"]', Keys.CONTROL, "a", Keys.NULL, text)

    def draw(self, shape, places, **values):
        """One more shape with the line that stands open for it."""
        count = len(self.sketch["curves"])
        self.choose("shape", shape)
        for gap, value in values.items():
            (self.choose if gap == "role" else self.write)(gap, value)
        self.write("places", places)
        self.hand.quiet()
        self.hand.accept()
        self.hand.until(f"page.sketches[{self.number}].curves.length > {count}", f"the {shape}")
        self.hand.until("page.edit === 'draw' && bench.drawing.active", "the line again")
        return [c["id"] for c in self.sketch["curves"][count:]]

    def picks(self, *ids):
        """Things by their ids, as a click on each would."""
        self.hand.js(
            """const found = arguments[0].map((id) => {
              const kind = {f: 'face', e: 'edge', v: 'vertex', n: 'node'}[id[0]], number = Number(id.slice(1));
              if (!kind) return bench.sketches.find(id);
              if (kind === 'node') return {kind, id, node: id, index: 0};
              for (const [node, place] of bench.view.places) {
                const index = place.body[{face: 'faces', edge: 'edges', vertex: 'vertices'}[kind]].indexOf(number);
                if (index >= 0) return {kind, id, node, index};
              }
            });
            if (found.some((f) => !f)) throw new Error(`not in the view: ${arguments[0]}`);
            bench.pick(found);""",
            list(ids),
        )

    def do(self, edit, *picked, **gaps):
        """One edit through its action and its line: choices chosen, values written, tuples picked in the view."""
        self.picks(*picked)
        self.hand.offered()
        self.open(edit)
        for gap, value in gaps.items():
            if isinstance(value, tuple):
                self.hand.click(f"#line [data-field='{gap}']")
                for one in value:
                    self.picks(one)
                    self.hand.until(f"page.gap('{gap}').includes('{one}')", one)
                if self.hand.js("return Boolean(bench.line.armed)"):
                    self.hand.click(f"#line [data-field='{gap}']")
            elif self.hand.js(f"return bench.line.form.elements.namedItem('{gap}').tagName") == "SELECT":
                self.choose(gap, value)
            else:
                self.write(gap, value)
        self.hand.quiet()
        self.hand.accept()
        if self.hand.js("return bench.line.isOpen"):
            self.leave()

    def last(self, what="curves"):
        return self.sketch[what][-1]["id"]

    def parts(self, kind, test):
        """Ids of faces or edges whose mesh `m` passes a JavaScript test."""
        return self.hand.js(
            f"""const found = []; for (const place of bench.view.places.values())
            place.drawable.shape[arguments[0]].forEach((m, i) => {{
              if ({test}) found.push(arguments[0][0] + place.body[arguments[0]][i]); }}); return found;""",
            kind,
        )

    def take_up(self, name):
        """A sketch by its name in the list."""
        row = f"//li[contains(@class,'sketch-row')]/button[normalize-space()='{name}']"
        self.hand.on(row, lambda e: e.click())
        self.hand.until("page.picked[0]?.kind === 'sketch'", "the picked sketch")
        self.hand.offered()

    def leave(self):
        self.hand.keys(Keys.ESCAPE)
        self.hand.until("!bench.line.isOpen", "the line to go")

    def pick(self, kind, x, y):
        """A click in the sketch."""
        self.point(x, y)
        self.hand.until(f"page.picked[0]?.kind === '{kind}'", f"a picked {kind}")
        self.hand.until("page.offered", "its actions")

    def begin(self, **values):
        """A sketch on a plane of the model."""
        self.hand.js("bench.pick([])")
        self.open("sketch")
        for gap, value in values.items():
            (self.choose if gap == "plane" else self.write)(gap, value)
        count = self.hand.js("return page.sketches.length")
        self.hand.accept()
        self.hand.until(f"page.sketches.length > {count} && !bench.line.isOpen", "the sketch")
        self.number = count

    def said(self, words):
        self.hand.until(f"document.querySelector('.journal .here')?.innerText.includes({words!r})", f"“{words}”")


@pytest.fixture
def sheet(hand, page):
    """A model begun empty, with a sketch on its XY plane."""
    hand.driver.get(hand.address)
    hand.until("document.querySelector('.begin-empty button')", "the begin form")
    hand.click(".begin-empty button")
    hand.ready()
    sheet = Sheet(hand, page)
    sheet.begin()
    return sheet

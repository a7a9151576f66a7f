"""./ravine shots: retake docs/screenshots from the demo data, in a data folder of its own."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from .folder import ROOT, DataFolder
from .stack import Stack

TARGET = ROOT / "docs" / "screenshots"
SIZE = (1280, 800)


def _browser(dark: bool) -> Any:
    from selenium import webdriver
    from selenium.webdriver.chrome.options import Options
    from selenium.webdriver.chrome.service import Service

    options = Options()
    for flag in ("--headless=new", "--no-sandbox", "--use-angle=swiftshader", "--enable-unsafe-swiftshader",
                 "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update",
                 "--disable-sync", "--hide-scrollbars", f"--window-size={SIZE[0]},{SIZE[1]}"):  # fmt: skip
        options.add_argument(flag)
    options.binary_location = "/usr/bin/chromium"
    driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    metrics = {"width": SIZE[0], "height": SIZE[1], "deviceScaleFactor": 1, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
    scheme = [{"name": "prefers-color-scheme", "value": "dark" if dark else "light"}]
    driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": scheme})
    return driver


class Photographer:
    def __init__(self, stack: Stack, dark: bool = False) -> None:
        self.driver, self.address = _browser(dark), stack.address
        self.driver.get(stack.entering())

    def js(self, script: str) -> Any:
        return self.driver.execute_script(script)

    def until(self, script: str) -> None:
        end = time.monotonic() + 90
        while not self.js(f"return {script}"):
            if time.monotonic() > end:
                raise TimeoutError(script)
            time.sleep(0.1)

    def open(self, name: str) -> None:
        self.driver.get(self.address)
        link = self.driver.find_element("xpath", f"//a[@aria-label='Open {name}']")
        self.driver.get(link.get_attribute("href"))
        self.until("document.getElementById('view')?.dataset.ready && window.bench?.view.frames > 1")
        self.js("bench.look('corner')")

    def pick(self, test: str) -> None:
        """Pick the faces that pass a JavaScript test of their mesh `m`."""
        self.js(
            f"""const found = []; for (const [node, place] of bench.view.places)
            place.drawable.shape.faces.forEach((m, index) => {{ if ({test})
              found.push({{kind: 'face', node, index, id: 'f' + place.body.faces[index]}}); }});
            bench.pick(found);"""
        )
        self.until("page.offered")

    def line(self, edit: str, **values: str) -> None:
        self.js(f"bench.line.open('{edit}', page.ids, {values!r})")
        self.until("page.edit && page.quiet")
        time.sleep(1.0)
        self.until("!bench.line.busy")

    def take(self, name: str) -> None:
        time.sleep(0.6)
        self.driver.save_screenshot(str(TARGET / f"{name}.png"))
        print(f"docs/screenshots/{name}.png", flush=True)


BOSSES = "m.normals[0] > 125 && Math.abs(m.points[0] - 29) < 0.001"


def _models(eye: Photographer) -> None:
    eye.driver.get(eye.address)
    eye.until("[...document.querySelectorAll('.card-picture img')].every((i) => i.complete && i.naturalWidth)")
    eye.take("models")


def _push(eye: Photographer) -> None:
    eye.open("Mast clamp")
    eye.pick(BOSSES)
    eye.line("push", distance="12.5 mm")
    eye.take("push")


def _sheet(eye: Photographer) -> None:
    eye.open("Battery tray")
    eye.js("bench.setStage('Sheet')")
    eye.until("Boolean(document.querySelector('#unfolded .panel.bent'))")
    eye.js(
        """const slider = document.querySelector('[data-fold]');
        slider.value = 0.6;
        slider.dispatchEvent(new Event('input', {bubbles: true}))"""
    )
    eye.until("Boolean(bench.sheet.bent.parent)")
    eye.js("page.camera.fit()")
    eye.take("sheet")


def _features(eye: Photographer) -> None:
    """Two distances between holes, one driven while the other is held, beside the list of features."""
    eye.open("Mast clamp")
    first = "document.querySelector('.feature').dataset.first.split(' ')"
    eye.until("document.querySelector('.feature')")
    holes = eye.js(f"return {first}")
    for k in (1, 2):
        _edit(eye, "add dimension", ends=[holes[0], holes[k]], called=f"D{k}")
    eye.until("document.querySelectorAll('.dimension-tag').length >= 2")
    eye.js("document.querySelector('[data-kind=Holes]').open = true; bench.pick([])")
    eye.js("bench.line.open('drive', [], {dimension: 'D2', value: '97 mm', held: 'D1'})")
    eye.until("page.edit === 'drive' && page.quiet")
    time.sleep(1.0)
    eye.until("!bench.line.busy")
    eye.take("features")


def _variants(eye: Photographer) -> None:
    """The bolts of both jaws at several distances, the walls following."""
    eye.open("Mast clamp")
    eye.until("document.querySelectorAll('.feature').length > 1")
    repeated = (
        "[...document.querySelectorAll('.feature')].map((f) => f.dataset.first.split(' ')).filter((f) => f.length > 1)"
    )
    holes = eye.js(f"return {repeated}[1]")
    sides = eye.js(
        """const [[, place]] = bench.view.places, {faces} = place.drawable.shape;
        const on = (f, way) => f.normals[1] * way > 126 && Math.abs(f.points[1] - 30 * way) < 0.01;
        const side = (way) => faces.findIndex((f) => on(f, way));
        return [1, -1].map((way) => 'f' + place.body.faces[side(way)]);"""
    )
    _edit(eye, "add dimension", ends=[holes[0], holes[1]], called="bolts")
    _edit(eye, "add dimension", ends=[sides[1], sides[0]], called="jaws")
    _edit(eye, "set value", called="jaws", value="bolts + 30 mm")
    eye.driver.get(eye.address + eye.js("return bench.url('variants')"))
    eye.until("document.getElementById('trials')?.dataset.ready")
    eye.js(
        """document.querySelector('#range [name=name]').value = 'bolts';
        for (const [n, v] of [['first', '25'], ['last', '30 mm'], ['count', '6']]) document.querySelector(`#range [name=${n}]`).value = v;
        document.querySelector('#range button').click(); document.querySelector('[data-try]').click();"""  # noqa: E501
    )
    eye.until("document.querySelector('#told').innerText.includes('rows work')")
    eye.take("variants")


def _joints(eye: Photographer) -> None:
    """The arm of the float gauge swung about its pin, the float going along."""
    eye.open("Float gauge")
    eye.js("bench.setStage('Assemble')")
    eye.js("const n = bench.scene.nodes.find((o) => o.name === 'Float arm');"
           "bench.pick([{kind: 'node', node: n.id, index: 0, id: n.id}])")  # fmt: skip
    eye.until("document.querySelector('[data-move-free]')")
    eye.js("bench.line.open('move free', bench.pickIds(), {angle: '-18°'})")
    eye.until("page.edit === 'move free' && page.quiet")
    time.sleep(1.0)
    eye.until("!bench.line.busy")
    eye.take("joints")


def _bill(eye: Photographer) -> None:
    """Screws with washers from the shelf, what they cost, and an order with one line out of stock."""
    eye.open("Mast clamp")
    eye.until("document.querySelector('.feature')")
    hole = eye.js("return document.querySelector('.feature').dataset.first.split(' ')[0]")
    _edit(eye, "take from the shelf", item="ISO 4762", on=[hole], holes="alike", extras="washer")
    _edit(eye, "take from the shelf", item="ISO 15 8x22x7")
    eye.driver.get(eye.address + eye.js("return bench.url('bill')"))
    eye.until("document.getElementById('bill')?.dataset.ready")
    eye.js("const lot = document.querySelector('[name=lot]'); lot.value = '25';"
           "lot.dispatchEvent(new Event('change', {bubbles: true}))")  # fmt: skip
    eye.until("document.querySelector('tr:last-child [data-offer]').innerText.startsWith('25 ×')")
    eye.js("document.querySelector('[data-send]').click()")
    eye.until("document.querySelector('.order') && document.getElementById('bill')?.dataset.ready")
    eye.take("bill")


def _walls(eye: Photographer) -> None:
    eye.open("Logger housing")
    eye.js("const id = [...bench.view.places.keys()][0]; bench.pick([{kind: 'node', node: id, index: 0, id}]);"
           "bench.maps.show('walls', [id])")  # fmt: skip
    eye.until("bench.maps.shown && !document.getElementById('legend').hidden")
    eye.js("bench.look('below'); page.camera.orbit(140, -200)")
    time.sleep(4)  # the word that it is measuring goes
    eye.js("bench.maps.feel(520, 470)")
    eye.take("walls")


def _mend(eye: Photographer) -> None:
    eye.open("Old bracket")
    eye.js("bench.setStage('Mend')")
    eye.until("document.querySelector('#checkup .flaw')")
    eye.js("document.querySelector('#checkup [data-next]').click()")
    eye.take("mend")


def _station(eye: Photographer) -> None:
    eye.open("Gauging station")
    eye.js("[...document.querySelectorAll('.part-name')].find((b) => b.innerText === 'Logger lid').click()")
    eye.until("page.offered")
    eye.line("move body", along="y", distance="80 mm")
    eye.take("station")


def _reference(eye: Photographer) -> None:
    eye.driver.get(f"{eye.address}/help")
    eye.take("reference")


def _edit(eye: Photographer, edit: str, **values: Any) -> None:
    """An edit as a script would send it, and the page brought up to it."""
    eye.driver.execute_async_script(
        """const [edit, values, done] = arguments;
        fetch(bench.url('edits'), {method: 'POST', body: JSON.stringify({edit, values, base: page.revision}), headers:
          {'Content-Type': 'application/json', 'X-Ravine': '1', Accept: 'application/x-ravine'}})
          .then(() => bench.reload()).then(() => bench.refreshPanels()).then(done);""",
        edit, values,
    )  # fmt: skip


def _bracket_sketch(eye: Photographer) -> None:
    """A bracket for the float arm, drawn in a model begun empty."""
    eye.driver.get(eye.address)
    eye.driver.find_element("css selector", ".begin-empty button").click()
    eye.until("document.getElementById('view')?.dataset.ready && window.bench?.view.frames > 1")
    _edit(eye, "sketch", plane="xy")
    for values in (
        {"shape": "line", "places": "0,0 +90,0 +0,30 +-36,0 +0,34 +-54,0 0,0"},
        {"shape": "slot", "places": "62,15 78,15", "size": "4"},
        {"shape": "circle", "places": "27,46", "size": "9"},
        {"shape": "line", "places": "27,-8 27,72", "role": "helper"},
    ):
        _edit(eye, "draw", sketch=["s1"], **values)
    bottom = eye.js("return page.sketches[0].curves[0].id")
    _edit(eye, "dimension", on=[bottom], kind="distance", size="90")
    eye.js("bench.drawing.lookAt(bench.sketches.saved[0]); bench.view.bound(); page.camera.fit()")


def _sketch(eye: Photographer) -> None:
    _bracket_sketch(eye)
    eye.js("bench.pick([bench.sketches.find('s1')]); bench.line.open('draw', ['s1'], {shape: 'circle'})")
    eye.until("bench.drawing.active")
    eye.js("bench.drawing.input.value = '70,60'")
    at = eye.js("const p = bench.sketches.toScreen(bench.sketches.saved[0], 77, 60); return [p.x, p.y]")
    eye.js(f"bench.drawing.move({at[0]}, {at[1]})")
    eye.until("bench.sketches.list[0].areas.length === 4 && !bench.line.busy")
    eye.take("sketch")


def _drawing(eye: Photographer) -> None:
    eye.open("Mast clamp")
    eye.js("bench.setStage('Hand over'); bench.paper.open('Mast clamp')")
    eye.until("document.querySelectorAll('.sheet-item').length > 8")
    eye.js("""bench.paper.choose({item: Number([...document.querySelectorAll('.sheet-item')]
        .find((g) => g.dataset.kind === 'hole').dataset.item)})""")
    eye.until("document.querySelector('.item-words')")
    eye.take("drawing")


def _thread(eye: Photographer) -> None:
    eye.open("Cable gland nut")
    eye.js("bench.look('corner'); page.camera.orbit(0, 40); page.camera.fit()")
    eye.js("bench.pick([bench.sketches.find(page.sketches[1].areas[0].id)])")
    eye.until("page.offered")
    eye.take("thread")


def _section(eye: Photographer) -> None:
    eye.open("Mast clamp")
    eye.js("bench.section.across(page.camera.centre.clone().set(0, 1, 0))")
    eye.until("bench.section.cut && !bench.section.busy")
    eye.js("bench.section.flat.toggle()")
    eye.until("document.querySelector('#flat-areas tr[data-node]')")
    eye.take("section")


def _strength(eye: Photographer) -> None:
    eye.open("Mast clamp")
    eye.js("bench.setStage('Prove')")
    eye.until("document.querySelector('[data-solve]')")
    eye.js("document.querySelector('[data-solve]').click()")
    eye.until("document.querySelector('.study .bands')")
    eye.js("page.camera.orbit(40, 0); document.querySelector('.study .figures').scrollIntoView()")
    eye.take("strength")


def _print(eye: Photographer) -> None:
    eye.open("Logger housing")
    eye.js("bench.setStage('Prove')")
    eye.js("[...document.querySelectorAll('.part-name')].find((b) => b.innerText === 'Logger housing').click()")
    eye.until("page.offered")
    eye.js("document.querySelector('#printing summary').click()")
    eye.until("document.querySelector('[data-layers]')")
    eye.js("document.querySelector('[data-layers]').click()")
    eye.until("document.querySelector('[data-layer] .matter')")
    eye.js("document.querySelector('#printing').scrollIntoView()")
    eye.take("print")


FINISHES = {
    "Mast clamp": "cast aluminium", "Logger housing": "satin plastic", "Logger lid": "gloss paint",
    "Propeller rotor": "brass", "Mast tube": "polished steel",
}  # fmt: skip


def _finished(eye: Photographer) -> None:
    eye.open("Gauging station")
    for name, surface in FINISHES.items():
        nodes = eye.js(f"return page.nodes.filter((n) => n.name === '{name}').map((n) => n.id)")
        _edit(eye, "set finish", parts=nodes, surface=surface)
    eye.js("document.querySelector('[data-finished]').click()")
    time.sleep(2)
    eye.take("finished")


def _dark(eye: Photographer) -> None:
    eye.open("Propeller rotor")
    eye.pick("m.normals[2] > 126 && m.points.length < 60 || m.normals[2] < -126")
    eye.take("dark")


VIEWS: list[Callable[[Photographer], None]] = [
    _models,
    _push,
    _sheet,
    _features,
    _variants,
    _joints,
    _bill,
    _station,
    _mend,
    _walls,
    _sketch,
    _drawing,
    _thread,
    _section,
    _strength,
    _print,
    _finished,
    _reference,
]


def shots(arguments: list[str]) -> int:
    """All views, or those named."""
    TARGET.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        stack = Stack(DataFolder(Path(folder) / "data"))
        try:
            stack.prepare()
            stack.bring_in_demo()
            stack.start()
            for dark, views in ((False, VIEWS), (True, [_dark])):
                chosen = [v for v in views if not arguments or v.__name__[1:] in arguments]
                if not chosen:
                    continue
                eye = Photographer(stack, dark)
                try:
                    for view in chosen:
                        view(eye)
                finally:
                    eye.driver.quit()
        finally:
            stack.stop()
    return 0

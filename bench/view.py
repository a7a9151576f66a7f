"""Three hundred parts and more than 5 000 faces in the browser: calls a frame, and what drawing copies together and
drawing thinner while turning save, as ratios under the software renderer."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path
from typing import Any

from ravine.cli.folder import DataFolder
from ravine.cli.shots import Photographer
from ravine.cli.stack import Stack, engine_of
from ravine.core.formats import step
from ravine.core.kernel import build
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.rigid import Rigid
from ravine.demo.logger_housing import logger_housing, logger_lid
from ravine.demo.mast_clamp import mast_clamp
from ravine.service.designs import Designs
from ravine.store.tables import database

from .assembly import BODIES, PLACES, many_places

FRAME = """const {view} = bench, gl = view.renderer.getContext(), pixel = new Uint8Array(4), times = [];
for (let k = 0; k < 9; k++) {
  view.camera.yaw += 0.05; view.camera.apply(); view.moving = %s;
  const began = performance.now();
  view.thin(); view.renderer.render(view.scene, view.camera.lens);
  gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, pixel);
  times.push(performance.now() - began);
}
view.moving = false;
return [times.sort((a, b) => a - b)[4], view.renderer.info.render.calls];"""
FILTER = """const box = document.querySelector('#part-filter'), times = [];
const rows = document.querySelectorAll('.parts .part').length;
for (const words of ['plate 7', 'plate', 'zzz', '']) {
  const began = performance.now();
  box.value = words; box.dispatchEvent(new Event('input', {bubbles: true}));
  document.body.offsetHeight; // laid out
  times.push(performance.now() - began);
}
return [rows, times];"""
APART = """const {view, crowd = view.crowd} = bench, gather = crowd.gather;
crowd.gather = () => { crowd.group.clear(); crowd.slots.clear(); }; bench.show(bench.scene); crowd.gather = gather;"""


def _assembly(folder: Path) -> Path:
    """25 housings with lids, 25 clamps, 225 pins: 300 places of four bodies."""
    pin = build.subtract(build.cylinder(4, 30), build.cylinder(1.5, 32, (0, 0, -1)))
    shapes = {"Clamp": mast_clamp(), "Housing": logger_housing(), "Lid": logger_lid(), "Pin": pin}
    parts = [WritePart(name, shape, None, {}) for name, shape in shapes.items()]
    roots = [
        WriteNode(
            part.name, Rigid.slide((220 * (k % side), 220 * (k // side) + 40 * number, 120.0 * number)), number, []
        )
        for number, (part, side) in enumerate(zip(parts, (5, 5, 5, 15), strict=True))
        for k in range(side * side)
    ]
    path = folder / "many.step"
    path.write_bytes(step.write([WriteNode("Many", Rigid.slide((0, 0, 0)), None, roots)], parts, "Many"))
    return path


def measure_view() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        stack = Stack(DataFolder(folder / "data"))
        stack.prepare()
        stack.start()
        try:
            with database.connection_context():
                designs = Designs(engine_of(stack))
                for title, path in (("Many", _assembly(folder)), ("More", many_places(folder, PLACES, BODIES))):
                    design = designs.create(title)
                    designs.edit(design, design.head, "import", {"path": str(path)})
            eye = Photographer(stack)
            try:
                _measure(eye)
                _measure_list(eye)
            finally:
                eye.driver.quit()
        finally:
            stack.stop()


def _measure_list(eye: Any) -> None:
    """Two thousand places of fifty parts: opened, drawn, their list filtered."""
    began = time.perf_counter()
    eye.open("More")
    took = time.perf_counter() - began
    frame, calls = eye.js(FRAME % "false")
    rows, times = eye.js(FILTER)
    told = ", ".join(f"{t:.0f}" for t in times)
    print(f"{PLACES} places of {BODIES} parts open in {took:.1f} s; a frame {calls} calls, {frame:.0f} ms")
    print(f"their list of {rows} rows filtered in {told} ms (aim 100)")


def _measure(eye: Any) -> None:
    began = time.perf_counter()
    eye.open("Many")
    faces, places = eye.js("let n = 0; for (const p of bench.view.places.values()) n += p.body.faces.length;"
                           "return [n, bench.view.places.size];")  # fmt: skip
    print(f"{places} parts with {faces} faces open in {time.perf_counter() - began:.1f} s")
    together, calls = eye.js(FRAME % "false")
    thin, few = eye.js(FRAME % "true")
    eye.js(APART)
    alone, many = eye.js(FRAME % "false")
    print(f"a frame: {calls} calls, {together:.0f} ms; copies drawn one by one: {many} calls, {alone:.0f} ms")
    print(f"  ratio {together / alone:.2f}; while it turns {few} calls, ratio {thin / together:.2f}")
    hover = eye.js("""const times = []; for (let k = 0; k < 40; k++) { const began = performance.now();
        bench.constructor.under(bench.view, 300 + 12 * k, 250 + 6 * k); times.push(performance.now() - began); }
        return times.sort((a, b) => a - b)[20];""")
    print(f"what lies under the pointer: {hover:.1f} ms")

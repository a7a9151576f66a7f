// Values on a wire, steps of rulers, words of a knob, and what lies in a drawn outline.
import assert from "node:assert/strict";
import test from "node:test";
import { Vector3 } from "three";
import { Handle } from "../../src/ravine/web/static/js/handles/handle.js";
import { hiddenWords } from "../../src/ravine/web/static/js/bench/words.js";
import { crosses, encloses, wide } from "../../src/ravine/web/static/js/panels/outlines.js";
import { LENGTHS, niceStep, toFifths, told } from "../../src/ravine/web/static/js/view/lengths.js";

test("a step is one, two or five times a power of ten, at least what was asked and less than two and a half of it", () => {
  for (let i = -60; i <= 60; i++) {
    const least = 1.31 ** i;
    const step = niceStep(least);
    const lead = step / 10 ** Math.floor(Math.log10(step) + 1e-9);
    assert.ok([1, 2, 5].some((k) => Math.abs(lead - k) < 1e-6), `${least} gave ${step}`);
    assert.ok(step >= least * 0.998 && step <= least * 2.5 + 1e-12, `${least} gave ${step}`);
  }
});

test("lengths of the units are those of the standard", () => assert.deepEqual(LENGTHS, { mm: 1, cm: 10, m: 1000, in: 25.4, ft: 304.8 }));

test("a value is told without needless digits, with a true minus", () => {
  assert.equal(told(12.5, 4, " mm"), "12.5 mm");
  assert.equal(told(-0.12345678, 4, " mm"), "−0.1235 mm");
  assert.equal(told(30, 3, "°"), "30°");
});

test("a drag rounds to a fifth of a tick", () => {
  assert.equal(toFifths(12.4701, 1), 12.4);
  assert.equal(toFifths(-3.31, 0.5), -3.3);
  assert.equal(toFifths(0.0499, 0.1), 0.04);
});

/** A camera that looks straight down at `scale` pixels a millimetre, y downwards on the screen. */
function looking(scale) {
  const camera = {
    span: 800 / scale,
    project: (p) => ({ x: 640 + p.x * scale, y: 400 - p.y * scale, z: 0 }),
    ray: (x, y) => ({ ray: { origin: new Vector3((x - 640) / scale, (400 - y) / scale, 1000), direction: new Vector3(0, 0, -1) } }),
  };
  return { camera, canvas: { clientHeight: 800, clientWidth: 1280 }, units: "mm" };
}

function wired(direction, scale = 4) {
  const handle = new Handle(/** @type {any} */ ({}), looking(scale), () => {});
  handle.draw = () => {};
  handle.open({ field: "distance", origin: [10, 20, 5], direction }, 0);
  return handle;
}

/** Where its ticks stand on the screen, across. */
function ticksOf(handle) {
  /** @type {number[]} */
  const found = [];
  const node = (name) => ({ setAttribute(key, value) { if (name === "line" && key === "x1") found.push(Number(value)); }, append() {}, addEventListener() {}, textContent: "", style: {}, dataset: {}, focus() {} });
  globalThis.document = /** @type {any} */ ({ createElementNS: (_, name) => node(name), activeElement: null });
  handle.overlay = { contains: () => false, replaceChildren() {}, append() {} };
  handle.drawKnob = () => {};
  Handle.prototype.draw.call(handle);
  return found;
}

test("the value under a pointer is that of the nearest place on the wire", () => {
  const handle = wired([1, 0, 0]);
  assert.ok(Math.abs(handle.valueAt(640 + 4 * 22.5, 400 - 4 * 20) - 12.5) < 1e-9);
  assert.ok(Math.abs(handle.valueAt(640 + 4 * 22.5, 400 + 90) - 12.5) < 1e-9, "beside the wire as on it");
  const slanted = wired([Math.SQRT1_2, Math.SQRT1_2, 0]);
  assert.ok(Math.abs(slanted.valueAt(640 + 4 * 13, 400 - 4 * 23) - 3 * Math.SQRT2) < 1e-9);
});

test("a wire that points at the eye is drawn upright, at true scale", () => {
  const handle = wired([0, 0, 1]);
  const { dx, dy, scale, flat } = handle.onScreen();
  assert.deepEqual([dx, dy, scale, flat], [0, -1, 4, true]);
  assert.ok(Math.abs(handle.valueAt(640 + 4 * 10, 400 - 4 * 20 - 40) - 10) < 1e-9);
});

test("a wire has no more ticks than the screen has room for, however long the value and however near the eye", () => {
  for (const scale of [0.01, 4, 5000]) {
    for (const value of [0, 12.5, -1e5, 1e9]) {
      const handle = wired([1, 0, 0], scale);
      Object.assign(handle, { value });
      const drawn = ticksOf(handle);
      assert.ok(drawn.length < 1000, `${drawn.length} ticks at ${scale} for ${value}`);
      assert.ok(drawn.every((x) => x > -3000 && x < 5000), `${scale} ${value}`);
      if (value >= 0 && scale < 5000) assert.ok(drawn.filter((x) => x > 0 && x < 1280).length > 15, `${scale} ${value}: enough in sight`);
    }
  }
});

test("the knob stops at a wall on either side and nowhere else", () => {
  const handle = wired([1, 0, 0]);
  assert.equal(handle.within(1e6), 1e6);
  handle.walls = { low: -3, high: 12.5 };
  assert.deepEqual([-5, -3, 0, 12.5, 40].map((v) => handle.within(v)), [-3, -3, 0, 12.5, 12.5]);
});

test("what an outline holds, dents left out, and what its line crosses", () => {
  const dented = [[0, 0], [10, 0], [10, 10], [5, 4], [0, 10]];
  const holds = (x, y) => encloses(dented, { x, y });
  assert.deepEqual([holds(1, 1), holds(9, 5), holds(5, 8), holds(11, 5), holds(5, -1)], [true, true, false, false, false]);
  assert.equal(crosses(dented, [{ x: 5, y: 1 }]), true);
  assert.equal(crosses(dented, [{ x: 5, y: 2.2 }, { x: 40, y: 40 }]), false);
  assert.equal(wide([[0, 0], [3, 2]]), false);
  assert.equal(wide([[0, 0], [5, 0]]), true);
});

test("what is hidden is counted in words", () => {
  assert.equal(hiddenWords(new Set()), "nothing");
  assert.equal(hiddenWords(new Set(["n1"])), "1 part");
  assert.equal(hiddenWords(new Set(["n1", "n2", "s3", "s4"])), "2 parts, 2 sketches");
});

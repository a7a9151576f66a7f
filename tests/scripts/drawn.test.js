// What is drawn of numbers: the stretches of a cut's rings, a plot of one column over another, sizes in words, and files
// that are too large to be sent.
import assert from "node:assert/strict";
import test from "node:test";

class Part {
  constructor(name) {
    Object.assign(this, { name, attributes: {}, parts: [], textContent: "" });
  }
  setAttribute(name, value) {
    this.attributes[name] = value;
  }
  append(...parts) {
    this.parts.push(...parts);
  }
  replaceChildren(...parts) {
    this.parts = parts;
  }
}
globalThis.document = { createElementNS: (_, name) => new Part(name), querySelector: () => null };

const { stretches } = await import("../../src/ravine/web/static/js/view/cut.js");
const { plot, ticks } = await import("../../src/ravine/web/static/js/tools/variants/plot.js");
const { sizeWords } = await import("../../src/ravine/web/static/js/tools/sketch/sizes.js");
const { LARGEST, tooLarge } = await import("../../src/ravine/web/static/js/panels/files.js");

test("a closed ring has as many stretches as places, an open one one less, each with the place before it", () => {
  const closed = [...stretches({ rings: [{ from: 4, count: 4, closed: true }] })];
  assert.deepEqual(closed, [[4, 5, 7], [5, 6, 4], [6, 7, 5], [7, 4, 6]]);
  const open = [...stretches({ rings: [{ from: 0, count: 4, closed: false }] })];
  assert.deepEqual(open, [[0, 1, null], [1, 2, 0], [2, 3, 1]]);
  const both = [...stretches({ rings: [{ from: 0, count: 3, closed: true }, { from: 3, count: 2, closed: false }] })];
  assert.equal(both.length, 4);
  for (const { from, count } of [{ from: 0, count: 5 }, { from: 9, count: 40 }]) {
    const rows = [...stretches({ rings: [{ from, count, closed: true }] })];
    assert.deepEqual(rows.map(([a]) => a).sort((a, b) => a - b), rows.map(([, b]) => b).sort((a, b) => a - b), "each place begins one and ends one");
  }
});

const dots = (svg) => svg.parts.filter((p) => p.name === "circle");

test("dots of a plot keep the order of their figures across and up, rows without a figure have none", () => {
  const svg = new Part("svg");
  const across = [4, 1, null, 3, 2];
  const up = [10, 40, 5, null, 30];
  plot(svg, across, up, "wall", "mass");
  const found = dots(svg).map((p) => [Number(p.attributes.cx), Number(p.attributes.cy)]);
  assert.equal(found.length, 3);
  const [four, one, two] = found;
  assert.ok(one[0] < two[0] && two[0] < four[0], "to the right for more across");
  assert.ok(one[1] < two[1] && two[1] < four[1], "higher on the paper for more up");
  for (const [x, y] of found) assert.ok(x > 74 && x < 546 && y > 14 && y < 256, "within the ruled paper");
});

test("one value, or none, still makes a plot or an empty one", () => {
  const svg = new Part("svg");
  plot(svg, [3, 3, 3], [7, 7, 7], "wall", "mass");
  assert.equal(dots(svg).length, 3);
  for (const p of dots(svg)) assert.ok(Number.isFinite(Number(p.attributes.cx)) && Number.isFinite(Number(p.attributes.cy)));
  plot(svg, [null], [null], "wall", "mass");
  assert.equal(svg.parts.length, 0);
});

test("ruled lines lie between the ends, evenly, at one, two or five times a power of ten", () => {
  for (const [low, high] of [[0, 1], [-3.7, 12.9], [1e-4, 3e-4], [99, 1e5], [-20, -19.5]]) {
    const rows = ticks(low, high);
    assert.ok(rows.length >= 2 && rows.length <= 11, `${low} to ${high}`);
    assert.ok(rows[0] >= low - 1e-9 * Math.abs(low) && rows.at(-1) <= high + 1e-9 * Math.abs(high));
    const steps = rows.slice(1).map((v, k) => v - rows[k]);
    for (const step of steps) assert.ok(Math.abs(step / steps[0] - 1) < 1e-6);
    const lead = steps[0] / 10 ** Math.floor(Math.log10(steps[0]) + 1e-6);
    assert.ok([1, 2, 5].some((k) => Math.abs(lead - k) < 1e-3), String(steps[0]));
  }
  assert.deepEqual(ticks(3, 3), [3]);
});

test("a size says what it is of, in the units of the model", () => {
  assert.equal(sizeWords({ kind: "radius", value: 12.5 }, "mm"), "R 12.5");
  assert.equal(sizeWords({ kind: "diameter", value: 25.4 }, "in"), "Ø 1");
  assert.equal(sizeWords({ kind: "distance", value: 1 / 3 }, "cm"), "0.0333");
  assert.equal(sizeWords({ kind: "angle", value: Math.PI / 7 }, "mm"), "25.714°");
});

test("a file that the server would not take is told before it is sent", () => {
  assert.equal(tooLarge({ name: "a.step", size: LARGEST }), "");
  assert.equal(tooLarge({ name: "a.step", size: LARGEST + 2 ** 20 }), "a.step has 301 MB; files up to 300 MB are taken");
});

// Dimensions of a sketch: where their lines stand, what they lie between, and how lengths are read from gaps.
import assert from "node:assert/strict";
import test from "node:test";
import { degreesOf, lengthOf } from "../../src/ravine/web/static/js/line/grips.js";
import { dimension, endsOf, sizeWords } from "../../src/ravine/web/static/js/tools/sketch/sizes.js";

const far = (a, b) => Math.hypot(a.x - b.x, a.y - b.y);
const near = (found, wanted) => assert.ok(Math.abs(found - wanted) < 1e-9, `${found} is not ${wanted}`);

for (const [way, length] of [["distance", 50], ["across", 40], ["upwards", 30]]) {
  test(`a dimension ${way} is as long as what it holds, and stands off it`, () => {
    const [a, b] = [{ x: 100, y: 100 }, { x: 140, y: 130 }];
    for (const middle of [{ x: 0, y: 400 }, { x: 400, y: 0 }]) {
      const found = dimension(a, b, way, middle);
      const [, , line] = found.lines;
      near(far(line[0], line[1]), length);
      near(far(found.at, line[0]), length / 2);
      const off = Math.min(far(a, line[0]), far(b, line[1]));
      near(off, 24);
      assert.ok(far(found.at, middle) > far({ x: 120, y: 115 }, middle), "on the side away from the middle");
      for (const [[from, over], foot] of [[found.lines[0], line[0]], [found.lines[1], line[1]]]) near(far(from, over), far(from, foot) + 5);
      assert.equal(found.ticks.length, 2);
    }
  });
}

test("a dimension whose value was dragged goes through it, and reaches it beside its ends", () => {
  const [a, b] = [{ x: 100, y: 100 }, { x: 140, y: 100 }];
  const within = dimension(a, b, "distance", { x: 120, y: 0 }, { x: 125, y: 160 });
  const [, , line, more] = within.lines;
  assert.deepEqual(within.at, { x: 125, y: 160 });
  assert.equal(more, undefined);
  for (const end of line) near(end.y, 160);
  near(far(line[0], line[1]), 40);
  const beside = dimension(a, b, "distance", { x: 120, y: 0 }, { x: 190, y: 70 });
  assert.deepEqual(beside.lines[3], [{ x: 140, y: 70 }, { x: 190, y: 70 }]);
  near(beside.lines[0][1].y, 65); // five beyond the line, on its side
});

test("two places in one spot still give a dimension that can be drawn", () => {
  const found = dimension({ x: 5, y: 5 }, { x: 5, y: 5 }, "distance", { x: 0, y: 0 });
  for (const [p, q] of found.lines) assert.ok([p.x, p.y, q.x, q.y].every(Number.isFinite));
});

const SKETCH = {
  points: { p1: [0, 10], p2: [30, 50] },
  curves: [
    { id: "c1", kind: "line", lines: [[0, 0, 40, 0]] },
    { id: "c2", kind: "line", lines: [[5, 12, 25, 12]] },
    { id: "c3", kind: "circle", lines: [[0, 0, 1, 1]] },
  ],
};

test("what a size lies between", () => {
  assert.deepEqual(endsOf({ kind: "length", on: ["c1"], at: [[20, 0]] }, SKETCH), [[0, 0], [40, 0]]);
  assert.deepEqual(endsOf({ kind: "off line", on: ["p2", "c1"], at: [[30, 50], [20, 0]] }, SKETCH), [[30, 50], [30, 0]]);
  assert.deepEqual(endsOf({ kind: "across", on: ["p1", "p2"], at: [[0, 10], [30, 50]] }, SKETCH), [[0, 10], [30, 50]]);
  assert.deepEqual(endsOf({ kind: "lines apart", on: ["c1", "c2"], at: [[20, 0], [15, 12]] }, SKETCH), [[20, 0], [20, 12]]);
  assert.equal(endsOf({ kind: "angle", on: ["c1", "c2"], at: [[20, 0], [15, 12]] }, SKETCH), null);
  assert.equal(endsOf({ kind: "diameter", on: ["c3"], at: [[0, 0]] }, SKETCH), null);
});

test("values of dimensions read as on a drawing", () => {
  assert.equal(sizeWords({ kind: "diameter", value: 12.5 }, "mm"), "Ø 12.5");
  assert.equal(sizeWords({ kind: "radius", value: 25.4 }, "in"), "R 1");
  assert.equal(sizeWords({ kind: "length", value: 60 }, "cm"), "6");
  assert.equal(sizeWords({ kind: "angle", value: Math.PI / 6 }, "mm"), "30°");
});

test("plain lengths and angles are read at once, sums wait for the server", () => {
  assert.equal(lengthOf("12.5", "mm"), 12.5);
  assert.equal(lengthOf(" −3 cm ", "mm"), -30);
  assert.equal(lengthOf("2", "in"), 50.8);
  assert.equal(lengthOf("1/2 in + 3", "mm"), null);
  assert.equal(lengthOf("", "mm"), null);
  assert.equal(degreesOf("30°"), 30);
  assert.equal(degreesOf("−4.5 deg"), -4.5);
  assert.equal(degreesOf("half"), null);
});

// What is drawn by hand on a view of a sheet: where corners of a cutting line fall, and what it asks for.
import assert from "node:assert/strict";
import test from "node:test";
import { Draft } from "../../src/ravine/web/static/js/tools/handover/draft.js";

/** A hand with a view at (100, 80) in twice its size; what it keeps is written down. */
function draft(middles = []) {
  const kept = [], drawn = [];
  const hand = {
    leave: () => one.leave(),
    paper: { view: "v1", bench: { say() {} }, keep: async (edit, values) => kept.push([edit, values]) },
    drawn: {
      middles: () => middles,
      within: (_view, [x, y]) => [(x - 100) / 2, (y - 80) / 2],
      ghost: (marks) => drawn.push(marks),
      svg: { classList: { add() {} } },
    },
  };
  const one = new Draft(hand);
  return { one, kept, drawn };
}

test("a corner falls on the middle of a round near it, and says so", () => {
  const { one } = draft([[40, 30]]);
  one.begin("line");
  assert.deepEqual(one.corner([41.5, 31]), [40, 30]);
  assert.equal(one.fell, true);
  assert.deepEqual(one.corner([50, 45]), [50, 45]);
  assert.equal(one.fell, false);
});

test("beside a middle it falls level with it", () => {
  const { one } = draft([[40, 30], [90, 70]]);
  assert.deepEqual(one.corner([60, 30.9]), [60, 30]);
  assert.deepEqual(one.corner([89.2, 10]), [90, 10]);
  assert.deepEqual(one.corner([41, 71]), [40, 70], "with two of them at once");
});

for (const [to, found] of [[[60, 11], [60, 10]], [[11, -40], [10, -40]], [[-50, 13], [-50, 10]], [[40, 40], [40, 40]], [[60, 17], [60, 17]]]) {
  test(`a stretch from (10, 10) towards (${to}) ends at (${found})`, () => {
    const { one } = draft();
    one.begin("line");
    one.start([10, 10]);
    assert.deepEqual(one.corner(to), found);
  });
}

test("a level line is looked at from below, an upright one from the left, in the view's own measure", async () => {
  for (const [corners, toward] of [[[[100, 80], [160, 80], [160, 120], [220, 120]], "below"], [[[100, 80], [100, 180], [120, 180], [120, 280]], "left"]]) {
    const { one, kept } = draft();
    one.begin("line");
    for (const at of corners) one.start(at);
    await one.endLine();
    assert.deepEqual(kept, [["cut view", { view: "v1", line: corners.map(([x, y]) => [(x - 100) / 2, (y - 80) / 2]), toward }]]);
    assert.deepEqual([one.shape, one.places], ["", []]);
  }
});

test("a slant does not say where a line is looked at from while it has level stretches", async () => {
  const { one, kept } = draft();
  one.begin("line");
  for (const at of [[100, 80], [120, 80], [150, 180]]) one.start(at);
  await one.endLine();
  assert.equal(kept[0][1].toward, "below");
});

test("a corner clicked twice is one; a line of one place asks for nothing", async () => {
  const { one, kept } = draft();
  one.begin("line");
  for (const at of [[100, 80], [160, 80], [160, 80]]) one.start(at);
  await one.endLine();
  assert.equal(kept[0][1].line.length, 2);
  one.begin("line");
  one.start([100, 80]);
  await one.endLine();
  assert.equal(kept.length, 1);
});

test("a circle gives a detail about its middle, a strip is left out along its longer way", async () => {
  const { one, kept } = draft();
  one.begin("circle");
  one.start([120, 100]);
  await one.drewTo([126, 108]);
  assert.deepEqual(kept[0], ["detail view", { view: "v1", middle: [10, 10], radius: "5 mm" }]);
  one.begin("break");
  one.start([140, 100]);
  await one.drewTo([110, 104]);
  assert.deepEqual(kept[1], ["set view", { view: "v1", along: "x", low: "5 mm", high: "20 mm" }]);
  one.begin("break");
  one.start([140, 100]);
  await one.drewTo([140, 100]);
  assert.equal(kept.length, 2, "a click draws nothing");
});

test("what is under way is shown as drawn: upwards on the paper is upwards", () => {
  const { one, drawn } = draft([[20, 20]]);
  one.begin("line");
  one.start([0, 0]);
  one.sketch([19, 21]);
  assert.match(drawn[0], /d="M0 0L20 -20"/);
  assert.match(drawn[0], /<circle cx="20" cy="-20"/);
  one.begin("circle");
  one.start([0, 0]);
  one.sketch([3, 4]);
  assert.match(drawn[1], /cx="0" cy="0" r="5"/);
});

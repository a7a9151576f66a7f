// Tags of pinned measures keep off one another.
import assert from "node:assert/strict";
import test from "node:test";
import { spaced } from "../../src/ravine/web/static/js/panels/spacing.js";

/** Numbers from 0 to 1 that are the same in every run. */
function drawn(seed) {
  let state = seed;
  return () => ((state = (state * 1664525 + 1013904223) % 2 ** 32) / 2 ** 32);
}

const covers = (a, b) => Math.abs(a.x - b.x) < (a.wide + b.wide) / 2 && Math.abs(a.y - b.y) < (a.tall + b.tall) / 2;

test("tags that stand free stay where they are", () => {
  const tags = [{ x: 100, y: 40, wide: 80, tall: 23 }, { x: 100, y: 90, wide: 80, tall: 23 }, { x: 300, y: 41, wide: 80, tall: 23 }];
  assert.deepEqual(spaced(tags, 400), tags);
});

test("of two in one place the second goes just below or above, never out of the view", () => {
  const tag = { x: 100, y: 100, wide: 80, tall: 23 };
  assert.equal(Math.abs(spaced([tag, tag], 400, 4)[1].y - 100), 27);
  assert.equal(spaced([{ ...tag, y: 12 }, { ...tag, y: 12 }], 400, 4)[1].y, 39);
  assert.equal(spaced([{ ...tag, y: 388 }, { ...tag, y: 388 }], 400, 4)[1].y, 361);
});

test("no tag covers another as long as there is room", () => {
  for (let seed = 1; seed <= 60; seed++) {
    const next = drawn(seed);
    const tags = Array.from({ length: 14 }, () => ({ x: 640 * next(), y: 15 + 770 * next(), wide: 60 + 120 * next(), tall: 23 }));
    const found = spaced(tags, 800);
    found.forEach((a, i) => {
      assert.equal(a.x, tags[i].x);
      for (const b of found.slice(i + 1)) assert.ok(!covers(a, b), `seed ${seed}: ${JSON.stringify([a, b])}`);
    });
  }
});

test("without room a tag stays where it belongs", () => {
  const tag = { x: 50, y: 12, wide: 80, tall: 23 };
  assert.equal(spaced([tag, tag], 24)[1].y, 12);
});

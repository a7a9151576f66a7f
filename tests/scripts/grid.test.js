// Rows of values to be tried: ranges, what is pasted from a spreadsheet, figures for the plot, what is copied out.
import assert from "node:assert/strict";
import test from "node:test";
import { Grid } from "../../src/ravine/web/static/js/tools/variants/grid.js";
import { ticks } from "../../src/ravine/web/static/js/tools/variants/plot.js";

class Bare extends Grid {
  drawn = 0;
  draw() {
    this.drawn++;
  }
}

const heard = {};
const table = { addEventListener: (name, act) => (heard[name] = act) };
const grid = (rows = []) => new Bare(table, { names: { wall: "2 mm", bolt: "60 mm", lean: "5°" }, rows, units: "mm" });

/** What the clipboard gives to an input of a row and column. */
function paste(at, row, name, text) {
  let stopped = false;
  const target = { dataset: { name }, closest: () => ({ dataset: { row: String(row) } }) };
  at.pasted({ target, clipboardData: { getData: () => text }, preventDefault: () => (stopped = true) });
  return stopped;
}

test("a range goes evenly from one length to another, its ends included, and takes the place of an empty row", () => {
  const one = grid();
  assert.deepEqual(one.rows, [{}]);
  assert.equal(one.range("wall", "2", "3 mm", 5), "");
  assert.deepEqual(one.rows.map((r) => r.wall), ["2 mm", "2.25 mm", "2.5 mm", "2.75 mm", "3 mm"]);
  assert.equal(one.range("bolt", "1", "0.1", 4), "");
  assert.deepEqual(one.rows.slice(5).map((r) => r.bolt), ["1", "0.7", "0.4", "0.1"]);
});

test("a range that is none says what would be one and adds nothing", () => {
  const one = grid([{ wall: "2 mm" }]);
  for (const [first, last] of [["2 mm", "1 in"], ["a", "3"], ["2", ""], ["2*wall", "3"]]) assert.match(one.range("wall", first, last, 3), /such as 2 mm to 4 mm/);
  for (const count of [1, 0, 2.5, Number.NaN, 2001]) assert.match(one.range("wall", "1", "2", count), /2 to 2000 rows/);
  assert.deepEqual(one.rows, [{ wall: "2 mm" }]);
});

test("no more rows than the bound, whatever is added", () => {
  const one = grid();
  one.range("wall", "1", "2", 2000);
  one.range("wall", "1", "2", 2000);
  assert.equal(one.rows.length, 2000);
});

test("cells of a spreadsheet fill places to the right and below; nothing falls off the table", () => {
  const one = grid([{ wall: "1" }, { wall: "2", lean: "7°" }]);
  assert.equal(paste(one, 1, "bolt", "50 mm\t3°\tbeyond\r\n55 mm\t\r\n60 mm\t4°\n"), true);
  assert.deepEqual(one.rows, [{ wall: "1" }, { wall: "2", bolt: "50 mm", lean: "3°" }, { bolt: "55 mm" }, { bolt: "60 mm", lean: "4°" }]);
});

test("a first line of names chooses the columns", () => {
  const one = grid();
  paste(one, 0, "wall", "lean;wall\n5°;1 mm\n6°;2 mm");
  assert.deepEqual(one.rows, [{ lean: "5°", wall: "1 mm" }, { lean: "6°", wall: "2 mm" }]);
});

test("a single value is left to the input", () => {
  const one = grid();
  assert.equal(paste(one, 0, "wall", " 12 mm \n"), false);
  assert.deepEqual(one.rows, [{}]);
});

test("a dropped row takes what came of it along; the last one leaves an empty one", () => {
  const one = grid([{ wall: "1" }, { wall: "2" }]);
  one.show([{ works: true, volume: 1 }, { works: true, volume: 2 }]);
  one.drop(0);
  assert.deepEqual([one.rows, one.found.map((f) => f.volume)], [[{ wall: "2" }], [2]]);
  one.drop(0);
  assert.deepEqual([one.rows, one.found], [[{}], []]);
});

const TRIED = [
  { works: true, why: "", volume: 10.5, mass: null, wall: 2, size: [1, 2, 3] },
  { works: false, why: "bolt; too far" },
  { works: true, why: "", volume: 12, mass: 0.3, wall: null, size: [1, 2, 4] },
];

test("figures of the plot are those of rows that work; columns without any are left out", () => {
  const one = grid([{ wall: "2 mm" }, { wall: "3 mm" }, { wall: "−4 mm" }]);
  one.show(TRIED);
  const columns = one.numbers();
  assert.deepEqual(columns.wall, [2, -4], "a value of that name, not the part's smallest wall");
  assert.deepEqual(columns["smallest wall, mm"], [2, null]);
  assert.deepEqual(columns[one.volume], [10.5, 12]);
  assert.deepEqual(columns["mass, kg"], [null, 0.3]);
  assert.deepEqual(columns["size along Z, mm"], [3, 4]);
  assert.equal(columns.bolt, undefined, "no row uses it");
});

test("what is copied out has a line for each row, and no value breaks its columns", () => {
  const one = grid([{ wall: "2 mm" }, { bolt: "61 mm" }, {}]);
  one.show(TRIED);
  const lines = one.asText().split("\n").map((l) => l.split(";"));
  assert.deepEqual(lines.map((l) => l.length), [9, 9, 9, 9]);
  assert.deepEqual(lines[1], ["2 mm", "", "", "yes", "10.5", "", "2", "1 x 2 x 3", ""]);
  assert.deepEqual(lines[2].slice(3), ["no", "", "", "", "", "bolt, too far"]);
});

test("steps of a ruled axis are round, lie within, and are neither few nor many", () => {
  for (const [low, high] of [[0, 1], [-3.2, 7.7], [0.00012, 0.00019], [99.5, 100.5], [-1e6, 3e7], [1, 1.0000001]]) {
    const found = ticks(low, high);
    assert.ok(found.length >= 2 && found.length <= 8, `${found}`);
    assert.ok(found.every((t) => t >= low - 1e-9 * Math.abs(low) && t <= high + 1e-9 * Math.abs(high)), `${found}`);
    const steps = found.slice(1).map((t, k) => t - found[k]);
    const [lead] = steps[0].toExponential(3).split("e");
    assert.ok([1, 2, 5].some((m) => Math.abs(Number(lead) - m) < 0.01), `${lead}`);
    assert.ok(steps.every((s) => Math.abs(s - steps[0]) < 1e-6 * steps[0] + 1e-12 * Math.abs(high)));
  }
  assert.deepEqual(ticks(4, 4), [4]);
});

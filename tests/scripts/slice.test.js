// Tetrahedra cut by a plane: the area of what is cut, and the figures there.
import assert from "node:assert/strict";
import test from "node:test";
import { sliced } from "../../src/ravine/web/static/js/view/slice.js";

/** A box of n × n × n cubes of six tetrahedra each, from the origin to one. */
function box(n) {
  const at = (i, j, k) => (i * (n + 1) + j) * (n + 1) + k;
  const points = [], tets = [];
  for (let i = 0; i <= n; i++) for (let j = 0; j <= n; j++) for (let k = 0; k <= n; k++) points.push(i / n, j / n, k / n);
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++)
      for (let k = 0; k < n; k++)
        for (const [a, b, c] of [[0, 1, 2], [0, 2, 1], [1, 0, 2], [1, 2, 0], [2, 0, 1], [2, 1, 0]]) {
          const corner = [i, j, k], row = [at(i, j, k)];
          for (const axis of [a, b, c]) {
            corner[axis]++;
            row.push(at(...corner));
          }
          tets.push(...row);
        }
  return { points: Float32Array.from(points), moved: new Float32Array(points.length), tets: Uint32Array.from(tets) };
}

function area({ points }) {
  let sum = 0;
  for (let t = 0; t < points.length; t += 9) {
    const [a, b, c] = [0, 3, 6].map((o) => [0, 1, 2].map((j) => points[t + o + j]));
    const [u, v] = [b, c].map((q) => q.map((x, j) => x - a[j]));
    sum += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2;
  }
  return sum;
}

const near = (found, wanted, slack = 1e-5) => assert.ok(Math.abs(found - wanted) < slack, `${found} is not ${wanted}`);
const level = Math.sqrt(3) / 2;

for (const [name, normal, at, wanted] of [
  ["square to an axis", [0, 0, 1], 0.37, 1],
  ["on the other side", [0, 0, -1], -0.37, 1],
  ["along a diagonal", [Math.SQRT1_2, Math.SQRT1_2, 0], Math.SQRT1_2, Math.SQRT2],
  ["through the middle of all six sides", [1, 1, 1].map((v) => v / Math.sqrt(3)), level, (3 * Math.sqrt(3)) / 4],
  ["beside it", [1, 0, 0], 1.2, 0],
]) {
  test(`a box cut ${name}`, () => {
    const within = box(3);
    const found = sliced(within, new Float32Array(64), 0, normal, at);
    near(area(found), wanted);
    for (let k = 0; k < found.points.length; k += 3) near(normal[0] * found.points[k] + normal[1] * found.points[k + 1] + normal[2] * found.points[k + 2], at);
  });
}

test("a figure that grows evenly is told exactly in the cut", () => {
  const within = box(2);
  const figures = Float32Array.from({ length: 27 }, (_, k) => 3 * within.points[3 * k] - within.points[3 * k + 1] + 2 * within.points[3 * k + 2]);
  const found = sliced(within, figures, 0, [0.6, 0.8, 0], 0.5);
  assert.equal(found.figures.length, found.points.length / 3);
  found.figures.forEach((f, k) => near(f, 3 * found.points[3 * k] - found.points[3 * k + 1] + 2 * found.points[3 * k + 2]));
});

test("what is drawn moved is cut where it is drawn", () => {
  const within = box(2);
  for (let k = 0; k < 27; k++) within.moved[3 * k + 2] = within.points[3 * k]; // sheared: rises with x
  near(area(sliced(within, new Float32Array(27), 1, [0, 0, 1], 1)), 1); // full along y; x from 0 to 1
  near(area(sliced(within, new Float32Array(27), 1, [0, 0, 1], 1.5)), 0.5);
  near(area(sliced(within, new Float32Array(27), 0, [0, 0, 1], 1.5)), 0);
});

// Suns that light is gathered from: spread evenly, half of them the key light, all above the horizon.
import assert from "node:assert/strict";
import test from "node:test";
import { Vector3 } from "three";
import { SUNS, halton, sunAt } from "../../src/ravine/web/static/js/view/gathered.js";

test("numbers of each base fill the stretch from 0 to 1 evenly", () => {
  for (const base of [2, 3, 5, 7]) {
    const row = Array.from({ length: base ** 3 }, (_, k) => halton(k, base)).sort((a, b) => a - b);
    row.forEach((value, k) => assert.ok(Math.abs(value - k / row.length) < 1e-12, `${base}: ${value}`));
  }
});

test("half of the suns are near the key light, the others all over the sky", () => {
  const rows = Array.from({ length: SUNS }, (_, k) => sunAt(k));
  for (const { way, strength } of rows) {
    assert.ok(Math.abs(way.length() - 1) < 1e-9);
    assert.ok(way.z > 0.1);
    assert.ok(strength > 0);
  }
  const mean = (list) => list.reduce((sum, { way }) => sum.add(way), new Vector3()).divideScalar(list.length);
  const key = rows.filter((_, k) => k % 2);
  const sky = rows.filter((_, k) => !(k % 2));
  assert.ok(mean(key).length() > 0.98, "all near one another");
  assert.ok(key.every(({ way }) => way.angleTo(mean(key)) < 0.2));
  assert.ok(Math.hypot(mean(sky).x, mean(sky).y) < 0.12, "from all sides alike");
  assert.ok(Math.abs(mean(sky).z - 0.6) < 0.05, "as many low as high");
});

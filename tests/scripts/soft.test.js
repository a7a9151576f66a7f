// Edges without a kink are told from sharp ones by the normals of the faces beside them.
import assert from "node:assert/strict";
import test from "node:test";
import { softEdges } from "../../src/ravine/web/static/js/view/soft.js";

/** A strip of two faces that meet along the Y axis at an angle (degrees), and the edges around them. */
function folded(angle) {
  const a = (angle * Math.PI) / 180;
  const far = [Math.cos(a), Math.sin(a)];
  const face = (points, normal) => ({ points: Float32Array.from(points.flat()), normals: Int8Array.from(points.flatMap(() => [...normal.map((v) => Math.round(127 * v)), 0])) });
  return {
    faces: [
      face([[-1, 0, 0], [0, 0, 0], [0, 1, 0], [0, 2, 0], [-1, 2, 0]], [0, 0, 1]),
      face([[0, 0, 0], [far[0], 0, far[1]], [far[0], 2, far[1]], [0, 2, 0], [0, 1, 0]], [-Math.sin(a), 0, Math.cos(a)]),
    ],
    edges: [Float32Array.from([0, 0, 0, 0, 1, 0, 0, 2, 0]), Float32Array.from([-1, 0, 0, -1, 2, 0])],
    rims: [[0, 1], [0]],
    corners: new Float32Array(0),
  };
}

for (const angle of [0, 1, 3]) test(`faces that meet at ${angle}° have a soft edge`, () => assert.deepEqual([...softEdges(folded(angle))], [1, 0]));
for (const angle of [6, 45, 90, -30]) test(`faces that meet at ${angle}° have a sharp edge`, () => assert.deepEqual([...softEdges(folded(angle))], [0, 0]));

test("the seam of a round face is soft, a border of one face is sharp", () => {
  const shape = folded(90);
  shape.rims = [[0, 0, 1], []];
  assert.deepEqual([...softEdges(shape)], [1, 0]);
});

test("where a mesh has no point of the edge, the edge counts as sharp", () => {
  const shape = folded(0);
  shape.edges[0] = Float32Array.from([0, 0, 0, 0, 0.7, 0, 0, 2, 0]);
  assert.deepEqual([...softEdges(shape)], [0, 0]);
});

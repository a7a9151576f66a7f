// What lies under the pointer: corner before edge before face, the nearest part first, hidden ones never.
import assert from "node:assert/strict";
import test from "node:test";
import { Box3, Matrix4, Vector3 } from "three";
import { Camera } from "../../src/ravine/web/static/js/view/camera.js";
import { faceUnder, findById, under } from "../../src/ravine/web/static/js/view/picking.js";

const CORNERS = [-1, 1].flatMap((x) => [-1, 1].flatMap((y) => [-1, 1].map((z) => [10 * x, 10 * y, 10 * z])));
const SIDES = [[0, -1], [0, 1], [1, -1], [1, 1], [2, -1], [2, 1]]; // axis and way
const PAIRS = CORNERS.flatMap((a, i) => CORNERS.slice(i + 1).filter((b) => a.filter((v, k) => v !== b[k]).length === 1).map((b) => [a, b]));
const on = ([axis, way], p) => p[axis] === 10 * way;

/** A cube of 20 as the view holds it: faces hit by where a ray enters, edges by their ends. */
function cube() {
  const box = new Box3(new Vector3(-10, -10, -10), new Vector3(10, 10, 10));
  return {
    shape: {
      edges: PAIRS.map(([a, b]) => [...a, ...b]),
      corners: CORNERS.flat(),
      rims: SIDES.map((side) => PAIRS.flatMap(([a, b], e) => (on(side, a) && on(side, b) ? [e] : []))),
    },
    tree: {
      raycastFirst(ray) {
        const point = ray.intersectBox(box, new Vector3());
        return point && { point, faceIndex: SIDES.findIndex(([axis, way]) => Math.abs(point.toArray()[axis] - 10 * way) < 1e-6) };
      },
    },
    faceOf: (/** @type {number} */ index) => index,
    firstIndex: [],
  };
}

function view(...places) {
  const element = { clientWidth: 800, clientHeight: 600, addEventListener: () => {} };
  const camera = new Camera(/** @type {any} */ (element), () => {});
  camera.bound(new Box3(new Vector3(-10, -10, -10), new Vector3(10, 10, 10)));
  camera.fit();
  const drawable = cube();
  const body = { kind: "solid", faces: [11, 12, 13, 14, 15, 16], edges: PAIRS.map((_, i) => 100 + i), vertices: CORNERS.map((_, i) => 200 + i) };
  return /** @type {any} */ ({
    camera, only: "", section: null, sketches: null,
    places: new Map(places.map(([node, x, visible = true]) => [node, { drawable, body, group: { matrix: new Matrix4().makeTranslation(x, 0, 0), visible } }])),
  });
}

const at = (seen, x, y, z) => seen.camera.project(new Vector3(x, y, z));

test("the face, the edge and the corner that the pointer is on", () => {
  const seen = view(["n1", 0]);
  const front = at(seen, 0, -10, 0);
  assert.deepEqual([under(seen, front.x, front.y).kind, under(seen, front.x, front.y).id], ["face", "f13"]);
  const border = at(seen, 0, -10, 10);
  const edge = under(seen, border.x, border.y + 2);
  assert.equal(edge.kind, "edge");
  assert.deepEqual(PAIRS[edge.index].map((p) => p.slice(1)), [[-10, 10], [-10, 10]]);
  const tip = at(seen, 10, -10, 10);
  const corner = under(seen, tip.x - 2, tip.y + 2);
  assert.deepEqual([corner.kind, CORNERS[corner.index]], ["vertex", [10, -10, 10]]);
  assert.equal(under(seen, 5, 5), null);
});

test("an outline is caught from just outside it too", () => {
  const seen = view(["n1", 0]);
  const rim = at(seen, -10, -10, 0); // the leftmost edge but one from this side
  const found = [-3, 3].map((by) => under(seen, rim.x + by, rim.y)?.kind);
  assert.ok(found.includes("edge"), `${found}`);
});

test("only what is asked for: faces with no edge, parts, edges from further off", () => {
  const seen = view(["n1", 0]);
  const border = at(seen, 0, -10, 10);
  assert.deepEqual(["face", "node", "edge", "vertex"].map((only) => under(Object.assign(seen, { only }), border.x, border.y + 1)?.kind), ["face", "node", "edge", undefined]);
  assert.equal(under(Object.assign(seen, { only: "edge" }), border.x, border.y + 13).kind, "edge");
  assert.equal(under(Object.assign(seen, { only: "" }), border.x, border.y + 13).kind, "face");
});

test("the nearer of two parts is met, with its place; a hidden one never", () => {
  const seen = view(["far", 0], ["near", -12]);
  const spot = at(seen, -10, 0, 0); // within the near one
  assert.equal(faceUnder(seen, spot.x, spot.y).node, "near");
  seen.places.get("near").group.visible = false;
  const found = faceUnder(seen, spot.x, spot.y);
  assert.deepEqual([found.node, found.id], ["far", "f11"]);
  assert.ok(found.point.distanceTo(new Vector3(-10, 0, 0)) < 1e-6);
});

test("things are found by their id, in the part that shows them", () => {
  const seen = view(["n1", 0]);
  assert.deepEqual(findById(seen, "f14"), { kind: "face", node: "n1", index: 3, id: "f14" });
  assert.deepEqual(findById(seen, "v203"), { kind: "vertex", node: "n1", index: 3, id: "v203" });
  assert.deepEqual(findById(seen, "n1"), { kind: "node", node: "n1", index: 0, id: "n1" });
  assert.deepEqual([findById(seen, "f99"), findById(seen, "n7"), findById(seen, "c3")], [null, null, null]);
});

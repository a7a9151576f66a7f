// The camera: what is projected lies under its ray again; fitting, turning, sliding and zooming keep what they say.
import assert from "node:assert/strict";
import test from "node:test";
import { Box3, Matrix4, Vector3 } from "three";
import { ends } from "../../src/ravine/web/static/js/view/axes.js";
import { Camera } from "../../src/ravine/web/static/js/view/camera.js";

/** An element that keeps what it is asked to listen to. */
function element(width, height) {
  const heard = {};
  return {
    clientWidth: width, clientHeight: height, heard,
    addEventListener: (name, way) => { heard[name] = way; },
    setPointerCapture: () => {},
    getBoundingClientRect: () => ({ left: 100, top: 50 }),
  };
}

function camera(width = 900, height = 600) {
  const made = new Camera(/** @type {any} */ (element(width, height)), () => {});
  made.bound(new Box3(new Vector3(-10, 0, 0), new Vector3(50, 40, 22)));
  made.fit();
  return made;
}

const CORNERS = [-10, 50].flatMap((x) => [0, 40].flatMap((y) => [0, 22].map((z) => new Vector3(x, y, z))));
const close = (a, b, by = 1e-6) => assert.ok(Math.abs(a - b) < by, `${a} is not ${b}`);

test("a point lies on the ray through the pixel that it is seen at, parallel or not", () => {
  for (const parallel of [false, true]) {
    const eye = camera();
    eye.parallel = parallel;
    for (const corner of CORNERS) {
      const { x, y } = eye.project(corner);
      assert.ok(eye.ray(x, y).ray.distanceToPoint(corner) < (parallel ? 2e-3 : 1e-6), `${corner.toArray()}`);
    }
  }
});

test("what is fitted is seen whole, upright and lying, and fills a fair part of the view", () => {
  for (const [width, height] of [[900, 600], [400, 800], [1500, 300]]) {
    const eye = camera(width, height);
    for (const [yaw, pitch] of [[0, 0], [-0.62, 0.5], [2, -1], [1, Math.PI / 2]]) {
      Object.assign(eye, { yaw, pitch });
      eye.fit();
      const spots = CORNERS.map((c) => eye.project(c));
      assert.ok(spots.every((s) => s.x >= 0 && s.x <= width && s.y >= 0 && s.y <= height && s.z < 1), `${[width, yaw]}`);
      const spread = Math.max(...spots.map((s) => s.x)) - Math.min(...spots.map((s) => s.x));
      assert.ok(spread > 0.2 * Math.min(width, height));
    }
  }
});

test("the height of the view is as many millimetres as are told", () => {
  const eye = camera();
  eye.parallel = true;
  eye.lookFrom(new Vector3(0, -1, 0));
  const [low, high] = [new Vector3(20, 20, -30), new Vector3(20, 20, 30)].map((p) => eye.project(p).y);
  close(low - high, (60 * 600) / eye.span, 0.05);
});

test("looking from each side puts that axis towards the eye and Z up where it can be", () => {
  const eye = camera();
  for (const [x, y, z] of [[1, 0, 0], [-1, 0, 0], [0, 1, 0], [0, -1, 0], [0, 0, 1], [0, 0, -1], [1, 1, 1]]) {
    const towards = new Vector3(x, y, z).normalize();
    eye.lookFrom(towards);
    assert.ok(eye.direction().distanceTo(towards) < 1e-6, `${[x, y, z]}`);
    const [foot, head] = [eye.target.clone(), eye.target.clone().add(new Vector3(0, 0, 5))].map((p) => eye.project(p));
    if (Math.abs(z) < 1) assert.ok(head.y < foot.y && Math.abs(head.x - foot.x) < 1e-3);
  }
});

test("square on to a plane its x lies to the right, also seen from above and from below", () => {
  const eye = camera();
  for (const angle of [0, 0.7, 2.5]) {
    for (const tip of [0, Math.PI / 2, Math.PI]) {
      const plane = new Matrix4().makeRotationZ(angle).multiply(new Matrix4().makeRotationX(tip));
      eye.lookFlat(plane);
      const normal = new Vector3().setFromMatrixColumn(plane, 2);
      assert.ok(eye.direction().distanceTo(normal) < 1e-5, `${[angle, tip]}`);
      const x = new Vector3().setFromMatrixColumn(plane, 0);
      const [from, to] = [eye.target.clone(), eye.target.clone().addScaledVector(x, 5)].map((p) => eye.project(p));
      assert.ok(to.x > from.x + 1 && Math.abs(to.y - from.y) < 1e-2, `${[angle, tip]}`);
    }
  }
});

test("zooming keeps the place under the pointer, and has ends", () => {
  const eye = camera();
  const before = eye.onTargetPlane(700, 130);
  for (const factor of [0.5, 0.8, 3]) {
    eye.zoom(factor, 700, 130);
    const now = eye.project(before);
    close(now.x, 700, 1e-3);
    close(now.y, 130, 1e-3);
  }
  for (let i = 0; i < 80; i++) eye.zoom(0.5, 700, 130);
  close(eye.span, eye.radius * 1e-3);
  for (let i = 0; i < 80; i++) eye.zoom(2, 10, 10);
  close(eye.span, eye.radius * 60);
});

test("sliding moves the model with the pointer; turning stops at the poles", () => {
  const eye = camera();
  const at = eye.project(eye.target);
  const held = eye.target.clone();
  eye.pan(37, -21);
  close(eye.project(held).x - at.x, 37, 1e-3);
  close(eye.project(held).y - at.y, -21, 1e-3);
  eye.orbit(0, 1e5);
  close(eye.pitch, Math.PI / 2);
  assert.ok(Number.isFinite(eye.project(held).x));
  eye.orbit(0, -1e5);
  close(eye.pitch, -Math.PI / 2);
});

test("a press turns only after four pixels; with shift it slides, two fingers zoom", () => {
  const eye = camera();
  const { heard } = eye.element;
  const send = (name, x, y, more = {}) => heard[name]({ pointerId: 1, clientX: x, clientY: y, buttons: 1, ...more });
  const { yaw } = eye;
  send("pointerdown", 10, 10);
  send("pointermove", 12, 11);
  assert.deepEqual([eye.yaw, eye.dragged], [yaw, false]);
  send("pointermove", 40, 10);
  assert.equal(eye.dragged, true);
  assert.notEqual(eye.yaw, yaw);
  const { yaw: turned } = eye, target = eye.target.clone();
  send("pointermove", 60, 10, { shiftKey: true });
  assert.equal(eye.yaw, turned);
  assert.ok(eye.target.distanceTo(target) > 0.1);
  const { span } = eye;
  send("pointerdown", 160, 10, { pointerId: 2 });
  send("pointermove", 180, 10, { pointerId: 2 });
  send("pointermove", 240, 10, { pointerId: 2 });
  assert.ok(eye.span < span, "fingers apart: nearer");
  send("pointerup", 0, 0);
  send("pointercancel", 0, 0, { pointerId: 2 });
  const still = eye.yaw;
  send("pointermove", 400, 300);
  assert.equal(eye.yaw, still);
});

test("a wheel zooms towards where it is turned, a pinch quicker, and the page stays put", () => {
  let stopped = 0;
  const spans = [false, true].map((ctrlKey) => {
    const eye = camera();
    const { span } = eye;
    const held = eye.onTargetPlane(300, 200);
    eye.element.heard.wheel({ deltaY: -50, deltaMode: 0, ctrlKey, clientX: 400, clientY: 250, preventDefault: () => stopped++ });
    close(eye.project(held).x, 300, 1e-3);
    return eye.span / span;
  });
  assert.ok(spans[1] < spans[0] && spans[0] < 1);
  assert.equal(stopped, 2);
});

test("two fingers on a touch pad shift with shift and turn with alt, as if the model were pushed", () => {
  const eye = camera();
  const wheel = (more) => eye.element.heard.wheel({ deltaMode: 0, clientX: 400, clientY: 250, preventDefault() {}, ...more });
  const { span, yaw, pitch } = eye;
  const held = eye.target.clone();
  const before = eye.project(held);
  wheel({ deltaX: -30, deltaY: 12, shiftKey: true });
  close(eye.project(held).x - before.x, 30, 1e-3);
  close(eye.project(held).y - before.y, -12, 1e-3);
  assert.deepEqual([eye.yaw, eye.pitch, eye.span], [yaw, pitch, span]);
  const target = eye.target.clone();
  wheel({ deltaX: -30, deltaY: 12, altKey: true });
  const slid = [eye.yaw, eye.pitch];
  close(eye.target.distanceTo(target), 0);
  const other = camera();
  other.orbit(30, -12);
  assert.deepEqual(slid, [other.yaw, other.pitch]);
  assert.equal(eye.span, span);
});

test("the mark of the axes points where they lie on the screen, and each look along one hides its own", () => {
  const eye = camera();
  for (const [yaw, pitch] of [[-0.62, 0.5], [2, -0.4], [0, 0]]) {
    Object.assign(eye, { yaw, pitch });
    eye.apply();
    const middle = eye.project(eye.target);
    for (const { name, x, y, near } of ends(eye)) {
      const way = new Vector3(...["X", "Y", "Z"].map((n) => Number(n === name)));
      const tip = eye.project(eye.target.clone().addScaledVector(way, 1e-3 * eye.span));
      const [dx, dy] = [tip.x - middle.x, tip.y - middle.y];
      assert.ok(Math.abs(dx * y - dy * x) < 1e-2 * Math.hypot(dx, dy) * Math.hypot(x, y) + 1e-6, `${name} ${[yaw, pitch]}`);
      assert.ok(dx * x + dy * y > -1e-9);
      assert.equal(Math.sign(Math.round(near * 1e6)), Math.sign(Math.round(way.dot(eye.direction()) * 1e6)));
    }
  }
  for (const [name, towards] of [["X", [1, 0, 0]], ["Y", [0, 1, 0]], ["Z", [0, 0, 1]]]) {
    eye.lookFrom(new Vector3(...towards));
    const one = ends(eye).find((e) => e.name === name);
    assert.ok(Math.hypot(one.x, one.y) < 1e-3 && one.near > 0.999);
  }
});

test("where two pictures share the width, what is seen lies in the right half, and a place in the left is the same", () => {
  const eye = camera();
  eye.share = 0.5;
  eye.fit();
  for (const corner of CORNERS) {
    const { x, y } = eye.project(corner);
    assert.ok(x >= 450 && x <= 900, `${x}`);
    assert.ok(eye.ray(x, y).ray.distanceToPoint(corner) < 1e-6);
    assert.ok(eye.ray(x - 450, y).ray.distanceToPoint(corner) < 1e-6);
  }
  close(eye.lens.aspect, 450 / 600);
});

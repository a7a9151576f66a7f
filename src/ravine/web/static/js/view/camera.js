// The camera: turntable about a target, perspective or parallel, worked by mouse, trackpad, touch and keys.
import { PerspectiveCamera, Spherical, Vector3, Raycaster, Vector2 } from "three";

const PERSPECTIVE = 26;
const PARALLEL = 0.6; // degrees: far away and narrow, the same as parallel to the eye

export class Camera {
  /** @param {HTMLElement} element @param {() => void} changed */
  constructor(element, changed) {
    this.element = element;
    this.changed = changed;
    this.lens = new PerspectiveCamera(PERSPECTIVE, 1, 0.1, 1e6);
    this.lens.up.set(0, 0, 1);
    this.target = new Vector3();
    this.span = 200; // mm of the target plane seen over the height of the view
    this.yaw = -0.62; // about Z, from the front
    this.pitch = 0.5; // above the horizon
    this.centre = new Vector3();
    this.radius = 100;
    this.share = 1; // of the width that one picture takes: half where two stand side by side, this one to the right
    this.dragged = false;
    this.listen();
  }

  get parallel() {
    return this.lens.fov === PARALLEL;
  }

  set parallel(on) {
    this.lens.fov = on ? PARALLEL : PERSPECTIVE;
    this.apply();
  }

  get distance() {
    return this.span / 2 / Math.tan((this.lens.fov * Math.PI) / 360);
  }

  direction() {
    const flat = Math.cos(this.pitch);
    return new Vector3(Math.sin(this.yaw) * flat, -Math.cos(this.yaw) * flat, Math.sin(this.pitch));
  }

  get wide() {
    return this.share * this.element.clientWidth;
  }

  apply() {
    const distance = this.distance;
    this.lens.position.copy(this.target).addScaledVector(this.direction(), distance);
    const steep = Math.abs(this.pitch) > Math.PI / 2 - 1e-3;
    this.lens.up.set(steep ? -Math.sin(this.yaw) * Math.sign(this.pitch) : 0, steep ? Math.cos(this.yaw) * Math.sign(this.pitch) : 0, steep ? 0 : 1);
    this.lens.lookAt(this.target);
    const reach = this.radius * 3 + this.target.distanceTo(this.centre) + this.span;
    this.lens.near = Math.max(distance - reach, distance / 500);
    this.lens.far = distance + reach;
    this.lens.aspect = this.wide / Math.max(1, this.element.clientHeight);
    this.lens.updateProjectionMatrix();
    this.lens.updateMatrixWorld();
    this.changed();
  }

  /** What there is to see.
   * @param {import("three").Box3} box */
  bound(box) {
    box.getCenter(this.centre);
    this.radius = Math.max(box.getSize(new Vector3()).length() / 2, 1);
  }

  /** @param {import("three").Box3|null} [box] what fills the view; else all that there is to see */
  fit(box = null) {
    const aspect = this.wide / Math.max(1, this.element.clientHeight);
    const radius = box ? Math.max(box.getSize(new Vector3()).length() / 2, this.radius * 0.02) : this.radius;
    this.target.copy(box ? box.getCenter(new Vector3()) : this.centre);
    this.span = (2.15 * radius) / Math.min(1, aspect);
    this.apply();
  }

  /** @param {Vector3} towards where the eye shall be, seen from the target */
  lookFrom(towards) {
    const ball = new Spherical().setFromVector3(new Vector3(towards.x, towards.z, -towards.y));
    this.pitch = Math.PI / 2 - ball.phi;
    if (Math.abs(Math.abs(this.pitch) - Math.PI / 2) > 1e-4) this.yaw = Math.atan2(towards.x, -towards.y);
    else this.yaw = 0;
    this.apply();
  }

  /** Square on to a plane, its x to the right where the turntable allows it.
   * @param {import("three").Matrix4} plane */
  lookFlat(plane) {
    this.lookFrom(new Vector3().setFromMatrixColumn(plane, 2));
    const x = new Vector3().setFromMatrixColumn(plane, 0);
    if (Math.abs(this.pitch) > Math.PI / 2 - 1e-3) this.yaw = Math.atan2(x.y, x.x);
    this.apply();
  }

  /** @param {number} dx @param {number} dy */
  orbit(dx, dy) {
    this.yaw -= dx * 0.008;
    this.pitch = Math.min(Math.PI / 2, Math.max(-Math.PI / 2, this.pitch + dy * 0.008));
    this.apply();
  }

  /** @param {number} dx @param {number} dy */
  pan(dx, dy) {
    const scale = this.span / this.element.clientHeight;
    const right = new Vector3().setFromMatrixColumn(this.lens.matrixWorld, 0);
    const up = new Vector3().setFromMatrixColumn(this.lens.matrixWorld, 1);
    this.target.addScaledVector(right, -dx * scale).addScaledVector(up, dy * scale);
    this.apply();
  }

  /** Nearer or farther, keeping the point under the pointer in place.
   * @param {number} factor @param {number} x @param {number} y */
  zoom(factor, x, y) {
    const span = Math.min(Math.max(this.span * factor, this.radius * 1e-3), this.radius * 60);
    const real = span / this.span;
    const before = this.onTargetPlane(x, y);
    if (before) this.target.lerp(before, 1 - real);
    this.span = span;
    this.apply();
  }

  /** The point under a pixel on the plane through the target that faces the eye.
   * @param {number} x @param {number} y */
  onTargetPlane(x, y) {
    const ray = this.ray(x, y).ray;
    const normal = this.direction();
    const slope = ray.direction.dot(normal);
    if (Math.abs(slope) < 1e-9) return null;
    const t = this.target.clone().sub(ray.origin).dot(normal) / slope;
    return ray.at(t, new Vector3());
  }

  /** @returns {Raycaster} @param {number} x @param {number} y */
  ray(x, y) {
    const caster = new Raycaster();
    const within = this.share < 1 ? x % this.wide : x; // a place of the picture beside it is that of this one
    const spot = new Vector2((within / this.wide) * 2 - 1, 1 - (y / this.element.clientHeight) * 2);
    caster.setFromCamera(spot, this.lens);
    return caster;
  }

  /** Pixels of a point; z is its depth, above 1 behind the far end.
   * @param {Vector3} point */
  project(point) {
    const p = point.clone().project(this.lens);
    return { x: this.element.clientWidth - this.wide + ((p.x + 1) / 2) * this.wide, y: ((1 - p.y) / 2) * this.element.clientHeight, z: p.z };
  }

  listen() {
    const pointers = new Map();
    let spread = 0;
    const element = this.element;
    element.addEventListener("pointerdown", (event) => {
      pointers.set(event.pointerId, { x: event.clientX, y: event.clientY });
      element.setPointerCapture(event.pointerId);
      this.dragged = false;
      spread = 0;
    });
    element.addEventListener("pointermove", (event) => {
      const last = pointers.get(event.pointerId);
      if (!last) return;
      const dx = event.clientX - last.x;
      const dy = event.clientY - last.y;
      if (!this.dragged && Math.hypot(dx, dy) < 4) return;
      this.dragged = true;
      pointers.set(event.pointerId, { x: event.clientX, y: event.clientY });
      if (pointers.size === 2) {
        const [a, b] = [...pointers.values()];
        const now = Math.hypot(a.x - b.x, a.y - b.y);
        if (spread) this.zoom(spread / now, (a.x + b.x) / 2, (a.y + b.y) / 2);
        spread = now;
        this.pan(dx / 2, dy / 2);
      } else if (event.shiftKey || event.buttons & 6) this.pan(dx, dy);
      else this.orbit(dx, dy);
    });
    /** @param {any} event */
    const drop = (event) => pointers.delete(event.pointerId);
    element.addEventListener("pointerup", drop);
    element.addEventListener("pointercancel", drop);
    element.addEventListener("contextmenu", (event) => event.preventDefault());
    element.addEventListener("wheel", (event) => {
      event.preventDefault();
      const box = element.getBoundingClientRect();
      const lines = event.deltaMode === 1 ? 16 : 1;
      // a touch pad alone: sliding two fingers is a wheel with both ways, which shifts or turns while a key is held
      if (event.shiftKey) return this.pan(-event.deltaX * lines, -event.deltaY * lines);
      if (event.altKey) return this.orbit(-event.deltaX * lines, -event.deltaY * lines);
      const strength = event.ctrlKey ? 0.01 : 0.0016; // a pinch arrives as a wheel with Ctrl
      const delta = Math.max(-240, Math.min(240, event.deltaY * lines));
      this.zoom(Math.exp(delta * strength), event.clientX - box.left, event.clientY - box.top);
    }, { passive: false });
  }
}

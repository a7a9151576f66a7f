// The turning handle: a ruled arc about an axis with a knob on it. Its ticks are whole degrees.
import { sure } from "../dom.js";
import { Quaternion, Vector3 } from "three";
import { told } from "../view/lengths.js";
import { drawKnob, hold, make, nudge } from "./knob.js";

const DEGREE = Math.PI / 180;
const REACH = 110; // px of the arc's radius on the screen, at least

export class Turning {
  /** @param {SVGElement} overlay @param {import("../view/view.js").View} view @param {(degrees: number, done: boolean) => void} moved */
  constructor(overlay, view, moved) {
    this.overlay = overlay;
    this.view = view;
    this.moved = moved;
    this.at = null;
    this.value = 0;
    this.held = false;
    /** @type {{low: number|null, high: number|null}} */
    this.walls = { low: null, high: null };
  }

  /** @param {{origin: number[], direction: number[], arm: number[]}} handle @param {number} degrees */
  open(handle, degrees) {
    this.at = { origin: new Vector3(...handle.origin), axis: new Vector3(...handle.direction), arm: new Vector3(...handle.arm) };
    this.walls = { low: null, high: null };
    this.value = degrees;
    this.draw();
  }

  close() {
    if (this.at) this.overlay.replaceChildren();
    this.at = null;
    this.held = false;
  }

  /** @param {number} degrees */
  set(degrees) {
    if (this.held) return;
    this.value = degrees;
    this.draw();
  }

  /** The arm, long enough on the screen to be taken hold of. */
  reach() {
    const { camera } = this.view;
    const perPixel = camera.span / this.view.canvas.clientHeight;
    const arm = sure(this.at).arm.clone();
    return arm.length() < REACH * perPixel ? arm.setLength(REACH * perPixel) : arm;
  }

  /** @param {number} degrees */
  place(degrees) {
    const turn = new Quaternion().setFromAxisAngle(sure(this.at).axis, degrees * DEGREE);
    return this.view.camera.project(sure(this.at).origin.clone().add(this.reach().applyQuaternion(turn)));
  }

  draw() {
    if (!this.at) return;
    const focus = this.overlay.contains(document.activeElement);
    this.overlay.replaceChildren();
    const centre = this.view.camera.project(sure(this.at).origin);
    const low = Math.max(Math.min(-30, this.value - 15), this.value - 375); // once around is all of it
    const high = Math.min(Math.max(30, this.value + 15), this.value + 375);
    const points = [];
    for (let d = low; d <= high; d += 2) points.push(this.place(d));
    make("polyline", { class: "wire", fill: "none", points: points.map((p) => `${p.x},${p.y}`).join(" ") }, this.overlay);
    for (let d = Math.ceil(low / 5) * 5; d <= high; d += 5) {
      const p = this.place(d);
      const size = Math.hypot(p.x - centre.x, p.y - centre.y) || 1;
      const long = d % 15 === 0;
      const [dx, dy] = [(p.x - centre.x) / size, (p.y - centre.y) / size];
      make("line", { class: "tick", x1: p.x, y1: p.y, x2: p.x + dx * (long ? 9 : 5), y2: p.y + dy * (long ? 9 : 5) }, this.overlay);
      if (long && Math.abs(d - this.value) > 8) make("text", { class: "tick-text", x: p.x + dx * 20, y: p.y + dy * 20 + 4 }, this.overlay).textContent = `${d}°`;
    }
    make("line", { class: "wire arm", x1: centre.x, y1: centre.y, x2: this.place(this.value).x, y2: this.place(this.value).y, "stroke-dasharray": "2 3" }, this.overlay);
    make("circle", { class: "start-dot", cx: centre.x, cy: centre.y, r: 3.5 }, this.overlay);
    this.drawKnob(this.place(this.value), focus);
  }

  /** @param {Place} p @param {boolean} focus */
  drawKnob(p, focus) {
    drawKnob(this, p, told(this.value, 3, "°"), "Bead on the arc", this.value, focus);
  }

  /** Degrees whose place on the arc is nearest to a pointer, near the value it has.
   * @param {number} x @param {number} y */
  valueAt(x, y) {
    let best = this.value;
    let least = Infinity;
    for (let step = 8; step >= 0.05; step /= 4) {
      const from = best;
      for (let k = -6; k <= 6; k++) {
        const p = this.place(from + k * step);
        const gap = Math.hypot(p.x - x, p.y - y);
        if (gap < least) {
          least = gap;
          best = from + k * step;
        }
      }
    }
    return best;
  }

  /** @param {number} degrees */
  within(degrees) {
    const { low, high } = this.walls;
    return Math.max(low ?? -Infinity, Math.min(high ?? Infinity, degrees));
  }

  /** @param {PointerEvent} event */
  grab(event) {
    hold(this, event, (x, y, fine) => {
      const raw = this.valueAt(x, y);
      return this.within(fine ? Number(raw.toFixed(2)) : Math.round(raw * 2) / 2);
    });
  }

  /** @param {any} event */
  nudge(event) {
    nudge(this, event, (/** @type {number} */ way) => this.within(this.value + way * (event.shiftKey ? 5 : 1)));
  }
}

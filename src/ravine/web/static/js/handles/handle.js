// The handle: a thin ruled wire through the pick with a knob on it. Its ticks are real lengths.
import { sure } from "../dom.js";
import { Vector3 } from "three";
import { drawKnob, hold, make, nudge } from "./knob.js";
import { LENGTHS, niceStep, toFifths, told } from "../view/lengths.js";

const REACH = 150; // px of wire beyond the start

export class Handle {
  /** @param {SVGElement} overlay @param {import("../view/view.js").View} view @param {(mm: number, done: boolean) => void} moved */
  constructor(overlay, view, moved) {
    this.overlay = overlay;
    this.view = view;
    this.moved = moved;
    this.at = null;
    this.value = 0;
    this.held = false;
    this.zero = 0; // mm that the start of the wire counts as
    /** @type {{low: number|null, high: number|null}} */
    this.walls = { low: null, high: null }; // mm; the knob stops there
  }

  /** Where it stands, while it is shown. */
  get placed() {
    return sure(this.at);
  }

  /** @param {{field: string, origin: number[], direction: number[]}} handle @param {number} mm */
  open(handle, mm) {
    this.at = { origin: new Vector3(...handle.origin), direction: new Vector3(...handle.direction) };
    this.walls = { low: null, high: null };
    this.value = mm;
    this.draw();
  }

  close() {
    if (this.at) this.overlay.replaceChildren();
    this.at = null;
    this.held = false;
  }

  /** A value as far as the walls let it.
   * @param {number} mm */
  within(mm) {
    const { low, high } = this.walls;
    return Math.max(low ?? -Infinity, Math.min(high ?? Infinity, mm));
  }

  /** @param {number} mm */
  set(mm) {
    if (this.held) return;
    this.value = mm;
    this.draw();
  }

  /** Start and direction on the screen, and pixels a millimetre. A wire that points at the eye is laid upright. */
  onScreen() {
    const { camera } = this.view;
    const start = camera.project(this.placed.origin);
    const size = camera.span * 0.05;
    const tip = camera.project(this.placed.origin.clone().addScaledVector(this.placed.direction, size));
    const plain = this.view.canvas.clientHeight / camera.span;
    const scale = Math.hypot(tip.x - start.x, tip.y - start.y) / size;
    if (scale < 0.18 * plain) return { start, dx: 0, dy: -1, scale: plain, flat: true };
    return { start, dx: (tip.x - start.x) / size / scale, dy: (tip.y - start.y) / size / scale, scale, flat: false };
  }

  /** mm along the wire for a pointer.
   * @param {number} x @param {number} y */
  valueAt(x, y) {
    const { start, dx, dy, scale, flat } = this.onScreen();
    if (flat) return ((x - start.x) * dx + (y - start.y) * dy) / scale;
    const { ray } = this.view.camera.ray(x, y);
    const between = ray.origin.clone().sub(this.placed.origin); // nearest approach of two lines
    const b = ray.direction.dot(this.placed.direction);
    const d = ray.direction.dot(between);
    const e = this.placed.direction.dot(between);
    return (e - b * d) / (1 - b * b);
  }

  draw() {
    if (!this.at) return;
    const focus = this.overlay.contains(document.activeElement);
    const unit = LENGTHS[this.view.units];
    const { start, dx, dy, scale, flat } = this.onScreen();
    /** @param {number} mm */
    const point = (mm) => {
      if (flat) return { x: start.x + dx * mm * scale, y: start.y + dy * mm * scale };
      return this.view.camera.project(this.placed.origin.clone().addScaledVector(this.placed.direction, mm));
    };
    this.overlay.replaceChildren();
    const step = niceStep(7 / scale / unit) * unit;
    this.step = step;
    const low = Math.min(0, this.value) - (this.value < 0 ? (REACH * 0.4) / scale : 0);
    const high = Math.max(REACH / scale, this.value + (REACH * 0.4) / scale);
    const seen = this.seen(start, dx, dy, scale);
    const first = Math.ceil(Math.max(low, seen.low) / step);
    const last = Math.floor(Math.min(high, seen.high) / step);
    if (last > first) {
      const [a, b] = [point(first * step), point(last * step)];
      make("line", { class: "wire", x1: a.x, y1: a.y, x2: b.x, y2: b.y, ...(flat ? { "stroke-dasharray": "4 3" } : {}) }, this.overlay);
    }
    const nx = -dy;
    const ny = dx;
    const side = ny < 0 ? -1 : 1; // labels below or right of the wire
    for (let i = first; i <= last; i++) {
      const p = point(i * step);
      const long = i % 5 === 0;
      const reach = (long ? 9 : 5) * side;
      make("line", { class: "tick", x1: p.x, y1: p.y, x2: p.x + nx * reach, y2: p.y + ny * reach }, this.overlay);
      if (long && i !== 0 && Math.abs(i * step - this.value) * scale > 16) {
        const label = make("text", { class: "tick-text", x: p.x + nx * 19 * side, y: p.y + ny * 19 * side + 4 }, this.overlay);
        label.textContent = String(Number(((i * step + this.zero) / unit).toPrecision(6)));
      }
    }
    for (const wall of [this.walls.low, this.walls.high]) {
      if (wall === null || wall < low || wall > high) continue;
      const p = point(wall);
      make("line", { class: "wall", x1: p.x - nx * 13, y1: p.y - ny * 13, x2: p.x + nx * 13, y2: p.y + ny * 13 }, this.overlay);
    }
    make("circle", { class: "start-dot", cx: start.x, cy: start.y, r: 3.5 }, this.overlay);
    this.drawKnob(point(this.value), focus);
  }

  /** @param {Place} p @param {boolean} focus */
  drawKnob(p, focus) {
    const unit = LENGTHS[this.view.units];
    const value = (this.value + this.zero) / unit;
    const words = told(value, 4, ` ${this.view.units}`);
    drawKnob(this, p, words, "Bead on the wire", value, focus);
  }

  /** The stretch of the wire, in mm, that can be in sight: ticks beyond it would be without number.
   * @param {Place} start @param {number} dx @param {number} dy @param {number} scale */
  seen(start, dx, dy, scale) {
    const { clientWidth: width, clientHeight: height } = this.view.canvas;
    const middle = (width / 2 - start.x) * dx + (height / 2 - start.y) * dy;
    const half = width + height; // more than the screen is wide, since lengths shrink towards the back
    return { low: (middle - half) / scale, high: (middle + half) / scale };
  }

  /** Round to what the eye can tell at this zoom: a fifth of a tick.
   * @param {number} mm */
  rounded(mm) {
    return toFifths(mm, sure(this.step));
  }

  /** @param {PointerEvent} event */
  grab(event) {
    const box = this.view.canvas.getBoundingClientRect();
    const grip = this.valueAt(event.clientX - box.left, event.clientY - box.top) - this.value;
    hold(this, event, (x, y, fine) => {
      const raw = this.valueAt(x, y) - grip;
      return this.within(fine ? Number(raw.toFixed(4)) : this.rounded(raw));
    });
  }

  /** @param {any} event */
  nudge(event) {
    nudge(this, event, (/** @type {number} */ way) => this.within(this.rounded(this.value + way * sure(this.step) * (event.shiftKey ? 5 : 1))));
  }
}

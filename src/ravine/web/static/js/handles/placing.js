// The placing handle of a move: three wires and three arcs. The one in use is ruled and carries the value; a knob on
// another takes it over. The knob behind the start is dropped on an edge, axis, face or corner, and the handle stands there.
import { sure } from "../dom.js";
import { Vector3 } from "three";
import { make } from "./knob.js";
import { under } from "../view/picking.js";
import { Turning } from "./turning.js";

const LETTERS = ["x", "y", "z"];
const WIRE = 92; // px
const ARC = 58; // px
const FOOT = 30; // px from the start to the knob that sets the handle on something

export class Placing {
  /** @type {any[]} */ frame = [];

  /** @param {import("../workbench.js").Workbench} bench @param {SVGElement} overlay */
  constructor(bench, overlay) {
    this.bench = bench;
    this.layer = make("g", { class: "placing" });
    overlay.prepend(this.layer); // below the ruled wire and its value
    this.arc = new Turning(/** @type {any} */ (make("g", {}, overlay)), bench.view, (degrees, done) => this.turned(degrees, done));
    /** @type {{x: number, y: number}|null} where that knob is held */
    this.held = null;
    this.close();
  }

  /** @param {any} handle @param {string} chosen which of its directions is in use */
  open(handle, chosen) {
    this.handle = handle;
    this.origin = new Vector3(...handle.origin);
    this.frame = LETTERS.map((k) => new Vector3(...handle.ways[k]));
    this.chosen = LETTERS.indexOf(chosen);
    this.layArc(this.arc.value);
    this.draw();
  }

  close() {
    /** @type {any} */
    this.handle = null;
    this.held = null;
    this.arc.value = 0;
    this.arc.close();
    this.layer.replaceChildren();
  }

  /** The ruled arc stands only while there is a turn.
   * @param {number} degrees */
  layArc(degrees) {
    this.arc.value = degrees;
    if (!this.handle.turn || !degrees && !this.arc.held) {
      this.arc.close();
      return;
    }
    const axis = new Vector3(...this.handle.direction);
    const arm = this.frame[(sure(this.chosen) + 1) % 3] || axis.clone().cross(new Vector3(axis.z, axis.x, axis.y)).normalize();
    this.arc.open({ origin: this.handle.origin, direction: this.handle.direction, arm: arm.clone().multiplyScalar(ARC * 2 * this.perPixel()).toArray() }, degrees);
  }

  perPixel() {
    const { camera, canvas } = this.bench.view;
    return camera.span / canvas.clientHeight;
  }

  /** A typed angle.
   * @param {number} degrees */
  setTurn(degrees) {
    if (this.handle && !this.arc.held) this.layArc(degrees);
  }

  /** @param {number} degrees @param {boolean} done */
  turned(degrees, done) {
    this.bench.line.write(this.handle.turn, `${Number(degrees.toFixed(3))}°`, done);
    if (done) this.layArc(degrees);
  }

  draw() {
    if (!this.handle) return;
    const { camera } = this.bench.view;
    const focus = this.layer.contains(document.activeElement) ? document.activeElement?.getAttribute("aria-label") : null;
    this.layer.replaceChildren();
    const start = camera.project(this.origin);
    const far = WIRE * this.perPixel();
    const near = ARC * this.perPixel();
    this.frame.forEach((way, k) => {
      const a = this.frame[(k + 1) % 3];
      const b = this.frame[(k + 2) % 3];
      const spots = Array.from({ length: 13 }, (_, i) => camera.project(this.origin.clone().addScaledVector(a, near * Math.cos((i * Math.PI) / 24)).addScaledVector(b, near * Math.sin((i * Math.PI) / 24))));
      if (this.handle.turn && !(k === this.chosen && this.arc.at)) {
        make("polyline", { class: "wire thin", fill: "none", points: spots.map((p) => `${p.x},${p.y}`).join(" ") }, this.layer);
        this.knob(spots[6], `Turn about ${LETTERS[k].toUpperCase()}`, (/** @type {any} */ event) => this.takeArc(k, event), "");
      }
      if (k === this.chosen) return;
      const tip = camera.project(this.origin.clone().addScaledVector(way, far));
      if (Math.hypot(tip.x - start.x, tip.y - start.y) < 14) return; // it looks at the eye
      make("line", { class: "wire thin", x1: start.x, y1: start.y, x2: tip.x, y2: tip.y }, this.layer);
      this.knob(tip, `Slide along ${LETTERS[k].toUpperCase()}`, (/** @type {any} */ event) => this.takeWire(k, event), LETTERS[k].toUpperCase());
    });
    if (this.handle.set_on) this.drawFoot(start);
    if (focus) for (const one of this.layer.querySelectorAll("[aria-label]")) if (one.getAttribute("aria-label") === focus) /** @type {any} */ (one).focus();
  }

  /** What sets the handle on something else.
   * @param {Place} start */
  drawFoot(start) {
    const { dx, dy } = this.bench.handle.onScreen(); // clear of the ruled wire's knob, which may stand on the start
    const side = this.bench.handle.value < 0 ? 1 : -1;
    const at = this.held || { x: start.x + side * FOOT * dx, y: start.y + side * FOOT * dy };
    make("line", { class: "wire thin", x1: start.x, y1: start.y, x2: at.x, y2: at.y, "stroke-dasharray": "2 3" }, this.layer);
    const foot = make("circle", { class: `set-on${this.held ? " held" : ""}`, cx: at.x, cy: at.y, r: 7, tabindex: 0, role: "button", "aria-label": "Set the handle on something: drop this there" }, this.layer);
    foot.addEventListener("pointerdown", (event) => this.carry(event));
  }

  /** @param {Place} p @param {string} label @param {(event: PointerEvent|null) => void} take @param {string} words */
  knob(p, label, take, words) {
    const reach = make("circle", { class: "knob-reach", cx: p.x, cy: p.y, r: 12 }, this.layer);
    const knob = make("circle", { class: "knob small", cx: p.x, cy: p.y, r: 5, tabindex: 0, role: "button", "aria-label": label }, this.layer);
    if (words) make("text", { class: "tick-text wire-name", x: p.x + 9, y: p.y - 7 }, this.layer).textContent = words;
    for (const one of [reach, knob]) one.addEventListener("pointerdown", take);
    knob.addEventListener("keydown", (event) => {
      if (event.key !== "Enter" && event.key !== " ") return;
      event.preventDefault();
      event.stopPropagation();
      take(null);
    });
  }

  /** Another direction: what was done along the one before is accepted first.
   * @param {number} k */
  async choose(k) {
    if (k === this.chosen) return true;
    const { line } = this.bench;
    const moved = this.bench.handle.value || this.arc.value;
    const { choice, turn } = this.handle;
    if (!moved || !turn) {
      const select = /** @type {HTMLSelectElement} */ (line.opened.elements.namedItem(choice));
      select.value = LETTERS[k];
      select.dispatchEvent(new Event("input", { bubbles: true }));
      return true;
    }
    const edit = line.opened.dataset.edit;
    /** @type {Object<string, any>} */
    const rest = line.others();
    for (const name of [this.handle.field, this.handle.turn, "until"]) delete rest[name];
    await line.accept();
    if (line.isOpen) return false; // refused: the line tells why
    this.bench.say(`Accepted; now along ${LETTERS[k].toUpperCase()}`);
    await line.open(sure(edit), this.bench.pickIds(), { ...rest, [choice]: LETTERS[k] });
    return false;
  }

  /** @param {number} k @param {PointerEvent|null} event */
  async takeWire(k, event) {
    event?.preventDefault();
    event?.stopPropagation();
    const pointer = this.following(event);
    if (await this.choose(k)) pointer?.onto(this.bench.handle);
  }

  /** @param {number} k @param {PointerEvent|null} event */
  async takeArc(k, event) {
    event?.preventDefault();
    event?.stopPropagation();
    const pointer = this.following(event);
    if (!(await this.choose(k))) return;
    this.arc.held = true;
    this.layArc(this.arc.value);
    this.arc.held = false;
    pointer?.onto(this.arc);
  }

  /** A pointer that may be let go while the line opens; if it is still held then, the grip goes on with it.
   * @param {PointerEvent|null} event */
  following(event) {
    if (!event) return null;
    let held = true;
    let at = { clientX: event.clientX, clientY: event.clientY };
    /** @param {any} e */
    const move = (e) => (at = { clientX: e.clientX, clientY: e.clientY });
    const drop = () => (held = false);
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", drop, { once: true });
    return {
      /** @param {import("./handle.js").Handle|Turning} grip */
      onto: (grip) => {
        window.removeEventListener("pointermove", move);
        if (held) grip.grab(/** @type {any} */ ({ ...at, preventDefault() {}, stopPropagation() {} }));
      },
    };
  }

  // --- set on something ------------------------------------------------------------------------------------------

  /** @param {PointerEvent} event */
  carry(event) {
    event.preventDefault();
    event.stopPropagation();
    const { bench } = this;
    const box = bench.view.canvas.getBoundingClientRect();
    /** @param {any} e */
    const move = (e) => {
      this.held = { x: e.clientX - box.left, y: e.clientY - box.top };
      bench.hover(under(bench.view, this.held.x, this.held.y));
      this.draw();
    };
    /** @param {any} e */
    const drop = (e) => {
      e.stopPropagation();
      window.removeEventListener("pointermove", move, true);
      window.removeEventListener("pointerup", drop, true);
      const moved = this.held;
      this.held = null;
      bench.hover(null);
      if (moved) this.setOn(under(bench.view, e.clientX - box.left, e.clientY - box.top));
      this.draw();
    };
    window.addEventListener("pointermove", move, true);
    window.addEventListener("pointerup", drop, true);
  }

  /** @param {any} thing */
  setOn(thing) {
    const { line } = this.bench;
    if (thing && !["face", "edge", "vertex"].includes(thing.kind)) {
      this.bench.say("The handle is set on an edge, an axis, a face or a corner");
      return;
    }
    const values = { ...line.others(), [this.handle.set_on]: thing ? thing.id : "" };
    if (thing && thing.kind !== "vertex") /** @type {any} */ (values)[this.handle.choice] = "z";
    line.open(sure(line.opened.dataset.edit), this.bench.pickIds(), values);
  }
}

// The section: a plane that opens the model, slid and tilted on its own grip. Everything that works on the whole model
// works inside it; what the plane cuts comes from the server, for the saved state or for the preview of an edit.
import { all, one, sure } from "../../dom.js";
import { getJson, getBuffer } from "../../api.js";
import { LineSegments, Plane, Quaternion, Vector3 } from "three";
import { make } from "../../handles/knob.js";
import { Cut } from "../../view/cut.js";
import { FlatView } from "./flat.js";
import { Handle } from "../../handles/handle.js";
import { readCut } from "../../view/packets.js";
import { Turning } from "../../handles/turning.js";
import { LENGTHS, niceStep } from "../../view/lengths.js";
import { Widths } from "./widths.js";

const AXES = { x: new Vector3(1, 0, 0), y: new Vector3(0, 1, 0), z: new Vector3(0, 0, 1) };
const LATE = 90; // ms without an answer after which the plane goes ahead of its caps

export class Section {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.view = bench.view;
    /** @type {Cut|null} */
    this.cut = null;
    /** @type {Plane[]|null} what is drawn lies behind them */
    this.planes = null;
    /** @type {import("../../view/cut.js").CutData|null} of the saved state */
    this.saved = null;
    /** @type {any} */
    this.axis = null; // unit; the grip slides along it
    this.at = 0; // mm from the middle of the model's coordinates along the axis
    this.side = 1; // 1: what lies on the far side of the axis is taken away
    this.tilting = false;
    this.busy = false;
    this.again = false;
    this.turn = 0;
    /** @type {Table} */
    this.marks = {};
    /** @type {number[]} */
    this.times = []; // ms from asking to showing, for the tests and the curious
    const grips = one("#grips");
    const layer = () => make("g", {}, grips);
    this.wire = new Handle(/** @type {any} */ (layer()), this.view, (mm, done) => this.slide(mm, done));
    this.arcs = [0, 1].map((k) => new Turning(/** @type {any} */ (layer()), this.view, (degrees, done) => this.lean(k, degrees, done)));
    this.widths = new Widths(this, /** @type {any} */ (layer()));
    this.flat = new FlatView(this);
    this.strip = one("#section-words");
    this.strip.addEventListener("click", (/** @type {any} */ event) => this.said(/** @type {HTMLElement} */ (event.target).closest("[data-cut]")));
    one("#cut-at").addEventListener("change", (/** @type {any} */ event) => this.typed(/** @type {HTMLInputElement} */ (event.target)));
    this.tell();
  }

  get on() {
    return Boolean(this.axis);
  }

  get normal() {
    return this.axis.clone().multiplyScalar(this.side);
  }

  /** A point of the plane: below the middle of the model. */
  get point() {
    const { centre } = this.view.camera;
    return centre.clone().addScaledVector(this.axis, this.at - centre.dot(this.axis));
  }

  /** Six numbers for the server. */
  numbers() {
    return this.on ? [...this.point.toArray(), ...this.normal.toArray()] : null;
  }

  // --- words -----------------------------------------------------------------------------------------------

  /** @param {HTMLElement|null} word */
  said(word) {
    const what = word?.dataset.cut;
    if (!what) return;
    if (what in AXES) this.across(/** @type {Table} */ (AXES)[what]);
    else if (what === "pick") this.through();
    else if (what === "flip") this.set(this.axis, this.at, -this.side);
    else if (what === "tilt") this.setTilting(!this.tilting);
    else if (what === "flat") this.flat.toggle();
    else if (what === "off") this.leave();
  }

  /** Across an axis of the model, in its middle; once more turns it round. The side towards the eye goes.
   * @param {any} axis */
  across(axis) {
    if (this.on && Math.abs(this.axis.dot(axis)) > 1 - 1e-9) {
      this.set(this.axis, this.at, -this.side);
      return;
    }
    const side = axis.dot(this.view.camera.direction()) >= 0 ? 1 : -1;
    this.set(axis.clone(), this.view.camera.centre.dot(axis), side);
  }

  /** The plane that what is picked gives. */
  async through() {
    const { bench } = this;
    if (!bench.picked.length) {
      bench.say("Pick what gives the plane first: a face, two axes, three corners");
      return;
    }
    const found = await bench.trying(() => getJson(bench.url("plane"), { picked: bench.pickIds() }));
    if (found) this.place(found.plane);
  }

  /** @param {number[]} plane a point on it and the direction square to it, whose side goes */
  place(plane) {
    const normal = new Vector3(...plane.slice(3)).normalize();
    const main = Object.values(AXES).find((a) => Math.abs(a.dot(normal)) > 1 - 1e-9);
    const axis = main ? main.clone() : normal.clone();
    this.set(axis, new Vector3(...plane.slice(0, 3)).dot(axis), normal.dot(axis) > 0 ? 1 : -1);
  }

  /** @param {HTMLInputElement} input */
  typed(input) {
    const match = input.value.trim().replace("−", "-").match(/^([-+]?\d*\.?\d+)\s*(mm|cm|m|in|ft)?$/);
    if (match) this.set(this.axis, Number(match[1]) * LENGTHS[match[2] || this.view.units], this.side);
    else {
      this.bench.say(`“${input.value}” is no length; write a number such as 12.5`);
      this.tell();
    }
  }

  /** @param {boolean} on */
  setTilting(on) {
    this.tilting = on;
    this.grip();
    this.tell();
  }

  leave() {
    this.turn++;
    this.axis = null;
    this.saved = null;
    this.setTilting(false);
    this.flat.close();
    this.widths.hide();
    this.clear();
    this.planes = null;
    this.view.clip(null);
    this.grip();
    this.tell();
  }

  tell() {
    for (const word of all("[data-cut]", this.strip)) word.hidden = !this.on && !(word.dataset.cut in AXES) && word.dataset.cut !== "pick";
    for (const [name, axis] of Object.entries(AXES)) one(`[data-cut="${name}"]`, this.strip).setAttribute("aria-pressed", String(this.on && Math.abs(this.axis.dot(axis)) > 1 - 1e-9));
    one('[data-cut="tilt"]', this.strip).setAttribute("aria-pressed", String(this.tilting));
    one('[data-cut="flat"]', this.strip).setAttribute("aria-pressed", String(this.flat.open));
    const input = /** @type {HTMLInputElement} */ (one("#cut-at"));
    input.hidden = !this.on;
    if (this.on) input.value = `${Number((this.at / LENGTHS[this.view.units]).toFixed(4))} ${this.view.units}`;
    one("#foot-section").textContent = this.words();
  }

  words() {
    if (!this.on) return "none";
    const main = Object.entries(AXES).find(([, a]) => Math.abs(this.axis.dot(a)) > 1 - 1e-9);
    const count = this.cut?.parts.length ?? 0;
    const where = main ? `${main[0].toUpperCase()} ${Number((this.at / LENGTHS[this.view.units]).toFixed(3))} ${this.view.units}` : "tilted";
    return `${where}, ${count} part${count === 1 ? "" : "s"} cut`;
  }

  // --- the plane -------------------------------------------------------------------------------------------

  /** @param {any} axis @param {number} at @param {number} side */
  set(axis, at, side) {
    this.bench.explode.leave();
    this.axis = axis;
    this.at = at;
    this.side = side;
    this.widths.hide();
    this.grip();
    this.refresh();
  }

  /** @param {number} mm @param {boolean} done */
  slide(mm, done) {
    this.at = mm + this.wire.zero;
    this.widths.hide();
    this.refresh();
    if (done) this.grip();
  }

  /** About one of the plane's own directions.
   * @param {number} k @param {number} degrees @param {boolean} done */
  lean(k, degrees, done) {
    const { from, about } = this.leaning;
    const through = this.point;
    this.axis = from.clone().applyQuaternion(new Quaternion().setFromAxisAngle(about[k], (degrees * Math.PI) / 180)).normalize();
    this.at = through.dot(this.axis);
    this.widths.hide();
    this.refresh();
    if (done) this.grip();
  }

  /** The wire through the plane, and the arcs to tilt it; they give way to the handle of an edit. */
  grip() {
    this.wire.close();
    for (const arc of this.arcs) arc.close();
    if (!this.on || this.bench.line?.grips.handle) return;
    const step = niceStep(this.view.camera.span * 0.1);
    const zero = Math.round(this.view.camera.centre.dot(this.axis) / step) * step;
    this.wire.zero = zero;
    const origin = this.point.addScaledVector(this.axis, zero - this.at);
    this.wire.open({ field: "", origin: origin.toArray(), direction: this.axis.toArray() }, this.at - zero);
    if (!this.tilting) return;
    const x = Math.abs(this.axis.z) < 0.9 ? new Vector3(0, 0, 1).cross(this.axis).normalize() : new Vector3(1, 0, 0);
    const y = this.axis.clone().cross(x).normalize();
    const across = [y, x];
    /** @type {any} */
    this.leaning = { from: this.axis.clone(), about: [x, y] };
    this.arcs.forEach((arc, i) => arc.open({ origin: this.point.toArray(), direction: this.leaning.about[i].toArray(), arm: across[i].clone().multiplyScalar(this.view.camera.radius * 0.45).toArray() }, 0));
  }

  /** Its grip is drawn again whenever the view moves. */
  draw() {
    if (!this.on) return;
    const free = !this.bench.line?.grips.handle;
    if (free !== Boolean(this.wire.at)) this.grip();
    else {
      this.wire.draw();
      for (const arc of this.arcs) arc.draw();
    }
    this.widths.draw();
  }

  // --- what it cuts ----------------------------------------------------------------------------------------

  /** Ask for the cut of the saved state; one request under way, the newest plane wins. */
  async refresh() {
    if (!this.on) return;
    this.again = true;
    if (this.busy) return;
    this.busy = true;
    while (this.again && this.on) {
      this.again = false;
      const turn = this.turn;
      const began = performance.now();
      const plane = this.numbers();
      const late = setTimeout(() => turn === this.turn && this.ahead(), LATE);
      const data = await this.bench.trying(() => getBuffer(this.bench.url("cut"), { plane: sure(plane).join(",") }));
      clearTimeout(late);
      if (turn !== this.turn) continue;
      if (!data) break;
      this.saved = readCut(data);
      if (!this.bench.previewing) this.show(this.saved);
      this.times.push(performance.now() - began);
    }
    this.busy = false;
  }

  /** The plane at once, without its caps. */
  ahead() {
    this.clear();
    this.planes = [this.shownPlane(this.point, this.normal)];
    this.view.clip(this.planes);
  }

  /** @param {import("../../view/cut.js").CutData} data */
  show(data) {
    this.clear();
    this.cut = new Cut(data, this.view);
    this.view.scene.add(this.cut.group);
    this.planes = [this.shownPlane(this.cut.origin, this.cut.normal)];
    this.view.clip(this.planes);
    this.tell();
    this.flat.lay();
    this.highlight("picked", this.bench.picked);
    this.bench.root.dataset.cut = String(data.parts.length);
  }

  /** @param {any} point @param {any} normal */
  shownPlane(point, normal) {
    return new Plane(normal.clone().negate(), normal.dot(point));
  }

  /** After the colours of the sheet changed, or a preview went. */
  relay() {
    if (!this.on || !this.saved) return;
    this.show(this.saved);
    this.widths.show(this.widths.saved);
  }

  clear() {
    for (const which of Object.keys(this.marks)) this.unmark(which);
    if (!this.cut) return;
    this.view.scene.remove(this.cut.group);
    this.cut.dispose();
    this.cut = null;
  }

  // --- picking ---------------------------------------------------------------------------------------------

  /** How far along a ray there is anything to see.
   * @returns {[number, number]} @param {any} ray */
  reach(ray) {
    if (!this.planes) return [0, Infinity];
    const [plane] = this.planes;
    const height = plane.distanceToPoint(ray.origin);
    const slope = plane.normal.dot(ray.direction);
    const t = -height / slope;
    if (height < 0) return slope > 0 ? [t, Infinity] : [Infinity, Infinity];
    return slope < 0 ? [0, t] : [0, Infinity];
  }

  /** Whether the section takes a point away.
   * @param {any} point */
  removed(point) {
    return Boolean(this.planes) && sure(this.planes)[0].distanceToPoint(point) < -1e-6;
  }

  /** Where a pixel meets the plane, unless something stands before it.
   * @param {any} face what is seen there else @param {number} x @param {number} y */
  onPlane(x, y, face) {
    if (!this.cut) return null;
    const { ray } = this.view.camera.ray(x, y);
    const slope = ray.direction.dot(this.cut.normal);
    if (Math.abs(slope) < 1e-6) return null;
    const t = this.cut.origin.clone().sub(ray.origin).dot(this.cut.normal) / slope;
    if (t <= 0 || (face && face.distance < t - 1e-4)) return null;
    return { point: ray.at(t, new Vector3()), distance: t };
  }

  /** What of the cut lies under a pixel.
   * @param {number} x @param {number} y @param {any} face */
  under(x, y, face) {
    const spot = this.onPlane(x, y, face);
    const found = spot && sure(this.cut).under(x, y, spot.point);
    return found && { ...found, distance: spot.distance };
  }

  /** Cut faces are marked where they are cut, too.
   * @param {string} which @param {any[]} things */
  highlight(which, things) {
    this.unmark(which);
    if (!this.cut) return;
    this.flat.mark(which, things);
    const geometry = this.cut.linesOf(things);
    if (!geometry.getAttribute("position").count) return;
    const mark = new LineSegments(geometry, this.view.materials[which === "picked" ? "pickedCut" : "hoverCut"]);
    mark.renderOrder = 5;
    this.marks[which] = mark;
    this.view.scene.add(mark);
  }

  /** @param {string} which */
  unmark(which) {
    const mark = this.marks[which];
    if (!mark) return;
    this.view.scene.remove(mark);
    mark.geometry.dispose();
    delete this.marks[which];
  }
}

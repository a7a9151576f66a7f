// Parts drawn apart, to look at: by a slider from the middle of the model, or by steps kept under a name, with a line
// from where each belongs. Nothing is moved.
import { Box3, Vector3 } from "three";
import { postForJson } from "../api.js";
import { one, sure } from "../dom.js";
import { make } from "../handles/knob.js";
import { placement } from "./view.js";

/** @typedef {Object<string, [number, number, number]>} Step how far (mm) it takes each place */

export class Explode {
  /** @param {import("../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.share = 0;
    this.name = ""; // of the steps that are shown
    /** @type {Step[]} */
    this.steps = [];
    this.at = 0; // steps done, with the part of one that is under way
    this.traces = make("g", { class: "traces" });
    sure(bench.sketches.labels.parentNode).append(this.traces);
    this.slider = /** @type {HTMLInputElement} */ (one("#apart"));
    this.slider.addEventListener("input", () => this.set(Number(this.slider.value) / 100));
  }

  get on() {
    return this.share > 0 || this.at > 0;
  }

  /** @param {number} share of the way from the middle by which parts go further out; 0 is where they stand */
  set(share) {
    share = this.allowed(share);
    this.share = share;
    this.slider.value = String(100 * share);
    this.forget();
    this.lay();
    this.bench.pick(this.bench.picked); // its marks go along
  }

  /** @param {number} wanted @returns {number} */
  allowed(wanted) {
    if (!wanted || !this.bench.line.isOpen) return wanted;
    this.bench.say("Leave the line first: edits show where parts really stand");
    return 0;
  }

  /** The steps kept under a name, all done.
   * @param {string} name */
  async show(name) {
    const steps = await this.bench.trying(() => postForJson(this.bench.url("studies/apart"), { called: name }));
    if (!steps) return;
    this.name = name;
    this.steps = steps;
    this.share = 0;
    this.slider.value = "0";
    this.go(steps.length);
  }

  /** @param {number} at steps done */
  go(at) {
    this.at = this.allowed(at);
    this.lay();
    this.bench.pick(this.bench.picked);
    document.dispatchEvent(new CustomEvent("ravine:apart"));
  }

  forget() {
    if (!this.name) return;
    this.name = "";
    this.steps = [];
    this.at = 0;
    document.dispatchEvent(new CustomEvent("ravine:apart"));
  }

  /** Where the steps so far take a place.
   * @param {string} node
   * @returns {Vector3[]} the corners of its way, from nothing */
  way(node) {
    const corners = [new Vector3()];
    for (let k = 0; k < this.at; k++) {
      const shift = this.steps[k][node];
      if (shift) corners.push(corners[corners.length - 1].clone().addScaledVector(new Vector3(...shift), Math.min(1, this.at - k)));
    }
    return corners;
  }

  /** After the view was shown anew. */
  lay() {
    const { view } = this.bench;
    const places = [...view.places.values()];
    const whole = new Box3().setFromPoints(places.map(middleOf)).getCenter(new Vector3());
    for (const place of places) {
      const step = this.name ? this.way(place.node.id).slice(-1)[0] : middleOf(place).sub(whole).multiplyScalar(this.share);
      place.group.matrix.copy(placement(place.node.matrix)).premultiply(placement([1, 0, 0, step.x, 0, 1, 0, step.y, 0, 0, 1, step.z]));
      place.group.updateMatrixWorld(true);
    }
    view.crowd.lay();
    view.relock();
    view.draw();
  }

  /** With every frame: the lines. */
  draw() {
    const { view } = this.bench;
    const rows = [];
    for (const place of this.at ? view.places.values() : []) {
      const corners = this.way(place.node.id);
      if (corners.length < 2 || !place.group.visible) continue;
      const middle = middleOf(place);
      const points = corners.map((c) => view.camera.project(c.add(middle))).map((p) => `${p.x.toFixed(1)},${p.y.toFixed(1)}`);
      rows.push(make("polyline", { class: "trace", points: points.join(" ") }));
    }
    this.traces.replaceChildren(...rows);
  }

  /** Back together, before anything is edited or cut. */
  leave() {
    if (this.name) {
      this.forget();
      this.lay();
      this.bench.pick(this.bench.picked);
    } else if (this.share) this.set(0);
  }
}

/** @param {any} place */
function middleOf(place) {
  return place.drawable.triangles.boundingBox.getCenter(new Vector3()).applyMatrix4(placement(place.node.matrix));
}

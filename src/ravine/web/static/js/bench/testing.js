// What tests and pictures ask of the page, under names that stay while the scripts behind them change.
import { findById, seenAt } from "../view/picking.js";

export class Testing {
  #bench;

  /** @param {any} bench */
  constructor(bench) {
    this.#bench = bench;
  }

  /** The edit on the line; none where it is closed or only typed into.
   * @returns {string | undefined} */
  get edit() {
    return this.#bench.line.form?.dataset.edit;
  }

  /** Whether no preview is under way or due. */
  get quiet() {
    return !this.#bench.line.busy && !this.#bench.line.again;
  }

  /** Whether nothing is being kept or drawn anew beside the view. */
  get settled() {
    return !this.#bench.refreshing && !this.#bench.line.accepting;
  }

  /** Whether what was asked of the view is on the screen, knobs and labels over it too. */
  get drawn() {
    return !this.#bench.view.waiting;
  }

  get revision() {
    return this.#bench.base;
  }

  get picked() {
    return this.#bench.picked;
  }

  get ids() {
    return this.#bench.pickIds();
  }

  /** Whether the actions beside the view are those for what is picked. */
  get offered() {
    return /** @type {HTMLElement} */ (document.querySelector("#actions .actions-in")).dataset.picked === this.#bench.pickPlaces().join(" ");
  }

  get bodies() {
    return this.#bench.scene.bodies;
  }

  get nodes() {
    return this.#bench.scene.nodes;
  }

  get sketches() {
    return this.#bench.scene.sketches;
  }

  get box() {
    return this.#bench.view.box;
  }

  get camera() {
    return this.#bench.view.camera;
  }

  /** Looks from a side, at all that is shown.
   * @param {string} side */
  look(side) {
    this.#bench.look(side);
    this.camera.fit();
  }

  /** What a gap of the sentence holds.
   * @param {string} name */
  gap(name) {
    return this.#bench.line.form.elements.namedItem(name).value;
  }

  /** Picks things by their ids.
   * @param {string[]} ids */
  pick(ids) {
    this.#bench.pick(ids.map((id) => findById(this.#bench.view, id)).filter(Boolean));
  }

  /** Where a place of the model (mm) is on the canvas.
   * @param {number} x @param {number} y @param {number} z */
  spot(x, y, z) {
    const p = this.camera.project(this.box.min.clone().set(x, y, z));
    return [p.x, p.y];
  }

  /** A pixel of the canvas, clear of what lies at its edges, where a face is seen.
   * @param {number} face */
  spotOf(face) {
    const { view } = this.#bench, { clientWidth, clientHeight } = view.canvas;
    for (const [node, place] of view.places) {
      const index = place.body.faces.indexOf(face);
      if (index < 0) continue;
      /** @param {number} x @param {number} y */
      const clear = (x, y) => x > 130 && y > 10 && x < clientWidth - 10 && y < clientHeight - 130;
      const spot = seenAt(view, node, index, clear);
      if (spot) return spot;
    }
    return null;
  }
}

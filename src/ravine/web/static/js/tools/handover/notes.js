// Notes of a review: pinned to what is picked, numbered in the view, answered and settled beside it; with a picture of
// what is seen, or a sheet as it is.
import { Vector3 } from "three";
import { getText, post } from "../../api.js";
import { all, one } from "../../dom.js";
import { make } from "../../handles/knob.js";
import { still } from "../../panels/still.js";
import { findById } from "../../view/picking.js";

const STAGES = ["Hand over", "Prove"]; // results are pinned where they are seen

export class Notes {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.turn = 0;
    this.layer = make("g", { class: "note-flags" }, one("#grips"));
    const { panel } = this;
    panel.addEventListener("click", (/** @type {MouseEvent} */ event) => this.click(event));
    panel.addEventListener("keydown", (/** @type {KeyboardEvent} */ event) => {
      const target = /** @type {HTMLInputElement} */ (event.target);
      if (!target.matches("input, textarea")) return;
      event.stopPropagation();
      if (event.key === "Enter" && target.matches("[data-answer]") && target.value.trim()) this.tell(`notes/${this.number(target)}`, { text: target.value });
    });
  }

  get panel() {
    return one("#notes");
  }

  async refresh() {
    const here = STAGES.includes(this.bench.stage ?? "");
    this.panel.hidden = !here;
    this.layer.replaceChildren();
    if (!here || this.panel.contains(document.activeElement)) return;
    const turn = ++this.turn;
    const html = await this.bench.trying(() => getText(this.bench.url("notes")));
    if (html === null || turn !== this.turn) return;
    this.panel.innerHTML = html;
    this.draw();
  }

  /** @param {string} what @param {object} data */
  async tell(what, data) {
    const html = await this.bench.trying(() => post(this.bench.url(what), data));
    if (html === null) return;
    this.panel.innerHTML = html;
    this.draw();
  }

  /** @param {HTMLElement} target */
  number(target) {
    return /** @type {HTMLElement} */ (target.closest("[data-note]")).dataset.note;
  }

  /** @param {MouseEvent} event */
  click(event) {
    const target = /** @type {HTMLElement} */ (event.target);
    const { noteState, judge } = target.dataset;
    if (noteState) this.tell(`notes/${this.number(target)}`, { state: noteState });
    else if (judge) this.tell("verdict", { what: judge });
    else if (target.matches("[data-pin-note]")) this.pin();
    else if (target.matches("[data-pick-change]")) this.pick(/** @type {HTMLElement} */ (target.closest("[data-note]")));
  }

  pin() {
    const { bench } = this;
    const [first] = bench.picked;
    const text = one("[data-new-note]", this.panel).value;
    const seen = one("[data-with-view]", this.panel).checked ? still(bench.view.canvas) : "";
    const sheet = one("[data-with-sheet]", this.panel)?.value ?? "";
    this.tell("notes", { on: bench.pickPlaces(), at: first ? this.middle(first) : null, text, picture: seen, sheet });
  }

  /** Where a picked thing is, in the model: in the middle of its faces.
   * @param {any} thing @returns {number[]|null} */
  middle(thing) {
    const place = this.bench.view.places.get(thing.node);
    if (!place) return null;
    const { drawable, group } = place;
    const shape = thing.kind === "edge" ? drawable.edgesGeometry([thing.index]) : drawable.facesGeometry(thing.kind === "face" ? [thing.index] : drawable.shape.faces.map((/** @type {any} */ _, /** @type {number} */ i) => i));
    const spots = shape.getAttribute("position");
    const { index } = shape;
    const count = index ? index.count : spots.count;
    const sum = new Vector3();
    for (let k = 0; k < count; k++) sum.add(new Vector3().fromBufferAttribute(spots, index ? index.getX(k) : k));
    return sum.divideScalar(Math.max(count, 1)).applyMatrix4(group.matrix).toArray();
  }

  /** @param {HTMLElement} row */
  pick(row) {
    this.bench.pick((row.dataset.faces ?? "").split(" ").map((id) => findById(this.bench.view, id)).filter(Boolean));
  }

  /** A numbered flag for each, where it is pinned. */
  draw() {
    this.layer.replaceChildren();
    if (this.panel.hidden || this.bench.paper?.isOpen) return;
    for (const row of all(".note[data-at]", this.panel)) {
      if (!row.dataset.at) continue;
      const [x, y, z] = row.dataset.at.split(",").map(Number);
      const at = this.bench.view.camera.project(new Vector3(x, y, z));
      const flag = make("g", { class: `note-flag${row.classList.contains("settled") ? " settled" : ""}`, role: "button", tabindex: 0, "aria-label": `Note ${row.dataset.number}` }, this.layer);
      make("path", { d: `M${at.x} ${at.y}v-22` }, flag);
      make("circle", { cx: at.x, cy: at.y - 31, r: 10 }, flag);
      make("text", { x: at.x, y: at.y - 27 }, flag).textContent = row.dataset.number;
      flag.addEventListener("click", () => this.pick(row));
    }
  }
}

// Measures pinned in the view: they follow every edit, already while it is tried.
import { getJson } from "../api.js";
import { Vector3 } from "three";
import { make } from "../handles/knob.js";
import { one } from "../dom.js";
import { spaced } from "./spacing.js";
import { tellServer } from "./kept.js";

/** @typedef {{id: number, label: string, value: string, lost: string, ends: [number[], number[]]|null}} Pinned */

export class Pins {
  /** @param {import("../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    /** @type {Pinned[]} */
    this.saved = [];
    /** @type {Pinned[]} */
    this.shown = [];
    this.turn = 0;
    this.layer = make("g", { class: "pins" }, one("#grips"));
    document.addEventListener("click", (event) => {
      const pin = /** @type {HTMLElement|null} */ (/** @type {HTMLElement} */ (event.target).closest("[data-pin]"));
      if (pin) this.keep({ picked: bench.pickPlaces(), label: pin.dataset.pin });
    });
  }

  /** @param {object} data */
  async keep(data) {
    if (await tellServer(this.bench, "kept", { kind: "pin", data })) await this.refresh();
  }

  /** @param {number} id */
  async drop(id) {
    if (await tellServer(this.bench, `kept/${id}/drop`, null)) await this.refresh();
  }

  /** As the saved state has them. */
  async refresh() {
    const turn = ++this.turn;
    const saved = await this.bench.trying(() => getJson(this.bench.url("pins")));
    if (turn !== this.turn || !saved) return;
    this.saved = saved;
    this.show(this.saved);
  }

  /** @param {Pinned[]} pins of the saved state, or of one that is only tried */
  show(pins) {
    this.shown = pins;
    this.draw();
  }

  draw() {
    this.layer.replaceChildren();
    const { clientWidth, clientHeight } = this.bench.view.canvas;
    let below = 0;
    const pins = this.shown.map((pin) => {
      const ends = this.ends(pin);
      const words = pin.lost ? `${pin.label || "width"}: ${pin.lost}` : `${pin.label ? `${pin.label} ` : ""}${pin.value}`;
      const wide = 30 + words.length * 6.4;
      const middle = ends && { x: (ends[0].x + ends[1].x) / 2, y: (ends[0].y + ends[1].y) / 2 };
      const at = middle
        ? { x: Math.min(middle.x + 26 + wide / 2, clientWidth - wide / 2 - 8), y: Math.max(20, middle.y - 30) }
        : { x: clientWidth - wide / 2 - 14, y: clientHeight - 150 - 28 * below++ };
      return { pin, ends, words, middle, tag: { ...at, wide, tall: 23 } };
    });
    const tags = spaced(pins.map((p) => p.tag), clientHeight);
    pins.forEach((one, number) => this.drawOne(one, tags[number]));
  }

  /** Where it is fastened on the screen; nothing where a section takes that away.
   * @param {Pinned} pin */
  ends(pin) {
    const places = (pin.ends || []).map((/** @type {any} */ p) => new Vector3(...p));
    if (!places.length || places.every((/** @type {any} */ p) => this.bench.section.removed(p))) return null;
    const [a, b] = places.map((/** @type {any} */ p) => this.bench.view.camera.project(p));
    return [a, b];
  }

  /** @param {any} what @param {import("./spacing.js").Tag} at */
  drawOne({ pin, ends, words, middle }, at) {
    const before = this.saved.find((s) => s.id === pin.id);
    const changed = before && before.value !== pin.value;
    const group = make("g", { class: `pin${pin.lost ? " lost" : ""}${changed ? " changed" : ""}`, "data-id": pin.id }, this.layer);
    const { wide } = at;
    if (ends) {
      const [a, b] = ends;
      const far = Math.hypot(b.x - a.x, b.y - a.y) > 3;
      make("path", { d: `${far ? `M${a.x} ${a.y}L${b.x} ${b.y}` : ""}M${middle.x} ${middle.y}L${at.x - wide / 2} ${at.y}` }, group);
      for (const p of far ? [a, b] : [a]) make("circle", { cx: p.x, cy: p.y, r: 3 }, group);
    }
    const tag = make("g", { class: "pin-tag", transform: `translate(${at.x} ${at.y})` }, group);
    make("rect", { x: -wide / 2, y: -12, width: wide, height: 23, rx: 4 }, tag);
    make("text", { x: -9, y: 4 }, tag).textContent = words;
    const off = make("g", { class: "pin-off", role: "button", tabindex: 0, "aria-label": `Drop the measure ${words}` }, tag);
    make("rect", { x: wide / 2 - 21, y: -10, width: 19, height: 19, rx: 3 }, off);
    make("path", { d: `M${wide / 2 - 15} -4l7 7m0 -7l-7 7` }, off);
    off.addEventListener("click", () => this.drop(pin.id));
    off.addEventListener("keydown", (event) => {
      if (event.key !== "Enter" && event.key !== " ") return;
      event.preventDefault();
      event.stopPropagation();
      this.drop(pin.id);
    });
  }
}

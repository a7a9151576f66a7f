// The features of a part at the stage Shape: pointing lights one up, a click picks it, a size is set where it stands.
import { all, one, sure } from "../../dom.js";
import { getText } from "../../api.js";
import { InPlace } from "../../panels/in_place.js";
import { findById } from "../../view/picking.js";

export class Features {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.turn = 0;
    this.part = ""; // whose features are asked for; the last one picked
    /** @type {Set<string>} kinds that are unfolded */
    this.open = new Set();
    const { panel } = this;
    panel.addEventListener("click", (/** @type {MouseEvent} */ event) => this.click(event));
    panel.addEventListener("pointerover", (/** @type {Event} */ event) => this.point(/** @type {HTMLElement} */ (event.target)));
    panel.addEventListener("pointerleave", () => this.bench.view.highlight("hover", []));
    panel.addEventListener("focusin", (/** @type {Event} */ event) => this.point(/** @type {HTMLElement} */ (event.target)));
    new InPlace(bench, panel, (input) => this.asked(input));
    panel.addEventListener("toggle", (/** @type {Event} */ event) => this.fold(/** @type {HTMLElement} */ (event.target)), true);
  }

  get panel() {
    return one("#features");
  }

  /** Shown at its stage only, and read afresh with every state. */
  async refresh() {
    const here = this.bench.stage === "Shape";
    this.panel.hidden = !here;
    if (!here) return;
    if (!this.panel.children.length) this.panel.innerHTML = '<h2 class="side-title">Features</h2><p class="none">Reading the part …</p>';
    const turn = ++this.turn;
    const html = await this.bench.trying(() => getText(this.bench.url("features"), this.part ? { part: this.part } : {}));
    if (turn !== this.turn || html === null) return;
    this.panel.innerHTML = html;
    this.unfold();
  }

  /** Another part was picked. */
  follow() {
    const node = this.bench.picked.find((p) => p.node)?.node;
    if (!node || node === this.part) return;
    this.part = node;
    this.refresh();
  }

  /** @param {string} ids */
  things(ids) {
    const part = one(".features", this.panel)?.dataset.part;
    return ids.split(" ").map((id) => findById(this.bench.view, `${id}@${part}`)).filter(Boolean);
  }

  /** @param {HTMLElement} target */
  point(target) {
    const each = /** @type {HTMLElement|null} */ (target.closest("[data-one]"))?.dataset.one;
    const ids = each ?? /** @type {HTMLElement|null} */ (target.closest(".feature"))?.dataset.faces;
    this.bench.view.highlight("hover", ids ? this.things(ids) : []);
  }

  /** @param {MouseEvent} event */
  click(event) {
    const target = /** @type {HTMLElement} */ (event.target);
    const each = /** @type {HTMLElement|null} */ (target.closest("[data-one]"))?.dataset.one;
    const row = /** @type {HTMLElement|null} */ (target.closest(".feature"));
    if (each) this.bench.pick(this.things(each), event.shiftKey);
    else if (row && target.closest("[data-pick-feature]")) this.bench.pick(this.things(sure(row.dataset.faces)), event.shiftKey);
  }

  /** @param {HTMLInputElement} input */
  asked(input) {
    const faces = this.things(sure(/** @type {HTMLElement} */ (input.closest(".feature")).dataset.first)).map((t) => this.bench.placed(t));
    return { edit: "feature size", values: { faces, size: input.dataset.size, value: input.value } };
  }

  /** @param {HTMLElement} details */
  fold(details) {
    const kind = details.dataset.kind;
    if (!kind) return;
    if (/** @type {HTMLDetailsElement} */ (details).open) this.open.add(kind);
    else this.open.delete(kind);
  }

  unfold() {
    for (const details of all(".feature-kind", this.panel)) details.open = this.open.has(details.dataset.kind);
  }
}

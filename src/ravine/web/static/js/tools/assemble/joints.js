// The joints at the stage Assemble: pointing lights one up, a click picks what it is between, a value is set in place.
import { one, sure } from "../../dom.js";
import { getText } from "../../api.js";
import { Playing } from "./playing.js";
import { InPlace } from "../../panels/in_place.js";
import { findById } from "../../view/picking.js";

export class Joints {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.turn = 0;
    this.part = ""; // whose freedoms are told
    const { panel } = this;
    this.playing = new Playing(bench, panel);
    this.inPlace = new InPlace(bench, panel, (input) => this.asked(input));
    panel.addEventListener("click", (/** @type {MouseEvent} */ event) => this.click(event));
    panel.addEventListener("pointerover", (/** @type {Event} */ event) => this.point(/** @type {HTMLElement} */ (event.target)));
    panel.addEventListener("pointerleave", () => this.bench.view.highlight("hover", []));
    panel.addEventListener("focusin", (/** @type {Event} */ event) => this.point(/** @type {HTMLElement} */ (event.target)));
  }

  get panel() {
    return one("#joints");
  }

  /** Shown at its stage only, and read afresh with every state. */
  async refresh() {
    const here = this.bench.stage === "Assemble";
    this.playing.leave();
    this.panel.hidden = !here;
    if (!here) return;
    const turn = ++this.turn;
    const html = await this.bench.trying(() => getText(this.bench.url("joints"), this.part ? { part: this.part } : {}));
    if (turn === this.turn && html !== null) this.panel.innerHTML = html;
  }

  /** Another part was picked. */
  follow() {
    const node = this.bench.picked.find((p) => p.node)?.node ?? "";
    if (node === this.part) return;
    this.part = node;
    this.refresh();
  }

  /** @param {HTMLElement} target @returns {HTMLElement|null} */
  row(target) {
    return target.closest(".joint");
  }

  /** @param {HTMLElement} row */
  things(row) {
    return sure(row.dataset.ends).split(" ").map((id) => findById(this.bench.view, id)).filter(Boolean);
  }

  /** @param {HTMLElement} target */
  point(target) {
    const row = this.row(target);
    this.bench.view.highlight("hover", row ? this.things(row) : []);
  }

  /** @param {MouseEvent} event */
  click(event) {
    const target = /** @type {HTMLElement} */ (event.target);
    const free = /** @type {HTMLElement|null} */ (target.closest("[data-move-free]"))?.dataset.moveFree;
    if (free) {
      this.playing.leave();
      this.bench.pick([{ kind: "node", node: free, index: 0, id: free }]);
      this.bench.line.open("move free", [free]);
      return;
    }
    const { playFree, motion } = target.dataset;
    if (playFree) this.playing.open(playFree, motion ?? "turn");
    else if ("play" in target.dataset) this.playing.run();
    else if ("leavePlay" in target.dataset) this.playing.leave();
    const row = this.row(target);
    if (!row) return;
    const joint = row.dataset.joint;
    const { state } = target.dataset;
    if (state) this.inPlace.keep({ edit: "rest joint", values: { joint, state } });
    else if ("flip" in target.dataset) this.inPlace.keep({ edit: "set joint", values: { joint, way: "flipped" } });
    else if ("drop" in target.dataset) this.inPlace.keep({ edit: "drop joint", values: { joint } });
    else if (target.closest("[data-pick-joint]")) this.bench.pick(this.things(row), event.shiftKey);
  }

  /** @param {HTMLInputElement} input */
  asked(input) {
    const kind = input.dataset.value;
    if (!kind) return null;
    const value = kind === "angle" && /^[-+\d.,\s]+$/.test(input.value) ? `${input.value}°` : input.value;
    return { edit: "set joint", values: { joint: sure(this.row(input)).dataset.joint, [kind]: value } };
  }
}

// The standing check: its count at the foot after every change, its findings at the stage Prove.
import { Vector3 } from "three";
import { byId, one, sure } from "../../dom.js";
import { getText } from "../../api.js";
import { InPlace } from "../../panels/in_place.js";
import { findById } from "../../view/picking.js";

const QUIET = 700; // ms after a change, so that the next one is not kept waiting

export class Standing {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.turn = 0;
    this.least = "";
    this.inPlace = new InPlace(bench, this.panel, (input) => this.asked(input));
    this.panel.addEventListener("click", (/** @type {MouseEvent} */ event) => this.click(/** @type {HTMLElement} */ (event.target)));
    byId("foot-check").addEventListener("click", () => bench.setStage("Prove"));
  }

  get panel() {
    return one("#standing");
  }

  /** Looked at anew with every state; shown at its stage. */
  refresh() {
    const several = this.bench.scene.nodes.filter((n) => n.body).length > 1;
    this.panel.hidden = this.bench.stage !== "Prove" || !several; // it is about two parts and more
    if (!this.panel.hidden && !this.panel.children.length) this.panel.innerHTML = '<h2 class="side-title">Standing check</h2><p class="none">Looking …</p>';
    clearTimeout(this.waiting);
    const turn = ++this.turn;
    byId("foot-check").hidden = !several;
    if (several) this.waiting = setTimeout(() => this.look(turn), QUIET);
  }

  /** @param {number} turn */
  async look(turn) {
    byId("foot-check").textContent = "looking …";
    const html = await this.bench.trying(() => getText(this.bench.url("standing"), { ...(this.least ? { least: this.least } : {}), ...(this.panel.hidden ? {} : { fits: "1" }) }));
    if (turn !== this.turn) return;
    if (html === null) {
      byId("foot-check").textContent = "not told";
      return;
    }
    this.panel.innerHTML = html;
    const open = Number(one("[data-open]", this.panel).dataset.open);
    byId("foot-check").textContent = open ? `${open} to look at` : "nothing found";
    byId("foot-check").classList.toggle("some", open > 0);
  }

  /** @param {HTMLElement} target */
  click(target) {
    const { pickFit } = target.dataset;
    if (pickFit) this.bench.pick(pickFit.split(" ").map((id) => findById(this.bench.view, id)).filter(Boolean));
    const row = /** @type {HTMLElement|null} */ (target.closest("[data-key]"));
    if (!row) return;
    if ("takeUp" in target.dataset) this.inPlace.keep({ edit: "accept finding", values: { key: row.dataset.key } });
    if (!("find" in target.dataset)) return;
    const { camera } = this.bench.view;
    camera.target.copy(new Vector3(...JSON.parse(sure(row.dataset.place))));
    camera.span = camera.radius * 0.35;
    camera.apply();
    this.bench.pick(sure(row.dataset.nodes).split(" ").map((id) => findById(this.bench.view, id)).filter(Boolean));
  }

  /** @param {HTMLInputElement} input */
  asked(input) {
    if ("least" in input.dataset) {
      this.least = input.value.trim();
      this.refresh();
      return null;
    }
    const key = /** @type {HTMLElement} */ (input.closest("[data-key]")).dataset.key;
    return { edit: "accept finding", values: { key, note: input.value } };
  }
}

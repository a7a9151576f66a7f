// Links to look at the model, at the stage Hand over: made, told once, counted, revoked.
import { getText, post } from "../../api.js";
import { one } from "../../dom.js";

export class Links {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    const { panel } = this;
    panel.addEventListener("click", (/** @type {MouseEvent} */ event) => this.click(event));
    panel.addEventListener("keydown", (/** @type {KeyboardEvent} */ event) => {
      if (/** @type {HTMLElement} */ (event.target).matches("input, select")) event.stopPropagation();
    });
  }

  get panel() {
    return one("#links");
  }

  async refresh() {
    const here = this.bench.stage === "Hand over";
    const due = here && (this.panel.hidden || !one("[data-fresh-link]", this.panel));
    this.panel.hidden = !here;
    if (due) this.show(await this.bench.trying(() => getText(this.bench.url("links"))));
  }

  /** @param {string|null} html */
  show(html) {
    if (html !== null) this.panel.innerHTML = html;
  }

  /** @param {MouseEvent} event */
  async click(event) {
    const act = /** @type {HTMLElement|null} */ (/** @type {HTMLElement} */ (event.target).closest("button"));
    const { bench, panel } = this;
    if (act?.dataset.revoke) this.show(await bench.trying(() => post(bench.url(`links/${act.dataset.revoke}/revoke`))));
    else if (act?.matches("[data-make-link]")) {
      const asked = { days: one("[data-link-days]", panel).value, inside: one("[data-link-inside]", panel).value === "yes", names: one("[data-link-names]", panel).value === "yes" };
      this.show(await bench.trying(() => post(bench.url("links"), asked)));
      one("[data-fresh-link]", panel)?.select();
    }
  }
}

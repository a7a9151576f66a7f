// The table of values at the stage Shape: a formula is set where it stands, a new value is written in the last row.
import { one } from "../../dom.js";
import { getText } from "../../api.js";
import { InPlace } from "../../panels/in_place.js";

export class Values {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.turn = 0;
    this.open = false;
    this.inPlace = new InPlace(bench, this.panel, (input) => this.asked(input));
    this.panel.addEventListener("click", (/** @type {Event} */ event) => this.click(/** @type {HTMLElement} */ (event.target)));
    this.panel.addEventListener("toggle", (/** @type {Event} */ event) => (this.open = /** @type {HTMLDetailsElement} */ (event.target).open), true);
  }

  get panel() {
    return one("#values");
  }

  async refresh() {
    const here = this.bench.stage === "Shape";
    this.panel.hidden = !here;
    if (!here) return;
    const turn = ++this.turn;
    const html = await this.bench.trying(() => getText(this.bench.url("values")));
    if (turn !== this.turn || html === null) return;
    const details = one("details", this.panel);
    const open = details ? details.open : this.open;
    this.panel.innerHTML = html;
    one("details", this.panel).open = open;
  }

  /** @param {HTMLInputElement} input */
  asked(input) {
    const { name } = input.dataset;
    if (name) return { edit: "set value", values: { name, value: input.value } };
    const [called, value] = ["called", "value"].map((n) => one(`[data-new=${n}]`, this.panel).value.trim());
    if (called && value) return { edit: "set value", values: { name: called, value } };
    one(`[data-new=${called ? "value" : "called"}]`, this.panel).focus();
    return null;
  }

  /** @param {HTMLElement} target */
  click(target) {
    const forget = /** @type {HTMLElement|null} */ (target.closest("[data-forget]"))?.dataset.forget;
    if (forget) this.inPlace.keep({ edit: "forget value", values: { name: forget } });
  }
}

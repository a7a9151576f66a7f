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
    this.chain = { formula: "", general: "m" };
    this.inPlace = new InPlace(bench, this.panel, (input) => this.asked(input));
    this.panel.addEventListener("click", (/** @type {Event} */ event) => this.click(/** @type {HTMLElement} */ (event.target)));
    this.panel.addEventListener("change", (/** @type {Event} */ event) => {
      if (/** @type {HTMLElement} */ (event.target).dataset.chainGeneral !== undefined) this.addUp();
    });
    this.panel.addEventListener("toggle", (/** @type {Event} */ event) => (this.open = /** @type {HTMLDetailsElement} */ (event.target).open), true);
  }

  get panel() {
    return one("#values");
  }

  async refresh() {
    const here = ["Shape", "Prove"].includes(this.bench.stage);
    this.panel.hidden = !here;
    if (!here) return;
    const turn = ++this.turn;
    const html = await this.bench.trying(() => getText(this.bench.url("values")));
    if (turn !== this.turn || html === null) return;
    const details = one("details", this.panel);
    const open = details ? details.open : this.open;
    this.panel.innerHTML = html;
    one("details", this.panel).open = open;
    const input = /** @type {HTMLInputElement|null} */ (this.panel.querySelector("[data-chain]"));
    if (!this.chain.formula || !input) return;
    input.value = this.chain.formula;
    one("[data-chain-general]", this.panel).value = this.chain.general;
    this.addUp();
  }

  /** @param {HTMLInputElement} input */
  asked(input) {
    const { name, offBy } = input.dataset;
    if (offBy) return { edit: "set tolerance", values: { called: offBy, ...(input.value.trim() ? { text: input.value } : {}) } };
    if (input.dataset.chain !== undefined) {
      this.addUp();
      return null;
    }
    if (name) return { edit: "set value", values: { name, value: input.value } };
    const [called, value] = ["called", "value"].map((n) => one(`[data-new=${n}]`, this.panel).value.trim());
    if (called && value) return { edit: "set value", values: { name: called, value } };
    one(`[data-new=${called ? "value" : "called"}]`, this.panel).focus();
    return null;
  }

  /** What the chain that is written comes to; it stays written while the model changes. */
  async addUp() {
    const [input, general] = ["[data-chain]", "[data-chain-general]"].map((q) => /** @type {HTMLInputElement|null} */ (this.panel.querySelector(q)));
    this.chain = { formula: input?.value.trim() ?? "", general: general?.value ?? "m" };
    if (!input || !this.chain.formula) return;
    input.dataset.was = this.chain.formula;
    const html = await this.bench.trying(() => getText(this.bench.url("chain"), this.chain));
    if (html !== null) one("#chain", this.panel).innerHTML = html;
  }

  /** @param {HTMLElement} target */
  click(target) {
    const forget = /** @type {HTMLElement|null} */ (target.closest("[data-forget]"))?.dataset.forget;
    if (forget) this.inPlace.keep({ edit: "forget value", values: { name: forget } });
  }
}

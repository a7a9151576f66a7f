// Sizes that are set where they stand, in a panel: Enter sets one, Escape and leaving bring back what it was.
import { keep, Refused } from "../api.js";

export class InPlace {
  /** @param {import("../workbench.js").Workbench} bench @param {HTMLElement} panel
   * @param {(input: HTMLInputElement) => {edit: string, values: Object<string, any>}|null} asked the edit that an input asks for; null where it is none of its */
  constructor(bench, panel, asked) {
    this.bench = bench;
    this.asked = asked;
    this.setting = false;
    panel.addEventListener("keydown", (event) => this.key(event));
    panel.addEventListener("focusout", (event) => this.restore(event.target));
  }

  /** @param {KeyboardEvent} event */
  key(event) {
    const input = event.target;
    if (!(input instanceof HTMLInputElement) || input.dataset.was === undefined) return;
    event.stopPropagation();
    if (event.key === "Escape") {
      this.restore(input);
      input.blur();
    } else if (event.key === "Enter" && input.value.trim() !== input.dataset.was) this.set(input);
  }

  /** What was typed and not set is not left standing.
   * @param {EventTarget|null} target */
  restore(target) {
    if (target instanceof HTMLInputElement && target.dataset.was !== undefined && target.dataset.new === undefined && !this.setting) target.value = target.dataset.was;
  }

  /** @param {HTMLInputElement} input */
  async set(input) {
    const asked = this.asked(input);
    if (!asked) return;
    this.setting = true;
    input.disabled = true;
    try {
      await this.keep(asked);
    } finally {
      this.setting = false;
      input.disabled = false;
      this.restore(input);
    }
  }

  /** @param {{edit: string, values: Object<string, any>}} asked */
  async keep(asked) {
    const { bench } = this;
    try {
      bench.changing++;
      await bench.accepted(await keep(bench.url("edits"), { ...asked, base: bench.base }).finally(() => bench.changing--));
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      bench.say(error.message);
      if (error.status === 409) await bench.reload();
    }
  }
}

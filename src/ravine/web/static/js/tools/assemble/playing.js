// A free motion played through its range: a scale to drag along, clashes marked on it; nothing is moved for good.
import { postForJson } from "../../api.js";
import { one } from "../../dom.js";
import { placement } from "../../view/view.js";

const FRAME = 70; // ms a step stands while it plays

/** @typedef {{value: number, matrices: Object<string, number[]>, clashes: string[][], gap: number|null}} Step */

export class Playing {
  /** @param {import("../../workbench.js").Workbench} bench @param {HTMLElement} panel */
  constructor(bench, panel) {
    this.bench = bench;
    this.panel = panel;
    /** @type {{slides: boolean, stopped: boolean, steps: Step[]}|null} */
    this.played = null;
    this.at = 0;
    panel.addEventListener("input", (event) => this.slide(/** @type {HTMLInputElement} */ (event.target)));
  }

  /** @param {string} part @param {string} motion */
  async open(part, motion) {
    const { bench } = this;
    bench.explode.leave();
    one("#played", this.panel).textContent = "Playing the motion …";
    const found = await bench.trying(() => postForJson(bench.url("studies/play"), { part: [part], motion }));
    if (!found) {
      one("#played", this.panel)?.replaceChildren();
      return;
    }
    this.played = found;
    bench.view.highlight("picked", []); // it would stay behind
    bench.halo?.show([]);
    this.lay();
    this.run();
  }

  /** The scale with its marks. */
  lay() {
    const { steps, slides, stopped } = /** @type {NonNullable<typeof this.played>} */ (this.played);
    const place = one("#played", this.panel);
    const from = steps.findIndex((s) => !Object.keys(s.matrices).length);
    this.at = Math.max(from, 0);
    place.innerHTML = `<svg viewBox="0 0 ${steps.length} 6" preserveAspectRatio="none" aria-hidden="true"></svg>
      <input type="range" min="0" max="${steps.length - 1}" value="${this.at}" aria-label="Where in the motion">
      <p><output></output> <button type="button" class="link-do" data-play>play</button> <button type="button" class="link-do" data-leave-play>leave</button></p>`;
    const marks = steps.map((s, k) => (s.clashes.length ? `<rect class="clash" x="${k}" y="0" width="1" height="6"/>` : "")).join("");
    one("svg", place).innerHTML = `${marks}<rect class="start" x="${this.at + 0.4}" y="0" width="0.2" height="6"/>`;
    const clashing = steps.filter((s) => s.clashes.length).length;
    const gaps = steps.map((s) => s.gap).filter((g) => g !== null && g > 0).map(Number);
    place.dataset.told = [clashing ? `${clashing} of ${steps.length} steps clash` : "nothing clashes",
      gaps.length ? `narrowest gap ${Number(Math.min(...gaps).toPrecision(3))} ${this.bench.scene.units}` : "", stopped ? "its joints end it" : ""].filter(Boolean).join(", ");
    this.unit = slides ? ` ${this.bench.scene.units}` : "°";
    this.show(this.at);
  }

  /** @param {number} k */
  show(k) {
    if (!this.played) return;
    const { view } = this.bench;
    const step = this.played.steps[k];
    this.at = k;
    for (const [node, place] of view.places) {
      place.group.matrix.copy(placement(step.matrices[node] ?? place.node.matrix));
      place.group.updateMatrixWorld(true);
    }
    view.crowd.lay();
    view.draw();
    const place = one("#played", this.panel);
    one("input", place).value = String(k);
    const here = step.clashes.map((names) => names.join(" meets ")).join(", ");
    one("output", place).textContent = `${Number(step.value.toFixed(2))}${this.unit}: ${here || place.dataset.told}`;
    place.classList.toggle("clashes", Boolean(step.clashes.length));
  }

  run() {
    clearInterval(this.running);
    let k = 0;
    this.running = setInterval(() => {
      if (!this.played || k >= this.played.steps.length) clearInterval(this.running);
      else this.show(k++);
    }, FRAME);
  }

  /** @param {HTMLInputElement} input */
  slide(input) {
    if (!input.closest("#played")) return;
    clearInterval(this.running);
    this.show(Number(input.value));
  }

  /** Everything stands again where it does. */
  leave() {
    if (!this.played) return;
    clearInterval(this.running);
    this.played = null;
    one("#played", this.panel)?.replaceChildren();
    this.bench.explode.lay();
    this.bench.mark();
  }
}

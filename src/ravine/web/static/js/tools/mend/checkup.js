// The check-up at the stage Mend: what is wrong, by kind; go to it, pick it, mend it.
import { one, sure } from "../../dom.js";
import { Vector3 } from "three";
import { make } from "../../handles/knob.js";
import { findById } from "../../view/picking.js";

export class Checkup {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.at = null; // the place shown, in the model
    this.turns = new WeakMap(); // which finding of a kind comes next
    this.ring = make("circle", { class: "finding", r: 14 });
    sure(bench.sketches.labels.parentNode).append(this.ring);
    this.panel.addEventListener("click", (/** @type {any} */ event) => this.click(/** @type {HTMLElement} */ (event.target)));
    this.draw();
  }

  get panel() {
    return one("#checkup");
  }

  /** Shown at its stage only, and looked up afresh with every state. */
  refresh() {
    const here = this.bench.stage === "Mend";
    this.panel.hidden = !here;
    this.at = null;
    this.draw();
    if (!here) return;
    if (!this.panel.children.length) this.panel.innerHTML = '<h2 class="side-title">Check-up</h2><p class="none">Looking at every part …</p>';
    this.bench.swap("GET", "checkup", "#checkup");
  }

  /** @param {HTMLElement} target */
  click(target) {
    const kind = /** @type {HTMLElement|null} */ (target.closest(".flaw"));
    const mend = /** @type {HTMLElement|null} */ (target.closest("[data-mend]"));
    const all = /** @type {HTMLElement|null} */ (target.closest("[data-pick-all]"));
    if (mend) {
      const parts = sure(mend.dataset.nodes).split(" ");
      this.bench.pick(parts.map((/** @type {string} */ id) => ({ kind: "node", node: id, index: 0, id })));
      this.bench.line.open("mend", parts, { what: sure(mend.dataset.mend) });
    } else if (all) this.pick(sure(all.dataset.pickAll).split(" "));
    else if (kind && target.closest("[data-next]")) this.next(kind);
  }

  /** @param {HTMLElement} kind */
  next(kind) {
    const places = JSON.parse(sure(kind.dataset.places));
    const turn = this.turns.get(kind) || 0;
    this.turns.set(kind, (turn + 1) % places.length);
    const { at, where, size } = places[turn];
    const { camera } = this.bench.view;
    this.at = new Vector3(...at);
    camera.target.copy(this.at);
    camera.span = Math.max(camera.radius * 0.1, Math.min(camera.radius * 1.8, 8 * (size ?? camera.radius)));
    camera.apply();
    this.pick(where);
    this.draw();
  }

  /** @param {string[]} ids */
  pick(ids) {
    this.bench.pick(ids.map((/** @type {string} */ id) => findById(this.bench.view, id)).filter(Boolean));
  }

  /** With every frame. */
  draw() {
    const spot = this.at && this.bench.view.camera.project(this.at.clone());
    this.ring.style.display = spot ? "" : "none";
    if (!spot) return;
    this.ring.setAttribute("cx", String(spot.x));
    this.ring.setAttribute("cy", String(spot.y));
  }
}

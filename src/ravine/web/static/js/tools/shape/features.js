// The features of a part at the stage Shape: pointing lights one up, a click picks it, a size is set where it stands.
import { all, byId, one, sure } from "../../dom.js";
import { getText } from "../../api.js";
import { InPlace } from "../../panels/in_place.js";
import { findById } from "../../view/picking.js";

export class Features {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.turn = 0;
    this.part = ""; // whose features are asked for; the last one picked
    /** @type {Map<string, {one: string[], every: string[], words: string}>} by the id of a face */
    this.of = new Map();
    this.hint = byId("foot-hint").textContent;
    /** @type {Set<string>} kinds that are unfolded */
    this.open = new Set();
    const { panel } = this;
    panel.addEventListener("click", (/** @type {MouseEvent} */ event) => this.click(event));
    panel.addEventListener("pointerover", (/** @type {Event} */ event) => this.point(/** @type {HTMLElement} */ (event.target)));
    panel.addEventListener("pointerleave", () => this.bench.view.highlight("hover", []));
    panel.addEventListener("focusin", (/** @type {Event} */ event) => this.point(/** @type {HTMLElement} */ (event.target)));
    this.inPlace = new InPlace(bench, panel, (input) => this.asked(input));
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
    const open = new Set(all(".feature-ones[open]", this.panel).map((d) => sure(d.closest(".feature")).dataset.faces));
    this.panel.innerHTML = html;
    this.unfold();
    for (const row of all(".feature", this.panel)) if (open.has(row.dataset.faces)) row.querySelector(".feature-ones")?.setAttribute("open", "");
    this.read();
    this.mirror(turn);
  }

  /** In which planes the part is its own mirror image, once the list stands.
   * @param {number} turn */
  async mirror(turn) {
    const { part } = one(".features", this.panel)?.dataset ?? {};
    const words = part && (await getText(this.bench.url("symmetry"), { part }).catch(() => "")); // it is only told
    const place = one(".feature-symmetry", this.panel);
    if (turn === this.turn && place) place.textContent = words ?? "";
  }

  /** Which feature each face belongs to, as the list has it. */
  read() {
    this.of.clear();
    for (const row of all(".feature", this.panel)) {
      const every = sure(row.dataset.faces).split(" ");
      const ones = all("[data-one]", row).map((o) => o.dataset.one.split(" "));
      for (const one of ones.length ? ones : [every]) for (const id of one) if ((this.of.get(id)?.one.length ?? Infinity) > one.length) this.of.set(id, { one, every, words: row.dataset.words });
    }
  }

  /** The feature of a face of the part whose list stands here.
   * @param {any} found */
  at(found) {
    const { part } = one(".features", this.panel)?.dataset ?? {};
    return this.bench.stage === "Shape" && found?.kind === "face" && found.node === part ? this.of.get(found.id) : undefined;
  }

  /** What is pointed at belongs to: told at the foot, its other faces outlined.
   * @param {any} found */
  around(found) {
    const known = this.at(found);
    byId("foot-hint").textContent = known ? `${known.words}: click once more for all of it` : this.hint;
    return known ? this.things(known.one.join(" ")).filter((t) => t.id !== found.id).map((t) => ({ ...t, bare: true })) : [];
  }

  /** A click on what is picked already takes in more: from the face to its feature, to all that are alike, and back.
   * @param {any} found @returns {any[]|null} */
  grown(found) {
    const known = this.at(found);
    const { picked, line } = this.bench;
    if (!known || line.isOpen || !picked.some((p) => p.id === found.id && p.node === found.node)) return null;
    const count = picked.length;
    if (count === 1 && known.one.length > 1) return this.things(known.one.join(" "));
    if (count <= known.one.length && known.every.length > known.one.length) return this.things(known.every.join(" "));
    return null;
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
    const { back, forget } = target.dataset;
    if (back) this.inPlace.keep({ edit: "put back", values: { what: back } });
    else if (forget) this.inPlace.keep({ edit: "forget aside", values: { what: forget } });
    else if (row && target.closest("[data-aside]")) this.inPlace.keep({ edit: "set aside", values: { faces: this.firsts(row) } });
    else if (each) this.bench.pick(this.things(each), event.shiftKey);
    else if (row && target.closest("[data-pick-feature]")) this.bench.pick(this.things(sure(row.dataset.faces)), event.shiftKey);
  }

  /** A face of each feature of a row.
   * @param {HTMLElement} row */
  firsts(row) {
    return this.things(sure(row.dataset.first)).map((t) => this.bench.placed(t));
  }

  /** @param {HTMLInputElement} input */
  asked(input) {
    const faces = this.firsts(/** @type {HTMLElement} */ (input.closest(".feature")));
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

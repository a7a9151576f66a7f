// Studies of strength at the stage Prove: solved with progress, the result laid over the model, out of date after an edit.
import { getBuffer, getText, post, postForJson } from "../../api.js";
import { one, sure } from "../../dom.js";
import { readSimulated } from "../../view/packets.js";
import { findById } from "../../view/picking.js";
import { InPlace } from "../../panels/in_place.js";
import { Vector3 } from "three";
import { BANDS, SCALE, Overlay } from "./overlay.js";
import { Variants } from "./study_variants.js";

/** @type {Object<string, [string, string, number]>} what is shown: title, unit, significant figures */
const FIELDS = {
  displacement: ["Displacement", "mm", 3], von_mises: ["Stress, von Mises", "MPa", 3], principal: ["Stress, largest principal", "MPa", 3],
  pressed: ["Stress, least principal", "MPa", 3], margin: ["Margin against yield", "×", 3], contact: ["Contact pressure", "MPa", 3],
};
const PAUSE = 400; // ms between questions
const SHOWN = 0.03; // of the model's size, that the largest displacement is drawn as

/** @typedef {{found: import("../../view/packets.js").Simulated, revision: number, rounds: number}} Kept */

export class Simulate {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.turn = 0;
    /** @type {Map<string, Kept>} by study */
    this.results = new Map();
    this.field = "von_mises";
    /** @type {string} the study whose result lies over the model */
    this.shown = "";
    this.job = 0; // that is waited for
    /** @type {Map<string, {words: string, revision: number}>} why a study could not be solved */
    this.why = new Map();
    /** @type {Set<string>} studies and states that were asked for */
    this.asked = new Set();
    this.overlay = new Overlay(bench);
    this.variants = new Variants(bench);
    const { panel } = this;
    this.inPlace = new InPlace(bench, panel, () => null);
    panel.addEventListener("click", (/** @type {MouseEvent} */ event) => this.click(event));
    panel.addEventListener("input", (/** @type {Event} */ event) => this.changed(/** @type {HTMLInputElement} */ (event.target)));
    panel.addEventListener("pointerover", (/** @type {Event} */ event) => this.point(/** @type {HTMLElement} */ (event.target)));
    panel.addEventListener("pointerleave", () => this.bench.view.highlight("hover", []));
    panel.addEventListener("keydown", (/** @type {KeyboardEvent} */ event) => {
      if (/** @type {HTMLElement} */ (event.target).closest("input, select")) event.stopPropagation();
    });
  }

  get panel() {
    return one("#simulations");
  }

  /** Shown at its stage only; results of other states stay, and say so. */
  async refresh() {
    const here = this.bench.stage === "Prove";
    this.panel.hidden = !here;
    if (!here) {
      this.leave();
      return;
    }
    const turn = ++this.turn;
    const html = await this.bench.trying(() => getText(this.bench.url("simulations")));
    if (turn !== this.turn || html === null) return;
    this.panel.innerHTML = html;
    for (const study of this.panel.querySelectorAll(".study")) {
      this.write(/** @type {HTMLElement} */ (study));
      this.recall(sure(/** @type {HTMLElement} */ (study).dataset.study));
    }
    if (this.shown && this.isStale(this.shown)) this.leave();
  }

  /** @param {string} name */
  isStale(name) {
    return this.results.get(name)?.revision !== this.bench.base;
  }

  /** @param {HTMLElement} target @returns {string} */
  name(target) {
    return /** @type {HTMLElement} */ (target.closest(".study"))?.dataset.study ?? "";
  }

  /** @param {MouseEvent} event */
  click(event) {
    const { bench } = this;
    const target = /** @type {HTMLElement} */ (event.target);
    const study = this.name(target);
    const { dropCondition } = target.dataset;
    if (target.closest("[data-begin-study]")) bench.line.open("begin study", bench.pickIds());
    else if (target.closest("[data-solve]")) this.solve(study, "simulate", 1);
    else if (target.closest("[data-frequencies]")) this.solve(study, "frequencies", 1);
    else if (target.closest("[data-loose]")) this.solve(study, "loose", 1);
    else if (target.closest("[data-refine]")) this.solve(study, "simulate", sure(this.results.get(study)).rounds + 1);
    else if (target.closest("[data-stop]")) this.bench.trying(() => post(this.bench.url(`jobs/${this.job}/cancel`)));
    else if (target.closest("[data-drop-study]")) this.inPlace.keep({ edit: "drop study", values: { study } });
    else if (dropCondition) this.inPlace.keep({ edit: "drop from study", values: { study, called: dropCondition } });
    else if (target.closest("[data-pick-condition]")) bench.pick(this.things(target), event.shiftKey);
    else if (target.closest("[data-show-result]")) this.shown === study ? this.leave(true) : this.show(study);
    else if (target.dataset.mode) this.solve(study, this.results.get(study)?.found.head.kind === "loose" ? "loose" : "frequencies", Number(target.dataset.mode));
    else if (target.dataset.at) this.goTo(JSON.parse(target.dataset.at));
    else if (target.closest("[data-play]")) this.overlay.play();
    else if (target.closest("[data-try]") || target.closest("[data-search]")) this.variants.run(/** @type {HTMLElement} */ (target.closest(".study")), study, Boolean(target.closest("[data-search]")));
  }

  /** @param {HTMLElement} target */
  things(target) {
    const row = /** @type {HTMLElement|null} */ (target.closest("[data-faces]"));
    return row?.dataset.faces ? row.dataset.faces.split(" ").map((id) => findById(this.bench.view, id)).filter(Boolean) : [];
  }

  /** @param {HTMLElement} target */
  point(target) {
    this.bench.view.highlight("hover", this.things(target));
  }

  /** As a job of the server's, which goes on without the page.
   * @param {string} study @param {string} what @param {number} number rounds, or which frequency */
  async solve(study, what, number) {
    const begun = await this.bench.trying(() => postForJson(this.bench.url("simulate"), { called: study, what, number: String(number) }));
    if (begun) this.await(study, what, number);
  }

  /** Until it is there, or stopped, or the model has changed.
   * @param {string} study @param {string} what @param {number} number */
  async await(study, what, number) {
    const revision = this.bench.base;
    const turn = (this.waiting = (this.waiting ?? 0) + 1);
    while (turn === this.waiting && revision === this.bench.base && this.bench.stage === "Prove") {
      const data = await this.bench.trying(() => getBuffer(this.bench.url("simulate"), { called: study, what, number }));
      if (!data) return;
      const told = unsolved(data);
      if (!told) {
        this.job = 0;
        this.keep(study, data, revision);
        if (revision === this.bench.base) this.show(study);
        break;
      }
      if (!["queued", "running"].includes(told.state)) {
        this.job = 0;
        if (told.state === "failed") this.failed(study, told.words);
        break;
      }
      this.job = told.job;
      const place = this.row(study)?.querySelector("[data-result]");
      if (place) place.innerHTML = `<p>${told.words}</p><p><progress max="1" value="${told.fraction}"></progress> <button type="button" class="link-do" data-stop>stop</button></p>`;
      await new Promise((done) => setTimeout(done, PAUSE));
    }
    const row = this.row(study);
    if (row) this.write(row);
  }

  /** What nothing holds is shown moving where it is asked for.
   * @param {string} study @param {string} words */
  failed(study, words) {
    this.results.delete(study);
    if (/nothing (holds|presses)/.test(words)) this.why.set(study, { words, revision: this.bench.base });
    else this.bench.say(words);
  }

  /** @param {string} study @param {ArrayBuffer} data @param {number} revision */
  keep(study, data, revision) {
    const found = readSimulated(data);
    this.results.set(study, { found, revision, rounds: found.head.rounds?.length ?? 1 });
  }

  /** What is kept with this state, from before the page was opened; or still under way.
   * @param {string} study */
  async recall(study) {
    const { base } = this.bench;
    if (this.results.get(study)?.revision === base || this.asked.has(`${study} ${base}`)) return;
    this.asked.add(`${study} ${base}`);
    const data = await this.bench.trying(() => getBuffer(this.bench.url("simulate"), { called: study }));
    if (!data || base !== this.bench.base) return;
    const told = unsolved(data);
    if (!told) this.keep(study, data, base);
    else if (["queued", "running"].includes(told.state)) this.await(study, told.what, Number(told.number));
    const row = this.row(study);
    if (row && !told) this.write(row);
  }

  /** @param {string} study @returns {HTMLElement|null} */
  row(study) {
    return [.../** @type {NodeListOf<HTMLElement>} */ (this.panel.querySelectorAll(".study"))].find((r) => r.dataset.study === study) ?? null;
  }

  /** @param {string} study */
  show(study) {
    const kept = this.results.get(study);
    if (!kept) return;
    this.bench.maps.leave();
    this.shown = study;
    if (!(this.field in kept.found.fields)) this.field = "displacement";
    const nodes = this.bench.scene.nodes.filter((n) => n.body && kept.found.head.parts.includes(n.name)).map((n) => n.id);
    const { kind } = kept.found.head;
    const most = kind === "static" ? this.largest(kept) || 1 : 1;
    this.overlay.lay(kept.found, nodes, this.field, kind !== "static" ? 1 : (SHOWN * this.bench.view.camera.radius * 2) / most);
    for (const row of this.panel.querySelectorAll(".study")) this.write(/** @type {HTMLElement} */ (row));
    if (kind === "loose") this.overlay.play();
  }

  /** @param {Kept} kept mm */
  largest(kept) {
    const { moved } = kept.found;
    let most = 0;
    for (let k = 0; k < moved.length; k += 3) most = Math.max(most, Math.hypot(moved[k], moved[k + 1], moved[k + 2]));
    return most;
  }

  /** @param {boolean} [write] */
  leave(write = false) {
    if (!this.shown) return;
    const row = this.row(this.shown);
    this.shown = "";
    this.overlay.leave();
    if (write && row) this.write(row);
  }

  /** @param {HTMLInputElement} input */
  changed(input) {
    const kept = this.results.get(this.shown);
    if (!kept) return;
    if (input.dataset.field !== undefined) {
      this.field = input.value;
      this.show(this.shown);
    } else if (input.dataset.scale !== undefined) this.overlay.scaled(Number(input.value));
  }

  /** @param {number[]} at */
  goTo(at) {
    const { camera } = this.bench.view;
    camera.target.copy(new Vector3(...at));
    camera.span = Math.min(camera.span, camera.radius * 0.6);
    camera.apply();
  }

  /** What came of it, below its study.
   * @param {HTMLElement} row */
  write(row) {
    const study = sure(row.dataset.study);
    const place = /** @type {HTMLElement} */ (row.querySelector("[data-result]"));
    const kept = this.results.get(study);
    const why = this.why.get(study);
    if (!kept) {
      place.innerHTML = why?.revision === this.bench.base ? `<p class="refusal">${text(why.words)}</p><p><button type="button" class="link-do" data-loose>show it moving</button></p>` : "";
      return;
    }
    const { head } = kept.found;
    const stale = this.isStale(study);
    const again = stale ? `<p class="stale">Out of date: the model has changed since. <button type="button" class="link-do" data-${{ modes: "frequencies", loose: "loose" }[/** @type {string} */ (head.kind)] ?? "solve"}>again</button></p>` : "";
    place.innerHTML = again + (head.kind !== "static" ? this.modes(head, stale) : this.figures(head, stale, kept.rounds)) + (stale ? "" : this.looks(study, kept));
    [...place.querySelectorAll(".bands i")].forEach((swatch, i) => (/** @type {HTMLElement} */ (swatch).style.background = SCALE[BANDS - 1 - i]));
  }

  /** @param {any} head @param {boolean} stale @param {number} rounds */
  figures(head, stale, rounds) {
    const { units } = this.bench.scene;
    /** @param {string} title @param {{value: number, at: number[]}} one @param {string} unit */
    const line = (title, one, unit) => `<tr><th scope="row">${title}</th><td>${figure(one.value)} ${unit}</td><td>${stale ? "" : `<button type="button" class="link-do" data-at="${JSON.stringify(one.at)}">where</button>`}</td></tr>`;
    const reactions = Object.entries(head.reactions).map(([name, force]) => `<tr><th scope="row">${text(name)} pushes back</th><td colspan="2">${/** @type {number[]} */ (force).map((f, k) => (Math.abs(f) > 1e-6 * Math.hypot(.../** @type {number[]} */ (force)) ? `${figure(f)} N ${"XYZ"[k]}` : "")).filter(Boolean).join(", ")}</td></tr>`).join("");
    const warned = head.warnings.map((/** @type {string[]} */ [, words]) => `<li class="flaw"><svg class="sign" viewBox="0 0 12 12" aria-hidden="true"><path d="M6 1 11.5 11H.5z"/></svg><span class="flaw-what">${text(words)}</span></li>`).join("");
    return `<table class="figures">${line("Moves at most", head.displacement, units)}${line("Stress at most", head.von_mises, "MPa")}${line("Margin against yield", head.margin, "×")}${reactions}</table>
      <p class="none">${head.unknowns.toLocaleString("en").replace(/,/g, "\u202f")} unknowns, about ${Math.max(1, Math.round(100 * head.error))} % of the stress in doubt${head.rounds.length > 1 ? curve(head.rounds) : ""} ${stale || rounds > 4 ? "" : `<button type="button" class="link-do" data-refine title="Solve again with a mesh that is finer where the result is in doubt">refine</button>`}</p>${warned ? `<ul class="flaws">${warned}</ul>` : ""}`;
  }

  /** The figure along the edge that is picked. */
  alongEdge() {
    const { bench } = this;
    const edge = bench.picked.find((p) => p.kind === "edge");
    const place = edge && bench.view.places.get(edge.node);
    if (!edge || !place) return "";
    const chain = place.drawable.shape.edges[place.body.edges.indexOf(Number(edge.id.replace(/^e(\d+).*/, "$1")))];
    if (!chain) return "";
    const placed = new Float32Array(chain.length);
    const point = new Vector3();
    for (let k = 0; k < chain.length; k += 3) point.set(chain[k], chain[k + 1], chain[k + 2]).applyMatrix4(place.group.matrix).toArray(placed, k);
    const rows = this.overlay.along(placed);
    const figures = rows.map((r) => r[1]);
    const [low, high] = [Math.min(...figures), Math.max(...figures)];
    const whole = rows[rows.length - 1][0];
    const spots = rows.map(([far, f]) => `${((200 * far) / whole).toFixed(1)},${(56 - (52 * (f - low)) / (high - low || 1)).toFixed(1)}`).join(" ");
    return `<figure class="along"><figcaption class="none">${FIELDS[this.field][0]} along the picked edge, ${figure(low)} to ${figure(high)} over ${figure(whole)} mm</figcaption><svg class="rounds" viewBox="-2 0 204 60" role="img" aria-label="From ${figure(figures[0])} to ${figure(figures[figures.length - 1])}"><polyline points="${spots}"/></svg></figure>`;
  }

  /** Another edge was picked. */
  follow() {
    const row = this.shown ? this.row(this.shown) : null;
    if (row) this.write(row);
  }

  /** @param {any} head @param {boolean} stale */
  modes(head, stale) {
    const rows = head.kind === "loose" ? head.told.map(text) : head.hertz.map((/** @type {number} */ f) => `${figure(f)} Hz`);
    const said = head.kind === "loose" ? '<p class="none">Nothing holds these motions:</p>' : "";
    return `${said}<ol class="modes">${rows.map((/** @type {string} */ words, /** @type {number} */ k) => `<li>${stale ? words : `<button type="button" class="link-do${k === head.which ? " on" : ""}" data-mode="${k + 1}">${words}</button>`}</li>`).join("")}</ol>`;
  }

  /** @param {string} study @param {Kept} kept */
  looks(study, kept) {
    const on = this.shown === study;
    const toggle = `<button type="button" class="link-do" data-show-result>${on ? "back to the finish" : "show it"}</button>`;
    if (!on) return `<p>${toggle}</p>`;
    const { head } = kept.found;
    const names = head.fields.map((/** @type {string} */ f) => `<option value="${f}"${f === this.field ? " selected" : ""}>${FIELDS[f][0]}</option>`).join("");
    const [low, high] = this.overlay.ends;
    const unit = this.field === "displacement" ? (head.kind !== "static" ? "of the largest" : this.bench.scene.units) : FIELDS[this.field][1];
    const bands = SCALE.map((_, i) => BANDS - 1 - i).map((i) => `<li><i></i><span>${figure(low + ((i + 0.5) * (high - low)) / BANDS)}</span></li>`).join("");
    const report = head.kind !== "static" ? "" : ` <a class="link-do" href="${this.bench.url("simulate/report")}?called=${encodeURIComponent(study)}" download>report</a>`;
    return `<p><select data-field aria-label="What is shown">${names}</select> <span class="none">${unit}</span></p><ol class="bands">${bands}</ol>
      <p><label>drawn <input type="range" data-scale min="0" max="2" step="0.05" value="1" aria-label="How large the displacement is drawn"></label> <output data-times>× ${figure(this.overlay.scale)}</output> <button type="button" class="link-do" data-play>swing</button></p><p>${toggle}${report}</p>${this.alongEdge()}`;
  }
}

/** How a job stands, where that came instead of a result.
 * @param {ArrayBuffer} data @returns {any} */
function unsolved(data) {
  return new Uint8Array(data, 0, 1)[0] === "{".charCodeAt(0) ? JSON.parse(new TextDecoder().decode(data)) : null;
}

/** @param {number} value */
export const figure = (value) => (value === 0 ? "0" : String(Number(value.toPrecision(3)))).replace("-", "−");

/** @param {string} words */
const text = (words) => words.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);

/** The largest stress over the rounds, small.
 * @param {number[][]} rounds */
function curve(rounds) {
  const most = Math.max(...rounds.map((r) => r[2]));
  const spots = rounds.map((r, k) => `${(60 * k) / (rounds.length - 1)},${20 - (18 * r[2]) / most}`).join(" ");
  return ` <svg class="rounds" viewBox="-2 -2 64 24" width="64" height="24" role="img" aria-label="Largest stress over ${rounds.length} rounds: ${rounds.map((r) => figure(r[2])).join(", ")} MPa"><polyline points="${spots}"/></svg>`;
}

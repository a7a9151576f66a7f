// Sheet metal at the stage Sheet: how the picked part reads, and its flat beside the model.
import { BufferAttribute, BufferGeometry, Color, EdgesGeometry, Group, LineSegments, Mesh } from "three";
import { getText, postForBuffer, postForJson } from "../../api.js";
import { one, sure } from "../../dom.js";
import { InPlace } from "../../panels/in_place.js";
import { sheetColour } from "../../view/materials.js";
import { findById } from "../../view/picking.js";
import { FlatEdges } from "./flat_edges.js";

const FLAT = 0.001; // share of the angles that counts as laid flat
const KINK = 25; // degrees, above which an edge of the bent sheet is drawn

export class Sheet {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.turn = 0;
    this.on = ""; // the face or part that it is read from
    this.closed = false; // the flat, by hand
    this.folding = 0;
    this.cuts = false;
    this.bent = new Group(); // the sheet as it is bent so far
    /** @type {any} the part that it stands for meanwhile */
    this.hidden = undefined;
    const { panel, flat } = this;
    this.alike = false; // whether all bends of a radius go along
    panel.addEventListener("keydown", (/** @type {KeyboardEvent} */ event) => (this.alike = event.shiftKey), true);
    this.inPlace = new InPlace(bench, panel, (input) => (input.dataset.bend ? { edit: "set bend", values: { bends: [input.dataset.bend], radius: input.value, riders: this.alike ? "alike" : "alone" } } : null));
    for (const place of [panel, flat]) {
      place.addEventListener("click", (/** @type {MouseEvent} */ event) => this.click(event));
      place.addEventListener("pointerover", (/** @type {Event} */ event) => this.point(/** @type {HTMLElement} */ (event.target)));
      place.addEventListener("pointerleave", () => this.bench.view.highlight("hover", []));
    }
    panel.addEventListener("focusin", (/** @type {Event} */ event) => this.point(/** @type {HTMLElement} */ (event.target)));
    flat.addEventListener("input", (/** @type {Event} */ event) => this.fold(Number(/** @type {HTMLInputElement} */ (event.target).value)));
    this.edges = new FlatEdges(this);
    flat.addEventListener("wheel", (/** @type {WheelEvent} */ event) => this.zoom(event), { passive: false });
  }

  get panel() {
    return one("#sheet");
  }

  get flat() {
    return one("#unfolded");
  }

  /** Shown at its stage only, and read afresh with every state. */
  async refresh() {
    const here = this.bench.stage === "Sheet";
    this.panel.hidden = !here;
    if (!here) {
      this.show(false);
      return;
    }
    const turn = ++this.turn;
    const html = await this.bench.trying(() => getText(this.bench.url("sheet"), this.on ? { on: this.on } : {}));
    if (turn !== this.turn || html === null) return;
    this.unbend();
    const held = document.createElement("template");
    held.innerHTML = html;
    for (const [name, place] of /** @type {[string, HTMLElement][]} */ ([["sheet", this.panel], ["unfolded", this.flat]])) {
      place.replaceChildren(...sure(held.content.querySelector(`[data-for=${name}]`)).childNodes);
    }
    this.cutting(this.cuts);
    this.show(Boolean(this.flat.querySelector("svg")) && !this.closed);
    this.mark();
  }

  /** The model gives way to the flat, as wide as it was.
   * @param {boolean} on */
  show(on) {
    if (!on) this.unbend();
    if (on === !this.flat.hidden) return;
    if (on) this.bench.section.flat.close();
    this.flat.hidden = !on;
    const { camera, canvas } = this.bench.view;
    const before = canvas.clientWidth;
    one("#view").classList.toggle("halved", on);
    camera.span *= (before / canvas.clientWidth) ** 0.7;
    this.bench.view.resize();
  }

  /** Something else was picked: its part is read, from that face where it is a side of the sheet. */
  follow() {
    if (this.bench.stage !== "Sheet") return;
    const [first] = this.bench.pickIds();
    const border = Boolean(first && this.flat.querySelector(`.flat-edge[data-face="${first}"]`));
    const on = first && !border && /^[fen]\d/.test(first) ? first : this.on;
    if (on === this.on) this.mark();
    else {
      this.on = on;
      this.closed = false;
      this.refresh();
    }
  }

  mark() {
    const ids = new Set(this.bench.pickIds());
    for (const panel of /** @type {NodeListOf<SVGElement>} */ (this.flat.querySelectorAll(".panel, .flat-edge"))) panel.classList.toggle("picked", ids.has(panel.dataset.face ?? "") || ids.has(panel.dataset.back ?? ""));
  }

  /** @param {HTMLElement} target @returns {any[]} what a row or a panel of the flat stands for */
  things(target) {
    const row = /** @type {HTMLElement|null} */ (target.closest("[data-faces]"));
    const ids = row ? sure(row.dataset.faces).split(" ") : [target.dataset.face ?? ""];
    return ids.map((id) => findById(this.bench.view, id)).filter(Boolean);
  }

  /** @param {HTMLElement} target */
  point(target) {
    this.bench.view.highlight("hover", this.things(target));
  }

  /** @param {MouseEvent} event */
  click(event) {
    const { bench } = this;
    const target = /** @type {HTMLElement} */ (event.target);
    const save = /** @type {HTMLElement|null} */ (target.closest("[data-save-flat]"))?.dataset.saveFlat;
    const mend = /** @type {HTMLElement|null} */ (target.closest("[data-mend-sheet]"))?.dataset.mendSheet;
    if (target.closest("[data-close-unfolded]")) {
      this.closed = true;
      this.show(false);
    } else if (target.closest("[data-cut-flat]")) this.cutting(!this.cuts);
    else if (this.cuts && target.closest("svg")) {
      const [x, y] = this.place(event);
      bench.line.open("cut flat", bench.pickIds(), { on: this.seen(), at: `${x},${-y}` });
    } else if (save) bench.line.open("save flat", bench.pickIds(), { on: this.seen(), format: save });
    else if (target.closest("[data-take-sheet]")) bench.line.open("make sheet", bench.pickIds(), { on: this.seen() });
    else if (target.closest("[data-bend-order]")) this.order();
    else if (target.closest("[data-bend-again]")) bench.line.open("bend again", bench.pickIds(), { on: sure(/** @type {HTMLElement|null} */ (target.closest("[data-faces]"))?.dataset.faces) });
    else if (mend) bench.line.open("mend sheet", bench.pickIds(), { on: this.seen(), what: mend });
    else {
      const found = this.things(target);
      if (found.length) bench.pick(found, event.shiftKey);
    }
  }

  /** One bend after the other, with what meets what where it cannot be helped. */
  async order() {
    const place = one("[data-orders]", this.panel);
    place.textContent = "Looking for an order …";
    const found = await this.bench.trying(() => postForJson(this.bench.url("studies/bend order"), { on: [this.seen()] }));
    if (!found) {
      place.replaceChildren();
      return;
    }
    const head = document.createElement("p");
    head.className = found.free ? "none" : "flaw-means hot";
    head.textContent = found.free ? "The part meets neither itself nor a straight punch:" : "No order is free of clashes; this gets farthest:";
    const list = document.createElement("ol");
    list.className = "bend-order";
    for (const step of found.steps) {
      const row = document.createElement("li");
      const faces = [step.bend, ...step.walls.flat(), ...step.punch];
      row.dataset.faces = faces.join(" ");
      const name = document.createElement("button");
      name.type = "button";
      name.className = "part-name";
      name.dataset.showFault = "";
      const trouble = [step.walls.length ? "walls meet" : "", step.punch.length ? `${step.punch.length} wall${step.punch.length > 1 ? "s" : ""} in the way of the punch` : ""].filter(Boolean).join(", ");
      name.textContent = `bend ${step.number}${trouble ? `: ${trouble}` : ""}`;
      row.classList.toggle("hot", Boolean(trouble));
      row.append(name);
      list.append(row);
    }
    place.replaceChildren(head, list);
  }

  /** @param {boolean} on whether a click in the flat cuts there */
  cutting(on) {
    this.cuts = on;
    this.flat.classList.toggle("cutting", on);
    this.flat.querySelector("[data-cut-flat]")?.setAttribute("aria-pressed", String(on));
  }

  /** @param {MouseEvent} event @returns {number[]} where in the drawing, mm */
  place(event) {
    const sheet = /** @type {SVGSVGElement} */ (this.flat.querySelector("svg"));
    const { x, y, width, height } = sheet.viewBox.baseVal;
    const box = sheet.getBoundingClientRect();
    const scale = Math.max(width / box.width, height / box.height);
    return [x + width / 2 + (event.clientX - box.x - box.width / 2) * scale, y + height / 2 + (event.clientY - box.y - box.height / 2) * scale].map((v) => Number(v.toFixed(2)));
  }

  /** What the flat is seen from. */
  seen() {
    return /^[fn]/.test(this.on) ? this.on : this.first();
  }

  /** The part as it is bent so far; the flat alone shows it again as it is.
   * @param {number} share */
  async fold(share) {
    if (share >= 1) {
      this.folding++;
      this.unbend();
      return;
    }
    const turn = ++this.folding;
    const data = await this.bench.trying(() => postForBuffer(this.bench.url("studies/folding"), { on: [this.seen()], share: Math.max(share, FLAT) }));
    if (data && turn === this.folding) this.bend(data);
  }

  first() {
    return /** @type {SVGElement} */ (this.flat.querySelector(".panel")).dataset.face ?? "";
  }

  /** @param {ArrayBuffer} data */
  bend(data) {
    const { view } = this.bench;
    const [points, triangles] = new Uint32Array(data, 0, 2);
    const shape = new BufferGeometry();
    shape.setAttribute("position", new BufferAttribute(new Float32Array(data, 8, 3 * points), 3));
    shape.setIndex(new BufferAttribute(new Uint32Array(data, 8 + 12 * points, 3 * triangles), 1));
    const flat = shape.toNonIndexed();
    flat.computeVertexNormals();
    const { r, g, b } = new Color(sheetColour("--clay"));
    flat.setAttribute("color", new BufferAttribute(new Float32Array(9 * triangles).map((_, k) => [r, g, b][k % 3]), 3));
    const face = findById(view, this.first());
    const place = face && view.places.get(face.node);
    if (!place) return;
    this.hidden ??= place;
    place.group.visible = false;
    this.bent.clear();
    this.bent.add(new Mesh(flat, view.materials.body), new LineSegments(new EdgesGeometry(flat, KINK), view.materials.cutEdge));
    this.bent.matrixAutoUpdate = false;
    this.bent.matrix.copy(place.group.matrix);
    view.scene.add(this.bent);
    view.draw();
  }

  unbend() {
    const { view } = this.bench;
    this.bent.removeFromParent();
    const slider = /** @type {HTMLInputElement|null} */ (this.flat.querySelector("[data-fold]"));
    if (slider) slider.value = "1";
    if (!this.hidden) return;
    this.hidden.group.visible = true;
    this.hidden = undefined;
    view.draw();
  }

  /** @param {WheelEvent} event */
  zoom(event) {
    const sheet = /** @type {SVGSVGElement|null} */ (this.flat.querySelector("svg"));
    if (!sheet || !sheet.contains(/** @type {Node} */ (event.target))) return;
    event.preventDefault();
    const { x, y, width, height } = sheet.viewBox.baseVal;
    const factor = Math.exp(0.0015 * event.deltaY);
    const at = this.place(event);
    sheet.setAttribute("viewBox", `${at[0] + (x - at[0]) * factor} ${at[1] + (y - at[1]) * factor} ${width * factor} ${height * factor}`);
  }
}

// The section seen square on, beside the model: it follows the plane and every preview.
import { one, sure } from "../../dom.js";
import { getText } from "../../api.js";
import { make } from "../../handles/knob.js";
import { ANGLES } from "../../view/cut.js";
import { sheetColour } from "../../view/materials.js";
import { LENGTHS, niceStep } from "../../view/lengths.js";
import { drawWidth } from "./widths.js";

export class FlatView {
  /** @param {import("./section.js").Section} section */
  constructor(section) {
    this.section = section;
    this.panel = one("#flat");
    this.sheet = /** @type {any} */ (one("#flat svg"));
    /** @type {Table<SVGElement>} */
    this.layers = {};
    for (const name of ["grid", "parts", "hover", "picked", "width"]) this.layers[name] = make("g", { class: `flat-${name}` }, this.sheet);
    this.defs = make("defs", {}, this.sheet);
    this.open = false;
    this.centre = [0, 0]; // mm in the plane, in the middle of the sheet
    this.scale = 1; // px per mm
    this.areas = 0;
    this.panel.addEventListener("click", (/** @type {any} */ event) => {
      const save = /** @type {HTMLElement|null} */ (/** @type {HTMLElement} */ (event.target).closest("[data-save-section]"));
      if (save) this.save(sure(save.dataset.saveSection));
      if (/** @type {HTMLElement} */ (event.target).closest("[data-close-flat]")) this.toggle();
      if (/** @type {HTMLElement} */ (event.target).closest("[data-fit-flat]")) this.fit();
    });
    this.sheet.addEventListener("wheel", (/** @type {any} */ event) => this.zoom(event), { passive: false });
    this.sheet.addEventListener("pointerdown", (/** @type {any} */ event) => this.grab(event));
    this.sheet.addEventListener("pointermove", (/** @type {any} */ event) => this.move(event));
    this.sheet.addEventListener("pointerleave", () => {
      section.bench.hover(null);
      clearTimeout(section.widths.resting);
    });
    new ResizeObserver(() => this.open && this.lay()).observe(this.sheet);
  }

  toggle() {
    if (this.open) this.close();
    else {
      this.open = true;
      this.panel.hidden = false;
      this.halve(true);
      this.fit();
    }
    this.section.tell();
  }

  close() {
    if (!this.open) return;
    this.open = false;
    this.panel.hidden = true;
    this.halve(false);
  }

  /** The model gives way to the sheet, as wide as it was.
   * @param {boolean} on */
  halve(on) {
    const { camera, canvas } = this.section.view;
    const before = canvas.clientWidth;
    one("#view").classList.toggle("halved", on);
    camera.span *= (before / canvas.clientWidth) ** 0.7;
    this.section.view.resize();
  }

  /** All of the cut in sight. */
  fit() {
    const { cut } = this.section;
    const places = cut?.parts.flatMap((p) => [...p.places]) || [];
    if (places.length) {
      const us = places.filter((_, i) => i % 2 === 0);
      const vs = places.filter((_, i) => i % 2 === 1);
      const [low, high] = [[least(us), least(vs)], [most(us), most(vs)]];
      this.centre = [(low[0] + high[0]) / 2, (low[1] + high[1]) / 2];
      const { clientWidth, clientHeight } = this.sheet;
      this.scale = 0.84 * Math.min(clientWidth / Math.max(high[0] - low[0], 1e-6), clientHeight / Math.max(high[1] - low[1], 1e-6));
    }
    this.anchor = this.place3();
    this.lay();
  }

  /** The middle of the sheet in the model, so that it stays while the plane slides. */
  place3() {
    return this.section.cut?.place(this.centre[0], this.centre[1]) || null;
  }

  /** px of a place in the plane
   * @param {number} u @param {number} v */
  spot(u, v) {
    return { x: this.sheet.clientWidth / 2 + (u - this.centre[0]) * this.scale, y: this.sheet.clientHeight / 2 - (v - this.centre[1]) * this.scale };
  }

  /** @param {number} x @param {number} y */
  flat(x, y) {
    return [this.centre[0] + (x - this.sheet.clientWidth / 2) / this.scale, this.centre[1] - (y - this.sheet.clientHeight / 2) / this.scale];
  }

  lay() {
    const { cut, view } = this.section;
    if (!this.open || !cut) return;
    if (this.anchor) this.centre = cut.flat(this.anchor);
    this.layers.parts.replaceChildren();
    this.defs.replaceChildren();
    cut.parts.forEach((part, k) => {
      const angle = ANGLES[k % ANGLES.length];
      const pattern = make("pattern", { id: `hatch-${k}`, width: 7, height: 7, patternUnits: "userSpaceOnUse", patternTransform: `rotate(${-angle})` }, this.defs);
      make("rect", { width: 7, height: 7, fill: `#${cut.colour(part).getHexString()}` }, pattern);
      make("path", { d: "M0 3.5H7", stroke: sheetColour("--ink"), "stroke-width": 0.7, opacity: 0.6 }, pattern);
      const d = part.rings.map((ring) => this.path(part, ring)).join("");
      const filled = part.rings.some((r) => r.closed);
      make("path", { d, class: "flat-part", "data-node": part.node, fill: filled ? `url(#hatch-${k})` : "none", "fill-rule": "evenodd" }, this.layers.parts);
    });
    this.grid(view.units);
    this.mark("picked", this.section.bench.picked);
    this.drawWidth(this.section.widths.found);
    clearTimeout(this.areas);
    this.areas = /** @type {any} */ (setTimeout(() => this.tellAreas(), 250));
  }

  /** @param {any} part */
  path(part, /** @type {any} */ { from, count, closed }) {
    let d = "";
    for (let i = 0; i < count; i++) {
      const { x, y } = this.spot(part.places[2 * (from + i)], part.places[2 * (from + i) + 1]);
      d += `${i ? "L" : "M"}${x.toFixed(2)} ${y.toFixed(2)}`;
    }
    return d + (closed ? "Z" : "");
  }

  /** @param {string} units */
  grid(units) {
    const unit = LENGTHS[units];
    const step = niceStep(28 / this.scale / unit) * unit;
    const { clientWidth: wide, clientHeight: tall } = this.sheet;
    const [u0, v1] = this.flat(0, 0);
    const [u1, v0] = this.flat(wide, tall);
    let d = "";
    for (let u = Math.ceil(u0 / step) * step; u <= u1; u += step) d += `M${this.spot(u, 0).x.toFixed(1)} 0V${tall}`;
    for (let v = Math.ceil(v0 / step) * step; v <= v1; v += step) d += `M0 ${this.spot(0, v).y.toFixed(1)}H${wide}`;
    this.layers.grid.replaceChildren(make("path", { d }));
    one("#flat-grid").textContent = `grid ${Number((step / unit).toPrecision(6))} ${units}`;
  }

  /** Exact areas, once the plane stands still and nothing is only tried. */
  async tellAreas() {
    const { section } = this;
    if (!this.open || !section.on || section.bench.previewing) return;
    const plane = sure(section.numbers()).join(",");
    const html = await section.bench.trying(() => getText(section.bench.url("cut/facts"), { plane }));
    if (html !== null && this.open && section.numbers()?.join(",") === plane) one("#flat-areas").innerHTML = html;
  }

  /** @param {string} which @param {any[]} things */
  mark(which, things) {
    if (!this.open || !this.section.cut) return;
    const rows = this.section.cut.linesOf(things).getAttribute("position").array;
    let d = "";
    for (let i = 0; i < rows.length; i += 3) {
      const [u, v] = this.section.cut.flat({ x: rows[i], y: rows[i + 1], z: rows[i + 2] });
      const { x, y } = this.spot(u, v);
      d += `${(i / 3) % 2 ? "L" : "M"}${x.toFixed(2)} ${y.toFixed(2)}`;
    }
    this.layers[which].replaceChildren(make("path", { d }));
  }

  /** @param {any} found */
  drawWidth(found) {
    this.layers.width.replaceChildren();
    if (!this.open || !found) return;
    const [a, b] = found.ends.map((/** @type {any[]} */ [u, v]) => this.spot(u, v));
    drawWidth(this.layers.width, a, b, this.section.widths.words(), found.kind);
  }

  // --- the hand --------------------------------------------------------------------------------------------

  /** @param {any} event */
  zoom(event) {
    event.preventDefault();
    const before = this.flat(event.offsetX, event.offsetY);
    this.scale *= Math.exp(-Math.max(-240, Math.min(240, event.deltaY)) * 0.0016);
    const after = this.flat(event.offsetX, event.offsetY);
    this.centre = [this.centre[0] + before[0] - after[0], this.centre[1] + before[1] - after[1]];
    this.anchor = this.place3();
    this.lay();
  }

  /** @param {any} event */
  grab(event) {
    const start = [event.offsetX, event.offsetY];
    const centre = [...this.centre];
    let moved = false;
    /** @param {any} e */
    const move = (e) => {
      const [dx, dy] = [e.offsetX - start[0], e.offsetY - start[1]];
      if (!moved && Math.hypot(dx, dy) < 4) return;
      moved = true;
      this.centre = [centre[0] - dx / this.scale, centre[1] + dy / this.scale];
      this.anchor = this.place3();
      this.lay();
    };
    /** @param {any} e */
    const drop = (e) => {
      this.sheet.removeEventListener("pointermove", move);
      this.sheet.removeEventListener("pointerup", drop);
      if (moved) return;
      const found = this.under(e);
      const { bench } = this.section;
      if (found || !bench.line.isOpen) bench.pick(found ? [found] : [], e.shiftKey || e.ctrlKey || e.metaKey);
    };
    this.sheet.setPointerCapture(event.pointerId);
    this.sheet.addEventListener("pointermove", move);
    this.sheet.addEventListener("pointerup", drop);
  }

  /** @param {any} event */
  under(event) {
    const { cut } = this.section;
    if (!cut) return null;
    const [u, v] = this.flat(event.offsetX, event.offsetY);
    return cut.near(u, v, (a, b) => this.spot(a, b), { x: event.offsetX, y: event.offsetY }, 1 / this.scale);
  }

  /** @param {any} event */
  move(event) {
    if (event.buttons) return;
    this.section.bench.hover(this.under(event));
    if (this.section.bench.previewing) return;
    clearTimeout(this.section.widths.resting);
    const place = this.flat(event.offsetX, event.offsetY);
    this.section.widths.resting = setTimeout(() => this.section.cut && this.section.widths.ask(place), 110);
  }

  /** The line opens with the plane as it stands; what is hidden is left out.
   * @param {string} format */
  save(format) {
    const { bench } = this.section;
    const unit = LENGTHS[bench.view.units];
    const [x, y, z, ...normal] = sure(this.section.numbers());
    const at = `${[x, y, z].map((v) => v / unit).join(",")} along ${normal.join(",")}`;
    const away = bench.scene.nodes.some((n) => bench.hidden.has(n.id));
    const parts = bench.scene.nodes.filter((n) => !bench.hidden.has(n.id)).map((n) => n.id).join(" ");
    bench.line.open("save section", [], { at, format, ...(away ? { parts } : {}) });
  }
}

/** @param {any[]} rows */
const least = (rows) => rows.reduce((/** @type {number} */ a, /** @type {number} */ b) => Math.min(a, b), Infinity);
/** @param {any[]} rows */
const most = (rows) => rows.reduce((/** @type {number} */ a, /** @type {number} */ b) => Math.max(a, b), -Infinity);

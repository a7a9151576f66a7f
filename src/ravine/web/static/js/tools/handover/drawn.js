// The open sheet as it is drawn: places on it, what is where, near and far, marks of what is picked.
import { all, one } from "../../dom.js";

const SVG = "http://www.w3.org/2000/svg";
const EDGE = 8; // mm of ground around the paper

export class Drawn {
  /** @param {import("./paper.js").Paper} paper */
  constructor(paper) {
    this.paper = paper;
    this.kept = ""; // part of the sheet that is seen, of the sheet of that name
    this.of = "";
  }

  /** @returns {SVGSVGElement} */
  get svg() {
    return one("svg", this.paper.paper);
  }

  /** A fresh one, seen as near as the last.
   * @param {Element} held */
  take(held) {
    const same = this.of === this.paper.name && this.svg;
    this.kept = same ? this.svg.getAttribute("viewBox") ?? "" : "";
    this.paper.paper.replaceChildren(...held.childNodes);
    this.of = this.paper.name;
    if (!this.svg) return;
    if (this.kept) this.svg.setAttribute("viewBox", this.kept);
    for (const item of all(".sheet-item", this.svg)) this.widen(item);
    this.paper.hand.listen(this.svg);
    this.mark();
  }

  /** Thin lines and letters get room to be pointed at.
   * @param {SVGGElement} group */
  widen(group) {
    for (const line of all("path", group)) {
      const twin = /** @type {SVGPathElement} */ (line.cloneNode());
      twin.removeAttribute("stroke-dasharray");
      twin.setAttribute("class", "grip");
      group.append(twin);
    }
    for (const text of all("text", group)) {
      const wide = /** @type {SVGTextElement} */ (text).getComputedTextLength?.() || 3;
      const size = Number(text.getAttribute("font-size"));
      const box = document.createElementNS(SVG, "rect");
      const start = { start: 0, middle: 0.5, end: 1 }[/** @type {string} */ (text.getAttribute("text-anchor"))] ?? 0;
      for (const [name, value] of Object.entries({ x: Number(text.getAttribute("x")) - start * wide - 0.6, y: Number(text.getAttribute("y")) - 0.85 * size, width: wide + 1.2, height: 1.15 * size })) box.setAttribute(name, String(value));
      if (text.hasAttribute("transform")) box.setAttribute("transform", text.getAttribute("transform"));
      box.setAttribute("class", "grip");
      group.append(box);
    }
  }

  /** @param {{clientX: number, clientY: number}} event @returns {[number, number]} mm on the paper, y up */
  place(event) {
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(this.svg.getScreenCTM()?.inverse());
    return [point.x, -point.y];
  }

  /** @param {number} number */
  view(number) {
    return /** @type {SVGGElement|null} */ (this.svg?.querySelector(`.sheet-view[data-view="${number}"]`));
  }

  /** @param {number} number */
  item(number) {
    return /** @type {SVGGElement|null} */ (this.svg?.querySelector(`.sheet-item[data-item="${number}"]`));
  }

  /** @param {number} number */
  says(number) {
    return this.item(number)?.dataset.says ?? "";
  }

  /** Where the things of a view are counted from, and its scale.
   * @param {number} number @returns {{at: [number, number], factor: number, middle: [number, number]}} */
  frame(number) {
    const { at, factor, middle } = this.view(number)?.dataset ?? {};
    const pair = (/** @type {string|undefined} */ text) => /** @type {[number, number]} */ ((text ?? "0,0").split(",").map(Number));
    return { at: pair(at), factor: Number(factor ?? 1), middle: pair(middle) };
  }

  /** A place on the paper in the plane of a view, mm of the model.
   * @param {number} number @param {[number, number]} place @returns {[number, number]} */
  within(number, [x, y]) {
    const { at, factor, middle } = this.frame(number);
    return [(x - at[0]) / factor + middle[0], (y - at[1]) / factor + middle[1]];
  }

  /** Middles of the rounds of a view, on the paper.
   * @param {number} number @returns {[number, number][]} */
  middles(number) {
    const text = this.view(number)?.dataset.rounds;
    return text ? text.split(" ").map((pair) => /** @type {[number, number]} */ (pair.split(",").map(Number))) : [];
  }

  mark() {
    const { lines, view, item } = this.paper;
    if (!this.svg) return;
    for (const line of all(".touch", this.svg)) {
      const group = line.closest(".sheet-view");
      line.classList.toggle("picked", lines.some((p) => p.source === line.dataset.source && String(p.view) === group.dataset.view));
    }
    for (const group of all(".sheet-view", this.svg)) group.classList.toggle("picked", !lines.length && !item && Number(group.dataset.view) === view);
    for (const group of all(".sheet-item", this.svg)) group.classList.toggle("picked", Number(group.dataset.item) === item);
    for (const row of all("[data-row-view]", this.paper.panel)) row.classList.toggle("on", Number(row.dataset.rowView) === view && !item);
  }

  fit() {
    const ground = one(".paper-ground", this.svg);
    if (!ground) return;
    const [wide, high] = ["width", "height"].map((name) => Number(ground.getAttribute(name)));
    this.svg.setAttribute("viewBox", `${-EDGE} ${-high - EDGE} ${wide + 2 * EDGE} ${high + 2 * EDGE}`);
  }

  /** @param {number} factor @param {[number, number]} at on the paper */
  zoom(factor, [x, y]) {
    const box = this.svg.viewBox.baseVal;
    if (box.width * factor < 5 || box.width * factor > 5000) return;
    this.svg.setAttribute("viewBox", `${x + (box.x - x) * factor} ${-y + (box.y + y) * factor} ${box.width * factor} ${box.height * factor}`);
  }

  /** @param {number} dx @param {number} dy mm on the paper, y up */
  shift(dx, dy) {
    const box = this.svg.viewBox.baseVal;
    this.svg.setAttribute("viewBox", `${box.x - dx} ${box.y + dy} ${box.width} ${box.height}`);
  }

  /** Lines along which something that is moved stands level with others.
   * @param {[number, number, number, number][]} rows on the paper */
  guides(rows) {
    const group = one(".sheet-guides", this.svg);
    group.replaceChildren(
      ...rows.map(([a, b, c, d]) => {
        const line = document.createElementNS(SVG, "path");
        line.setAttribute("d", `M${a} ${-b}L${c} ${-d}`);
        return line;
      }),
    );
  }

  /** @param {string} html what would be written */
  ghost(html) {
    one(".sheet-ghost", this.svg).innerHTML = html;
  }
}

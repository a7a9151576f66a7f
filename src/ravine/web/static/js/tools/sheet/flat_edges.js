// The borders of the flat: a click picks the cut face behind one, a drag pushes it, and the folded part follows.
import { findById } from "../../view/picking.js";

const SLACK = 4; // px before a press becomes a drag

export class FlatEdges {
  /** @param {import("./sheet.js").Sheet} sheet */
  constructor(sheet) {
    this.sheet = sheet;
    /** @type {string|null} what a drag has come to before the line stands open */
    this.waiting = null;
    sheet.flat.addEventListener("pointerdown", (/** @type {PointerEvent} */ event) => this.press(event));
  }

  /** @param {PointerEvent} event */
  press(event) {
    const border = /** @type {SVGPathElement|null} */ (/** @type {Element} */ (event.target).closest(".flat-edge[data-out]"));
    if (!border || event.button !== 0 || this.sheet.cuts) return;
    const [outX, outY] = (border.dataset.out ?? "").split(" ").map(Number);
    const from = this.sheet.place(event);
    let dragged = false;
    const move = (/** @type {PointerEvent} */ next) => {
      if (!dragged && Math.hypot(next.clientX - event.clientX, next.clientY - event.clientY) < SLACK) return;
      const [x, y] = this.sheet.place(next);
      const mm = Number(((x - from[0]) * outX + (y - from[1]) * outY).toFixed(1));
      if (!dragged) this.begin(border.dataset.face ?? "");
      dragged = true;
      border.setAttribute("transform", `translate(${mm * outX} ${mm * outY})`);
      this.write(`${mm} mm`);
    };
    const drop = () => {
      for (const [name, listener] of listeners) window.removeEventListener(name, listener);
      border.removeAttribute("transform");
      if (dragged) window.addEventListener("click", (click) => click.stopPropagation(), { capture: true, once: true });
    };
    /** @type {[string, any][]} */
    const listeners = [["pointermove", move], ["pointerup", drop], ["pointercancel", drop]];
    for (const [name, listener] of listeners) window.addEventListener(name, listener);
  }

  /** @param {string} id of the cut face */
  async begin(id) {
    const { bench } = this.sheet;
    const found = findById(bench.view, id);
    if (!found) return;
    this.waiting = "";
    bench.pick([found]);
    await bench.line.open("push", [id]);
    const last = this.waiting;
    this.waiting = null;
    if (last) this.write(last);
  }

  /** @param {string} text */
  write(text) {
    const { line } = this.sheet.bench;
    if (this.waiting !== null) this.waiting = text;
    else if (line.form?.dataset.edit === "push") line.write("distance", text, true);
  }
}

// Taking a point or a curve of the sketch at hand along with the pointer: previews while it moves, accepted on release.
import { ask, keep, Refused } from "../api.js";
import { sure } from "../dom.js";

export class Dragging {
  /** @param {import("../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    /** @type {any} {id, plane: its sketch, from: where it was taken, start: its first point, to: where it is wanted} */
    this.held = null;
    this.busy = false;
    this.next = null; // the newest place not asked for yet
    const { canvas } = bench.view;
    // before the camera: what is taken here does not turn the view
    canvas.parentElement?.addEventListener("pointerdown", (event) => this.take(event), true);
    canvas.parentElement?.addEventListener("pointermove", (event) => this.move(event), true);
    canvas.parentElement?.addEventListener("pointerup", (event) => this.drop(event), true);
    canvas.parentElement?.addEventListener("pointercancel", () => this.leave(), true);
  }

  /** Only in the sketch that is worked in, and only what is under the pointer.
   * @param {PointerEvent} event */
  take(event) {
    const { bench } = this;
    if (event.target !== bench.view.canvas || event.button !== 0 || bench.line.isOpen || !bench.sketches.active) return;
    const found = bench.sketches.under(event.offsetX, event.offsetY);
    if (!found || found.kind === "area" || found.sketch !== bench.sketches.active) return;
    const sketch = sure(bench.sketches.named(found.sketch));
    const from = bench.sketches.flat(sketch, event.offsetX, event.offsetY);
    if (!from) return;
    const first = found.kind === "point" ? found.id : sketch.curves.find((/** @type {any} */ c) => c.id === found.id).points[0];
    this.held = { ...found, plane: sketch, from, start: sketch.points[first], moved: false, pixels: [event.offsetX, event.offsetY], pointer: event.pointerId };
    event.stopPropagation();
    bench.view.canvas.setPointerCapture(event.pointerId);
  }

  /** @param {PointerEvent} event */
  move(event) {
    const { held, bench } = this;
    if (!held) return;
    event.stopPropagation();
    if (!held.moved && Math.hypot(event.offsetX - held.pixels[0], event.offsetY - held.pixels[1]) < 4) return;
    held.moved = true;
    const at = bench.sketches.flat(held.plane, event.offsetX, event.offsetY);
    if (!at) return;
    this.next = { x: held.start[0] + at.x - held.from.x, y: held.start[1] + at.y - held.from.y };
    held.to = this.next;
    this.show();
  }

  values() {
    return { what: [this.held.id], to: this.bench.drawing.write(this.held.to) };
  }

  /** One preview under way, the newest place next. */
  async show() {
    if (this.busy || !this.next || !this.held) return;
    this.busy = true;
    this.next = null;
    const { held, bench } = this;
    try {
      const answer = await ask(bench.url("preview"), { edit: "drag", values: this.values(), base: bench.base });
      if (this.held === held) bench.showPreview(answer);
    } catch (error) {
      if (!(error instanceof Refused)) throw error; // it stays where the rules hold it
    } finally {
      this.busy = false;
    }
    this.show();
  }

  /** @param {PointerEvent} event */
  async drop(event) {
    const { held, bench } = this;
    if (!held) return;
    if (!held.moved) {
      this.held = null; // a click: the pick takes it from here
      return;
    }
    event.stopPropagation();
    const values = this.values();
    this.held = null;
    try {
      bench.changing++;
      await bench.accepted(await keep(bench.url("edits"), { edit: "drag", values, base: bench.base }).finally(() => bench.changing--));
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      bench.hidePreview();
      bench.say(error.message);
      if (error.status === 409) await bench.reload();
    }
  }

  leave() {
    if (!this.held) return;
    this.held = null;
    this.bench.hidePreview();
  }
}

// What is picked is dragged on to another part: the likely joint is shown while the hand is over it, F turns it round.
import { ask, Refused } from "../../api.js";
import { one } from "../../dom.js";
import { make } from "../../handles/knob.js";
import { under } from "../../view/picking.js";

const FAR = 6; // px that a press goes before it is a drag

export class Joining {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    /** @type {{of: any, pixels: [number, number], moved: boolean, to: any, flipped: boolean}|null} */
    this.held = null;
    this.busy = false;
    this.again = false;
    this.layer = make("g", { class: "joining" }, one("#overlay"));
    const { canvas } = bench.view;
    // before the camera: what is taken here does not turn the view
    canvas.parentElement?.addEventListener("pointerdown", (event) => this.take(event), true);
    canvas.parentElement?.addEventListener("pointermove", (event) => this.move(event), true);
    canvas.parentElement?.addEventListener("pointerup", (event) => this.drop(event), true);
    canvas.parentElement?.addEventListener("pointercancel", () => this.leave(), true);
    window.addEventListener("keydown", (event) => this.key(event), true);
  }

  /** Only what is picked already, so that a press elsewhere turns the view as ever.
   * @param {PointerEvent} event */
  take(event) {
    const { bench } = this;
    if (event.target !== bench.view.canvas || event.button !== 0 || bench.stage !== "Assemble" || bench.line.isOpen || bench.picked.length !== 1) return;
    const [of] = bench.picked;
    if (!["face", "edge", "vertex"].includes(of.kind)) return;
    const found = under(bench.view, event.offsetX, event.offsetY);
    if (!found || found.id !== of.id || found.node !== of.node) return;
    this.held = { of, pixels: [event.offsetX, event.offsetY], moved: false, to: null, flipped: false };
    event.stopPropagation();
    bench.view.canvas.setPointerCapture(event.pointerId);
  }

  /** @param {PointerEvent} event */
  move(event) {
    const { held, bench } = this;
    if (!held) return;
    event.stopPropagation();
    const [x, y] = held.pixels;
    if (!held.moved && Math.hypot(event.offsetX - x, event.offsetY - y) < FAR) return;
    held.moved = true;
    this.layer.replaceChildren();
    make("path", { class: "wire", d: `M${x} ${y}L${event.offsetX} ${event.offsetY}` }, this.layer);
    const found = under(bench.view, event.offsetX, event.offsetY);
    const to = found && found.node !== held.of.node && ["face", "edge", "vertex"].includes(found.kind) ? found : null;
    bench.view.canvas.style.cursor = to ? "copy" : "grabbing";
    if (to?.id === held.to?.id && to?.node === held.to?.node) return;
    held.to = to;
    bench.view.highlight("hover", to ? [to] : []);
    this.show();
  }

  /** @param {any} held */
  values(held) {
    return { of: [this.bench.placed(held.of)], to: [this.bench.placed(held.to)], way: held.flipped ? "flipped" : "nearest" };
  }

  /** One preview under way, the newest place next. */
  async show() {
    const { held, bench } = this;
    if (this.busy) {
      this.again = true;
      return;
    }
    if (!held?.to) {
      bench.hidePreview();
      return;
    }
    this.busy = true;
    this.again = false;
    try {
      const answer = await ask(bench.url("preview"), { edit: "join", values: this.values(held), base: bench.base });
      if (this.held === held && held.to) bench.showPreview(answer);
    } catch (error) {
      if (!(error instanceof Refused)) throw error; // the line tells it on letting go
      bench.hidePreview();
    } finally {
      this.busy = false;
    }
    if (this.again) this.show();
  }

  /** @param {KeyboardEvent} event */
  key(event) {
    const { held } = this;
    if (!held?.moved) return;
    if (event.key === "Escape") this.leave();
    else if (event.key.toLowerCase() === "f") {
      held.flipped = !held.flipped;
      this.show();
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }

  /** The line opens with both, to be accepted or changed.
   * @param {PointerEvent} event */
  async drop(event) {
    const { held, bench } = this;
    if (!held) return;
    this.leave();
    if (!held.moved) return; // a click: the pick takes it from here
    event.stopPropagation();
    if (!held.to) return;
    bench.pick([held.of, held.to]);
    await bench.line.open("join", bench.pickIds(), held.flipped ? { way: "flipped" } : {});
  }

  leave() {
    if (!this.held) return;
    this.held = null;
    this.layer.replaceChildren();
    this.bench.view.canvas.style.cursor = "default";
    this.bench.hidePreview();
  }
}

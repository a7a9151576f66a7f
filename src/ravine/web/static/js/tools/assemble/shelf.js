// The shelf at the stages Bring in and Assemble: looked through by words, taken by a click or dragged on to a hole.
import { byId, one } from "../../dom.js";
import { getText } from "../../api.js";
import { under } from "../../view/picking.js";

const STAGES = ["Bring in", "Assemble"];
const PAUSE = 160; // ms between typing and looking
const FAR = 6; // px that a press goes before it is a drag

export class Shelf {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.turn = 0;
    this.shown = ""; // the item whose picture stands below the list
    /** @type {{taken: HTMLElement, from: [number, number], moved: boolean}|null} */
    this.held = null;
    const { panel } = this;
    panel.addEventListener("input", () => {
      clearTimeout(this.waiting);
      this.waiting = setTimeout(() => this.look(), PAUSE);
    });
    panel.addEventListener("keydown", (/** @type {KeyboardEvent} */ event) => event.stopPropagation());
    panel.addEventListener("click", (/** @type {MouseEvent} */ event) => {
      const taken = this.at(event);
      if (taken && event.detail === 0) this.take(taken, this.bench.picked); // by the keyboard; the pointer takes on release
    });
    panel.addEventListener("pointerdown", (/** @type {PointerEvent} */ event) => {
      const taken = this.at(event);
      if (taken && event.button === 0) this.held = { taken, from: [event.clientX, event.clientY], moved: false };
    });
    for (const name of ["pointerover", "focusin"]) panel.addEventListener(name, (/** @type {Event} */ event) => this.rest(event));
    window.addEventListener("pointermove", (event) => this.move(event));
    window.addEventListener("pointerup", (event) => this.drop(event));
  }

  get panel() {
    return one("#shelf");
  }

  /** @param {Event} event @returns {HTMLElement|null} */
  at(event) {
    return /** @type {HTMLElement} */ (event.target).closest("[data-take]");
  }

  /** An item that is pointed at for a while is shown below the list.
   * @param {Event} event */
  rest(event) {
    clearTimeout(this.resting);
    const item = /** @type {HTMLElement} */ (event.target).closest("[data-shows]")?.getAttribute("data-shows");
    if (item && item !== this.shown) this.resting = setTimeout(() => this.show(item), PAUSE);
  }

  /** @param {string} item */
  async show(item) {
    this.shown = item;
    const html = await this.bench.trying(() => getText(this.bench.url(`shelf/${item}`), {}));
    if (html === null || this.shown !== item) return;
    byId("shelf-item").innerHTML = html;
    byId("shelf-item").hidden = false;
  }

  /** Shown at its stages; what was looked for stays. */
  async refresh() {
    const { panel } = this;
    panel.hidden = !STAGES.includes(this.bench.stage);
    if (panel.hidden || panel.children.length) return;
    const html = await this.bench.trying(() => getText(this.bench.url("shelf"), { whole: "1" }));
    if (html !== null) panel.innerHTML = html;
  }

  async look() {
    const turn = ++this.turn;
    const asked = { text: /** @type {HTMLInputElement} */ (byId("shelf-text")).value, kind: /** @type {HTMLSelectElement} */ (byId("shelf-kind")).value };
    const html = await this.bench.trying(() => getText(this.bench.url("shelf"), asked));
    if (turn === this.turn && html !== null) byId("shelf-found").innerHTML = html;
  }

  /** @param {MouseEvent} event */
  over(event) {
    const { view } = this.bench;
    if (event.target !== view.canvas && !this.held) return null;
    const { left, top, width, height } = view.canvas.getBoundingClientRect();
    const [x, y] = [event.clientX - left, event.clientY - top];
    const found = x >= 0 && y >= 0 && x <= width && y <= height ? under(view, x, y) : null;
    return found && ["face", "edge"].includes(found.kind) ? found : null;
  }

  /** @param {PointerEvent} event */
  move(event) {
    const { held } = this;
    if (!held) return;
    held.moved ||= Math.hypot(event.clientX - held.from[0], event.clientY - held.from[1]) > FAR;
    if (held.moved) this.bench.hover(this.over(event));
  }

  /** On a hole or face it goes there; on nothing, or as a click, on what is picked.
   * @param {PointerEvent} event */
  drop(event) {
    const { held } = this;
    if (!held) return;
    const found = held.moved ? this.over(event) : null;
    this.held = null;
    if (held.moved && !found) return;
    this.take(held.taken, found ? [found] : this.bench.picked);
  }

  /** @param {HTMLElement} taken @param {any[]} on */
  async take(taken, on) {
    const { bench } = this;
    const { take: item, whole } = taken.dataset;
    const places = on.filter((t) => ["face", "edge"].includes(t.kind));
    if (!places.length && whole === undefined) {
      bench.say("Pick a hole first: the size is proposed for it. Or take one of the sizes.");
      return;
    }
    bench.pick(places);
    await bench.line.open("take from the shelf", bench.pickIds(), { item: item ?? "" });
  }
}

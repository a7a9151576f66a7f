// How wide the gap or the wall under the pointer is, in the section: measured square to the nearer side.
import { sure } from "../../dom.js";
import { getJson } from "../../api.js";
import { make } from "../../handles/knob.js";
import { LENGTHS } from "../../view/lengths.js";

const REST = 110; // ms the pointer rests before it is asked

export class Widths {
  /** @param {import("./section.js").Section} section @param {SVGElement} layer */
  constructor(section, layer) {
    this.section = section;
    this.layer = layer;
    this.turn = 0;
    /** @type {any} */
    this.found = null;
    /** @type {any} of the saved state */
    this.saved = null;
    this.place = [0, 0];
    /** @type {any} */
    this.resting = 0;
    const { canvas } = section.view;
    canvas.addEventListener("pointermove", (event) => this.feel(event));
    canvas.addEventListener("pointerleave", () => clearTimeout(this.resting)); // the last one stays to be watched
  }

  /** @param {PointerEvent} event */
  feel(event) {
    if (!this.section.cut || this.section.bench.previewing || event.buttons || this.section.bench.drawing?.active) return;
    clearTimeout(this.resting);
    const { offsetX: x, offsetY: y } = event;
    this.resting = setTimeout(() => this.at(x, y), REST);
  }

  /** @param {number} x @param {number} y px on the canvas */
  at(x, y) {
    const { section } = this;
    const spot = section.onPlane(x, y, null);
    if (!spot) return this.hide();
    return this.ask(sure(section.cut).flat(spot.point));
  }

  /** @param {number[]} place in the plane */
  async ask(place) {
    const { section } = this;
    const turn = ++this.turn;
    const at = sure(section.cut);
    const plane = [...at.origin.toArray(), ...at.normal.toArray()].join(",");
    const answer = await getJson(section.bench.url("cut/width"), { plane, at: place.join(",") }).catch(() => null);
    if (turn !== this.turn || !section.cut) return;
    const found = answer?.width ?? null;
    this.place = place;
    this.saved = found;
    this.show(found);
  }

  /** @param {any} found */
  show(found) {
    this.found = found;
    this.draw();
    this.section.flat.drawWidth(found);
  }

  /** What a preview measures again. */
  watch() {
    return this.saved && { at: this.place, nodes: this.saved.nodes };
  }

  hide() {
    clearTimeout(this.resting);
    this.turn++;
    this.found = this.saved = null;
    this.layer.replaceChildren();
    this.section.flat?.drawWidth(null);
  }

  words() {
    const { kind, value, parts } = this.found;
    const { units } = this.section.view;
    return `${kind} ${Number((value / LENGTHS[units]).toPrecision(5))} ${units}${parts.length > 1 || kind !== "gap" ? ` · ${parts.join(" – ")}` : ""}`;
  }

  draw() {
    this.layer.replaceChildren();
    const { cut, view } = this.section;
    if (!this.found || !cut) return;
    const [a, b] = this.found.ends.map((/** @type {any[]} */ [u, v]) => view.camera.project(cut.place(u, v)));
    const tag = drawWidth(this.layer, a, b, this.words(), this.found.kind);
    tag.addEventListener("click", () => this.pin());
  }

  /** It stays, and follows every edit. */
  pin() {
    const { cut, bench } = this.section;
    bench.pins.keep({ plane: [...sure(cut).origin.toArray(), ...sure(cut).normal.toArray()], at: this.place, nodes: this.saved.nodes });
    this.hide();
  }
}

/** A line between two places with its words beside it.
 * @param {Element} layer @param {{x: number, y: number}} a @param {{x: number, y: number}} b @param {string} words @param {any} kind */
export function drawWidth(layer, a, b, words, kind) {
  const size = Math.hypot(b.x - a.x, b.y - a.y) || 1;
  const [nx, ny] = [(-(b.y - a.y) / size) * 5, ((b.x - a.x) / size) * 5];
  const group = make("g", { class: `width-mark ${kind}` }, layer);
  make("path", { d: `M${a.x} ${a.y}L${b.x} ${b.y}M${a.x - nx} ${a.y - ny}L${a.x + nx} ${a.y + ny}M${b.x - nx} ${b.y - ny}L${b.x + nx} ${b.y + ny}` }, group);
  const wide = 14 + words.length * 6.4;
  const room = sure(layer.closest("svg")).clientWidth - wide / 2 - 6;
  const tag = make("g", { transform: `translate(${Math.min(Math.max(a.x, b.x) + 12 + wide / 2, room)} ${Math.min(a.y, b.y) - 16})` }, group);
  make("rect", { x: -wide / 2, y: -12, width: wide, height: 23, rx: 4 }, tag);
  make("text", { y: 4 }, tag).textContent = words;
  make("title", {}, tag).textContent = "Click to keep this measure in the view";
  return tag;
}

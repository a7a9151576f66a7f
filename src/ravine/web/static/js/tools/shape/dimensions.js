// Dimensions kept on solids, drawn in the view: a click on the value drives one, while one is driven it holds another.
import { getJson, keep, Refused } from "../../api.js";
import { one } from "../../dom.js";
import { Plane, Vector3 } from "three";
import { make } from "../../handles/knob.js";
import { dimension } from "../sketch/sizes.js";

const FAR = 4; // px that a press goes before it takes the value along
const BESIDE = 40; // px from an arc to its value
const GIVEN = /^D\d+$/; // names that nobody chose stand only in the sentence

/** @typedef {{id: string, name: string, way: string, value: number|null, ends: [number[], number[]]|null, arc: number[][], stays: boolean, lost: string, off: number[]|null}} Kept */

/** Lines along an arc, and where its middle is.
 * @param {{x: number, y: number}[]} places */
function arcOf(places) {
  const [a, b, middle] = [places[0], places[places.length - 1], places[places.length >> 1]];
  const [x, y] = [middle.x - (a.x + b.x) / 2, middle.y - (a.y + b.y) / 2];
  const size = Math.hypot(x, y) || 1;
  const at = { x: middle.x + (x / size) * BESIDE, y: middle.y + (y / size) * BESIDE };
  return { lines: places.slice(1).map((p, k) => [places[k], p]), ticks: [], at };
}

export class Dimensions {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    /** @type {Kept[]} */
    this.kept = [];
    this.turn = 0;
    this.layer = make("g", { class: "dimensions" }, one("#grips"));
  }

  /** As the saved state has them. */
  async refresh() {
    const turn = ++this.turn;
    const kept = await this.bench.trying(() => getJson(this.bench.url("dimensions")));
    if (turn !== this.turn || !kept) return;
    this.kept = kept;
    this.draw();
  }

  get driving() {
    const { form } = this.bench.line;
    return form?.dataset.edit === "drive" ? form : null;
  }

  /** With every frame. */
  draw() {
    this.layer.replaceChildren();
    const { camera, box, canvas } = this.bench.view;
    if (!this.kept.length || box.isEmpty()) return;
    const middle = camera.project(box.getCenter(new Vector3()));
    const driven = this.value("dimension");
    const held = new Set(this.value("held").split(/[,\s]+/).filter(Boolean));
    let below = 0;
    for (const item of this.kept) {
      const words = this.words(item);
      const group = make("g", { class: `dimension${item.stays ? " stays" : ""}${item.lost ? " lost" : ""}${held.has(item.name) ? " held" : ""}${driven === item.name ? " driven" : ""}`, "data-dimension": item.id }, this.layer);
      let at = { x: 24 + words.length * 3.3, y: canvas.clientHeight - 60 - 26 * below };
      if (item.ends) {
        const [a, b] = item.ends.map((p) => camera.project(new Vector3(...p)));
        const through = item.off ? camera.project(this.middle(item).add(new Vector3(...item.off))) : null;
        const drawn = item.arc.length ? arcOf(item.arc.map((p) => camera.project(new Vector3(...p)))) : dimension(a, b, "", middle, through);
        const path = [...drawn.lines, ...drawn.ticks].map(([p, q]) => `M${p.x} ${p.y}L${q.x} ${q.y}`).join("");
        make("path", { d: path }, group);
        at = item.arc.length && through ? through : drawn.at;
      } else below += 1;
      if (driven !== item.name) this.tag(item, words, at, group); // the bead tells its value
    }
  }

  /** @param {string} name of a gap of the line that drives one; empty where none is open */
  value(name) {
    return /** @type {HTMLInputElement|null} */ (this.driving?.elements.namedItem(name))?.value ?? "";
  }

  /** @param {Kept} item */
  words(item) {
    const mark = { diameter: "Ø ", radius: "R ", arc: "⌒ " }[item.way] ?? "";
    const value = item.value === null ? item.lost : `${mark}${Number(item.value.toFixed(item.way === "angle" ? 2 : 4))}${item.way === "angle" ? "°" : ""}`;
    return GIVEN.test(item.name) ? value : `${item.name} ${value}`;
  }

  /** @param {Kept} item @param {string} words @param {{x: number, y: number}} at @param {SVGElement} group */
  tag(item, words, at, group) {
    const wide = 14 + words.length * 6.6;
    const tag = make("g", { class: "dimension-tag", transform: `translate(${at.x} ${at.y})`, role: "button", tabindex: 0, "aria-label": `Drive ${item.name} ${words}` }, group);
    make("rect", { x: -wide / 2, y: -10, width: wide, height: 20, rx: 3 }, tag);
    make("text", { x: 0, y: 4 }, tag).textContent = words;
    tag.addEventListener("click", () => this.take(item));
    tag.addEventListener("pointerdown", (event) => this.hold(item, /** @type {PointerEvent} */ (event)));
    tag.addEventListener("keydown", (event) => event.key === "Home" && item.off && this.place(item, null));
    tag.addEventListener("keydown", (event) => {
      if (event.key === "Delete") this.drop(item);
      if (event.key !== "Enter" && event.key !== " ") return;
      event.preventDefault();
      event.stopPropagation();
      this.take(item);
    });
  }

  /** @param {Kept} item @returns {Vector3} of what it is drawn between */
  middle(item) {
    const [a, b] = /** @type {[number[], number[]]} */ (item.ends).map((p) => new Vector3(...p));
    return a.add(b).multiplyScalar(0.5);
  }

  /** A press that moves takes the value along, in the plane through its middle that faces the eye; one that does not
   * is a click.
   * @param {Kept} item @param {PointerEvent} press */
  hold(item, press) {
    if (press.button !== 0) return;
    press.preventDefault();
    press.stopPropagation();
    const { camera, canvas } = this.bench.view;
    const frame = canvas.getBoundingClientRect();
    let moved = false;
    /** @param {PointerEvent} event */
    const move = (event) => {
      moved ||= Math.hypot(event.clientX - press.clientX, event.clientY - press.clientY) > FAR;
      if (!moved || !item.ends) return;
      const middle = this.middle(item);
      const plane = new Plane().setFromNormalAndCoplanarPoint(camera.direction(), middle);
      const spot = camera.ray(event.clientX - frame.left, event.clientY - frame.top).ray.intersectPlane(plane, new Vector3());
      if (spot) item.off = spot.sub(middle).toArray();
      this.draw();
    };
    const drop = () => {
      window.removeEventListener("pointermove", move);
      if (moved && item.off) this.place(item, item.off);
    };
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", drop, { once: true });
  }

  /** @param {Kept} item @param {number[]|null} off */
  async place(item, off) {
    const { bench } = this;
    bench.changing++;
    const values = { dimension: item.name, ...(off && { off: off.map((v) => Number(v.toFixed(3))) }) };
    const kept = await bench.trying(() => keep(bench.url("edits"), { edit: "place dimension", values, base: bench.base }).finally(() => bench.changing--));
    if (kept) await bench.accepted(kept);
    else this.refresh();
  }

  /** @param {Kept} item */
  async take(item) {
    const { bench } = this;
    if (!this.driving) {
      await bench.line.open("drive", [], { dimension: item.name, ...(item.value === null ? {} : { value: `${Number(item.value.toFixed(6))}${item.way === "angle" ? "°" : ""}` }) });
      const gap = /** @type {HTMLInputElement|null} */ (bench.line.element.querySelector("[name=value]"));
      gap?.focus({ preventScroll: true });
      gap?.select();
      this.draw();
      return;
    }
    if (this.value("dimension") === item.name) return;
    const held = this.value("held").split(/[,\s]+/).filter(Boolean);
    const { name } = item;
    bench.line.write("held", (held.includes(name) ? held.filter((h) => h !== name) : [...held, name]).join(" "), false);
    this.draw();
  }

  /** @param {Kept} item */
  async drop(item) {
    const { bench } = this;
    try {
      bench.changing++;
      const values = { dimension: item.id };
      await bench.accepted(await keep(bench.url("edits"), { edit: "drop dimension", values, base: bench.base }).finally(() => bench.changing--));
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      bench.say(error.message);
    }
  }
}

// The hand on the sheet: picks, moves with guides, places what is to be written.
import { postForJson } from "../../api.js";
import { all, one } from "../../dom.js";
import { Draft } from "./draft.js";

const FIRM = 4; // px before a press is a move
const LEVEL = 2.2; // mm within which what is moved comes level with others
const NUDGE = 1; // mm
/** @typedef {import("./paper.js").Paper} Paper */
/** @typedef {{kind: string, words: Object<string, string>, on: string[], near: [number, number][], view: number, at: [number, number]|null}} Placing */
/** @typedef {{what: "item"|"view"|"ground", number: number, from: [number, number], client: [number, number], moved: boolean, step: [number, number], pick: () => void}} Held */

export class Hand {
  /** @param {Paper} paper */
  constructor(paper) {
    this.paper = paper;
    /** @type {Held|null} */
    this.held = null;
    /** @type {Placing|null} */
    this.placing = null;
    this.draft = new Draft(this);
    /** @type {Object<string, any>|null} the newest picture that is asked for */
    this.due = null;
    this.asking = false;
  }

  get drawn() {
    return this.paper.drawn;
  }

  /** @param {SVGSVGElement} svg */
  listen(svg) {
    svg.addEventListener("pointerdown", (event) => this.down(event));
    svg.addEventListener("pointermove", (event) => this.move(event));
    svg.addEventListener("pointerup", (event) => this.up(event));
    svg.addEventListener("dblclick", () => this.draft.endLine());
    svg.addEventListener("wheel", (event) => {
      event.preventDefault();
      this.drawn.zoom(Math.exp(0.0015 * event.deltaY), this.drawn.place(event));
    }, { passive: false });
  }

  /** @param {PointerEvent} event */
  down(event) {
    if (event.button !== 0) return;
    this.drawn.svg.focus({ preventScroll: true });
    this.drawn.svg.setPointerCapture(event.pointerId);
    const from = this.drawn.place(event);
    if (this.draft.shape) {
      this.draft.start(from);
      return;
    }
    if (this.placing) return;
    const target = /** @type {SVGElement} */ (event.target);
    const item = /** @type {SVGGElement|null} */ (target.closest(".sheet-item"));
    const view = /** @type {SVGGElement|null} */ (target.closest(".sheet-view"));
    const source = target.dataset.source;
    const more = event.shiftKey;
    const client = /** @type {[number, number]} */ ([event.clientX, event.clientY]);
    const start = { from, client, moved: false, step: /** @type {[number, number]} */ ([0, 0]) };
    if (item) {
      const number = Number(item.dataset.item);
      this.held = { ...start, what: "item", number, pick: () => this.paper.choose({ item: number }) };
    } else if (view) {
      const number = Number(view.dataset.view);
      this.held = { ...start, what: "view", number, pick: () => (source ? this.pickLine(source, number, from, more) : this.paper.choose({ view: number })) };
    } else this.held = { ...start, what: "ground", number: 0, pick: () => this.paper.choose() };
  }

  /** @param {string} source @param {number} view @param {[number, number]} place @param {boolean} more */
  pickLine(source, view, place, more) {
    const near = this.drawn.within(view, place);
    const before = more && this.paper.lines.length && this.paper.lines[0].view === view ? this.paper.lines : [];
    const there = before.some((p) => p.source === source);
    return this.paper.choose({ lines: there ? before.filter((p) => p.source !== source) : [...before, { source, view, near }] });
  }

  /** @param {PointerEvent} event */
  move(event) {
    const place = this.drawn.place(event);
    if (this.placing) this.show(place);
    else if (this.draft.shape) this.draft.sketch(place);
    const { held } = this;
    if (!held) return;
    if (!held.moved && Math.hypot(event.clientX - held.client[0], event.clientY - held.client[1]) < FIRM) return;
    held.moved = true;
    if (held.what === "ground") {
      this.drawn.shift(place[0] - held.from[0], place[1] - held.from[1]);
      return;
    }
    held.step = [place[0] - held.from[0], place[1] - held.from[1]];
    held.what === "view" ? this.moveView(held) : this.moveItem(held);
  }

  /** With all that hangs on it; it comes level with other views.
   * @param {Held} held */
  moveView(held) {
    const { at } = this.drawn.frame(held.number);
    const own = this.drawn.view(held.number);
    if (own && own.dataset.kind === "plain" && this.lined(own)) {
      const across = this.along(Number(own.dataset.parent), held.number, held.step);
      held.step = [held.step[0] - across[0], held.step[1] - across[1]];
    }
    const rows = /** @type {[number, number, number, number][]} */ ([]);
    for (const k of /** @type {(0|1)[]} */ ([0, 1])) {
      const here = at[k] + held.step[k];
      for (const other of all(".sheet-view", this.drawn.svg)) {
        if (Number(other.dataset.view) === held.number) continue;
        const there = this.drawn.frame(Number(other.dataset.view)).at;
        if (Math.abs(there[k] - here) < LEVEL) {
          held.step[k] = there[k] - at[k];
          rows.push(k ? [0, there[1], 2000, there[1]] : [there[0], 0, there[0], 2000]);
          break;
        }
      }
    }
    this.drawn.guides(rows);
    const below = new Set([held.number]);
    for (let grown = true; grown; ) {
      grown = false;
      for (const group of all(".sheet-view", this.drawn.svg))
        if (below.has(Number(group.dataset.parent)) && !below.has(Number(group.dataset.view)) && this.lined(group)) {
          below.add(Number(group.dataset.view));
          grown = true;
        }
    }
    for (const group of all(".sheet-view, .sheet-item", this.drawn.svg)) {
      const number = Number(group.dataset.view);
      if (!below.has(number)) continue;
      const [dx, dy] = number === held.number ? held.step : this.along(held.number, number, held.step);
      group.setAttribute("transform", `translate(${dx} ${-dy})`);
    }
  }

  /** Whether a view stands in line with the one that it hangs on.
   * @param {HTMLElement|SVGElement} group */
  lined(group) {
    const { parent, view, kind } = group.dataset;
    if (!parent || kind === "detail") return false;
    const [a, b] = [Number(parent), Number(view)].map((n) => this.drawn.frame(n).at);
    return Math.min(Math.abs(a[0] - b[0]), Math.abs(a[1] - b[1])) < 1e-6;
  }

  /** How far what hangs on a view goes along: across the line that joins them.
   * @param {number} above @param {number} below @param {[number, number]} step @returns {[number, number]} */
  along(above, below, step) {
    const [a, b] = [this.drawn.frame(above).at, this.drawn.frame(below).at];
    return Math.abs(a[0] - b[0]) > Math.abs(a[1] - b[1]) ? [0, step[1]] : [step[0], 0];
  }

  /** It is drawn anew where it is, level with others of its view where it comes near.
   * @param {Held} held */
  moveItem(held) {
    const group = this.drawn.item(held.number);
    if (!group) return;
    const at = (group.dataset.at ?? "0,0").split(",").map(Number);
    const rows = /** @type {[number, number, number, number][]} */ ([]);
    const others = all(`.sheet-item[data-view="${group.dataset.view}"]`, this.drawn.svg).filter((o) => o !== group && o.dataset.kind !== "centre");
    for (const k of /** @type {(0|1)[]} */ ([0, 1])) {
      for (const other of others) {
        const there = other.dataset.at.split(",").map(Number);
        if (Math.abs(there[k] - at[k] - held.step[k]) < LEVEL / 2) {
          held.step[k] = there[k] - at[k];
          const base = group.dataset.view ? this.drawn.frame(Number(group.dataset.view)).at : [0, 0];
          rows.push(k ? [0, base[1] + there[1], 2000, base[1] + there[1]] : [base[0] + there[0], 0, base[0] + there[0], 2000]);
          break;
        }
      }
    }
    this.drawn.guides(rows);
    group.classList.add("moving");
    this.ask({ item: held.number, at: [at[0] + held.step[0], at[1] + held.step[1]] });
  }

  /** @param {PointerEvent} event */
  async up(event) {
    const { held } = this;
    this.held = null;
    if (this.placing) await this.put(this.drawn.place(event));
    else if (this.draft.shape) await this.draft.drewTo(this.drawn.place(event));
    else if (held && !held.moved) held.pick();
    else if (held && held.what !== "ground") await this.moved([held.number], held.step);
  }

  /** @param {number[]} things @param {[number, number]} step */
  async moved(things, step) {
    this.due = null;
    await this.paper.keep("move on sheet", { things, step });
    this.drawn.guides([]);
    this.drawn.ghost("");
    if (!this.paper.isOpen) return;
    for (const group of all(".sheet-view, .sheet-item", this.drawn.svg)) {
      group.removeAttribute("transform"); // where it was refused, it goes back
      group.classList.remove("moving");
    }
  }

  // --- placing what is to be written -----------------------------------------------------------------------

  /** @param {string} kind @param {Object<string, string>} words */
  place(kind, words) {
    const { lines, view } = this.paper;
    this.leave();
    const wide = ["parts list", "revisions", "note"].includes(kind) && !lines.length;
    this.placing = { kind, words, on: lines.map((p) => p.source), near: lines.map((p) => p.near), view: wide ? 0 : view, at: null };
    this.drawn.svg.classList.add("placing");
    if (kind === "centre" || kind === "bolt circle") this.put([0, 0]);
    else {
      this.show(this.start());
      this.drawn.svg.focus({ preventScroll: true });
    }
  }

  /** Beside what was picked, until the hand says where.
   * @returns {[number, number]} */
  start() {
    const near = this.placing?.near.at(-1);
    const view = this.placing?.view ?? 0;
    if (!near || !view) return [60, 60];
    const { at, factor, middle } = this.drawn.frame(view);
    return [at[0] + factor * (near[0] - middle[0]) + 14, at[1] + factor * (near[1] - middle[1]) + 14];
  }

  /** @param {[number, number]} place @returns {[number, number]} from where the item is counted */
  from([x, y]) {
    const view = this.placing?.view;
    const base = view ? this.drawn.frame(view).at : [0, 0];
    return [x - base[0], y - base[1]];
  }

  /** @param {[number, number]} place */
  show(place) {
    if (!this.placing) return;
    this.placing.at = place;
    const { kind, words, on, near, view } = this.placing;
    this.ask({ kind, words, on, near, at: this.from(place), ...(view ? { view } : {}) });
  }

  /** One picture at a time, the newest wins.
   * @param {Object<string, any>} values */
  async ask(values) {
    this.due = values;
    if (this.asking) return;
    this.asking = true;
    while (this.due) {
      const asked = this.due;
      this.due = null;
      const found = await this.paper.bench.trying(() => postForJson(this.paper.bench.url("studies/sheet item"), { ...asked, sheet: this.paper.name }));
      const wanted = this.placing || this.held;
      if (found && wanted && this.paper.isOpen) this.drawn.ghost(found.svg);
      this.paper.drags++;
    }
    this.asking = false;
  }

  /** @param {[number, number]} place */
  async put(place) {
    const placing = this.placing;
    if (!placing) return;
    const at = this.from(place);
    this.leave();
    const { kind, words, on, near, view } = placing;
    this.paper.pick();
    await this.paper.keep("write on sheet", { kind, words, on, near, at, ...(view ? { view } : {}) });
  }

  leave() {
    this.placing = null;
    this.draft.leave();
    this.due = null;
    if (!this.drawn.svg) return;
    this.drawn.svg.classList.remove("placing");
    this.drawn.ghost("");
  }

  // --- keys ------------------------------------------------------------------------------------------------

  /** @param {KeyboardEvent} event */
  key(event) {
    const target = /** @type {HTMLElement} */ (event.target);
    if (!this.paper.isOpen || this.paper.bench.line.isOpen || target.matches("input, select, textarea") || one("dialog[open]")) return;
    const done = this.act(event);
    if (!done) return;
    event.preventDefault();
    event.stopPropagation();
  }

  /** @param {KeyboardEvent} event @returns {boolean} whether it was for the sheet */
  act(event) {
    const { paper } = this;
    const thing = paper.item || (paper.lines.length ? 0 : paper.view);
    /** @type {Object<string, [number, number]>} */
    const steps = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };
    const step = steps[event.key];
    if (event.ctrlKey || event.metaKey || event.altKey) return false;
    if (event.key === "Escape") {
      if (this.placing || this.draft.shape) this.leave();
      else if (paper.lines.length || paper.view || paper.item) paper.choose();
      else paper.open("");
      return true;
    }
    if (event.key === "Enter" && this.placing) this.put(this.placing.at ?? this.start());
    else if (event.key === "Enter" && this.draft.shape) this.draft.endLine();
    else if (step && this.placing) {
      const at = this.placing.at ?? this.start();
      const by = event.shiftKey ? 10 : NUDGE;
      this.show([at[0] + by * step[0], at[1] + by * step[1]]);
    } else if (step && thing) {
      const by = event.shiftKey ? 10 : NUDGE;
      this.moved([thing], [by * step[0], by * step[1]]);
    } else if (step) this.drawn.shift(-20 * step[0], -20 * step[1]);
    else if (event.key === "Delete" && thing) paper.drop(thing);
    else if (/^[1-9]$/.test(event.key)) one(`.action[data-digit="${event.key}"]`, paper.side)?.click();
    else if (event.key === "Home") this.drawn.fit();
    else if (event.key === "+" || event.key === "=" || event.key === "-") this.drawn.zoom(event.key === "-" ? 1.25 : 0.8, this.middle());
    else if (event.key === "PageDown" || event.key === "PageUp") this.walk(event.key === "PageDown" ? 1 : -1);
    else return false;
    return true;
  }

  /** @returns {[number, number]} of what is seen */
  middle() {
    const box = this.drawn.svg.viewBox.baseVal;
    return [box.x + box.width / 2, -(box.y + box.height / 2)];
  }

  /** From thing to thing: every view, its lines, and what is written on it.
   * @param {1|-1} by */
  walk(by) {
    const { paper } = this;
    const stops = all(".sheet-view, .touch, .sheet-item", this.drawn.svg);
    const here = stops.findIndex((stop) => stop.classList.contains("picked"));
    const next = stops[(here + by + stops.length) % stops.length];
    if (!next) return;
    if (next.matches(".sheet-view")) paper.choose({ view: Number(next.dataset.view) });
    else if (next.matches(".sheet-item")) paper.choose({ item: Number(next.dataset.item) });
    else {
      const line = /** @type {SVGPathElement} */ (next);
      const spot = line.getPointAtLength(line.getTotalLength() / 2);
      const view = Number(next.closest(".sheet-view").dataset.view);
      this.pickLine(next.dataset.source, view, [spot.x, -spot.y], false);
    }
  }
}

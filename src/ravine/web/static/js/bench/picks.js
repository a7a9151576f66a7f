// What is picked and what is pointed at.
import { all, byId, one, sure } from "../dom.js";
import { seenAt } from "../view/picking.js";
import { States } from "./states.js";

export class Picks extends States {
  constructor() {
    super();
    /** @type {any} */
    this.hovered = null;
    this.justDone = false; // an edit was just accepted: its result is seen plainly, what is picked by its borders alone
    this.early = ""; // a digit that waits for its actions
    this.looking = false; // what is under the pointer is worked out with the next picture
  }

  /** What is picked, each once, wherever it was picked. */
  pickIds() {
    return [...new Set(this.picked.map((p) => p.id))];
  }

  /** The same with the places it was picked in: a face of two copies is two things to measure between. */
  pickPlaces() {
    return this.picked.map((p) => this.placed(p));
  }

  /** Its id with the place it was picked in, where its part stands in several (see core/model/references.py).
   * @param {{id: string, kind: string, node?: string}} thing */
  placed(thing) {
    const body = thing.node && thing.kind !== "node" && this.view.places.get(thing.node)?.body.id;
    return body && this.scene.nodes.filter((n) => n.body === body).length > 1 ? `${thing.id}@${thing.node}` : thing.id;
  }

  /** The places of what is picked, each once. */
  pickNodes() {
    return [...new Set(this.picked.map((p) => p.node).filter(Boolean))];
  }

  /** @param {Thing[]} things @param {boolean} [add] add to the pick, or take away what is in it */
  pick(things, add = false) {
    if (things.length && this.line.fillPick(things[0])) return;
    let next = things;
    if (add && this.picked.length && things.length && together(this.picked[0], things[0])) {
      const now = new Map(this.picked.map((p) => [this.placed(p), p]));
      for (const thing of things) {
        const id = this.placed(thing);
        now.has(id) ? now.delete(id) : now.set(id, thing);
      }
      next = [...now.values()];
    }
    this.early = "";
    this.justDone = false;
    this.growing.keep(this.pickPlaces());
    this.picked = next;
    this.mark();
    this.refreshActions();
    this.features?.follow();
    this.joints?.follow();
    this.printing?.follow();
    this.simulate?.follow();
    this.sheet?.follow();
    const same = this.line.form?.dataset.pickField && next.length;
    if (same) this.line.open(sure(this.line.opened.dataset.edit), this.pickIds(), without(this.line.values(), this.line.opened.dataset.pickField));
  }

  mark() {
    this.view.highlight("picked", this.picked.flatMap((p) => this.spread(p)), this.justDone);
    this.halo?.show(this.picked);
    /** @type {Table<string[]>} */
    const words = { face: ["face", "faces"], edge: ["edge", "edges"], vertex: ["corner", "corners"], node: ["part", "parts"], sketch: ["sketch", "sketches"], curve: ["curve", "curves"], point: ["point", "points"], area: ["area", "areas"], rule: ["rule", "rules"] };
    const count = this.picked.length;
    const mixed = this.picked.some((p) => p.kind !== this.picked[0].kind);
    document.documentElement.toggleAttribute("data-picked", count > 0);
    byId("foot-picked").textContent = mixed ? `${count} things` : count ? `${count} ${words[this.picked[0].kind][count > 1 ? 1 : 0]}` : "nothing";
    this.markRows();
  }

  /** A group stands for the parts below it.
   * @param {Thing} thing */
  spread(thing) {
    if (thing.sketch || thing.kind !== "node" || this.view.places.has(thing.id)) return [thing];
    return this.scene.nodes.filter((n) => n.path.includes(thing.id)).map((n) => ({ ...thing, node: n.id }));
  }

  markRows() {
    const on = new Set(this.pickIds());
    for (const row of all(".part")) row.classList.toggle("on", row.dataset.nodes.split(" ").some((/** @type {any} */ n) => on.has(n)));
    one(".part.on:not([hidden])")?.scrollIntoView({ block: "nearest" });
    this.markSteps();
  }

  markSteps() {
    one("#step-back").disabled = !one(".journal .here")?.previousElementSibling && !this.hides.has(-1, this.base);
    one("#step-forward").disabled = !one(".journal .ahead") && !this.hides.has(1, this.base);
  }

  /** The action of a digit; one that is typed before the actions are there waits for them.
   * @param {string} digit */
  choose(digit) {
    const { picked, stage } = one(".actions-in").dataset;
    const ready = picked === this.pickPlaces().join(" ") && (picked || stage === this.stage);
    this.early = ready ? "" : digit;
    if (ready) /** @type {HTMLElement|null} */ (one(`.action[data-digit="${digit}"]`))?.click();
  }

  refreshActions() {
    const asked = this.swap("POST", "pick", "#actions", { picked: this.pickPlaces().join(" "), stage: this.stage });
    asked.then(() => this.early && this.choose(this.early)).catch(() => {}); // htmx:sendError tells it
  }

  /** @param {any} found */
  hover(found) {
    if (found?.id === this.hovered?.id && found?.node === this.hovered?.node) return;
    this.hovered = found;
    this.view.highlight("hover", found ? [found, ...(this.features?.around(found) ?? [])] : []);
    this.view.canvas.style.cursor = found ? "pointer" : "default";
  }

  /** @param {boolean|undefined} add */
  pickHovered(add) {
    if (this.hovered) this.pick([this.hovered], add);
  }

  /** Keyboard: from face to face over all that is seen from here.
   * @param {number} way */
  walk(way) {
    /** @type {Thing[]} */
    const faces = [];
    for (const [node, place] of this.view.places) if (place.group.visible) place.body.faces.forEach((/** @type {string} */ id, /** @type {number} */ index) => faces.push({ kind: "face", node, index, id: `f${id}` }));
    const { clientWidth, clientHeight } = this.view.canvas;
    /** @param {number} x @param {number} y */
    const inside = (x, y) => x > 0 && y > 0 && x < clientWidth && y < clientHeight;
    const start = faces.findIndex((f) => f.id === this.hovered?.id && f.node === this.hovered?.node);
    for (let k = 1; k <= faces.length; k++) {
      const face = faces[(((start < 0 && way < 0 ? 0 : start) + k * way) % faces.length + faces.length) % faces.length];
      if (!seenAt(this.view, face.node, face.index, inside)) continue;
      this.hover(face);
      return;
    }
  }
}

/** Curves and points of a sketch are picked together, other things with their like; faces, edges and corners where
 * the line that is open takes them all.
 * @param {Thing} a @param {Thing} b */
function together(a, b) {
  /** @param {any} t */
  const drawn = (t) => t.kind === "curve" || t.kind === "point";
  /** @param {any} t */
  const solid = (t) => t.kind === "face" || t.kind === "edge" || t.kind === "vertex";
  return a.kind === b.kind || (drawn(a) && drawn(b)) || (solid(a) && solid(b));
}

/** @param {any} values @param {string} [name] */
function without(values, name) {
  const { [name ?? ""]: _, ...rest } = values;
  return rest;
}

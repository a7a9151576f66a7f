// Picking by a line drawn around things: a box or a lasso. It takes what lies wholly inside; with Shift also what it
// crosses. Hidden things are left out unless picking goes through.
import { all, one, sure } from "../dom.js";
import { Vector3 } from "three";
import { make } from "../handles/knob.js";
import { crosses, encloses, wide } from "./outlines.js";
import { facesAt } from "./under.js";

const SAMPLES = 60; // points of a face that are looked at
const SEEN = 5; // of them, tried for being in sight

/** @typedef {import("./outlines.js").Spot} Spot */

export class Marquee {
  /** @param {import("../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    /** @type {""|"box"|"lasso"} */
    this.tool = "";
    this.through = false;
    /** @type {Spot[]|null} */
    this.line = null;
    this.shape = make("path", { class: "fence" });
    sure(bench.sketches.labels.parentNode).append(this.shape);
    const { canvas } = bench.view;
    // before the camera: what is drawn here does not turn the view
    canvas.parentElement?.addEventListener("pointerdown", (event) => this.begin(event), true);
    canvas.parentElement?.addEventListener("pointermove", (event) => this.go(event), true);
    canvas.parentElement?.addEventListener("pointerup", (event) => this.end(event), true);
    canvas.parentElement?.addEventListener("pointercancel", () => this.drop(), true);
    document.addEventListener("keydown", (event) => {
      if (event.key === "Escape" && (this.line || this.tool)) this.choose("");
    });
  }

  /** @param {""|"box"|"lasso"} tool */
  choose(tool) {
    this.tool = tool === this.tool ? "" : tool;
    this.drop();
    this.tell();
  }

  toggleThrough() {
    this.through = !this.through;
    this.tell();
  }

  tell() {
    for (const word of all("[data-marquee]")) word.setAttribute("aria-pressed", String(word.dataset.marquee === this.tool));
    one("[data-through]").setAttribute("aria-pressed", String(this.through));
    this.bench.view.canvas.classList.toggle("fencing", Boolean(this.tool));
    this.bench.tellEdge();
  }

  /** @param {PointerEvent} event */
  begin(event) {
    if (event.target !== this.bench.view.canvas || event.button !== 0 || !(this.tool || event.ctrlKey)) return;
    event.stopPropagation();
    this.line = [[event.offsetX, event.offsetY]];
    this.bench.view.canvas.setPointerCapture(event.pointerId);
  }

  /** @param {PointerEvent} event */
  go(event) {
    if (!this.line) return;
    event.stopPropagation();
    const here = /** @type {Spot} */ ([event.offsetX, event.offsetY]);
    if (this.tool === "lasso") this.line.push(here);
    else {
      const [a] = this.line;
      this.line = [a, [here[0], a[1]], here, [a[0], here[1]]];
    }
    this.shape.setAttribute("d", `M${this.line.map((p) => p.join(" ")).join("L")}Z`);
    this.shape.style.display = "inline";
  }

  /** @param {PointerEvent} event */
  end(event) {
    const { line } = this;
    if (!line) return;
    this.drop();
    if (!wide(line)) { // a mere click, which the camera has not seen begin
      this.bench.view.camera.dragged = false;
      return;
    }
    event.stopPropagation();
    const found = this.within(line, event.shiftKey);
    const things = event.ctrlKey && !this.tool ? [...this.bench.picked, ...found.filter((t) => !this.bench.pickIds().includes(t.id))] : found;
    this.bench.pick(things);
    this.bench.say(found.length ? `${found.length} ${found.length === 1 ? "thing" : "things"} taken` : event.shiftKey ? "Nothing lies there" : "Nothing lies wholly inside; with Shift what is crossed counts, too");
  }

  drop() {
    this.line = null;
    this.shape.style.display = "none";
  }

  /** Faces, or edges or corners where such are picked.
   * @param {Spot[]} line @param {boolean} crossed */
  within(line, crossed) {
    const { view } = this.bench;
    const kind = view.only || this.bench.picked[0]?.kind;
    const wanted = kind === "edge" || kind === "vertex" ? kind : "face";
    /** @type {Thing[]} */
    const found = [];
    for (const [node, place] of view.places) {
      if (!place.group.visible) continue;
      const { shape } = place.drawable;
      const parts = wanted === "face" ? shape.faces.map((/** @type {any} */ f) => f.points) : wanted === "edge" ? shape.edges : corners(shape);
      const list = wanted === "face" ? "faces" : wanted === "edge" ? "edges" : "vertices";
      parts.forEach((/** @type {any} */ points, /** @type {string | number} */ index) => {
        const spots = this.spots(points, place.group.matrix);
        const inside = spots.filter((s) => encloses(line, s));
        const fits = crossed ? inside.length > 0 || crosses(line, spots) : spots.length > 0 && inside.length === spots.length;
        if (!fits) return;
        const thing = { kind: wanted, node, index, id: `${wanted[0]}${place.body[list][index]}` };
        if (!this.through && !this.seen(thing, crossed ? inside : spots)) return;
        if (view.only !== "node") found.push(thing);
        else if (found.at(-1)?.node !== node) found.push({ kind: "node", node, index: 0, id: node });
      });
    }
    return found;
  }

  /** Some of the points that a section leaves, in pixels.
   * @returns {any[]} @param {any} points @param {any} matrix */
  spots(points, matrix) {
    const count = points.length / 3;
    const step = Math.max(1, Math.floor(count / SAMPLES));
    const found = [];
    for (let i = 0; i < count; i += step) {
      const place = new Vector3(points[3 * i], points[3 * i + 1], points[3 * i + 2]).applyMatrix4(matrix);
      if (!this.bench.view.section?.removed(place)) found.push(this.bench.view.camera.project(place));
    }
    return found;
  }

  /** Whether any of it is in sight.
   * @param {Thing} thing @param {Place[]} spots */
  seen(thing, spots) {
    const { view } = this.bench;
    if (thing.kind === "face") {
      const place = view.places.get(thing.node);
      const { points, triangles } = place.drawable.shape.faces[thing.index];
      const step = Math.max(3, 3 * Math.floor(triangles.length / 3 / SEEN));
      for (let t = 0; t < triangles.length; t += step) {
        const middle = new Vector3();
        for (let k = 0; k < 3; k++) middle.add(new Vector3(points[3 * triangles[t + k]], points[3 * triangles[t + k] + 1], points[3 * triangles[t + k] + 2]));
        const spot = view.camera.project(middle.divideScalar(3).applyMatrix4(place.group.matrix));
        const [first] = facesAt(view, spot.x, spot.y);
        if (first && first.node === thing.node && first.index === thing.index) return true;
      }
      return false;
    }
    const step = Math.max(1, Math.floor(spots.length / SEEN));
    return spots.some((/** @type {any} */ spot, /** @type {number} */ k) => k % step === 0 && !this.covered(spot));
  }

  /** Whether something lies before a point of an edge.
   * @param {Place} spot */
  covered(spot) {
    const { view } = this.bench;
    const first = facesAt(view, spot.x, spot.y)[0];
    return Boolean(first && view.camera.project(first.point).z < sure(spot.z) - 1e-4);
  }
}

/** @param {any} shape */
function corners(shape) {
  const found = [];
  for (let i = 0; i < shape.corners.length; i += 3) found.push(shape.corners.subarray(i, i + 3));
  return found;
}

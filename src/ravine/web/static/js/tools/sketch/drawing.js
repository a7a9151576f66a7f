// Drawing in a sketch: while the line has a gap for places, clicks in the view go there, caught by what is near.
import { one, sure } from "../../dom.js";
import { Vector3 } from "three";
import { make } from "../../handles/knob.js";
import { onModel } from "../../view/picking.js";
import { LENGTHS, niceStep } from "../../view/lengths.js";

const NEAR = 7; // px
const LEANS = 0.94; // cosine between the eye and a sketch above which matter pulled out of it could not be seen

export class Drawing {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.hint = make("g", { class: "snap" });
    sure(bench.sketches.labels.parentNode).append(this.hint);
    this.hover = null; // what the next click would write
    /** @type {any[]} */
    this.centres = []; // of round edges of the model that the pointer has passed over, in the model
  }

  get input() {
    return /** @type {HTMLInputElement|null} */ (this.bench.line.form?.querySelector(".field-places:not([hidden])") || null);
  }

  get active() {
    return Boolean(this.input && this.sketch && !this.bench.line.armed); // a gap that waits for a pick goes first
  }

  get sketch() {
    const { form } = this.bench.line;
    const named = /** @type {HTMLInputElement|null} */ (form?.elements.namedItem("sketch"))?.value;
    const picked = named || this.bench.picked.find((p) => p.sketch)?.sketch;
    return this.bench.sketches.saved.find((s) => s.id === picked);
  }

  get words() {
    return sure(this.input).value.trim().split(/\s+/).filter(Boolean);
  }

  /** Least and most places of what is drawn; most 0: any number. */
  get counts() {
    const counts = JSON.parse(sure(this.input).dataset.counts || "{}");
    const shape = /** @type {HTMLSelectElement|null} */ (this.bench.line.opened.elements.namedItem("shape"))?.value;
    return "single" in sure(this.input).dataset ? [1, 1] : counts[shape ?? ""] || [1, 0];
  }

  /** The places, with the one under the pointer where one more is wanted; null while they are too few. */
  value() {
    const words = this.words;
    const [least, most] = this.counts;
    if (this.hover && (!most || words.length < most)) words.push(this.hover.word);
    return words.length < least - (this.sized ? 1 : 0) ? null : words.join(" ");
  }

  /** A circle or slot with its size given needs one place less. */
  get sized() {
    const size = /** @type {HTMLInputElement|null} */ (this.bench.line.opened.elements.namedItem("size"));
    return Boolean(size && !size.hidden && size.value.trim());
  }

  /** Where the words stand, in mm, as far as the page can read them; the last is what levels are taken from. */
  last() {
    /** @type {Place[]} */
    const places = [];
    for (const word of this.words) {
      const point = /^p\d+$/.test(word) && this.sketch?.points[word];
      const pair = word.match(/^(?:c\d+:)?([-−]?[\d.]+),([-−]?[\d.]+)$/);
      const step = word.match(/^\+([-−]?[\d.]+),([-−]?[\d.]+)$/) || word.match(/^([-−]?[\d.]+)[x×]([-−]?[\d.]+)$/);
      const unit = LENGTHS[this.bench.view.units];
      /** @param {string} text */
      const number = (text) => Number(text.replace("−", "-")) * unit;
      if (point) places.push({ x: point[0], y: point[1] });
      else if (pair) places.push({ x: number(pair[1]), y: number(pair[2]) });
      else if (step && places.length) places.push({ x: sure(places.at(-1)).x + number(step[1]), y: sure(places.at(-1)).y + number(step[2]) });
    }
    return places;
  }

  /** What is caught near the pointer: a point, a middle, a level with the last place, a curve, else a round place.
   * @param {number} x @param {number} y */
  snap(x, y) {
    const { sketches, view } = this.bench;
    const { sketch } = this;
    if (!sketch) return null;
    const raw = sketches.flat(sketch, x, y);
    if (!raw) return null;
    /** @param {Place} p */
    const near = (p) => {
      const at = sketches.toScreen(sketch, p.x, p.y);
      return Math.hypot(at.x - x, at.y - y) < NEAR;
    };
    const places = this.last();
    if (places.length > 2 && near(places[0])) return { ...places[0], word: this.write(places[0]), what: "closes" };
    const point = sketches.pointUnder(sketch, x, y)?.id;
    if (point) return { x: sketch.points[point][0], y: sketch.points[point][1], word: point, what: "point" };
    for (const curve of sketch.curves.filter((/** @type {any} */ c) => c.kind === "line" && c.lines.length)) {
      const [line] = curve.lines;
      const middle = { x: (line[0] + line[2]) / 2, y: (line[1] + line[3]) / 2 };
      if (near(middle)) return { ...middle, word: `m${curve.id.slice(1)}`, what: "middle" };
    }
    const step = niceStep((view.camera.span / view.canvas.clientHeight) * 5 / LENGTHS[view.units]) * LENGTHS[view.units];
    const round = { x: Math.round(raw.x / step) * step, y: Math.round(raw.y / step) * step };
    const found = sketches.curveUnder(sketch, x, y);
    const exact = found && this.exactOn(sketch, found.curve, places.at(-1)).find(near);
    if (exact) return { ...exact, word: `${found.curve.id}:${this.write(exact)}` };
    const centre = !found && this.centreUnder(sketch, near);
    const model = !found && (centre || this.onModel(sketch, x, y));
    if (model) return { ...model, word: this.write(model) };
    if (found && ["line", "circle", "arc"].includes(found.curve.kind)) return { ...found.at, word: `${found.curve.id}:${this.write(found.at)}`, what: `on the ${found.curve.kind}` };
    let what = "";
    const last = places.at(-1);
    if (last) {
      const at = sketches.toScreen(sketch, last.x, last.y);
      if (Math.abs(at.y - y) < NEAR) [round.y, what] = [last.y, "level"];
      else if (Math.abs(at.x - x) < NEAR) [round.x, what] = [last.x, "upright"];
    }
    return { ...round, word: this.write(round), what };
  }

  /** Places on a curve that are often meant: quarters of a round, where a line from the last place touches it or
   * meets it square.
   * @param {Sketch} sketch @param {any} curve @param {any} last */
  exactOn(sketch, curve, last) {
    const from = last && { x: last.x, y: last.y };
    if (curve.kind === "line" && from) {
      const [ax, ay, bx, by] = curve.lines[0];
      const t = ((from.x - ax) * (bx - ax) + (from.y - ay) * (by - ay)) / ((bx - ax) ** 2 + (by - ay) ** 2);
      return t > 0 && t < 1 ? [{ x: ax + t * (bx - ax), y: ay + t * (by - ay), what: "square to the line" }] : [];
    }
    if (!["circle", "arc"].includes(curve.kind)) return [];
    const [cx, cy] = sketch.points[curve.points[0]];
    const r = Math.hypot(curve.lines[0][0] - cx, curve.lines[0][1] - cy);
    const found = [[1, 0], [0, 1], [-1, 0], [0, -1]].map(([x, y]) => ({ x: cx + r * x, y: cy + r * y, what: "quarter" }));
    const far = from ? Math.hypot(from.x - cx, from.y - cy) : 0;
    if (far > r) {
      const towards = Math.atan2(from.y - cy, from.x - cx);
      for (const way of [1, -1]) {
        const angle = towards + way * Math.acos(r / far);
        found.push({ x: cx + r * Math.cos(angle), y: cy + r * Math.sin(angle), what: "tangent" });
      }
    }
    return found;
  }

  /** A corner of the model under the pointer, or the nearest place of an edge, dropped square on to the sketch.
   * @param {Sketch} sketch @param {number} x @param {number} y */
  onModel(sketch, x, y) {
    const { view } = this.bench;
    const found = onModel(view, x, y);
    if (found?.kind !== "vertex" && found?.kind !== "edge") return null;
    const { drawable, group } = view.places.get(found.node);
    const flat = sketch.matrix.clone().invert().multiply(group.matrix);
    const at = found.kind === "vertex" ? placeOf(drawable.shape.corners, 3 * found.index) : nearestOn(view, drawable.shape.edges[found.index], group.matrix, x, y);
    at.applyMatrix4(flat);
    const centre = found.kind === "edge" && centreOf(drawable.shape.edges[found.index])?.applyMatrix4(group.matrix);
    if (centre && !this.centres.some((c) => c.distanceTo(centre) < 1e-3)) this.centres = [...this.centres.slice(-7), centre];
    return { x: at.x, y: at.y, what: found.kind === "vertex" ? "corner of the model" : "edge of the model" };
  }

  /** The middle of a round edge that was passed over, dropped square on to the sketch.
   * @param {Sketch} sketch @param {any} near */
  centreUnder(sketch, near) {
    const flat = sketch.matrix.clone().invert();
    const found = this.centres.map((c) => c.clone().applyMatrix4(flat)).find(near);
    return found && { x: found.x, y: found.y, what: "centre of the edge" };
  }

  /** @param {any} place */
  write(place) {
    const unit = LENGTHS[this.bench.view.units];
    return [place.x, place.y].map((v) => Number((v / unit).toFixed(4))).join(",");
  }

  /** @param {number} x @param {number} y */
  move(x, y) {
    const found = this.snap(x, y);
    const changed = found?.word !== this.hover?.word;
    this.hover = found;
    this.draw();
    if (changed && this.value() !== null) this.bench.line.schedule();
  }

  /** @param {number} x @param {number} y */
  click(x, y) {
    const found = this.snap(x, y);
    if (!found) return;
    const words = [...this.words, found.word];
    sure(this.input).value = `${words.join(" ")} `; // what is typed next is a place of its own: 60x40, +40,0, 40<30
    sure(this.input).removeAttribute("aria-invalid");
    this.hover = null;
    this.draw();
    const { line } = this.bench;
    const [least, most] = this.counts;
    line.bench.pending(line.words());
    if ((most && words.length >= most - (this.sized ? 1 : 0)) || found.what === "closes") line.accept();
    else if (line.complete() && this.value() !== null) line.schedule();
    else line.facts(`<span class="fact">${least - words.length} more place${least - words.length === 1 ? "" : "s"}</span>`);
  }

  begin() {
    sure(this.input).focus({ preventScroll: true });
    this.bench.sketches.drawingIn = true;
    this.bench.mark();
  }

  end() {
    this.centres = [];
    this.forget();
    if (!this.bench.sketches.drawingIn) return;
    this.bench.sketches.drawingIn = false;
    this.bench.mark();
  }

  forget() {
    this.hover = null;
    this.draw();
  }

  /** The caught place and its name, and a line from the last one. */
  draw() {
    this.hint.replaceChildren();
    const { sketch } = this;
    if (!this.hover || !sketch || !this.input) return;
    const { sketches } = this.bench;
    const at = sketches.toScreen(sketch, this.hover.x, this.hover.y);
    const last = this.last().at(-1);
    if (last) {
      const from = sketches.toScreen(sketch, last.x, last.y);
      this.hint.append(make("line", { x1: from.x, y1: from.y, x2: at.x, y2: at.y }));
    }
    this.hint.append(make("circle", { cx: at.x, cy: at.y, r: 4.5 }));
    const length = last ? this.sizeFrom(last) : "";
    const words = [this.hover.what, length].filter(Boolean).join(" · ") || this.hover.word.replace(",", ", ");
    const text = make("text", { x: at.x + 10, y: at.y - 10 });
    text.textContent = words;
    this.hint.append(text);
  }

  /** How long what is drawn would be, or how wide and tall.
   * @param {{x: number, y: number}} last */
  sizeFrom(last) {
    /** @param {number} mm */
    const told = (mm) => String(Number((mm / LENGTHS[this.bench.view.units]).toFixed(3)));
    const [x, y] = [this.hover.x - last.x, this.hover.y - last.y];
    const shape = /** @type {HTMLSelectElement|null} */ (this.bench.line.opened.elements.namedItem("shape"))?.value;
    return shape === "rectangle" ? `${told(Math.abs(x))} × ${told(Math.abs(y))}` : told(Math.hypot(x, y));
  }

  /** The view leans where it looks square on to what is picked, so that matter growing towards the eye is seen. */
  lean() {
    const { camera } = this.bench.view;
    const { sketch } = this;
    if (!sketch) return;
    const normal = new Vector3().setFromMatrixColumn(sketch.matrix, 2);
    const towards = camera.direction();
    if (Math.abs(normal.dot(towards)) < LEANS) return;
    const side = new Vector3().setFromMatrixColumn(camera.lens.matrixWorld, 0);
    const up = new Vector3().setFromMatrixColumn(camera.lens.matrixWorld, 1);
    camera.lookFrom(towards.clone().addScaledVector(side, 0.45).addScaledVector(up, -0.75).normalize());
  }

  /** Turn the view square on to the sketch.
   * @param {Sketch} sketch */
  lookAt(sketch) {
    const { camera } = this.bench.view;
    camera.lookFlat(sketch.matrix);
    one("#view").dataset.sketch = sketch.id;
  }
}

/** @param {any} row @param {number} at */
function placeOf(row, at) {
  return new Vector3(row[at], row[at + 1], row[at + 2]);
}

/** The centre of the circle that a line of places runs along; null where it is not round.
 * @param {any} line */
function centreOf(line) {
  const count = line.length / 3;
  if (count < 5) return null;
  const [a, b, c] = [0, Math.floor(count / 3), Math.floor((2 * count) / 3)].map((k) => placeOf(line, 3 * k));
  const [u, v] = [b.clone().sub(a), c.clone().sub(a)];
  const w = u.clone().cross(v);
  const size = 2 * w.lengthSq();
  if (size < 1e-12) return null;
  const centre = w.clone().cross(u).multiplyScalar(v.lengthSq()).add(v.clone().cross(w).multiplyScalar(u.lengthSq())).divideScalar(size).add(a);
  const radius = centre.distanceTo(a);
  for (let k = 0; k < count; k++)
    if (Math.abs(centre.distanceTo(placeOf(line, 3 * k)) - radius) > 1e-4 * radius) return null;
  return centre;
}

/** The place of a line (x, y, z after one another) that is drawn nearest to a pixel.
 * @param {Viewer} view @param {any} line @param {any} matrix @param {number} x @param {number} y */
function nearestOn(view, line, matrix, x, y) {
  /** @type {{gap: number, at: any}|null} */
  let best = null;
  let a = placeOf(line, 0);
  let from = view.camera.project(a.clone().applyMatrix4(matrix));
  for (let i = 3; i < line.length; i += 3) {
    const b = placeOf(line, i);
    const to = view.camera.project(b.clone().applyMatrix4(matrix));
    const [dx, dy] = [to.x - from.x, to.y - from.y];
    const t = Math.max(0, Math.min(1, ((x - from.x) * dx + (y - from.y) * dy) / (dx * dx + dy * dy || 1)));
    const gap = Math.hypot(from.x + t * dx - x, from.y + t * dy - y);
    if (!best || gap < best.gap) best = { gap, at: a.clone().lerp(b, t) };
    [a, from] = [b, to];
  }
  return sure(best).at;
}

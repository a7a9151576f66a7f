// What the view lets the hand pull while a line is open, and the gaps of the sentence that go with it: a ruled wire or
// arc with the value in use, other directions or other lengths to take instead, and the walls where the knob stops.
import { ask, Refused } from "../api.js";
import { Vector3 } from "three";
import { LENGTHS } from "../view/lengths.js";
import { findById } from "../view/picking.js";

/** @typedef {{field: string, origin: number[], direction: number[], ghost: string[], arm: any, ways: Object<string, number[]>|null,
 *   choice: string, turn: string, set_on: string, beside: [string, number[]][]}} Pulled as core/operations/work.py has it */

export class Grips {
  /** @param {import("./line.js").Line} line */
  constructor(line) {
    this.line = line;
    /** @type {Pulled|null} */
    this.handle = null;
    /** @type {Object<string, number>} mm of the lengths beside the one in use */
    this.lengths = {};
  }

  get bench() {
    return this.line.bench;
  }

  /** The wire, or the arc where the handle turns. */
  get grip() {
    return this.handle?.arm ? this.bench.turning : this.bench.handle;
  }

  /** The handle in use. */
  get used() {
    if (!this.handle) throw new Error("there is no handle");
    return this.handle;
  }

  /** @param {string} name */
  input(name) {
    return /** @type {HTMLInputElement} */ (this.line.opened.elements.namedItem(name));
  }

  /** @param {number} turn of the line, which has just opened */
  open(turn) {
    const handle = JSON.parse(this.line.opened.dataset.handle || "{}");
    this.handle = handle.field ? handle : null;
    this.bench.placing.close();
    this.bench.lengths.close();
    if (!this.handle) return;
    this.lengths = Object.fromEntries(this.used.beside.map(([field]) => [field, lengthOf(this.input(field).value, this.bench.view.units) ?? 0]));
    this.stand(0);
    if (this.used.choice) this.openPlacing();
    this.followTyped(this.input(this.used.field).value);
    this.line.room.make(this.used.origin);
    this.findWalls(turn);
  }

  /** The wire through where the other lengths bring it.
   * @param {number} value mm or degrees */
  stand(value) {
    const { handle } = this;
    if (!handle) return;
    const origin = new Vector3(...handle.origin);
    for (const [field, way] of handle.beside) origin.addScaledVector(new Vector3(...way), this.lengths[field]);
    this.grip.open({ ...handle, origin: origin.toArray() }, value);
    if (handle.beside.length) this.bench.lengths.open(handle.beside);
  }

  /** Wires (and arcs, where it turns) of all directions, the one that the sentence names in use. */
  openPlacing() {
    const { turn, choice } = this.used;
    this.bench.placing.arc.value = (turn && degreesOf(this.input(turn).value)) || 0;
    this.bench.placing.open(this.handle, this.input(choice).value);
  }

  /** Another of its directions is in use, with the values as they are.
   * @param {string} choice */
  turnTo(choice) {
    this.used.direction = /** @type {any} */ (this.used.ways)[choice];
    this.stand(this.grip.value);
    this.followTyped(this.input(this.used.field).value);
    this.openPlacing();
    this.measureAgain();
  }

  /** One of the lengths beside takes the ruled wire.
   * @param {string} field */
  swapTo(field) {
    const handle = this.used;
    const row = handle.beside.find(([name]) => name === field);
    if (!row) return;
    const { [field]: value, ...rest } = this.lengths;
    this.lengths = { ...rest, [handle.field]: this.grip.value };
    /** @type {[string, number[]][]} */
    const beside = [...handle.beside.filter((b) => b !== row), [handle.field, handle.direction]];
    this.handle = { ...handle, field, direction: row[1], beside };
    this.stand(value);
    this.measureAgain();
  }

  measureAgain() {
    delete this.line.element.dataset.walls;
    this.findWalls(this.line.turn);
  }

  /** How far the knob goes: asked once the line stands, drawn when it is known.
   * @param {number} turn */
  async findWalls(turn) {
    const { line, bench } = this;
    const { field } = this.used;
    let walls;
    try {
      walls = (await ask(bench.url("limits"), { edit: line.opened.dataset.edit, values: line.values(), base: bench.base, field })).head;
    } catch (error) {
      if (error instanceof Refused) return; // the line tells the reason once a value is given
      throw error;
    }
    if (turn !== line.turn || this.handle?.field !== field) return;
    const scale = this.handle.arm ? 180 / Math.PI : 1;
    this.grip.walls = { low: walls.low === null ? null : walls.low * scale, high: walls.high === null ? null : walls.high * scale };
    this.grip.draw();
    this.tellWalls();
    line.element.dataset.walls = JSON.stringify(this.grip.walls);
  }

  /** In words beside the keys: where the knob stops. */
  tellWalls() {
    const { low, high } = this.grip.walls;
    const unit = this.bench.view.units;
    /** @param {number} v */
    const word = (v) => (this.used.arm ? `${Number(v.toFixed(1))}°` : `${Number((v / LENGTHS[unit]).toPrecision(4))} ${unit}`).replace("-", "−");
    const ends = [low, high].flatMap((v) => (v === null ? [] : [word(v)]));
    const place = this.line.element.querySelector("#line-walls");
    if (place) place.textContent = ends.length === 2 ? `from ${ends[0]} to ${ends[1]}` : high !== null ? `up to ${ends[0]}` : low !== null ? `down to ${ends[0]}` : "";
  }

  /** A gap was written in.
   * @param {HTMLInputElement} input */
  changed(input) {
    const { handle } = this;
    if (!handle) return;
    if (input.name === handle.field) this.followTyped(input.value);
    else if (input.name in this.lengths) this.setBeside(input.name, lengthOf(input.value, this.bench.view.units));
    if (handle.turn && handle.turn === input.name) this.bench.placing.setTurn(degreesOf(input.value) ?? 0);
    if (handle.choice && handle.choice === input.name) this.turnTo(input.value);
  }

  /** @param {string} field @param {number|null} mm */
  setBeside(field, mm) {
    if (mm === null || this.lengths[field] === mm) return;
    const { walls } = this.grip;
    this.lengths[field] = mm;
    this.stand(this.grip.value);
    this.grip.walls = walls;
  }

  /** Plain numbers move the knob at once; arithmetic waits for the server's reading.
   * @param {string} text */
  followTyped(text) {
    const value = this.used.arm ? degreesOf(text) : lengthOf(text, this.bench.view.units);
    if (value !== null) this.showValue(value);
  }

  /** @param {number} value */
  showValue(value) {
    this.grip.set(value);
    if (!this.used.arm) this.ghost(value);
  }

  /** What a preview read in the gaps.
   * @param {Object<string, number>|undefined} numbers */
  follow(numbers) {
    if (!this.handle || !numbers || this.grip.held) return;
    if (!this.handle.arm && numbers[this.handle.field] != null) this.showValue(numbers[this.handle.field]);
    for (const field of Object.keys(this.lengths)) this.setBeside(field, numbers[field] ?? null);
  }

  /** From the knob.
   * @param {number} value @param {boolean} done */
  slide(value, done) {
    const unit = this.bench.view.units;
    if (!this.used.arm) this.ghost(value);
    this.line.write(this.used.field, this.used.arm ? `${Number(value.toFixed(3))}°` : `${Number((value / LENGTHS[unit]).toFixed(4))} ${unit}`, done);
  }

  /** The matter added or taken, at once, while the exact shape is worked out.
   * @param {number} mm */
  ghost(mm) {
    const { view, still } = this.bench;
    if (!this.handle?.ghost.length) return; // the preview marks what is new by itself
    view.clearMarks("ghost");
    if (!mm) return;
    for (const id of this.handle.ghost) {
      const found = findById(still, id);
      if (!found) continue;
      const { drawable, group } = still.places.get(found.node);
      const normal = faceNormal(drawable.shape.faces[found.index]);
      const geometry = drawable.sweptGeometry([found.index], normal.multiplyScalar(mm));
      view.mark("ghost", mm > 0 ? view.materials.added : view.materials.removed, geometry, group.matrix);
    }
    view.draw();
  }

  close() {
    this.bench.handle.close();
    this.bench.turning.close();
    this.bench.placing.close();
    this.bench.lengths.close();
    this.handle = null;
    this.lengths = {};
  }
}

/** mm of a plain length; null for anything that the server has to read.
 * @param {string} text @param {string} unit of the model */
export function lengthOf(text, unit) {
  const match = text.trim().match(/^([-−+]?\d*\.?\d+)\s*(mm|cm|m|in|ft)?$/);
  return match && Number(match[1].replace("−", "-")) * LENGTHS[match[2] || unit];
}

/** A plain angle; null for anything that the server has to read.
 * @param {string} text */
export function degreesOf(text) {
  const match = text.trim().match(/^([-−+]?\d*\.?\d+)\s*(°|deg)?$/);
  return match && Number(match[1].replace("−", "-"));
}


/** @param {any} face */
function faceNormal(face) {
  return new Vector3(face.normals[0], face.normals[1], face.normals[2]).normalize();
}

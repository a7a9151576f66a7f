// Sizes of a sketch drawn as dimensions: lines out from what is held, a line between them, and the value on it.
import { LENGTHS } from "../../view/lengths.js";

const OFF = 24; // px from what is held to its dimension line
const OVER = 5; // px that lines run on beyond it

/** @typedef {{x: number, y: number}} Place on the screen */

/** Lines to draw and where the value stands, for a size between two places; `way` holds a distance across or upwards.
 * The dimension stands on the side away from `middle`, or through a place that is given.
 * @param {Place} a @param {Place} b @param {string} way
 * @param {Place} middle of the sketch @param {Place|null} [through] where its value stands */
export function dimension(a, b, way, middle, through = null) {
  const along = way === "across" ? { x: 1, y: 0 } : way === "upwards" ? { x: 0, y: 1 } : unit({ x: b.x - a.x, y: b.y - a.y });
  const square = { x: -along.y, y: along.x };
  /** @param {Place} p @param {Place} v */
  const at = (p, v) => p.x * v.x + p.y * v.y;
  const [far, near] = [Math.max(at(a, square), at(b, square)), Math.min(at(a, square), at(b, square))];
  const outward = through ? at(through, square) >= (far + near) / 2 : (far + near) / 2 >= at(middle, square);
  const level = through ? at(through, square) : outward ? far + OFF : near - OFF;
  /** @param {Place} p */
  const foot = (p) => ({ x: p.x + (level - at(p, square)) * square.x, y: p.y + (level - at(p, square)) * square.y });
  const side = outward ? 1 : -1;
  /** @param {Place} p */
  const over = (p) => ({ x: p.x + side * OVER * square.x, y: p.y + side * OVER * square.y });
  const [c, d] = [foot(a), foot(b)];
  /** @param {Place} p */
  const tick = (p) => [{ x: p.x - 4 * (along.x + square.x), y: p.y - 4 * (along.y + square.y) }, { x: p.x + 4 * (along.x + square.x), y: p.y + 4 * (along.y + square.y) }];
  /** @type {[Place, Place][]} */
  const lines = [[a, over(c)], [b, over(d)], [c, d]];
  if (!through) return { lines, ticks: [tick(c), tick(d)], at: { x: (c.x + d.x) / 2, y: (c.y + d.y) / 2 } };
  const beyond = [c, d].map((p) => at(p, along) - at(through, along));
  if (beyond[0] * beyond[1] > 0) lines.push([Math.abs(beyond[0]) < Math.abs(beyond[1]) ? c : d, through]);
  return { lines, ticks: [tick(c), tick(d)], at: { x: through.x, y: through.y } };
}

function unit(/** @type {any} */ { x, y }) {
  const size = Math.hypot(x, y);
  return size < 1e-9 ? { x: 1, y: 0 } : { x: x / size, y: y / size };
}

/** The two places in the sketch that a size lies between; null where it has none, as an angle.
 * @param {any} size @param {Sketch} sketch */
export function endsOf(size, sketch) {
  const curves = size.on.map((/** @type {string} */ id) => sketch.curves.find((/** @type {any} */ c) => c.id === id));
  const line = curves.find((/** @type {any} */ c) => c?.kind === "line")?.lines[0];
  if (size.kind === "length" && line) return [[line[0], line[1]], [line[2], line[3]]];
  if (size.kind === "off line" && line) {
    const point = size.on.map((/** @type {string | number} */ id) => sketch.points[id]).find(Boolean);
    return point ? [point, footOn(point, line)] : null;
  }
  if (["distance", "across", "upwards"].includes(size.kind) && size.at.length === 2) return size.at;
  if (size.kind === "lines apart" && curves[1]?.lines[0]) return [size.at[0], footOn(size.at[0], curves[1].lines[0])];
  return null;
}

function footOn(/** @type {any[]} */ [x, y], /** @type {any[]} */ [ax, ay, bx, by]) {
  const t = ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / ((bx - ax) ** 2 + (by - ay) ** 2 || 1);
  return [ax + t * (bx - ax), ay + t * (by - ay)];
}

/** @param {{kind: string, value: number}} size @param {string} units */
export function sizeWords(size, units) {
  if (size.kind === "angle") return `${Number(((size.value * 180) / Math.PI).toFixed(3))}°`;
  const mark = { radius: "R ", diameter: "Ø " }[size.kind] || "";
  return mark + Number((size.value / LENGTHS[units]).toFixed(4));
}

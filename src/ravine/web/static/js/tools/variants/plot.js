// One column over another: dots on ruled paper, in the order of the rows.
import { make } from "../../handles/knob.js";

const BOX = { left: 74, right: 546, top: 14, bottom: 256 };
const SAME = 1e-6; // of a value
const LINES = 5; // about, along each axis

/** Round steps between two ends: 1, 2 or 5 times a power of ten.
 * @param {number} low @param {number} high */
export function ticks(low, high) {
  if (!(high > low)) return [low];
  const rough = (high - low) / LINES;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = power * ([1, 2, 5, 10].find((m) => m * power >= rough) ?? 10);
  const first = Math.ceil(low / step - 1e-9);
  const last = Math.floor(high / step + 1e-9);
  return Array.from({ length: last - first + 1 }, (_, k) => Number(((first + k) * step).toPrecision(12)));
}

/** @param {number[]} values */
function ends(values) {
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const spread = high - low > Math.abs(high) * SAME ? high - low : Math.abs(high) || 1; // what only wavers is one value
  return [low - spread * 0.06, high + spread * 0.06];
}

/** @param {SVGElement} svg @param {(number|null)[]} across @param {(number|null)[]} up @param {string} acrossName @param {string} upName */
export function plot(svg, across, up, acrossName, upName) {
  svg.replaceChildren();
  const dots = across.map((x, k) => [x, up[k]]).filter(([x, y]) => x !== null && y !== null);
  if (!dots.length) return;
  const [x0, x1] = ends(dots.map(([x]) => /** @type {number} */ (x)));
  const [y0, y1] = ends(dots.map(([, y]) => /** @type {number} */ (y)));
  const px = (/** @type {number} */ x) => BOX.left + ((x - x0) / (x1 - x0)) * (BOX.right - BOX.left);
  const py = (/** @type {number} */ y) => BOX.bottom - ((y - y0) / (y1 - y0)) * (BOX.bottom - BOX.top);
  for (const x of ticks(x0, x1)) {
    make("path", { class: "rule", d: `M${px(x)} ${BOX.top}V${BOX.bottom}` }, svg);
    make("text", { x: px(x), y: BOX.bottom + 16, "text-anchor": "middle" }, svg).textContent = String(x);
  }
  for (const y of ticks(y0, y1)) {
    make("path", { class: "rule", d: `M${BOX.left} ${py(y)}H${BOX.right}` }, svg);
    make("text", { x: BOX.left - 6, y: py(y) + 4, "text-anchor": "end" }, svg).textContent = String(y);
  }
  make("text", { class: "name", x: BOX.right, y: BOX.bottom + 34, "text-anchor": "end" }, svg).textContent = acrossName;
  make("text", { class: "name", x: BOX.left - 66, y: BOX.top - 2 }, svg).textContent = upName;
  dots.forEach(([x, y], k) => {
    const at = { cx: px(/** @type {number} */ (x)), cy: py(/** @type {number} */ (y)) };
    make("title", {}, make("circle", { class: "dot", ...at, r: 4 }, svg)).textContent = `${k + 1}: ${x}, ${y}`;
  });
}

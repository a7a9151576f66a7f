// A small mark in the corner of the view: where the axes of the model point. A click looks along one.
import { Vector3 } from "three";
import { make } from "../handles/knob.js";

const SIZE = 26; // px of an axis that lies square to the eye
const AXES = [["X", new Vector3(1, 0, 0), "right"], ["Y", new Vector3(0, 1, 0), "back"], ["Z", new Vector3(0, 0, 1), "top"]];

/** Ends of the axes in the mark, x to the right and y down, with how near each is to the eye.
 * @param {import("./camera.js").Camera} camera @returns {{name: string, look: string, x: number, y: number, near: number}[]} */
export function ends(camera) {
  const [right, up] = [0, 1].map((k) => new Vector3().setFromMatrixColumn(camera.lens.matrixWorld, k));
  const eye = camera.direction();
  return AXES.map(([name, way, look]) => {
    const axis = /** @type {Vector3} */ (way);
    return { name: String(name), look: String(look), x: axis.dot(right) * SIZE, y: -axis.dot(up) * SIZE, near: axis.dot(eye) };
  });
}

/** @param {Element} place an SVG @param {import("./camera.js").Camera} camera */
export function drawAxes(place, camera) {
  place.replaceChildren();
  for (const { name, look, x, y, near } of ends(camera).sort((a, b) => a.near - b.near)) {
    const one = make("g", { class: `axis${near < -0.02 ? " away" : ""}`, "data-look": look, role: "button", tabindex: 0, "aria-label": `Look along ${name}` }, place);
    make("line", { x1: 0, y1: 0, x2: x, y2: y }, one);
    const long = Math.hypot(x, y) || 1;
    make("circle", { class: "axis-reach", cx: x, cy: y, r: 11 }, one);
    make("text", { x: x + (x / long) * 8 * Math.min(1, long / 8), y: y + (y / long) * 8 * Math.min(1, long / 8) + 3.5 }, one).textContent = name;
  }
  make("circle", { class: "axis-origin", r: 2 }, place);
}

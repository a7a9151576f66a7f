// Thin wires for the lengths of a handle that are not in use, from where its knob stands: a knob takes one over.
import { Vector3 } from "three";
import { make } from "./knob.js";

const WIRE = 76; // px

export class Lengths {
  /** @param {SVGElement} layer @param {import("../workbench.js").Workbench} bench */
  constructor(layer, bench) {
    this.layer = layer;
    this.bench = bench;
    /** @type {[string, number[]][]} field and direction of each */
    this.rows = [];
  }

  /** @param {[string, number[]][]} rows */
  open(rows) {
    this.rows = rows;
    this.draw();
  }

  close() {
    this.rows = [];
    this.layer.replaceChildren();
  }

  draw() {
    const { handle, view } = this.bench;
    const held = document.activeElement?.getAttribute("data-length");
    const focus = held && this.layer.contains(document.activeElement);
    this.layer.replaceChildren();
    if (!this.rows.length || !handle.at) return;
    const { camera, canvas } = view;
    const from = handle.placed.origin.clone().addScaledVector(handle.placed.direction, handle.value);
    const start = camera.project(from);
    for (const [field, way] of this.rows) {
      const tip = camera.project(from.clone().addScaledVector(new Vector3(...way), (WIRE * camera.span) / canvas.clientHeight));
      if (Math.hypot(tip.x - start.x, tip.y - start.y) < 14) continue; // it looks at the eye
      make("line", { class: "wire thin", x1: start.x, y1: start.y, x2: tip.x, y2: tip.y }, this.layer);
      const reach = make("circle", { class: "knob-reach", cx: tip.x, cy: tip.y, r: 12 }, this.layer);
      const knob = make("circle", { class: "knob small", cx: tip.x, cy: tip.y, r: 5, tabindex: 0, role: "button", "aria-label": `Slide ${field}`, "data-length": field }, this.layer);
      make("text", { class: "tick-text wire-name", x: tip.x + 9, y: tip.y - 7 }, this.layer).textContent = field;
      for (const part of [reach, knob]) part.addEventListener("pointerdown", (event) => this.take(field, /** @type {PointerEvent} */ (event)));
      knob.addEventListener("keydown", (event) => {
        const { key } = /** @type {KeyboardEvent} */ (event);
        if (key === "Enter" || key === " ") this.take(field, event);
      });
      if (focus && held === field) /** @type {any} */ (knob).focus();
    }
  }

  /** @param {string} field @param {Event} event */
  take(field, event) {
    event.preventDefault();
    event.stopPropagation();
    this.bench.line.grips.swapTo(field);
    if (event instanceof PointerEvent) this.bench.handle.grab(event);
  }
}

// Pieces that an edit leaves: numbered in the view while its line is open; a click says which are dropped.
import { sure } from "../dom.js";
import { Box3, Vector3 } from "three";
import { make } from "../handles/knob.js";
import { faceUnder } from "../view/picking.js";

export class Pieces {
  /** @param {import("../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    /** @type {any[]} */
    this.list = []; // { node, number, dropped }
    this.tags = make("g", { class: "piece-tags" });
    sure(bench.sketches.labels.parentNode).append(this.tags);
  }

  get input() {
    return /** @type {HTMLInputElement|null} */ (this.bench.line.form?.querySelector(".field-pieces") || null);
  }

  /** @param {{node: string, number: number, dropped: boolean}[]} list */
  show(list) {
    this.list = list || [];
    const { view } = this.bench;
    for (const piece of this.list.filter((p) => p.dropped)) {
      const place = view.places.get(piece.node);
      if (place) view.mark("ghost", view.materials.removed, place.drawable.triangles.clone(), place.group.matrix);
    }
    this.draw();
  }

  /** With every frame. */
  draw() {
    const { view } = this.bench;
    const rows = [];
    for (const piece of this.input ? this.list : []) {
      const place = view.places.get(piece.node);
      if (!place) continue;
      const box = new Box3().setFromBufferAttribute(place.drawable.triangles.getAttribute("position")).applyMatrix4(place.group.matrix);
      const at = view.camera.project(box.getCenter(new Vector3()));
      const tag = make("g", { class: `piece-tag${piece.dropped ? " dropped" : ""}`, transform: `translate(${at.x.toFixed(1)} ${at.y.toFixed(1)})` });
      const text = make("text", { y: 4 });
      text.textContent = piece.dropped ? `${piece.number} goes` : String(piece.number);
      const wide = 14 + 7 * text.textContent.length;
      tag.append(make("rect", { x: -wide / 2, y: -10, width: wide, height: 20, rx: 3 }), text);
      rows.push(tag);
    }
    this.tags.replaceChildren(...rows);
  }

  /** @returns {boolean} whether the click was on a piece, which it drops or brings back @param {number} x @param {number} y */
  click(x, y) {
    if (!this.input || !this.list.length || this.bench.line.armed) return false;
    const node = faceUnder(this.bench.view, x, y)?.node;
    const piece = this.list.find((p) => p.node === node);
    if (!piece) return false;
    const dropped = new Set(this.input.value.split(/[\s,]+/).filter(Boolean).map(Number));
    if (!dropped.delete(piece.number)) dropped.add(piece.number);
    this.input.value = [...dropped].sort((a, b) => a - b).join(" ");
    this.input.dispatchEvent(new Event("input", { bubbles: true }));
    return true;
  }
}

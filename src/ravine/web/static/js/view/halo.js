// Picked edges and corners in a wide line on a pale halo, so that they stand out on any colour, before everything.
import { Vector3 } from "three";
import { make } from "../handles/knob.js";

const MOST = 4000; // places of lines that are drawn so; beyond that the thin lines of the view have to do

export class Halo {
  /** @param {SVGElement} layer @param {import("./view.js").View} view */
  constructor(layer, view) {
    this.layer = layer;
    this.view = view;
    /** @type {any[]} */
    this.things = [];
  }

  /** @param {any[]} picked */
  show(picked) {
    this.things = picked.filter((thing) => thing.kind === "edge" || thing.kind === "vertex");
    this.draw();
  }

  draw() {
    this.layer.replaceChildren();
    let count = 0;
    for (const { kind, node, index } of this.things) {
      const place = this.view.places.get(node);
      if (!place?.group.visible || count > MOST) continue;
      const { edges, corners } = place.drawable.shape;
      const row = kind === "edge" ? edges[index] : corners.slice(3 * index, 3 * index + 3);
      const spots = [];
      for (let i = 0; i < row.length; i += 3) {
        const { x, y } = this.view.camera.project(new Vector3(row[i], row[i + 1], row[i + 2]).applyMatrix4(place.group.matrix));
        spots.push(`${x.toFixed(1)},${y.toFixed(1)}`);
      }
      count += spots.length;
      if (!spots.length) continue;
      for (const part of ["halo", "core"]) {
        if (kind === "edge") make("polyline", { class: `picked-${part}`, points: spots.join(" ") }, this.layer);
        else make("circle", { class: `picked-dot ${part}`, cx: spots[0].split(",")[0], cy: spots[0].split(",")[1], r: part === "halo" ? 6.5 : 4.5 }, this.layer);
      }
    }
  }
}

// Parts drawn apart from the middle of the model, as far as the slider says: to look at, nothing is moved.
import { Box3, Vector3 } from "three";
import { one } from "../dom.js";
import { placement } from "./view.js";

export class Explode {
  /** @param {import("../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.share = 0;
    this.slider = /** @type {HTMLInputElement} */ (one("#apart"));
    this.slider.addEventListener("input", () => this.set(Number(this.slider.value) / 100));
  }

  /** @param {number} share of the way from the middle by which parts go further out; 0 is where they stand */
  set(share) {
    if (share && this.bench.line.isOpen) {
      this.bench.say("Leave the line first: edits show where parts really stand");
      share = 0;
    }
    this.share = share;
    this.slider.value = String(100 * share);
    this.lay();
    this.bench.pick(this.bench.picked); // its marks go along
  }

  /** After the view was shown anew. */
  lay() {
    const { view } = this.bench;
    const places = [...view.places.values()];
    /** @param {any} place */
    const middleOf = (place) => place.drawable.triangles.boundingBox.getCenter(new Vector3()).applyMatrix4(placement(place.node.matrix));
    const whole = new Box3().setFromPoints(places.map(middleOf)).getCenter(new Vector3());
    for (const place of places) {
      const step = middleOf(place).sub(whole).multiplyScalar(this.share);
      place.group.matrix.copy(placement(place.node.matrix)).premultiply(placement([1, 0, 0, step.x, 0, 1, 0, step.y, 0, 0, 1, step.z]));
      place.group.updateMatrixWorld(true);
    }
    view.crowd.lay();
    view.relock();
    view.draw();
  }

  /** Back together, before anything is edited or cut. */
  leave() {
    if (this.share) this.set(0);
  }
}

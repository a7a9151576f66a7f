// While the line is open, what is edited stays in sight: the view goes up where the line would lie over it, and back
// again afterwards, unless the person has looked elsewhere meanwhile.
import { Vector3 } from "three";

export class Room {
  /** @param {Bench} bench @param {HTMLElement} line */
  constructor(bench, line) {
    this.bench = bench;
    this.line = line;
    /** @type {{before: any, after: any}|null} where the eye looked */
    this.slid = null;
  }

  /** The view goes up where the line would lie over the handle or what is picked, as far as that stays in sight.
   * @param {number[]|null} origin of the handle, where there is one */
  make(origin) {
    const { camera, canvas } = this.bench.view;
    const box = this.bench.view.extentOf(this.bench.picked);
    const places = [...(origin ? [new Vector3(...origin)] : []), ...(box ? corners(box) : [])];
    if (!places.length) return;
    const spots = places.map((p) => camera.project(p).y);
    const room = canvas.clientHeight - this.line.offsetHeight - 40;
    const over = Math.max(...spots) - room;
    const above = Math.min(...spots) - 20;
    if (over <= 0 || over >= canvas.clientHeight) return;
    const before = this.slid?.before ?? camera.target.clone();
    camera.pan(0, -Math.max(Math.min(over, above), Math.min(over, spots[0] - room)));
    this.slid = { before, after: camera.target.clone() };
  }

  giveBack() {
    const { camera } = this.bench.view;
    if (this.slid && camera.target.distanceTo(this.slid.after) < 1e-9) {
      camera.target.copy(this.slid.before);
      camera.apply();
    }
    this.slid = null;
  }
}

/** @param {import("three").Box3} box */
function corners({ min, max }) {
  return [0, 1, 2, 3, 4, 5, 6, 7].map((k) => new Vector3(k & 1 ? max.x : min.x, k & 2 ? max.y : min.y, k & 4 ? max.z : min.z));
}

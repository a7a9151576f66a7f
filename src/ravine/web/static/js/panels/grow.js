// The pick made wider or narrower by its neighbours, turned round, or as it was before.
import { getJson } from "../api.js";
import { findAgain } from "../view/picking.js";

const MOST = 50; // picks that are remembered

/** Faces beside each face of a shape.
 * @param {any} shape */
function neighbours(shape) {
  const owners = new Map();
  shape.rims.forEach((/** @type {any} */ rim, /** @type {any} */ face) => rim.forEach((/** @type {any} */ edge) => owners.set(edge, [...(owners.get(edge) || []), face])));
  return shape.rims.map((/** @type {any} */ rim, /** @type {any} */ face) => [...new Set(rim.flatMap((/** @type {any} */ edge) => owners.get(edge)))].filter((other) => other !== face));
}

export class Growing {
  /** @param {import("../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    /** @type {string[][]} */
    this.past = [];
    /** @type {{picks: string[][], at: number}|null} the loops of the edge picked last */
    this.loops = null;
  }

  /** Remember what was picked before a new pick.
   * @param {string[]} ids */
  keep(ids) {
    if (!ids.length || this.past.at(-1)?.join() === ids.join()) return;
    this.past.push(ids);
    if (this.past.length > MOST) this.past.shift();
  }

  /** @param {"grow"|"shrink"|"invert"|"previous"} way */
  do(way) {
    if (way === "previous") this.previous();
    else if (!this.bench.picked.length || this.bench.picked.some((p) => p.kind !== "face")) this.bench.say("Pick one face or more first");
    else this.bench.pick(this.changed(way));
  }

  /** @param {string} way */
  changed(way) {
    /** @type {any[]} */
    const found = [];
    const nodes = new Set(this.bench.picked.map((p) => p.node));
    for (const node of nodes) {
      const place = this.bench.view.places.get(node);
      if (!place) continue;
      const chosen = new Set(this.bench.picked.filter((p) => p.node === node).map((p) => p.index));
      const beside = neighbours(place.drawable.shape);
      beside.forEach((/** @type {any} */ row, /** @type {string | number} */ index) => {
        const is = chosen.has(index);
        const takes = way === "invert" ? !is : way === "grow" ? is || row.some((/** @type {any} */ f) => chosen.has(f)) : is && row.every((/** @type {any} */ f) => chosen.has(f));
        if (takes) found.push({ kind: "face", node, index, id: `f${place.body.faces[index]}` });
      });
    }
    return found;
  }

  /** The loop of an edge (once more: the loop on its other side), a tangent run, the chain between two.
   * @param {"loop"|"run"|"chain"} way */
  async along(way) {
    const { bench } = this;
    const ids = bench.pickIds();
    if (way === "loop" && this.loops && this.loops.picks[this.loops.at].join() === ids.join()) {
      this.loops.at = (this.loops.at + 1) % this.loops.picks.length;
      this.take(this.loops.picks[this.loops.at]);
      return;
    }
    const found = await bench.trying(() => getJson(bench.url("grow"), { picked: ids, way }));
    if (!found) return;
    const { picks } = found;
    this.loops = way === "loop" ? { picks, at: 0 } : null;
    this.take(picks[0]);
  }

  /** @param {string[]} ids */
  take(ids) {
    const { node } = this.bench.picked[0] ?? {};
    this.bench.pick(ids.map((/** @type {string} */ id) => findAgain(this.bench.view, id.includes("@") ? { id } : { id, node })).filter(Boolean));
  }

  previous() {
    const ids = this.past.pop();
    if (!ids) {
      this.bench.say("There was no pick before this one");
      return;
    }
    this.take(ids);
    this.past.pop(); // what was just left
  }
}

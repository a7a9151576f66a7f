// What is looked at from near is drawn finer: its triangles are asked for once the view rests, and kept while it is shown.
import { getBuffer } from "../api.js";
import { readPacket } from "../view/packets.js";

const NEAR = 0.4; // of a body's size that the view is high, below which its facets could be seen
const MOST = 1500; // faces of a body that is drawn finer

/** Bodies that are near and still drawn as from afar.
 * @param {import("../workbench.js").Workbench} bench @returns {any[]} */
export function coarse(bench) {
  const { camera, places } = bench.view;
  const found = new Map();
  for (const { drawable, group, body } of places.values()) {
    if (!group.visible || body.kind === "mesh" || body.faces.length > MOST || bench.fine.has(body.shape) || !bench.shapes.has(body.shape)) continue;
    if (camera.span < NEAR * 2 * drawable.triangles.boundingSphere.radius) found.set(body.shape, body);
  }
  return [...found.values()];
}

/** @param {import("../workbench.js").Workbench} bench */
export function listen(bench) {
  let busy = false;
  bench.view.atRest = async () => {
    if (busy || bench.previewing || bench.line.isOpen) return;
    busy = true;
    try {
      await refine(bench);
    } finally {
      busy = false;
    }
  };
}

/** @param {import("../workbench.js").Workbench} bench */
async function refine(bench) {
  for (const body of coarse(bench)) {
    const asked = bench.base;
    const data = await bench.trying(() => getBuffer(`${bench.url("mesh")}/${body.id}`, { revision: asked, shape: body.shape, fine: "yes" }));
    if (!data) return;
    bench.fine.set(body.shape, readPacket(data, null));
    if (bench.base === asked && !bench.previewing) bench.redrawn(body);
  }
}

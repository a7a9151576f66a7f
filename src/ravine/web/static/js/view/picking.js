// What lies under the pointer: a corner within 7 px, else an edge within 5 px, else the face.
import { Matrix4, Ray, Vector3 } from "three";

const EDGE_REACH = 5;
const CORNER_REACH = 7;
const BESIDE = [[4, 0], [-4, 0], [0, 4], [0, -4]]; // px

/** @typedef {{kind: string, node: string, index: number, id: string, point: any, distance: number, facet?: number}} Found */

/** Nearest face along the ray.
 * @param {import("./view.js").View} view @returns {Found|null} @param {number} x @param {number} y */
export function faceUnder(view, x, y) {
  const { ray } = view.camera.ray(x, y);
  const reach = view.section?.reach(ray) || [0, Infinity];
  /** @type {Found|null} */
  let best = null;
  for (const [node, place] of view.places) {
    if (!place.group.visible) continue;
    const inverse = new Matrix4().copy(place.group.matrix).invert();
    const local = new Ray().copy(ray).applyMatrix4(inverse);
    const hit = place.drawable.tree.raycastFirst(local, 2, ...reach);
    if (!hit) continue;
    const point = hit.point.clone().applyMatrix4(place.group.matrix);
    const distance = point.distanceTo(ray.origin);
    if (!best || distance < best.distance) {
      const index = place.drawable.faceOf(hit.faceIndex);
      const facet = place.body.kind === "mesh" ? hit.faceIndex - place.drawable.firstIndex[index] / 3 : undefined;
      best = { kind: "face", node, index, id: `f${place.body.faces[index]}`, point, distance, facet };
    }
  }
  return best;
}

const WIDE = 16; // px around an edge or corner while nothing else is taken

/** @param {import("./view.js").View} view @returns {any} @param {number} x @param {number} y */
export function under(view, x, y) {
  const face = faceUnder(view, x, y);
  if (view.only === "face") return face;
  if (view.only === "node") return face && { ...face, kind: "node", index: 0, id: face.node };
  if (view.only) {
    const border = face && nearBorder(view, face, x, y, view.only === "edge" ? WIDE : EDGE_REACH, view.only === "vertex" ? WIDE : 0);
    return border?.kind === view.only ? border : null;
  }
  const drawn = view.sketches?.under(x, y, face ? face.distance : Infinity);
  return drawn || view.section?.under(x, y, face) || borderOr(view, face, x, y);
}

/** A corner or edge of the model under the pointer, else its face, whatever is sketched there.
 * @param {Viewer} view @param {number} x @param {number} y */
export function onModel(view, x, y) {
  const face = faceUnder(view, x, y);
  return view.section?.under(x, y, face) || borderOr(view, face, x, y);
}

/** A corner or edge of this face, or of one in front of it that ends just beside the pointer; else the face.
 * @param {Viewer} view @param {any} face @param {number} x @param {number} y */
function borderOr(view, face, x, y) {
  const here = face && nearBorder(view, face, x, y);
  if (here && here.kind !== "face") return here;
  for (const [dx, dy] of BESIDE) {
    const other = faceUnder(view, x + dx, y + dy);
    if (!other || (face && (other.id === face.id || other.distance > face.distance))) continue;
    const border = nearBorder(view, other, x, y);
    if (border.kind !== "face") return border;
  }
  return here;
}

/** @param {Viewer} view @param {any} face @param {number} x @param {number} y */
function nearBorder(view, face, x, y, reach = EDGE_REACH, corner = CORNER_REACH) {
  const place = view.places.get(face.node);
  const { shape } = place.drawable;
  const matrix = place.group.matrix;
  const rim = shape.rims[face.index] || [];
  let best = null;
  /** @param {any} line @param {number} i */
  const toScreen = (line, i) => view.camera.project(new Vector3(line[i], line[i + 1], line[i + 2]).applyMatrix4(matrix));
  /** @param {any} line @param {number} i @param {number} j @param {number} t */
  const away = (line, i, j, t) => view.section?.removed(new Vector3(line[i] + t * (line[j] - line[i]), line[i + 1] + t * (line[j + 1] - line[i + 1]), line[i + 2] + t * (line[j + 2] - line[i + 2])).applyMatrix4(matrix));
  for (const e of rim) {
    const line = shape.edges[e];
    if (line.length < 6) continue;
    let a = toScreen(line, 0);
    for (let i = 3; i < line.length; i += 3) {
      const b = toScreen(line, i);
      const dx = b.x - a.x;
      const dy = b.y - a.y;
      const t = Math.max(0, Math.min(1, ((x - a.x) * dx + (y - a.y) * dy) / (dx * dx + dy * dy || 1)));
      const gap = Math.hypot(a.x + t * dx - x, a.y + t * dy - y);
      if (gap < Math.max(reach, corner) && (!best || gap < best.gap) && !away(line, i - 3, i, t)) best = { gap, e };
      a = b;
    }
  }
  if (!best) return face;
  const line = shape.edges[best.e];
  for (const at of [0, line.length - 3]) {
    const p = toScreen(line, at);
    if (away(line, at, at, 0)) continue;
    if (Math.hypot(p.x - x, p.y - y) < corner) {
      const index = cornerAt(shape, line, at);
      if (index >= 0) return { ...face, kind: "vertex", index, id: `v${place.body.vertices[index]}` };
    }
  }
  return { ...face, kind: "edge", index: best.e, id: `e${place.body.edges[best.e]}` };
}

/** @param {any} shape @param {any} line @param {number} at */
function cornerAt(shape, line, at) {
  for (let i = 0; i < shape.corners.length; i += 3)
    if (Math.abs(shape.corners[i] - line[at]) + Math.abs(shape.corners[i + 1] - line[at + 1]) + Math.abs(shape.corners[i + 2] - line[at + 2]) < 1e-3)
      return i / 3;
  return -1;
}

/** A pixel where a face is seen: the middle of one of its triangles that nothing hides.
 * @param {import("./view.js").View} view
 * @param {string} node @param {number} index of the face @param {(x: number, y: number) => boolean} takes */
export function seenAt(view, node, index, takes) {
  const place = view.places.get(node);
  const mesh = place.drawable.shape.faces[index];
  const spot = new Vector3();
  for (let t = 0; t < mesh.triangles.length; t += 3) {
    spot.set(0, 0, 0);
    for (let k = 0; k < 3; k++) {
      const i = 3 * mesh.triangles[t + k];
      spot.add({ x: mesh.points[i] / 3, y: mesh.points[i + 1] / 3, z: mesh.points[i + 2] / 3 });
    }
    const { x, y } = view.camera.project(spot.applyMatrix4(place.group.matrix));
    if (!takes(x, y)) continue;
    const hit = under(view, x, y);
    if (hit?.kind === "face" && hit.index === index && hit.node === node) return [x, y];
  }
  return null;
}

/** @typedef {{places: Map<string, any>, sketches?: any}} Shown what is looked in */

/** A thing that was picked before, in the place it was picked in where it is still there.
 * @param {Shown} view @param {{id: string, node?: string}} thing */
export function findAgain(view, { id, node }) {
  return (node && node !== id && findById(view, `${id}@${node}`)) || findById(view, id);
}

/** The thing with an id, where it is shown (first, unless its place is named: f12@n3).
 * @param {Shown} view @param {string} text */
export function findById(view, text) {
  const [id, at] = text.split("@");
  if ("spcra".includes(id[0])) return view.sketches?.find(id) || null;
  const kind = { f: "face", e: "edge", v: "vertex", n: "node" }[id[0]];
  if (kind === "node") return view.places.has(id) ? { kind, node: id, index: 0, id } : null;
  const list = /** @type {Table<string>} */ ({ face: "faces", edge: "edges", vertex: "vertices" })[kind ?? ""];
  if (!list) return null;
  for (const [node, place] of view.places) {
    if (at && node !== at) continue;
    const index = place.body[list].indexOf(Number(id.slice(1)));
    if (index >= 0) return { kind, node, index, id };
  }
  return null;
}

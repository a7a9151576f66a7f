// The binary layouts the server speaks (see web/container.py and core/view/packet.py).
import { sure } from "../dom.js";

const decoder = new TextDecoder();

/** @param {ArrayBuffer} buffer @param {string} magic */
function readHead(buffer, magic) {
  const bytes = new Uint8Array(buffer);
  if (decoder.decode(bytes.subarray(0, 4)) !== magic) throw new Error("the server sent something unexpected");
  const length = new DataView(buffer).getUint32(4, true);
  return { head: JSON.parse(decoder.decode(bytes.subarray(8, 8 + length))), at: 8 + length };
}

/** A container: its head and blobs.
 * @param {ArrayBuffer} buffer */
export function readContainer(buffer) {
  const { head, at } = readHead(buffer, "RVE1");
  const blobs = [];
  let place = at;
  for (const length of head.blobs) {
    blobs.push(buffer.slice(place, place + length));
    place += length + ((4 - (length % 4)) % 4);
  }
  return { head, blobs };
}

/** A map over a surface (see core/maps/body_map.py).
 * @param {ArrayBuffer} buffer */
export function readMap(buffer) {
  const { head, at } = readHead(buffer, "RVM1");
  /** @param {number} from @param {number} count */
  const row = (from, count) => new Float32Array(buffer, at + 4 * from * head.count, count * head.count);
  return { head, corners: row(0, 9), values: row(9, 1), normals: head.normals ? row(10, 9) : null };
}

/** An answer that comes with its progress (see web/streamed.py). Leaving it stops the work.
 * @param {Response} answer @param {(share: number, words: string) => void} told
 * @param {(reason: string) => Error} refusal @returns {Promise<ArrayBuffer>} */
export async function readStreamed(answer, told, refusal) {
  const reader = sure(answer.body).getReader();
  let rest = new Uint8Array(0);
  for (;;) {
    while (rest.length >= 4) {
      const size = new DataView(rest.buffer, rest.byteOffset).getUint32(0, true);
      if (rest.length < 4 + size) break;
      const frame = rest.slice(4, 4 + size);
      rest = rest.subarray(4 + size);
      if (frame[0] !== 123) return frame.buffer;
      const said = JSON.parse(new TextDecoder().decode(frame));
      if (said.error) throw refusal(said.error);
      told(said.share, said.words);
    }
    const { done, value } = await reader.read();
    if (done) throw refusal("the answer broke off; try again");
    const joined = new Uint8Array(rest.length + value.length);
    joined.set(rest);
    joined.set(value, rest.length);
    rest = joined;
  }
}

/** What a section cuts (see core/section/cut.py).
 * @param {ArrayBuffer} buffer @returns {import("./cut.js").CutData} */
export function readCut(buffer) {
  const { head, at } = readHead(buffer, "RVC1");
  let place = at;
  /** @param {any} Type @param {number} count */
  const take = (Type, count) => {
    const found = new Type(buffer, place, count);
    place += found.byteLength;
    return found;
  };
  const parts = head.parts.map((/** @type {any} */ part) => {
    const total = part.rings.reduce((/** @type {any} */ n, /** @type {any[]} */ [count]) => n + count, 0);
    let from = 0;
    const rings = part.rings.map((/** @type {any[]} */ [count, closed]) => {
      const ring = { from, count, closed: Boolean(closed) };
      from += count;
      return ring;
    });
    return { node: part.node, rings, places: take(Float32Array, 2 * total), faces: take(Uint32Array, total), triangles: take(Uint32Array, 3 * part.triangles) };
  });
  return { plane: head.plane, parts };
}

/** The surface of a simulated mesh with what is shown over it (see core/simulate/packed.py).
 * @param {ArrayBuffer} buffer @returns {Simulated} */
export function readSimulated(buffer) {
  const { head, at } = readHead(buffer, "RVS1");
  let place = at;
  /** @param {any} Type @param {number} count */
  const take = (Type, count) => {
    const found = new Type(buffer, place, count);
    place += found.byteLength;
    return found;
  };
  const points = take(Float32Array, 3 * head.points);
  const triangles = take(Uint32Array, 3 * head.triangles);
  const moved = take(Float32Array, 3 * head.points);
  /** @type {Object<string, Float32Array>} */
  const fields = {};
  for (const name of head.fields) fields[name] = take(Float32Array, head.points);
  const [corners, tets] = [head.corners ?? 0, head.tets ?? 0]; // results kept by an earlier version have none
  const inside = { points: take(Float32Array, 3 * corners), moved: take(Float32Array, 3 * corners) };
  /** @type {Object<string, Float32Array>} */
  const figures = {};
  for (const name of head.fields) figures[name] = take(Float32Array, corners);
  return { head, points, triangles, moved, fields, within: { ...inside, fields: figures, tets: take(Uint32Array, 4 * tets) } };
}

/** Faces, edges and corners of one shape. With a base, unchanged faces are taken from it.
 * @param {ArrayBuffer} buffer @param {Shape|null} base @returns {Shape} */
export function readPacket(buffer, base) {
  const { head, at } = readHead(buffer, "RVP1");
  let place = at;
  /** @param {any} Type @param {number} count */
  const take = (Type, count) => {
    const found = new Type(buffer, place, count);
    place += found.byteLength;
    return found;
  };
  const fresh = head.faces.filter((/** @type {any} */ f) => typeof f !== "number");
  const points = fresh.map((/** @type {any[]} */ [n]) => take(Float32Array, 3 * n));
  const normals = fresh.map((/** @type {any[]} */ [n]) => take(Int8Array, 4 * n));
  const triangles = fresh.map((/** @type {any[]} */ [, m]) => take(Uint32Array, 3 * m));
  let next = 0;
  const faces = head.faces.map((/** @type {string | number} */ f) => {
    if (typeof f === "number") return /** @type {Shape} */ (base).faces[f];
    const i = next++;
    return { points: points[i], normals: normals[i], triangles: triangles[i] };
  });
  const edges = head.edges.map((/** @type {any} */ e) => (typeof e === "number" ? /** @type {Shape} */ (base).edges[e] : take(Float32Array, 3 * e[0])));
  const corners = take(Float32Array, 3 * head.corners);
  return { faces, edges, corners, rims: head.rims };
}

/** @typedef {{head: any, points: Float32Array, triangles: Uint32Array, moved: Float32Array, fields: Object<string, Float32Array>, within: import("./slice.js").Within & {fields: Object<string, Float32Array>}}} Simulated */
/** @typedef {{points: Float32Array, normals: Int8Array, triangles: Uint32Array}} FaceMesh
 *  @typedef {{faces: FaceMesh[], edges: Float32Array[], corners: Float32Array, rims: number[][]}} Shape */

// Which edges are soft: the faces beside them meet without a kink, as where a round runs out into a wall.

const KINK = Math.cos((4 * Math.PI) / 180); // of normals that come in steps of half a degree

/** @param {import("./packets.js").Shape} shape @returns {Uint8Array} one for each edge: 1 where it is soft */
export function softEdges(shape) {
  /** @type {number[][]} */
  const beside = shape.edges.map(() => []);
  shape.rims.forEach((rim, face) => rim.forEach((edge) => beside[edge].push(face)));
  /** @type {Map<number, Map<string, number>>} */
  const known = new Map();
  /** @param {number} face */
  const places = (face) => {
    let found = known.get(face);
    if (!found) {
      const { points } = shape.faces[face];
      found = new Map();
      for (let i = 0; i < points.length; i += 3) found.set(key(points, i), i / 3);
      known.set(face, found);
    }
    return found;
  };
  return Uint8Array.from(shape.edges, (line, edge) => {
    const faces = beside[edge];
    if (faces.length !== 2 || line.length < 6) return 0;
    if (faces[0] === faces[1]) return 1; // the seam of a round face
    const at = 3 * Math.floor(line.length / 6);
    const [a, b] = faces.map((face) => normalAt(shape.faces[face], places(face).get(key(line, at))));
    return a && b && a[0] * b[0] + a[1] * b[1] + a[2] * b[2] > KINK ? 1 : 0;
  });
}

/** @param {any} row @param {number} i */
const key = (row, i) => `${row[i].toFixed(3)} ${row[i + 1].toFixed(3)} ${row[i + 2].toFixed(3)}`;

/** The unit normal of a face at one of its points.
 * @param {number|undefined} point */
function normalAt(/** @type {any} */ { normals }, point) {
  if (point === undefined) return null;
  const [x, y, z] = normals.subarray(4 * point, 4 * point + 3);
  const size = Math.hypot(x, y, z) || 1;
  return [x / size, y / size, z / size];
}

// Tetrahedra cut by a plane: the triangles in it, with a figure at each corner.

/** @typedef {{points: Float32Array, moved: Float32Array, tets: Uint32Array}} Within */

/** @param {Within} within @param {ArrayLike<number>} figures at its points @param {number} times that the displacement is added
 * @param {number[]} normal @param {number} level of the plane: places p with normal · p = level
 * @returns {{points: Float32Array, figures: Float32Array}} three corners for each triangle */
export function sliced(within, figures, times, normal, level) {
  const { points, moved, tets } = within;
  const count = points.length / 3;
  const places = times ? Float32Array.from(points, (v, k) => v + times * moved[k]) : points;
  const off = new Float32Array(count);
  for (let k = 0; k < count; k++) off[k] = normal[0] * places[3 * k] + normal[1] * places[3 * k + 1] + normal[2] * places[3 * k + 2] - level;
  /** @type {number[]} */
  const spots = [];
  /** @type {number[]} */
  const told = [];
  /** Where the plane crosses from one corner to another.
   * @param {number} a @param {number} b */
  const cross = (a, b) => {
    const t = off[a] / (off[a] - off[b]);
    for (let j = 0; j < 3; j++) spots.push(places[3 * a + j] + t * (places[3 * b + j] - places[3 * a + j]));
    told.push(figures[a] + t * (figures[b] - figures[a]));
  };
  for (let k = 0; k < tets.length; k += 4) {
    /** @type {number[]} */
    const over = [];
    /** @type {number[]} */
    const under = [];
    for (let j = 0; j < 4; j++) (off[tets[k + j]] > 0 ? over : under).push(tets[k + j]);
    if (over.length === 2) {
      const [a, b] = over, [c, d] = under;
      for (const [p, q] of [[a, c], [b, c], [b, d], [a, c], [b, d], [a, d]]) cross(p, q);
    } else if (over.length === 1 || under.length === 1) {
      const [[a], others] = over.length === 1 ? [over, under] : [under, over];
      for (const b of others) cross(a, b);
    }
  }
  return { points: Float32Array.from(spots), figures: Float32Array.from(told) };
}

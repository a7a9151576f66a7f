// A closed line drawn over the view, in pixels, and what lies in it.

const SLACK = 1.5; // px by which a point may lie beside the line it is on

/** @typedef {[number, number]} Spot */

/** @param {Spot[]} line */
export function wide(line) {
  const [[x, y]] = line;
  return line.some(([u, v]) => Math.hypot(u - x, v - y) > 4);
}

/** @param {Spot[]} line */
export function encloses(line, /** @type {any} */ { x, y }) {
  let inside = false;
  for (let i = 0, j = line.length - 1; i < line.length; j = i++) {
    const [ax, ay] = line[i];
    const [bx, by] = line[j];
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
  }
  return inside;
}

/** Whether a row of spots comes within reach of the line itself.
 * @param {any} line @param {Place[]} spots */
export function crosses(line, spots) {
  return spots.some((/** @type {any} */ { x, y }) =>
    line.some((/** @type {any[]} */ [ax, ay], /** @type {number} */ i) => {
      const [bx, by] = line[(i + 1) % line.length];
      const t = Math.max(0, Math.min(1, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / ((bx - ax) ** 2 + (by - ay) ** 2 || 1)));
      return Math.hypot(ax + t * (bx - ax) - x, ay + t * (by - ay) - y) < SLACK;
    }),
  );
}

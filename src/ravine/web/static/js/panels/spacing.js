// Tags beside one another: none covers another.

/** @typedef {{x: number, y: number, wide: number, tall: number}} Tag x and y of its middle, all px */

/** The tags moved up or down to the nearest free height, first come first; where there is none, a tag stays.
 * @param {Tag[]} tags @param {number} height of what they lie in @returns {Tag[]} */
export function spaced(tags, height, gap = 4) {
  /** @type {Tag[]} */
  const placed = [];
  for (const tag of tags) {
    const beside = placed.filter((p) => Math.abs(p.x - tag.x) < (p.wide + tag.wide) / 2 + gap);
    /** @param {Tag} p */
    const room = (p) => (p.tall + tag.tall) / 2 + gap;
    /** @param {number} y */
    const free = (y) => y >= tag.tall / 2 && y <= height - tag.tall / 2 && beside.every((p) => Math.abs(p.y - y) >= room(p) - 1e-9);
    const heights = [tag.y, ...beside.flatMap((p) => [p.y - room(p), p.y + room(p)])].filter(free);
    const nearest = heights.sort((a, b) => Math.abs(a - tag.y) - Math.abs(b - tag.y))[0] ?? tag.y;
    placed.push({ ...tag, y: nearest });
  }
  return placed;
}

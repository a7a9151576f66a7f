// Lengths in the units of a model, the steps of rulers and grids, and how a value is told on the screen.

/** mm in one of each.
 * @type {Record<string, number>} */
export const LENGTHS = { mm: 1, cm: 10, m: 1000, in: 25.4, ft: 304.8 };

/** 1, 2 or 5 times a power of ten, at least `least`.
 * @param {number} least */
export function niceStep(least) {
  const power = 10 ** Math.floor(Math.log10(least));
  for (const k of [1, 2, 5, 10]) if (k * power >= least * 0.999) return k * power;
  return 10 * power;
}

/** @param {number} value @param {number} digits after the point, at most @param {string} unit with the space before it, where there is one */
export const told = (value, digits, unit) => `${Number(value.toFixed(digits))}${unit}`.replace("-", "−");

/** To a fifth of a step of the ruler: what the eye can tell.
 * @param {number} mm @param {number} step */
export function toFifths(mm, step) {
  const fine = step / 5;
  return Number((Math.round(mm / fine) * fine).toFixed(6));
}

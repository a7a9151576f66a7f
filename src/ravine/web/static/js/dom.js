// Looking things up on the page, typed loosely: what is found is known from the templates.

/** @param {string} css @param {ParentNode} [within] @returns {any} */
export const one = (css, within = document) => within.querySelector(css);

/** @param {string} css @param {ParentNode} [within] @returns {any[]} */
export const all = (css, within = document) => [...within.querySelectorAll(css)];

/** @param {string} id @returns {any} */
export const byId = (id) => document.getElementById(id);

/** What has to be there; a fault of the page's own where it is not.
 * @template T @param {T|null|undefined} value @returns {T} */
export function sure(value) {
  if (value === null || value === undefined) throw new Error("something the page relies on is missing");
  return value;
}

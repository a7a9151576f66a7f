// Looking things up on the page, typed loosely: what is found is known from the templates.

/** @param {string} css @param {ParentNode} [within] @returns {any} */
export const one = (css, within = document) => within.querySelector(css);

/** @param {string} css @param {ParentNode} [within] @returns {any[]} */
export const all = (css, within = document) => [...within.querySelectorAll(css)];

// Everything like the picked thing: a click on a criterion picks what fits it.  With Shift, criteria are marked, count
// together, are shown in the view, and are picked by their word or by the next action.
import { all, one } from "../dom.js";
import { findById } from "../view/picking.js";

/** @param {import("../workbench.js").Workbench} bench */
export function listen(bench) {
  const panel = one("#actions");
  const rowOf = (/** @type {Event} */ event) => /** @type {HTMLElement} */ (event.target).closest("[data-alike]");
  panel.addEventListener("click", (/** @type {Event} */ event) => {
    const row = rowOf(event);
    if (row && !(/** @type {MouseEvent} */ (event).shiftKey)) bench.pick(things(bench, idsOf(row)));
    else if (row) {
      row.setAttribute("aria-pressed", String(row.getAttribute("aria-pressed") !== "true"));
      show(bench);
    } else if (/** @type {HTMLElement} */ (event.target).closest("[data-alike-pick]")) bench.pick(things(bench, together()));
  });
  panel.addEventListener("pointerover", (/** @type {Event} */ event) => {
    const row = rowOf(event);
    if (row) bench.view.highlight("hover", things(bench, idsOf(row)));
  });
  panel.addEventListener("pointerout", (/** @type {Event} */ event) => {
    if (rowOf(event)) show(bench);
  });
}

/** What is marked becomes the pick, so that nothing marked is left out of what is done next.
 * @param {Bench} bench */
export function takeMarked(bench) {
  const ids = together();
  if (ids.length) bench.pick(things(bench, ids));
}

/** @param {Element} row */
const idsOf = (row) => (row.getAttribute("data-alike") ?? "").split(" ");

/** What fits every criterion that is marked.
 * @returns {string[]} */
function together() {
  const marked = all("[data-alike][aria-pressed=true]").map(idsOf);
  const sets = marked.map((ids) => new Set(ids));
  return marked.length ? marked[0].filter((/** @type {string} */ id) => sets.every((ids) => ids.has(id))) : [];
}

/** @param {Bench} bench @param {string[]} ids */
function things(bench, ids) {
  return ids.map((/** @type {string} */ id) => findById(bench.view, id)).filter(Boolean);
}

/** @param {Bench} bench */
function show(bench) {
  const ids = together();
  const end = one(".alike-end");
  bench.view.highlight("hover", things(bench, ids));
  end.hidden = !ids.length;
  if (ids.length) one("[data-alike-pick]", end).textContent = `Pick ${ids.length === 1 ? "this one" : `these ${ids.length}`}`;
}

// The parts list: pick, hide, show, alone. What is hidden is kept by the server for next time.
import { all, byId, sure } from "../dom.js";
import { findById } from "../view/picking.js";

/** @param {import("../workbench.js").Workbench} bench */
export function listen(bench) {
  document.body.addEventListener("htmx:afterSettle", fold);
  byId("parts").parentElement.addEventListener("click", (/** @type {any} */ event) => {
    const target = /** @type {HTMLElement} */ (event.target);
    const set = /** @type {HTMLElement|null} */ (target.closest("[data-pick-set]"));
    if (set) {
      const found = sure(set.dataset.pickSet).split(" ").map((/** @type {string} */ id) => findById(bench.view, id));
      bench.pick(found.filter(Boolean), event.shiftKey);
      return;
    }
    const sketch = /** @type {HTMLElement|null} */ (target.closest(".sketch-row"))?.dataset.sketch;
    if (sketch && target.closest("[data-toggle-sketch]")) {
      const next = new Set(bench.hidden);
      if (!next.delete(sketch)) next.add(sketch);
      bench.hide(next);
    } else if (sketch && target.closest("[data-pick-sketch]")) bench.pick([{ kind: "sketch", id: sketch, sketch }], event.shiftKey);
    const row = /** @type {HTMLElement|null} */ (target.closest(".part"));
    if (!row) return;
    if (target.closest("[data-fold-row]")) {
      const id = sure(row.dataset.nodes);
      if (!folded.delete(id)) folded.add(id);
      fold();
      return;
    }
    const leaves = sure(row.dataset.leaves).split(" ");
    if (target.closest("[data-toggle-hidden]")) {
      const next = new Set(bench.hidden);
      const gone = leaves.every((/** @type {any} */ n) => next.has(n));
      for (const n of leaves) gone ? next.delete(n) : next.add(n);
      bench.hide(next);
    } else if (target.closest("[data-isolate]")) isolate(bench, leaves);
    else if (target.closest("[data-pick]")) bench.pick(sure(row.dataset.nodes).split(" ").map((/** @type {string} */ id) => ({ kind: "node", node: id, index: 0, id })), event.shiftKey);
  });
}

/** @type {Set<string>} groups whose parts are folded away */
const folded = new Set();

/** Rows below a folded group go; to be done again with every new list. */
function fold() {
  let within = Infinity;
  for (const row of all(".part")) {
    const depth = Number(row.dataset.depth);
    if (depth <= within) within = Infinity;
    row.hidden = depth > within;
    const closed = folded.has(sure(row.dataset.nodes));
    row.querySelector("[data-fold-row]")?.setAttribute("aria-expanded", String(!closed));
    if (closed && within === Infinity) within = depth;
  }
}

/** Show these alone; the same again brings back what was shown before.
 * @param {Bench} bench @param {any} leaves */
function isolate(bench, leaves) {
  const others = bench.scene.nodes.map((/** @type {any} */ n) => n.id).filter((/** @type {any} */ n) => !leaves.includes(n));
  const alone = new Set(others);
  const already = alone.size === bench.hidden.size && others.every((/** @type {any} */ n) => bench.hidden.has(n));
  if (already) bench.hide(bench.beforeAlone || new Set());
  else {
    bench.beforeAlone = bench.hidden;
    bench.hide(alone);
  }
}

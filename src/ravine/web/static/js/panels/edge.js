// The bar along the view's edge: three words with their state. Each unfolds in place while it is used.
import { all, byId, one, sure } from "../dom.js";

/** @param {import("../workbench.js").Workbench} bench */
export function listen(bench) {
  const groups = all(".edge-group");
  /** @param {any} group @param {boolean} on */
  const open = (group, on) => {
    group.classList.toggle("open", on);
    one(".edge-word", group).setAttribute("aria-expanded", String(on));
  };
  /** @param {Element|null} kept */
  const foldOthers = (kept) => {
    for (const group of groups) if (group !== kept && !inUse(bench, group)) open(group, false);
  };
  byId("edge").addEventListener("click", (/** @type {any} */ event) => {
    const target = /** @type {HTMLElement} */ (event.target);
    const group = target.closest(".edge-group");
    if (!group) return;
    if (!target.closest(".edge-word")) return;
    foldOthers(group);
    const on = !group.classList.contains("open");
    open(group, on);
    if (on) /** @type {HTMLElement|null} */ (group.querySelector(".edge-in button, .edge-in select"))?.focus({ preventScroll: true });
  });
  byId("edge").addEventListener("keydown", (/** @type {any} */ event) => {
    const group = /** @type {HTMLElement|null} */ (/** @type {HTMLElement} */ (event.target).closest(".edge-group.open"));
    if (event.key !== "Escape" || !group) return;
    event.stopPropagation();
    open(group, false);
    one(".edge-word", group).focus();
  });
  bench.view.canvas.addEventListener("pointerdown", () => foldOthers(null));
}

/** Whether folding it would hide what is on: a section, or a tool for picking.
 * @param {Bench} bench @param {any} group */
function inUse(bench, group) {
  if (group.dataset.of === "section") return Boolean(bench.section.cut);
  return group.dataset.of === "pick" && Boolean(bench.marquee.tool);
}

/** What a word says of itself while it is folded.
 * @param {"look"|"pick"|"section"} of @param {string} words */
export function tell(of, words) {
  sure(document.querySelector(`.edge-group[data-of="${of}"] .edge-state`)).textContent = words;
}

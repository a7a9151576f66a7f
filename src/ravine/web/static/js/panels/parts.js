// The parts list: pick, hide, show, alone. What is hidden is kept by the server for next time.
import { all, byId, sure } from "../dom.js";
import { findById } from "../view/picking.js";
import { InPlace } from "./in_place.js";

/** @param {import("../workbench.js").Workbench} bench */
export function listen(bench) {
  document.body.addEventListener("htmx:oobBeforeSwap", () => {
    const input = /** @type {HTMLInputElement} */ (document.activeElement);
    typing = input?.id === "part-filter" ? [input.selectionStart ?? 0, input.selectionEnd ?? 0] : null;
  });
  document.body.addEventListener("htmx:oobAfterSwap", () => {
    if (typing) fold(); // before the next key
  });
  document.body.addEventListener("htmx:afterSettle", fold);
  const side = /** @type {HTMLElement} */ (byId("parts").parentElement);
  const inPlace = new InPlace(bench, side, (input) => (input.dataset.rename ? { edit: "rename", values: { part: input.dataset.rename, to: input.value } } : null));
  side.addEventListener("input", (event) => {
    if (/** @type {HTMLElement} */ (event.target).id !== "part-filter") return;
    wanted = /** @type {HTMLInputElement} */ (event.target).value.trim().toLowerCase();
    fold();
  });
  side.addEventListener("dblclick", (event) => rename(/** @type {HTMLElement} */ (event.target)));
  dragging(bench, side, inPlace);
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
    if (target.closest("[data-instances]")) {
      const id = sure(row.dataset.nodes).split(" ")[0];
      if (!listed.delete(id)) listed.add(id);
      fold();
      return;
    }
    const linked = /** @type {HTMLElement|null} */ (target.closest("[data-take-newer]"))?.dataset.takeNewer;
    if (linked) {
      bench.pick([{ kind: "node", node: linked, index: 0, id: linked }]);
      bench.line.open("take newer", [linked]);
      return;
    }
    const lock = /** @type {HTMLElement|null} */ (target.closest("[data-lock]"))?.dataset.lock;
    if (lock) {
      inPlace.keep({ edit: "lock", values: { parts: sure(row.dataset.nodes).split(" "), state: lock } });
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
/** @type {Set<string>} rows whose copies are listed one by one */
const listed = new Set();
let wanted = ""; // letters that a row has to have
/** @type {[number, number]|null} what of them is marked, where the list changes while they are being written */
let typing = null;

/** Rows below a folded group go, and those that the filter leaves out; to be done again with every new list. */
function fold() {
  let within = Infinity;
  const filter = /** @type {HTMLInputElement|null} */ (document.getElementById("part-filter"));
  if (filter && filter !== document.activeElement) {
    filter.value = wanted;
    if (typing) {
      filter.focus();
      filter.setSelectionRange(...typing);
    }
    typing = null;
  }
  if (!filter) wanted = "";
  for (const row of all(".part")) {
    const depth = Number(row.dataset.depth);
    const id = sure(row.dataset.nodes);
    if (row.dataset.of) {
      row.hidden = depth > within || !listed.has(row.dataset.of) || Boolean(wanted);
      continue;
    }
    if (depth <= within) within = Infinity;
    row.hidden = wanted ? !sure(row.dataset.words).includes(wanted) : depth > within;
    const closed = folded.has(id);
    row.querySelector("[data-fold-row]")?.setAttribute("aria-expanded", String(!closed));
    row.querySelector("[data-instances]")?.setAttribute("aria-expanded", String(listed.has(id.split(" ")[0])));
    if (closed && within === Infinity) within = depth;
  }
}

/** The name becomes an input where it stands: Enter renames, Escape leaves it.
 * @param {HTMLElement} target */
function rename(target) {
  const name = /** @type {HTMLElement|null} */ (target.closest(".part:not(.instance) .part-name"));
  if (!name) return;
  const input = document.createElement("input");
  input.value = input.dataset.was = name.firstChild?.textContent ?? "";
  input.dataset.rename = sure(/** @type {HTMLElement} */ (name.closest(".part")).dataset.nodes).split(" ")[0];
  input.className = "part-rename";
  input.setAttribute("aria-label", `Another name for ${input.value}`);
  input.addEventListener("focusout", () => input.isConnected && input.replaceWith(name));
  name.replaceWith(input);
  input.focus();
  input.select();
}

/** A row is dragged on to a group, or below the list to the outermost level; with it all that are picked.
 * @param {Bench} bench @param {HTMLElement} side @param {InPlace} inPlace */
function dragging(bench, side, inPlace) {
  /** @type {string[]} */
  let held = [];
  /** @param {Event} event @returns {HTMLElement|null} */
  const target = (event) => /** @type {HTMLElement} */ (event.target).closest(".part[data-group], .parts-end");
  side.addEventListener("dragstart", (event) => {
    const row = /** @type {HTMLElement} */ (event.target).closest?.(".part");
    if (!(row instanceof HTMLElement)) return;
    const own = sure(row.dataset.nodes).split(" ");
    const picked = bench.picked.filter((/** @type {any} */ p) => p.kind === "node").map((/** @type {any} */ p) => p.id);
    held = own.some((id) => picked.includes(id)) ? picked : own;
    event.dataTransfer?.setData("text/plain", held.join(" "));
  });
  side.addEventListener("dragover", (event) => {
    const over = target(event);
    for (const row of all(".drop-here", side)) row.classList.remove("drop-here");
    if (!held.length || !over) return;
    event.preventDefault();
    over.classList.add("drop-here");
  });
  side.addEventListener("drop", (event) => {
    const over = target(event);
    if (!held.length || !over) return;
    event.preventDefault();
    const group = over.dataset.nodes ? [over.dataset.nodes] : [];
    inPlace.keep({ edit: "into group", values: { parts: held, group } });
  });
  side.addEventListener("dragend", () => {
    held = [];
    for (const row of all(".drop-here", side)) row.classList.remove("drop-here");
  });
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

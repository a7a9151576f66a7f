// Kept ways of drawing the parts apart, in the list: shown, played along a slider, steps taken back.
import { all, sure } from "../../dom.js";
import { InPlace } from "../../panels/in_place.js";

const PACE = 900; // ms for a step
const FRAME = 40;

/** @param {import("../../workbench.js").Workbench} bench @param {HTMLElement} side */
export function listen(bench, side) {
  const inPlace = new InPlace(bench, side, () => null);
  const { explode } = bench;
  /** @type {Map<string, number>} steps by name, as listed last */
  let known = new Map(rows().map(counted));
  /** @type {ReturnType<typeof setInterval>|undefined} */
  let playing;

  side.addEventListener("click", (event) => {
    const target = /** @type {HTMLElement} */ (event.target);
    const row = /** @type {HTMLElement|null} */ (target.closest("[data-apart]"));
    if (!row) return;
    const [name, steps] = counted(row);
    clearInterval(playing);
    if (target.closest("[data-show-apart]")) explode.name === name ? explode.leave() : explode.show(name);
    else if (target.closest("[data-play-apart]")) play(name);
    else if (target.closest("[data-back-apart]")) inPlace.keep({ edit: "gather", values: { called: name, ...(steps > 1 ? { step: steps } : {}) } });
    else if (target.closest("[data-drop-apart]")) inPlace.keep({ edit: "gather", values: { called: name } });
  });
  side.addEventListener("input", (event) => {
    const input = /** @type {HTMLInputElement} */ (event.target);
    if (input.dataset.slideApart === undefined) return;
    clearInterval(playing);
    explode.go(Number(input.value));
  });
  document.addEventListener("ravine:apart", lay);
  document.body.addEventListener("htmx:afterSettle", () => {
    const now = new Map(rows().map(counted));
    const changed = [...now].find(([name, steps]) => steps !== known.get(name) && (steps > (known.get(name) ?? 0) || name === explode.name));
    if (explode.name && !now.has(explode.name)) explode.leave();
    known = now;
    if (changed && !bench.line.isOpen) explode.show(changed[0]); // a step that was just added is shown
    lay();
  });

  /** @param {string} name */
  async function play(name) {
    if (explode.name !== name) await explode.show(name);
    let at = 0;
    playing = setInterval(() => {
      at += FRAME / PACE;
      if (explode.name !== name || at >= explode.steps.length) clearInterval(playing);
      if (explode.name === name) explode.go(Math.min(at, explode.steps.length));
    }, FRAME);
  }

  function lay() {
    for (const row of rows()) {
      const shown = explode.name === row.dataset.apart;
      const input = /** @type {HTMLInputElement} */ (row.querySelector("[data-slide-apart]"));
      row.classList.toggle("shown", shown);
      sure(row.querySelector("[data-show-apart]")).setAttribute("aria-pressed", String(shown));
      input.hidden = !shown;
      if (shown && document.activeElement !== input) input.value = String(explode.at);
    }
  }
}

function rows() {
  return /** @type {HTMLElement[]} */ ([...all("[data-apart]")]);
}

/** @param {HTMLElement} row @returns {[string, number]} */
function counted(row) {
  return [sure(row.dataset.apart), Number(row.dataset.steps)];
}

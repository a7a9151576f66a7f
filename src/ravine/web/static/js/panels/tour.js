// A first model in five steps, told beside the view: each goes on by itself once it is done, and all can be left.
import { byId, one, sure } from "../dom.js";

/** @typedef {{words: string, done: (bench: any) => boolean}} Step */

/** @type {Step[]} */
const STEPS = [
  { words: "A part begins as an outline. With nothing picked, choose <b>Sketch</b>, take a plane, and accept with Enter.", done: (bench) => bench.scene.sketches.length > 0 },
  { words: "Choose <b>Draw</b>, take a <b>rectangle</b>, and click two corners in the view (or write <kbd>0,0 60,40</kbd>). Enter keeps it.", done: (bench) => areas(bench) > 0 },
  { words: "Leave drawing with Esc. Click inside the rectangle and choose <b>Extrude</b>: drag the bead, or write 15 and press Enter.", done: (bench) => bench.scene.bodies.length > 0 },
  { words: "Click the top face and choose <b>Push</b>. Drag the bead and see the matter grow; write a value; press Enter.", done: (bench) => said(bench, "Pushed") },
  { words: "Click the top face where a hole should be, choose <b>Drill a hole</b>, drag it along its wires, and press Enter.", done: (bench) => said(bench, "Drilled") },
];

/** @param {Bench} bench */
const areas = (bench) => bench.scene.sketches.reduce((/** @type {any} */ sum, /** @type {Sketch} */ sketch) => sum + sketch.areas.length, 0);

/** Whether the sentence that the model stands at begins so.
 * @param {any} _bench @param {string} verb */
const said = (_bench, verb) => Boolean(one(".journal .here")?.textContent?.trim().startsWith(verb));

/** @param {import("../workbench.js").Workbench} bench */
export function listen(bench) {
  const place = byId("tour");
  const asked = new URLSearchParams(location.search);
  if (!asked.has("first")) return;
  let at = 0;
  place.addEventListener("click", (/** @type {any} */ event) => {
    if (!(/** @type {HTMLElement} */ (event.target).closest("[data-leave-tour]"))) return;
    place.hidden = true;
    at = STEPS.length + 1;
    history.replaceState(null, "", location.pathname);
  });
  const tell = () => {
    if (at > STEPS.length) return;
    while (at < STEPS.length && sure(STEPS[at]).done(bench)) at += 1;
    const step = STEPS[at];
    place.hidden = false;
    place.innerHTML = step
      ? `<p class="tour-step"><b>Step ${at + 1} of ${STEPS.length}</b> <button type="button" class="link-do" data-leave-tour>leave it</button></p><p>${step.words}</p>`
      : `<p class="tour-step"><b>That is all of it</b> <button type="button" class="link-do" data-leave-tour>close</button></p><p>Every sentence stands in the journal; a click on one goes back there. Any part from a file is shaped in the same way.</p>`;
  };
  bench.told.push(tell);
  tell();
}

// Files dropped or chosen on the bench: each is sent and becomes a job; a mesh without a unit is asked for it first.
// How files come in is chosen at the stage Bring in and remembered for the next time.
import { all, byId } from "../dom.js";
import { post } from "../api.js";

/** @param {import("../workbench.js").Workbench} bench */
export function listen(bench) {
  const input = /** @type {HTMLInputElement} */ (byId("file"));
  const veil = byId("drop-veil");
  input.addEventListener("change", async () => {
    await send(bench, [...(input.files || [])]);
    input.value = "";
  });
  document.addEventListener("change", (event) => {
    if (/** @type {HTMLElement} */ (event.target).closest("#how-in")) keepChoices();
  });
  byId("actions").addEventListener("htmx:afterSwap", showChoices);
  showChoices();
  document.addEventListener("click", (event) => {
    if (/** @type {HTMLElement} */ (event.target).closest("[data-choose-file]")) input.click();
  });
  /** @param {DragEvent} event */
  const carriesFiles = (event) => [...(event.dataTransfer?.types || [])].includes("Files");
  document.addEventListener("dragover", (event) => {
    if (!carriesFiles(event)) return;
    event.preventDefault();
    veil.hidden = false;
  });
  document.addEventListener("dragleave", (event) => {
    if (!event.relatedTarget) veil.hidden = true;
  });
  document.addEventListener("drop", (event) => {
    if (!carriesFiles(event)) return;
    event.preventDefault();
    veil.hidden = true;
    send(bench, [...(event.dataTransfer?.files || [])]);
  });
}

/** Most bytes the server takes; told before anything is sent. */
export const LARGEST = 300 * 2 ** 20;

/** Words when a file is too large, else nothing.
 * @param {File} file */
export function tooLarge(file) {
  return file.size > LARGEST ? `${file.name} has ${Math.round(file.size / 2 ** 20)} MB; files up to 300 MB are taken` : "";
}

/** @param {Bench} bench @param {any} files */
async function send(bench, files) {
  const large = files.map(tooLarge).filter(Boolean);
  if (large.length) bench.say(large[0]);
  files = files.filter((/** @type {any} */ f) => !tooLarge(f));
  const meshes = files.filter((/** @type {any} */ f) => /\.(stl|obj|ply)$/i.test(f.name));
  let units = "";
  if (meshes.length) {
    units = await askUnits(meshes.map((/** @type {any} */ f) => f.name).join(", "));
    if (!units) files = files.filter((/** @type {any} */ f) => !meshes.includes(f));
  }
  if (!files.length) return;
  const body = new FormData();
  for (const file of files) body.append("file", file);
  if (units) body.append("units", units);
  for (const [name, value] of Object.entries(choices())) body.append(name, value);
  const html = await bench.trying(() => post(bench.url("import"), body));
  if (html !== null) bench.showJobs(html);
}

const KEPT = "how files come in";

/** @returns {Object<string,string>} what was chosen last, on any model */
export function choices() {
  try {
    return JSON.parse(localStorage.getItem(KEPT) || "{}");
  } catch {
    return {};
  }
}

/** The choices stand in the Actions panel, which is rendered afresh now and then. */
export function showChoices() {
  const kept = choices();
  for (const field of all("#how-in [name]")) if (kept[field.name] !== undefined) field.value = kept[field.name];
}

function keepChoices() {
  const fields = all("#how-in [name]").filter((field) => field.value);
  localStorage.setItem(KEPT, JSON.stringify(Object.fromEntries(fields.map((field) => [field.name, field.value]))));
}

/** @returns {Promise<string>} the unit, or nothing when left @param {string[]} names */
function askUnits(names) {
  const dialog = /** @type {HTMLDialogElement} */ (byId("units-dialog"));
  byId("units-files").textContent = names;
  dialog.returnValue = "";
  dialog.showModal();
  return new Promise((resolve) => {
    dialog.addEventListener("close", () => {
      const select = /** @type {HTMLSelectElement} */ (dialog.querySelector("select"));
      resolve(dialog.returnValue === "take" ? select.value : "");
    }, { once: true });
  });
}

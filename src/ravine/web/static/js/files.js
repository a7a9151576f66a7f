// Files dropped or chosen on the bench: each is sent and becomes a job; an STL is asked for its unit first.

/** @param {import("./workbench.js").Workbench} bench */
export function listen(bench) {
  const input = /** @type {HTMLInputElement} */ (document.getElementById("file"));
  const veil = document.getElementById("drop-veil");
  input.addEventListener("change", async () => {
    await send(bench, [...input.files]);
    input.value = "";
  });
  document.addEventListener("click", (event) => {
    if (/** @type {HTMLElement} */ (event.target).closest("[data-choose-file]")) input.click();
  });
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
    send(bench, [...event.dataTransfer.files]);
  });
}

/** Most bytes the server takes; told before anything is sent. */
export const LARGEST = 300 * 2 ** 20;

/** Words when a file is too large, else nothing. @param {File} file */
export function tooLarge(file) {
  return file.size > LARGEST ? `${file.name} has ${Math.round(file.size / 2 ** 20)} MB; files up to 300 MB are taken` : "";
}

async function send(bench, files) {
  const large = files.map(tooLarge).filter(Boolean);
  if (large.length) bench.say(large[0]);
  files = files.filter((f) => !tooLarge(f));
  const meshes = files.filter((f) => /\.stl$/i.test(f.name));
  let units = "";
  if (meshes.length) {
    units = await askUnits(meshes.map((f) => f.name).join(", "));
    if (!units) files = files.filter((f) => !meshes.includes(f));
  }
  if (!files.length) return;
  const body = new FormData();
  for (const file of files) body.append("file", file);
  if (units) body.append("units", units);
  const answer = await fetch(bench.url("import"), { method: "POST", headers: { "X-Ravine": "1" }, body });
  const html = await answer.text();
  if (answer.ok) bench.showJobs(html);
  else bench.tell(html);
}

/** @returns {Promise<string>} the unit, or nothing when left */
function askUnits(names) {
  const dialog = /** @type {HTMLDialogElement} */ (document.getElementById("units-dialog"));
  document.getElementById("units-files").textContent = names;
  dialog.returnValue = "";
  dialog.showModal();
  return new Promise((resolve) => {
    dialog.addEventListener("close", () => {
      const select = /** @type {HTMLSelectElement} */ (dialog.querySelector("select"));
      resolve(dialog.returnValue === "take" ? select.value : "");
    }, { once: true });
  });
}

// The page of variants: rows of values, tried on all cores, compared in a plot, taken over, saved.
import { keep, Refused, stream } from "./api.js";
import { all, byId, one, sure } from "./dom.js";
import { Grid } from "./tools/variants/grid.js";
import { plot } from "./tools/variants/plot.js";

const root = byId("trials");
const begin = JSON.parse(sure(byId("begin").textContent));
const grid = new Grid(byId("rows"), begin);
let base = Number(root.dataset.revision);
/** @type {AbortController|null} */
let running = null;

/** @param {string} words */
const say = (words) => (byId("told").textContent = words);
const address = (/** @type {string} */ path) => `${root.dataset.model}/${path}`;

/** @param {number} share @param {string} words */
function tell(share, words) {
  one("progress").value = share;
  say(words);
}

/** What answers with progress; null where it was stopped or refused.
 * @param {string} path @returns {Promise<ArrayBuffer|null>} */
async function asked(path) {
  running = new AbortController();
  one("[data-stop]").hidden = one("progress").hidden = false;
  for (const button of all("[data-try], [data-files]")) button.disabled = true;
  try {
    return await stream(address(path), {}, tell, running.signal, { rows: grid.rows });
  } catch (error) {
    if (error instanceof Refused) say(error.message);
    else if (running.signal.aborted) say("Stopped");
    else throw error;
    return null;
  } finally {
    running = null;
    one("[data-stop]").hidden = one("progress").hidden = true;
    for (const button of all("[data-try], [data-files]")) button.disabled = false;
  }
}

async function tryAll() {
  const data = await asked("variants/try");
  if (!data) return;
  grid.show(JSON.parse(new TextDecoder().decode(data)));
  const works = grid.found.filter((f) => f?.works).length;
  say(`${works} of ${grid.rows.length} ${grid.rows.length === 1 ? "row works" : "rows work"}`);
  draw();
}

/** @param {BlobPart} data @param {string} name @param {string} type */
function save(data, name, type) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([data], { type }));
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60000);
}

async function files() {
  const data = await asked("variants/files");
  if (!data) return;
  save(data, "variants.zip", "application/zip");
  say("Saved as variants.zip");
}

/** @param {string} edit @param {object} values @param {string} words */
async function edit(edit, values, words) {
  try {
    const { head } = await keep(address("edits"), { edit, values, base });
    base = head.revision;
    say(words);
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    say(error.status === 409 ? "The model was changed in another window; load this page again" : error.message);
  }
}

function draw() {
  const section = byId("plot");
  const columns = grid.numbers();
  section.hidden = grid.found.filter((f) => f?.works).length < 2;
  if (section.hidden) return;
  for (const [name, first] of [["across", grid.shown[0]], ["up", grid.volume]]) {
    const select = one(`select[name=${name}]`, section);
    const chosen = select.value || first;
    select.replaceChildren(...Object.keys(columns).map((c) => new Option(c, c, false, c === chosen)));
  }
  const [across, up] = ["across", "up"].map((n) => one(`select[name=${n}]`, section).value);
  plot(one("svg", section), columns[across], columns[up], across, up);
}

if (grid.names.length) {
  root.addEventListener("click", (/** @type {Event} */ event) => {
    const target = /** @type {HTMLElement} */ (event.target);
    if (target.closest("[data-try]")) tryAll();
    else if (target.closest("[data-stop]")) running?.abort();
    else if (target.closest("[data-add]")) grid.add([{}]);
    else if (target.closest("[data-keep]")) edit("keep variants", { rows: grid.rows }, "Kept with the model");
    else if (target.closest("[data-files]")) files();
    else if (target.closest("[data-table]")) save(grid.asText(), "variants.csv", "text/csv");
    else if (target.closest("[data-drop]")) grid.drop(grid.number(target));
    else if (target.closest("[data-take]")) edit("set values", { rows: grid.rows[grid.number(target)] }, `Row ${grid.number(target) + 1} is the model now`);
  });
  byId("range").addEventListener("submit", (/** @type {Event} */ event) => {
    event.preventDefault();
    const { name, first, last, count } = Object.fromEntries(new FormData(/** @type {HTMLFormElement} */ (event.target)));
    const why = grid.range(String(name), String(first), String(last), Number(count));
    say(why || "");
  });
  byId("plot").addEventListener("change", draw);
}
root.dataset.ready = "true";

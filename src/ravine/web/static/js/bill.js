// The bill of materials: what is said of parts is set in place; offers come from the supplier; an order goes out once.
import { getJson, keep, post, postForJson, Refused } from "./api.js";
import { all, byId, one, sure } from "./dom.js";

const root = byId("bill");
let base = Number(root.dataset.revision);
/** @type {Object<string, {quantity: number, offers: any[]}>} by body */
let offers = {};
let key = ""; // of the order that is being put together; the same until it has been answered

/** @param {string} words */
const say = (words) => (byId("told") ? (byId("told").textContent = words) : null);
const address = (/** @type {string} */ path) => `${root.dataset.model}/${path}`;

/** @param {string} edit @param {Object<string, any>} values */
async function change(edit, values) {
  try {
    const answer = await keep(address("edits"), { edit, values, base });
    base = answer.head.revision;
    return true;
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    say(error.status === 409 ? "The model has changed elsewhere; load the page again" : error.message);
    return false;
  }
}

/** @param {HTMLElement} input */
const nodesOf = (input) => sure(/** @type {HTMLElement} */ (input.closest("tr")).dataset.nodes).split(" ");

/** @param {HTMLInputElement|HTMLSelectElement} input */
async function set(input) {
  const { what, was } = input.dataset;
  if (input instanceof HTMLInputElement && input.value.trim() === was) return;
  const parts = nodesOf(input);
  input.disabled = true;
  const done = what ? await change("set part data", { parts, what, value: input.value.trim() || null }) : await change("set material", { parts, material: input.value });
  input.disabled = false;
  if (done) {
    input.dataset.was = input.value.trim();
    say("Saved");
    if (what === "stock_number") look();
  } else if (input instanceof HTMLInputElement) input.value = was ?? "";
}

/** Rows of the shelf's parts that are to be ordered, with the offer that was chosen. */
function lines() {
  return all("tr[data-body]").filter((row) => one("[data-choose]", row)?.checked && offers[row.dataset.body]?.offers.length).map((row) => {
    const { quantity, offers: found } = offers[row.dataset.body];
    const offer = found[Number(one("select[data-offer-of]", row)?.value ?? 0)] ?? found[0];
    return { row, quantity, offer };
  });
}

/** What was chosen is the part's stock number and maker from then on.
 * @param {HTMLInputElement|HTMLSelectElement} select */
async function take(select) {
  total();
  const row = /** @type {HTMLElement} */ (select.closest("tr"));
  const offer = offers[row.dataset.body ?? ""].offers[Number(select.value)];
  for (const [what, value] of [["stock_number", offer.stock_number], ["maker", offer.maker]]) {
    if (!(await change("set part data", { parts: nodesOf(select), what, value }))) return;
    const input = one(`[data-what=${what}]`, row);
    input.value = input.dataset.was = value;
  }
  say("Saved");
}

function total() {
  const rows = lines();
  const whole = rows.reduce((sum, r) => sum + r.quantity * r.offer.price, 0);
  byId("order-total").textContent = rows.length ? `${rows.length} line${rows.length === 1 ? "" : "s"}, ${whole.toFixed(2)}` : "nothing chosen";
  one("[data-send]").disabled = !rows.length;
}

/** @param {any} offer @param {number} quantity */
function words(offer, quantity) {
  const there = offer.stock >= quantity ? "in stock" : offer.stock ? `only ${offer.stock}, more in ${offer.lead_days} days` : `none, in ${offer.lead_days} days`;
  return `${offer.maker} ${offer.stock_number}: ${offer.price.toFixed(2)} each, ${there}`;
}

async function look() {
  const form = /** @type {HTMLFormElement|null} */ (byId("order"));
  if (!form) return;
  const asked = Object.fromEntries([...new FormData(form)].map(([name, value]) => [name, String(value)]));
  key = crypto.randomUUID();
  try {
    const { away, rows } = await getJson(address("offers"), asked);
    offers = rows;
    if (away) say(`${away[0].toUpperCase()}${away.slice(1)}: prices and stock are left out. The bill itself is complete.`);
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    offers = {};
    say(error.message);
  }
  for (const row of all("tr[data-item]")) {
    const cell = one("[data-offer]", row);
    const found = offers[row.dataset.body];
    if (!row.dataset.item) continue;
    cell.replaceChildren();
    if (!found?.offers.length) cell.textContent = Object.keys(offers).length ? "nobody offers it" : "not known";
    else {
      const select = document.createElement("select");
      select.dataset.offerOf = row.dataset.body;
      select.setAttribute("aria-label", `Offers for ${one("th", row).firstChild.textContent}`);
      found.offers.forEach((offer, k) => select.add(new Option(words(offer, found.quantity), String(k))));
      cell.append(`${found.quantity} × `, select);
    }
  }
  total();
}

async function send() {
  const button = one("[data-send]");
  button.disabled = true; // a second click sends nothing; were it sent, the key is the same
  say("Sending …");
  const asked = lines().map(({ quantity, offer }) => ({ stock_number: offer.stock_number, item: offer.item, quantity }));
  try {
    const order = await postForJson(address("orders"), { key, lines: asked });
    if (order.state === "unknown") {
      say(`It is not known whether the order arrived: ${order.words}`);
      button.disabled = false;
      return;
    }
    location.reload();
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    say(error.message);
    button.disabled = false;
  }
}

const COLUMNS = "ravine bill columns"; // of this browser
const shown = new Set(JSON.parse(localStorage.getItem(COLUMNS) ?? '["stock_number"]'));

/** Columns that are not asked for are left out. */
function columns() {
  for (const box of all("[data-column]")) {
    box.checked = shown.has(box.dataset.column);
    for (const cell of all(`[data-col="${box.dataset.column}"]`)) cell.hidden = !box.checked;
  }
}

/** Files have the columns that are seen here, and what the lot needs. */
function files() {
  const form = /** @type {HTMLFormElement|null} */ (byId("order"));
  for (const link of all("[data-file]")) {
    const to = new URL(link.href);
    to.searchParams.set("columns", [...shown].join(" "));
    for (const [name, value] of form ? new FormData(form) : []) to.searchParams.set(name, String(value).trim());
    link.href = to.href;
  }
}

root.addEventListener("change", (/** @type {Event} */ event) => {
  const input = event.target;
  if (!(input instanceof HTMLInputElement || input instanceof HTMLSelectElement)) return;
  if (input.dataset.column) {
    if (!shown.delete(input.dataset.column)) shown.add(input.dataset.column);
    localStorage.setItem(COLUMNS, JSON.stringify([...shown]));
    columns();
    files();
  } else if (input.closest("#order")) {
    files();
    look();
  }
  else if ("choose" in input.dataset) total();
  else if ("offerOf" in input.dataset) take(input);
  else if (input.dataset.what || "material" in input.dataset) set(input);
});
root.addEventListener("keydown", (/** @type {KeyboardEvent} */ event) => {
  const { target: input, key: pressed } = event;
  if (!(input instanceof HTMLInputElement) || input.dataset.was === undefined) return;
  if (pressed === "Escape") input.value = input.dataset.was;
  if (pressed === "Enter" || pressed === "Escape") input.blur();
});
root.addEventListener("click", async (/** @type {MouseEvent} */ event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  if ("number" in target.dataset && (await change("number parts", {}))) say("The item numbers are kept");
  if ("again" in target.dataset) {
    await post(address(`orders/${sure(/** @type {HTMLElement} */ (target.closest("[data-key]")).dataset.key)}`));
    location.reload();
  }
});
byId("order")?.addEventListener("submit", (/** @type {Event} */ event) => {
  event.preventDefault();
  send();
});
columns();
files();
await look();
root.dataset.ready = "true";

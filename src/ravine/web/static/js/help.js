// Finding in the help: what has all the words stays, and the sections that hold nothing else go.
import { all, byId } from "./dom.js";

const input = /** @type {HTMLInputElement} */ (byId("find"));

function find() {
  const words = input.value.toLowerCase().split(/\s+/).filter(Boolean);
  const rows = all("[data-find]");
  let count = 0;
  for (const row of rows) {
    const text = (row.textContent || "").toLowerCase();
    const fits = words.every((word) => text.includes(word));
    row.hidden = !fits;
    if (fits) count += 1;
  }
  for (const section of all(".reference > section:not([data-find])")) section.hidden = !section.querySelector("[data-find]:not([hidden])");
  for (const link of all(".contents a")) link.classList.toggle("away", byId(/** @type {HTMLAnchorElement} */ (link).hash.slice(1)).hidden);
  byId("nothing").hidden = count > 0;
  byId("found").textContent = words.length ? `${count} found` : "";
}

input.addEventListener("input", find);
document.addEventListener("keydown", (event) => {
  if (event.key !== "/" || event.target === input) return;
  event.preventDefault();
  input.focus();
});
const asked = new URLSearchParams(location.search).get("find");
if (asked) {
  input.value = asked;
  find();
}

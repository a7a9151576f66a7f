// The list of models: bring in by drop or button.
import { byId } from "./dom.js";
import { Refused, postForJson } from "./api.js";
import { tooLarge } from "./panels/files.js";

const library = byId("library");
const input = /** @type {HTMLInputElement} */ (byId("file"));
/** @type {File|null} */
let waiting = null;

/** @param {any} file @param {string} units */
async function send(file, units) {
  byId("told").textContent = `Sending ${file.name}…`;
  const body = new FormData();
  body.append("file", file);
  if (units) body.append("units", units);
  try {
    location.assign((await postForJson(library.dataset.upload, body)).address);
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    byId("told").innerHTML = error.html || error.message;
  }
}

/** @param {File} file */
function take(file) {
  if (tooLarge(file)) {
    byId("told").textContent = tooLarge(file);
    return;
  }
  const mesh = /\.(stl|obj|ply)$/i.test(file.name);
  byId("ask-units").hidden = !mesh;
  byId("told").textContent = "";
  if (!mesh) send(file, "");
  else {
    waiting = file;
    byId("stl-units").focus();
  }
}

input.addEventListener("change", () => {
  if (input.files?.[0]) take(input.files[0]);
  input.value = "";
});
byId("file-button").addEventListener("keydown", (/** @type {any} */ event) => {
  if (event.key === "Enter" || event.key === " ") input.click();
});
byId("send-units").addEventListener("click", () => waiting && send(waiting, /** @type {HTMLSelectElement} */ (byId("stl-units")).value));
document.addEventListener("dragover", (event) => {
  event.preventDefault();
  byId("drop").classList.add("over");
});
document.addEventListener("dragleave", (event) => {
  if (!event.relatedTarget) byId("drop").classList.remove("over");
});
document.addEventListener("drop", (event) => {
  event.preventDefault();
  byId("drop").classList.remove("over");
  if (event.dataTransfer?.files[0]) take(event.dataTransfer.files[0]);
});
document.body.addEventListener("htmx:beforeSwap", (event) => {
  const { detail } = /** @type {CustomEvent} */ (event);
  if (detail.xhr.status < 400) return;
  detail.shouldSwap = false;
  byId("told").innerHTML = detail.xhr.responseText;
});

// a picture that could not be drawn yet, since all is busy, is asked for again
const AGAIN = 2000; // ms
document.addEventListener(
  "error",
  (event) => {
    const img = event.target;
    if (!(img instanceof HTMLImageElement) || !img.closest(".card-picture")) return;
    const address = new URL(img.src);
    address.searchParams.set("again", String(Number(address.searchParams.get("again") || 0) + 1));
    setTimeout(() => (img.src = address.href), AGAIN);
  },
  true,
);

// a name is sent once, by Enter or by leaving it, though the browser tells of both
document.addEventListener("change", (event) => {
  const form = /** @type {HTMLElement} */ (event.target).closest("form.card-foot");
  if (form instanceof HTMLFormElement) form.requestSubmit();
});
document.addEventListener(
  "submit",
  (event) => {
    const form = event.target;
    if (!(form instanceof HTMLFormElement) || !form.matches(".card-foot")) return;
    const { value } = /** @type {HTMLInputElement} */ (form.elements.namedItem("name"));
    if (form.dataset.sent !== value) form.dataset.sent = value;
    else {
      event.preventDefault();
      event.stopPropagation();
    }
  },
  true,
);
for (const failed of ["htmx:responseError", "htmx:sendError"]) {
  document.body.addEventListener(failed, (event) => {
    const form = /** @type {HTMLElement} */ (event.target).closest("form.card-foot");
    if (form instanceof HTMLElement) delete form.dataset.sent; // so that it can be sent once more
  });
}

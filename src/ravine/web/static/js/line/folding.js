// Short sentences: gaps that are as they usually are stay folded behind one word until they are wanted.
import { all } from "../dom.js";

/** Which edits have been unfolded on this page: their lines open so again. @type {Set<string>} */
const open = new Set();

/** As the line opens.
 * @param {HTMLFormElement} form */
export function begin(form) {
  if (open.has(form.dataset.edit || "")) show(form);
  else tell(form);
}

/** The word was clicked: all gaps, or again only those that say something.
 * @param {HTMLFormElement} form */
export function toggle(form) {
  const folded = all(".fold", form).length > 0;
  open[folded ? "add" : "delete"](form.dataset.edit || "");
  if (folded) show(form);
  else hide(form);
  return folded;
}

/** All of what is folded in the form, or only one gap with the word before it.
 * @param {HTMLFormElement} form @param {HTMLElement} [only] */
export function show(form, only) {
  for (const part of only ? [only, only.previousElementSibling] : all(".fold", form)) part?.classList.remove("fold");
  tell(form);
}

/** @param {any} form */
function hide(form) {
  for (const part of all("[data-fold]", form)) {
    const { name } = part.dataset; // a word goes with its gap
    const gap = /** @type {HTMLInputElement|null} */ (form.elements.namedItem(name || ""));
    part.classList.toggle("fold", gap?.value === part.dataset.fold);
  }
  tell(form);
}

/** @param {any} form */
function tell(form) {
  for (const button of all("[data-unfold]", form)) {
    const folded = all(".fold", form).length > 0;
    button.textContent = folded ? "more" : "less";
    button.setAttribute("aria-expanded", String(!folded));
  }
}

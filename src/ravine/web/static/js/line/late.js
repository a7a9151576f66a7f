// What is typed while the line opens anew for the same edit, as after a pick that changes its other gaps: it stays.

/** @param {HTMLFormElement|null} form @returns {Map<string, string>} */
export function typed(form) {
  const rows = form ? [.../** @type {NodeListOf<HTMLInputElement>} */ (form.querySelectorAll("input.field"))] : [];
  return new Map(rows.filter((input) => input.type === "text").map((input) => [input.name, input.value]));
}

/** Lay what has changed since over a form that has come in the place of the old one; whether there was anything.
 * @param {Map<string, string>} before @param {Map<string, string>} now @param {HTMLFormElement} form */
export function carryOver(before, now, form) {
  let last = null;
  for (const [name, value] of now) {
    const input = /** @type {HTMLInputElement|null} */ (form.elements.namedItem(name));
    if (!input || !before.has(name) || before.get(name) === value) continue;
    input.value = value;
    last = input;
  }
  last?.focus({ preventScroll: true });
  last?.setSelectionRange(last.value.length, last.value.length);
  return last !== null;
}

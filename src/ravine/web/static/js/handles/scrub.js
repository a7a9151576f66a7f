// A number on the line is drawn sideways: to the right it grows, to the left it shrinks, by shares of itself.
const SLACK = 4; // px before a press becomes a pull
const TURN = 120; // px to double a value
const FIELD = "input.field-length, input.field-angle, input.field-share, input.field-count";

/** @param {HTMLElement} line where the fields come and go */
export function scrubbing(line) {
  line.addEventListener("pointerdown", (event) => {
    const field = /** @type {HTMLInputElement|null} */ (/** @type {HTMLElement} */ (event.target).closest(FIELD));
    const read = field && /^(-?[0-9]*\.?[0-9]+)(.*)$/.exec(field.value.trim());
    if (!read || Number(read[1]) === 0 || event.button !== 0) return;
    const start = event.clientX;
    const value = Number(read[1]);
    const whole = field.matches(".field-count");
    let pulling = false;
    const move = (/** @type {PointerEvent} */ next) => {
      const away = next.clientX - start;
      if (!pulling && Math.abs(away) < SLACK) return;
      pulling = true;
      field.classList.add("pulled");
      const grown = value * 2 ** (away / TURN);
      field.value = `${whole ? Math.max(1, Math.round(grown)) : Number(grown.toPrecision(3))}${read[2]}`;
      field.dispatchEvent(new Event("input", { bubbles: true }));
    };
    const drop = () => {
      field.classList.remove("pulled");
      for (const [name, listener] of listeners) window.removeEventListener(name, listener);
    };
    /** @type {[string, any][]} */
    const listeners = [["pointermove", move], ["pointerup", drop], ["pointercancel", drop]];
    for (const [name, listener] of listeners) window.addEventListener(name, listener);
  });
}

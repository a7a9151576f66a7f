// The knob of a handle, the part the hand holds: the same on a wire and on an arc.

const SVG = "http://www.w3.org/2000/svg";

/** @param {string} name @param {object} attributes @param {Element} [parent] */
export function make(name, attributes, parent) {
  const found = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(attributes)) found.setAttribute(key, String(value));
  parent?.append(found);
  return found;
}

/** @typedef {{overlay: SVGElement, view: import("../view/view.js").View, held: boolean, value: number, draw: () => void, moved: (value: number, done: boolean) => void,
 *   grab: (event: PointerEvent) => void, nudge: (event: KeyboardEvent) => void}} Owner */

/** Draw the knob with its tag at a place on the screen.
 * @param {Owner} owner @param {{x: number, y: number}} p @param {string} words @param {string} label @param {number} now @param {boolean} focus */
export function drawKnob(owner, p, words, label, now, focus) {
  const tag = make("g", { class: "knob-tag", transform: `translate(${p.x} ${p.y - 30})` }, owner.overlay);
  const width = 16 + words.length * 6.8;
  make("rect", { x: -width / 2, y: -12, width, height: 23, rx: 11.5 }, tag);
  make("text", { y: 4 }, tag).textContent = words;
  const reach = make("circle", { class: "knob-reach", cx: p.x, cy: p.y, r: 16 }, owner.overlay);
  const knob = make("circle", {
    class: `knob${owner.held ? " held" : ""}`, cx: p.x, cy: p.y, r: 8.5, tabindex: 0, role: "slider",
    "aria-label": label, "aria-valuenow": now, "aria-valuetext": words,
  }, owner.overlay);
  for (const target of [reach, knob]) target.addEventListener("pointerdown", (event) => owner.grab(event));
  knob.addEventListener("keydown", (event) => owner.nudge(event));
  if (focus) knob.focus();
}

/** Hold the knob until the pointer is let go; `next` gives the value for a place on the overlay.
 * @param {Owner} owner @param {PointerEvent} event @param {(x: number, y: number, fine: boolean) => number} next */
export function hold(owner, event, next) {
  event.preventDefault();
  event.stopPropagation();
  owner.held = true;
  const box = owner.view.canvas.getBoundingClientRect();
  /** @param {any} e */
  const move = (e) => {
    const value = next(e.clientX - box.left, e.clientY - box.top, e.altKey);
    if (value === owner.value) return;
    owner.value = value;
    owner.draw();
    owner.moved(value, false);
  };
  /** @param {any} e */
  const drop = (e) => {
    e.stopPropagation(); // let go over the model, it is no pick
    for (const [name, listener] of listeners) window.removeEventListener(name, listener, true);
    owner.held = false;
    owner.draw();
    owner.moved(owner.value, true);
  };
  /** @type {[string, (e: any) => void][]} */
  const listeners = [["pointermove", move], ["pointerup", drop], ["pointercancel", drop]];
  for (const [name, listener] of listeners) window.addEventListener(name, listener, true);
}

/** Arrow keys on the knob.
 * @param {Owner} owner @param {KeyboardEvent} event @param {(way: number) => number} next */
export function nudge(owner, event, next) {
  const way = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key];
  if (!way) return;
  event.preventDefault();
  event.stopPropagation();
  owner.value = next(way);
  owner.draw();
  owner.moved(owner.value, true);
}

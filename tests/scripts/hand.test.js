// What the hand does: keys and what they lead to, a number drawn sideways, a knob held and nudged, gaps that fold, and
// what was typed while the line opened anew.
import assert from "node:assert/strict";
import test from "node:test";

/** An element that is just what it is asked for. */
class Part extends EventTarget {
  constructor(css = "", more = {}) {
    super();
    this.css = css.split(" ");
    this.classes = new Set();
    this.dataset = {};
    this.attributes = {};
    this.parts = [];
    this.value = "";
    this.classList = {
      add: (name) => this.classes.add(name), remove: (name) => this.classes.delete(name), contains: (name) => this.classes.has(name),
      toggle: (name, on) => (on ? this.classes.add(name) : this.classes.delete(name)),
    };
    Object.assign(this, more);
  }
  matches(css) {
    return css.split(",").some((one) => this.css.includes(one.trim()) || one.trim().split(".").filter(Boolean).some((name) => this.css.includes(name)));
  }
  closest(css) {
    return this.matches(css) ? this : null;
  }
  querySelectorAll(css) {
    return this.parts.filter((part) => (css === ".fold" ? part.classes.has("fold") : css === "[data-fold]" ? "fold" in part.dataset : css === "[data-unfold]" ? "unfold" in part.dataset : part.matches(css)));
  }
  setAttribute(name, value) {
    this.attributes[name] = value;
  }
  append(child) {
    this.parts.push(child);
  }
  focus() {
    this.focused = true;
  }
  setSelectionRange(from, to) {
    this.selected = [from, to];
  }
}

/** As in the browser: true alone asks for the way down. */
class Window extends EventTarget {
  removeEventListener(name, listener, capture) {
    super.removeEventListener(name, listener, capture === true ? { capture } : capture);
  }
}

const opened = [];
globalThis.window = Object.assign(new Window(), { open: (...where) => opened.push(where) });
globalThis.document = Object.assign(new EventTarget(), {
  body: new Part("body"), dialog: null, actions: {},
  querySelector(css) {
    return css === "dialog[open]" ? this.dialog : (Object.entries(this.actions).find(([name]) => css.includes(name)) ?? [])[1] ?? null;
  },
  querySelectorAll: () => [],
  createElementNS: (_, name) => new Part(name),
});

const { listen } = await import("../../src/ravine/web/static/js/panels/keys.js");
const { scrubbing } = await import("../../src/ravine/web/static/js/handles/scrub.js");
const { hold, nudge } = await import("../../src/ravine/web/static/js/handles/knob.js");
const folding = await import("../../src/ravine/web/static/js/line/folding.js");
const { carryOver, typed } = await import("../../src/ravine/web/static/js/line/late.js");

function event(type, more) {
  const found = new Event(type, { cancelable: true });
  for (const [name, value] of Object.entries(more)) Object.defineProperty(found, name, { value, configurable: true });
  return found;
}

// --- keys ---------------------------------------------------------------------------------------------------------

const did = [];
const note = (name) => (...what) => did.push([name, ...what]);
const canvas = new Part("canvas");
const camera = { element: { clientWidth: 800, clientHeight: 600 }, pan: (...by) => did.push(["pan", ...by]), orbit: (...by) => did.push(["orbit", ...by]), zoom: (...by) => did.push(["zoom", ...by]) };
const bench = {
  line: { isOpen: false, leave: note("leave"), enter: note("enter"), openTyping: note("type") },
  dragging: { held: false, leave: note("let go") },
  view: { canvas, places: new Map([["n1", { group: { visible: true } }], ["n2", { group: { visible: false } }]]), camera },
  pick: note("pick"), step: note("step"), choose: note("choose"), say: note("say"), fit: note("fit"), walk: note("walk"), pickHovered: note("hovered"),
};
listen(bench);

function press(key, more = {}) {
  did.length = 0;
  const { target = document.body, ...flags } = more;
  const now = event("keydown", { key, target, ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, ...flags });
  document.dispatchEvent(now);
  return [...did];
}

const input = new Part("input");

test("Escape lets go of what is dragged, else leaves the line, else picks nothing", () => {
  bench.dragging.held = true;
  assert.deepEqual(press("Escape"), [["let go"]]);
  bench.dragging.held = false;
  bench.line.isOpen = true;
  assert.deepEqual(press("Escape", { target: input }), [["leave"]]);
  bench.line.isOpen = false;
  assert.deepEqual(press("Escape"), [["pick", []]]);
  assert.deepEqual(press("Escape", { target: input }), [], "in a panel's input it is that input's");
  document.dialog = new Part("dialog");
  assert.deepEqual(press("Escape"), [], "a dialog closes itself");
  document.dialog = null;
});

test("steps go back and on, in the line as well, never out of a panel's input", () => {
  assert.deepEqual(press("z", { ctrlKey: true }), [["step", -1]]);
  assert.deepEqual(press("Z", { ctrlKey: true, shiftKey: true }), [["step", 1]]);
  assert.deepEqual(press("y", { metaKey: true }), [["step", 1]]);
  assert.deepEqual(press("z", { ctrlKey: true, target: input }), []);
  bench.line.isOpen = true;
  assert.deepEqual(press("z", { ctrlKey: true, target: input }), [["step", -1]]);
  bench.line.isOpen = false;
});

test("a letter opens the line, a digit chooses, and neither does while something is written", () => {
  assert.deepEqual(press("p"), [["type", "p"]]);
  assert.deepEqual(press("3"), [["choose", "3"]]);
  for (const key of ["p", "3", "Delete"]) assert.deepEqual(press(key, { target: input }), []);
  for (const flag of ["ctrlKey", "metaKey", "altKey"]) assert.deepEqual(press("p", { [flag]: true }), []);
  bench.line.isOpen = true;
  assert.deepEqual(press("p"), []);
  assert.deepEqual(press("3"), []);
  bench.line.isOpen = false;
});

test("Enter takes what is written wherever the keys go, but on a button that is the button's", () => {
  assert.deepEqual(press("Enter"), []);
  bench.line.isOpen = true;
  assert.deepEqual(press("Enter"), [["enter"]]);
  assert.deepEqual(press("Enter", { target: new Part("button") }), []);
  bench.line.isOpen = false;
});

test("Delete takes away what its action takes away, or says that there is none", () => {
  let clicked = 0;
  assert.deepEqual(press("Delete"), [["say", "Nothing picked can be taken away"]]);
  document.actions = { 'data-edit="remove"': { click: () => clicked++ } };
  assert.deepEqual(press("Delete"), []);
  assert.equal(clicked, 1);
  document.actions = {};
});

test("all that is shown is picked, and help opens beside", () => {
  assert.deepEqual(press("a", { ctrlKey: true }), [["pick", [{ kind: "node", node: "n1", index: 0, id: "n1" }]]]);
  press("F1");
  press("?");
  press("?", { target: input });
  assert.deepEqual(opened, [["/help", "_blank"], ["/help", "_blank"]]);
});

const SHIFT = { shiftKey: true };
const VIEW = [
  ["ArrowLeft", {}, ["orbit", -20, 0]], ["ArrowRight", {}, ["orbit", 20, 0]], ["ArrowUp", {}, ["orbit", 0, -20]], ["ArrowDown", {}, ["orbit", 0, 20]],
  ["ArrowLeft", SHIFT, ["pan", 40, 0]], ["ArrowRight", SHIFT, ["pan", -40, 0]], ["ArrowUp", SHIFT, ["pan", 0, 40]], ["ArrowDown", SHIFT, ["pan", 0, -40]],
  ["+", {}, ["zoom", 0.85, 400, 300]], ["-", {}, ["zoom", 1.18, 400, 300]], ["Home", {}, ["fit"]], ["PageDown", {}, ["walk", 1]], ["PageUp", {}, ["walk", -1]],
  [" ", {}, ["hovered", false]], [" ", SHIFT, ["hovered", true]],
];

test("the view is worked by keys alone, about its middle", () => {
  for (const [key, more, wanted] of VIEW) assert.deepEqual(press(key, { target: canvas, ...more }), [wanted], key);
  for (const [key, more] of VIEW) assert.deepEqual(press(key, { target: new Part("button"), ...more }), [], `${key} on a button is the button's`);
});

// --- a number drawn sideways --------------------------------------------------------------------------------------

function scrub(css, value, ...places) {
  const line = new Part("line");
  scrubbing(line);
  const field = new Part(css, { value });
  const heard = [];
  field.addEventListener("input", () => heard.push(field.value));
  line.dispatchEvent(event("pointerdown", { target: field, button: 0, clientX: 100 }));
  for (const x of places) window.dispatchEvent(event("pointermove", { clientX: x }));
  window.dispatchEvent(event("pointerup", {}));
  window.dispatchEvent(event("pointermove", { clientX: 900 }));
  return heard;
}

test("a length doubles over 120 px to the right and halves to the left, its unit stays", () => {
  assert.deepEqual(scrub("field-length", "12.5 mm", 220, -20), ["25 mm", "6.25 mm"]);
  assert.deepEqual(scrub("field-angle", "-30°", 220), ["-60°"]);
});

test("a count stays whole and at least one", () => assert.deepEqual(scrub("field-count", "3", 220, -500), ["6", "1"]));

test("a click is no pull, and what is no plain number is left alone", () => {
  assert.deepEqual(scrub("field-length", "12 mm", 103), []);
  for (const value of ["", "wall * 2", "0 mm", "abc"]) assert.deepEqual(scrub("field-length", value, 300), []);
});

// --- the knob -----------------------------------------------------------------------------------------------------

function owner(value) {
  const heard = [];
  const box = { left: 10, top: 20 };
  return { value, held: false, heard, draw() {}, moved: (v, done) => heard.push([v, done]), view: { canvas: { getBoundingClientRect: () => box } } };
}

test("a held knob follows the pointer in the view's own places, tells each value once, and is done when let go", () => {
  const one = owner(0);
  hold(one, event("pointerdown", { stopPropagation() {} }), (x, y, fine) => (fine ? x / 10 : x));
  assert.equal(one.held, true);
  for (const [clientX, altKey] of [[15, false], [15, false], [40, false], [40, true]]) window.dispatchEvent(event("pointermove", { clientX, clientY: 25, altKey }));
  window.dispatchEvent(event("pointerup", {}));
  window.dispatchEvent(event("pointermove", { clientX: 99, clientY: 25, altKey: false }));
  assert.deepEqual(one.heard, [[5, false], [30, false], [3, false], [3, true]]);
  assert.equal(one.held, false);
});

test("arrows nudge it both ways, other keys do not", () => {
  const one = owner(4);
  for (const key of ["ArrowUp", "ArrowLeft", "ArrowLeft", "Tab", "a"]) nudge(one, event("keydown", { key, stopPropagation() {} }), (way) => one.value + way);
  assert.deepEqual(one.heard, [[5, true], [4, true], [3, true]]);
});

// --- gaps that fold -----------------------------------------------------------------------------------------------

function sentence(edit, gaps) {
  const form = new Part("form", { elements: { namedItem: (name) => form.parts.find((p) => p.name === name) ?? null } });
  form.dataset.edit = edit;
  for (const [name, value, usual] of gaps) {
    const gap = new Part("field", { name, value });
    Object.assign(gap.dataset, { fold: usual, name });
    if (value === usual) gap.classes.add("fold");
    form.append(gap);
  }
  const more = new Part("unfold");
  more.dataset.unfold = "";
  form.append(more);
  return { form, more, folded: () => form.parts.filter((p) => p.classes.has("fold")).map((p) => p.name) };
}

test("gaps that are as usual fold behind one word, open on a click, and stay open for that edit on this page", () => {
  const { form, more, folded } = sentence("tilt", [["riders", "alone", "alone"], ["chamfers", "kept", "as they are"]]);
  folding.begin(form);
  assert.deepEqual(folded(), ["riders"]);
  assert.equal(more.textContent, "more");
  assert.equal(more.attributes["aria-expanded"], "false");
  assert.equal(folding.toggle(form), true);
  assert.deepEqual(folded(), []);
  assert.equal(more.textContent, "less");
  const again = sentence("tilt", [["riders", "alone", "alone"]]);
  folding.begin(again.form);
  assert.deepEqual(again.folded(), []);
  assert.equal(folding.toggle(again.form), false);
  assert.deepEqual(again.folded(), ["riders"]);
  const other = sentence("push", [["riders", "alone", "alone"]]);
  folding.begin(other.form);
  assert.deepEqual(other.folded(), ["riders"], "another edit is as it was");
});

// --- what was typed meanwhile -------------------------------------------------------------------------------------

function form(values) {
  const fields = Object.entries(values).map(([name, value]) => new Part("input field", { name, value, type: "text" }));
  return { fields, querySelectorAll: () => fields, elements: { namedItem: (name) => fields.find((f) => f.name === name) ?? null } };
}

test("what is typed while the line opens anew is laid over it, the rest is as it came", () => {
  const before = typed(form({ distance: "1", angle: "5°" }));
  const now = typed(form({ distance: "12.5", angle: "5°" }));
  const fresh = form({ distance: "1", angle: "7°", turn: "0" });
  assert.equal(carryOver(before, now, fresh), true);
  assert.deepEqual(fresh.fields.map((f) => f.value), ["12.5", "7°", "0"]);
  assert.equal(fresh.fields[0].focused, true);
  assert.deepEqual(fresh.fields[0].selected, [4, 4], "the hand goes on at the end");
});

test("nothing typed, or a gap that is no more, changes nothing", () => {
  const before = typed(form({ distance: "1", gone: "3" }));
  const fresh = form({ distance: "2" });
  assert.equal(carryOver(before, typed(form({ distance: "1", gone: "4" })), fresh), false);
  assert.equal(fresh.fields[0].value, "2");
  assert.equal(carryOver(typed(null), typed(null), fresh), false);
});

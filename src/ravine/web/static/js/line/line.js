// The line: opens with the server's fragment, previews while gaps are filled (latest wins), accepts or leaves.
import { Room } from "./room.js";
import { carryOver, typed } from "./late.js";
import * as folding from "./folding.js";
import { all, byId, one, sure } from "../dom.js";
import { ask, isAbort, keep, Refused, getText, getJson, post } from "../api.js";
import { Grips } from "./grips.js";
import { scrubbing } from "../handles/scrub.js";

const PAUSE = 260; // ms of quiet after which the preview is checked like the real thing

export class Line {
  /** @param {import("../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.grips = new Grips(this);
    this.element = byId("line");
    this.room = new Room(bench, this.element);
    this.busy = false;
    this.again = false;
    this.turn = 0;
    this.opening = 0; // the turn whose line is on its way
    this.element.addEventListener("input", (/** @type {any} */ event) => this.changed(event));
    this.element.addEventListener("submit", (/** @type {any} */ event) => {
      event.preventDefault();
      this.enter();
    });
    this.element.addEventListener("keydown", (/** @type {any} */ event) => {
      // a select does not submit, and a gap that holds a pick would be emptied; the space bar still empties it
      const { target } = event;
      const holds = target instanceof HTMLButtonElement && target.matches(".field-pick") && this.form && this.picked(target);
      if (event.key !== "Enter" || !(target instanceof HTMLSelectElement || holds)) return;
      event.preventDefault();
      this.accept();
    });
    scrubbing(this.element);
    this.element.addEventListener("click", (/** @type {any} */ event) => {
      const target = /** @type {HTMLElement} */ (event.target);
      if (target.closest("[data-leave]")) this.leave();
      if (target.closest("[data-unfold]")) this.unfold();
      const nearest = target.closest("[data-take-nearest]");
      if (nearest) this.takeNearest(nearest);
      const field = /** @type {HTMLElement|null} */ (target.closest(".field-pick"));
      if (field) this.arm(field);
      const choice = target.closest(".completions [data-name]");
      if (choice) this.completeTo(choice.getAttribute("data-name"));
    });
  }

  get isOpen() {
    return !this.element.hidden;
  }

  get form() {
    return /** @type {HTMLFormElement|null} */ (this.element.querySelector("#line-form"));
  }

  /** The form of the line that is open. */
  get opened() {
    const { form } = this;
    if (!form) throw new Error("the line is not open");
    return form;
  }

  // --- opening ---------------------------------------------------------------------------------------------

  /** @param {string} edit @param {string[]} picked @param {Object<string,string>} [values] */
  async open(edit, picked, values = {}) {
    const turn = ++this.turn;
    this.opening = turn;
    this.bench.explode.leave();
    const asked = new URLSearchParams({ edit, picked: this.placedIds(picked).join(" "), nodes: this.bench.pickNodes().join(" "), values: JSON.stringify(values) });
    const { point } = this.bench.picked[0] ?? {};
    if (point) asked.set("pointed", point.toArray().join(","));
    const before = typed(this.form?.dataset.edit === edit ? this.form : null);
    const html = await this.bench.trying(() => post(this.bench.url("line"), asked));
    if (this.opening === turn) this.opening = 0;
    if (turn !== this.turn || html === null) return;
    const late = typed(before.size ? this.form : null);
    this.element.innerHTML = html;
    this.element.hidden = false;
    delete this.element.dataset.walls;
    this.bench.opened(edit);
    this.grips.open(turn);
    if (!this.grips.handle) this.room.make(null);
    if ("usesUp" in this.opened.dataset) this.bench.drawing.lean();
    folding.begin(this.opened);
    if (!carryOver(before, late, this.opened)) this.focusFirst(one("select.field:not(.fold)", this.opened));
    if (this.bench.drawing.active) this.bench.drawing.begin();
    this.fitGaps();
    this.bench.pending(this.words());
    if (this.complete()) this.schedule();
  }

  /** A value that a grip gives.
   * @param {string} name @param {string} text @param {boolean} done */
  write(name, text, done) {
    const input = /** @type {HTMLInputElement} */ (this.opened.elements.namedItem(name));
    input.value = text;
    input.removeAttribute("aria-invalid");
    folding.show(this.opened, input);
    this.bench.pending(this.words());
    this.schedule();
    if (done) input.focus({ preventScroll: true });
  }

  /** More of the sentence, or less; the first gap that comes up is written in next. */
  unfold() {
    const first = /** @type {HTMLElement|null} */ (this.opened.querySelector(".field.fold:not([hidden])"));
    if (folding.toggle(this.opened)) first?.focus({ preventScroll: true });
  }

  /** Gaps that say nothing for what is chosen go, with the word before them. */
  fitGaps() {
    for (const field of all("[data-only]", this.opened)) {
      const [name, ...takes] = JSON.parse(field.dataset.only);
      const away = !takes.includes(/** @type {HTMLSelectElement} */ (this.opened.elements.namedItem(name)).value);
      field.hidden = away;
      if (field.previousElementSibling?.matches(".say")) field.previousElementSibling.toggleAttribute("hidden", away);
    }
  }

  /** On the first gap to write in, else on another, else on accept: Enter then accepts.
   * @param {HTMLElement|null} [other] */
  focusFirst(other) {
    const first = /** @type {HTMLInputElement|null} */ (this.opened.querySelector("input.field:not([type=hidden]):not([hidden]):not(.fold)"));
    (first || other || /** @type {HTMLElement} */ (this.opened.querySelector("button[type=submit]"))).focus({ preventScroll: true });
    if (first?.type === "text") first.select();
  }

  // --- gaps that are picked --------------------------------------------------------------------------------

  /** A click on a gap takes the next pick for it; on a filled one it empties it first.
   * @param {HTMLElement} button */
  arm(button) {
    const name = button.dataset.field;
    const waits = name !== this.opened.dataset.pickField && !button.classList.contains("armed");
    for (const other of this.element.querySelectorAll(".field-pick.armed")) other.classList.remove("armed");
    this.armed = waits ? button : null;
    if (!waits) return;
    button.classList.add("armed");
    this.setPick(button, "", "pick it in the view");
    button.classList.add("blank");
  }

  /** @param {HTMLElement} button */
  picked(button) {
    return /** @type {HTMLInputElement} */ (this.opened.elements.namedItem(sure(button.dataset.field))).value;
  }

  /** @param {any} button @param {string} ids @param {string} words */
  setPick(button, ids, words) {
    /** @type {HTMLInputElement} */ (this.opened.elements.namedItem(button.dataset.field)).value = ids;
    button.textContent = words;
  }

  /** A pick while a gap waits for one goes there.
   * @returns {boolean} whether it was taken @param {Thing} thing */
  fillPick(thing) {
    const button = this.armed;
    if (!button || !this.isOpen || !button.isConnected) return false;
    const takes = sure(button.dataset.takes).split(" ");
    if (thing.facet !== undefined && takes.includes("facet") && (thing.single || this.bench.view.places.get(thing.node).body.faces.length === 1)) thing = { ...thing, kind: "facet", id: `t${thing.id.slice(1)}:${thing.facet}` };
    if (!takes.includes(thing.kind)) {
      const node = takes.includes("node") && thing.node;
      if (!node) {
        this.bench.say(`This gap takes a ${takes.join(" or ").replace("vertex", "corner").replace("node", "part")}`);
        return true;
      }
      thing = { ...thing, kind: "node", id: node };
    }
    button.classList.remove("blank");
    if ("several" in button.dataset) { // it goes on waiting: one after the other
      const ids = [...new Set([...this.picked(button).split(" ").filter(Boolean), this.bench.placed(thing)])];
      this.setPick(button, ids.join(" "), `${ids.length} picked`);
      this.focusFirst();
      this.bench.pending(this.words());
      if (this.complete()) this.schedule();
      return true;
    }
    this.armed = null;
    button.classList.remove("armed");
    /** @type {Table<string>} */
    const called = { face: "a face", edge: "an edge", vertex: "a corner", facet: "a facet", node: "a part", curve: "a line", point: "a point", area: "an area", sketch: "a sketch" };
    this.setPick(button, this.bench.placed(thing), called[thing.kind]);
    if ("reopens" in button.dataset) this.open(sure(this.opened.dataset.edit), this.bench.pickIds(), this.others());
    else {
      this.focusFirst();
      this.bench.pending(this.words());
      if (this.complete()) this.schedule();
    }
    return true;
  }

  /** Ids of what is picked with the places they were picked in.
   * @param {string[]} ids */
  placedIds(ids) {
    return ids.map((/** @type {string} */ id) => {
      const thing = this.bench.picked.find((p) => p.id === id);
      return thing ? this.bench.placed(thing) : id;
    });
  }

  /** What is filled in besides the pick itself. */
  others() {
    const { [this.opened.dataset.pickField ?? ""]: _, ...rest } = this.values();
    return rest;
  }

  /** What the line opens with once more after it was accepted, where the edit says that it does. */
  onceMore() {
    const { edit, keeps, pickField } = this.opened.dataset;
    const names = (keeps || "").split(" ").filter(Boolean);
    if (!names.length) return null;
    const now = this.values();
    const values = Object.fromEntries(names.map((name) => [name, Array.isArray(now[name]) ? now[name].join(" ") : now[name]]));
    return { edit: sure(edit), picked: [now[pickField ?? ""] ?? []].flat(), values };
  }

  /** Typing an edit from its first letter.
   * @param {string} letter */
  openTyping(letter) {
    this.turn++;
    this.element.innerHTML = `<form class="typing" autocomplete="off"><input aria-label="Write an edit" spellcheck="false"><button class="btn-key"><kbd>⏎</kbd> go on</button><button type="button" class="btn-key" data-leave><kbd>esc</kbd> leave</button></form><div id="completions"></div>`;
    this.element.hidden = false;
    const input = one("input", this.element);
    input.value = letter;
    input.focus();
    this.suggest();
  }

  async suggest() {
    const text = one(".typing input", this.element).value;
    const html = await getText(this.bench.url("complete"), { text, kind: this.kind() }).catch(() => null);
    const place = this.element.querySelector("#completions");
    if (place && html !== null) place.innerHTML = html;
  }

  /** @param {string|null} name */
  completeTo(name) {
    const input = one(".typing input", this.element);
    input.value = `${name} `;
    input.focus();
    this.suggest();
  }

  async commit() {
    const text = one(".typing input", this.element).value;
    let found;
    try {
      found = await getJson(this.bench.url("typed"), { text, kind: this.kind() });
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      one("#completions", this.element).innerHTML = error.html || error.message;
      return;
    }
    if (found.page) {
      this.leave();
      this.bench.pageAct(found.page);
    } else await this.open(found.edit, this.bench.pickIds(), found.values);
  }

  /** What is picked, for words that mean several edits. */
  kind() {
    return this.bench.picked[0]?.kind ?? "";
  }

  // --- filling ---------------------------------------------------------------------------------------------

  values() {
    /** @type {Table} */
    const found = {};
    for (const [name, value] of new FormData(this.opened)) {
      const pick = name === this.opened.dataset.pickField;
      found[name] = pick ? String(value).split(" ").filter(Boolean) : value;
    }
    const drawing = this.bench.drawing;
    if (drawing.active && !this.accepting) found[sure(drawing.input).name] = drawing.value() ?? sure(drawing.input).value;
    return found;
  }

  complete() {
    return !this.empty();
  }

  /** The first gap that has to be filled and is not. */
  empty() {
    const unpicked = all(".field-pick", this.opened).find((button) => !("optional" in button.dataset) && !this.picked(button));
    if (unpicked) return unpicked;
    /** @param {string} name */
    const value = (name) => /** @type {HTMLInputElement} */ (this.opened.elements.namedItem(name))?.value.trim();
    return all("input.field, select.field", this.opened).find((input) => {
      if (input.value.trim()) return false;
      return !("optional" in input.dataset) || (input.dataset.instead && !value(input.dataset.instead));
    });
  }

  words() {
    return [...this.opened.querySelectorAll(".sentence > :not([hidden]):not(.fold):not([data-unfold])")]
      .map((e) => (e instanceof HTMLSelectElement ? e.selectedOptions[0].text : e instanceof HTMLInputElement ? (e.type === "hidden" ? "" : e.value || ("optional" in e.dataset ? e.placeholder : "…")) : (e.textContent || "").trim()))
      .filter(Boolean).join(" ").replaceAll(" ,", ",");
  }

  /** @param {any} event */
  changed(event) {
    if (!this.form) {
      this.suggest();
      return;
    }
    const input = /** @type {HTMLInputElement} */ (event.target);
    input.removeAttribute("aria-invalid");
    if (input instanceof HTMLSelectElement) this.fitGaps();
    this.grips.changed(input);
    this.bench.pending(this.words());
    if (this.complete() && !unfinished(input)) this.schedule();
  }

  // --- previewing ------------------------------------------------------------------------------------------

  schedule() {
    clearTimeout(this.settling);
    this.again = true;
    if (!this.busy) this.run(false);
  }

  /** @param {boolean} settled */
  async run(settled) {
    this.again = false;
    if (!this.complete() && !(this.bench.drawing.active && this.bench.drawing.value())) return;
    this.busy = true;
    const turn = this.turn;
    const began = performance.now();
    try {
      const answer = await ask(this.bench.url("preview"), { edit: this.opened.dataset.edit, values: this.values(), base: this.bench.base, settled, plane: this.bench.section.numbers(), watch: this.bench.section.widths.watch() });
      if (turn === this.turn && this.form) {
        this.bench.showPreview(answer);
        this.facts(answer.head.factsHtml + (settled ? "" : '<span class="none estimate">being checked</span>'));
        for (const gap of all("[aria-invalid]", this.opened)) gap.removeAttribute("aria-invalid");
        this.bench.previewTimes.push(performance.now() - began);
        this.grips.follow(answer.head.numbers);
      }
    } catch (error) {
      if (turn === this.turn && this.form) this.refuse(error);
    }
    this.busy = false;
    if (turn !== this.turn) {
      if (this.again && this.form) this.run(false);
      return;
    }
    if (this.again && this.form) this.run(false);
    else if (!settled && this.form) this.settling = setTimeout(() => this.form && turn === this.turn && this.run(true), PAUSE);
  }

  /** @param {string} html */
  facts(html) {
    const place = this.element.querySelector("#line-facts");
    if (place) place.innerHTML = html;
  }

  /** @param {unknown} error */
  refuse(error) {
    if (!(error instanceof Refused)) {
      if (!isAbort(error)) throw error;
      return;
    }
    this.bench.hidePreview();
    if (error.status === 409) { // somebody was faster: say so where it stays, and open the line on the newest state
      this.bench.say(error.message);
      this.bench.reload().then(() => this.bench.refreshPanels());
      return;
    }
    if (error.told.later) {
      const told = document.createElement("span");
      told.className = "fact";
      told.textContent = error.told.reason;
      this.facts(told.outerHTML);
      return;
    }
    this.facts(refusalHtml(error.told));
    const field = error.told.field && this.opened.elements.namedItem(error.told.field);
    if (field instanceof HTMLElement) field.setAttribute("aria-invalid", "true");
  }

  /** @param {Element} button */
  takeNearest(button) {
    const name = button.getAttribute("data-field") || this.grips.handle?.field;
    const input = name && this.form && this.opened.elements.namedItem(name);
    if (!(input instanceof HTMLInputElement)) return;
    input.value = button.getAttribute("data-take-nearest") ?? "";
    input.dispatchEvent(new Event("input", { bubbles: true }));
    input.focus();
  }

  // --- ending ----------------------------------------------------------------------------------------------

  /** What is written is taken: a sentence is accepted, a word becomes one. */
  enter() {
    return this.form ? this.accept() : this.commit();
  }

  async accept() {
    if (this.accepting) return;
    if (!this.complete()) {
      const empty = this.empty();
      empty.setAttribute("aria-invalid", "true");
      empty.focus();
      if (empty.matches(".field-pick:not(.armed)")) this.arm(empty);
      this.facts(`<span class="fact warn">${empty.matches(".field-pick") ? "pick something for this gap in the view" : "this gap is still empty"}</span>`);
      return;
    }
    this.accepting = true;
    clearTimeout(this.settling);
    this.again = false;
    this.element.setAttribute("aria-busy", "true");
    const began = performance.now();
    const again = this.onceMore();
    const used = "usesUp" in this.opened.dataset ? this.bench.picked.map((p) => p.sketch).filter(Boolean) : [];
    try {
      const answer = await keep(this.bench.url("edits"), { edit: this.opened.dataset.edit, values: this.values(), base: this.bench.base });
      this.turn++;
      this.close();
      await this.bench.accepted(answer);
      if (used.length) this.bench.sketches.use(used);
      if (again && answer.head.scene) await this.open(again.edit, again.picked, again.values);
      this.bench.acceptTimes.push(performance.now() - began);
    } catch (error) {
      this.refuse(error);
    } finally {
      this.accepting = false;
      this.element.removeAttribute("aria-busy");
    }
  }

  leave() {
    this.turn++;
    this.close();
    this.bench.hidePreview();
    this.bench.view.canvas.focus();
  }

  close() {
    clearTimeout(this.settling);
    this.room.giveBack();
    this.again = false;
    this.element.hidden = true;
    this.element.replaceChildren();
    this.grips.close();
    this.armed = null;
    this.bench.view.clearMarks("ghost");
    this.bench.drawing.end();
    this.bench.pending("");
    this.bench.opened("");
  }
}

/** @param {any} told */
function refusalHtml(told) {
  const holder = document.createElement("div");
  holder.innerHTML = '<div class="refusal" role="alert"><svg class="sign" viewBox="0 0 12 12" aria-hidden="true"><path d="M1.5 1.5l9 9M10.5 1.5l-9 9"/></svg><span></span></div>';
  sure(holder.querySelector("span")).textContent = told.reason;
  if (told.nearest) {
    const button = document.createElement("button");
    button.type = "button";
    button.className = "link-do";
    button.dataset.takeNearest = told.nearest;
    button.dataset.field = told.field || "";
    button.textContent = `use ${told.nearest}`;
    sure(holder.firstElementChild).append(button);
  }
  return holder.innerHTML;
}

/** Whether a number or a sum is still being written: that is no mistake yet.
 * @param {HTMLInputElement} input */
export function unfinished(input) {
  return input.matches(".field-length, .field-angle") && /(^|[-−+*/(,.])\s*$/.test(input.value) && !/\d\.\s*$/.test(input.value);
}

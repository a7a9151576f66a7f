// Drawings at the stage Hand over: the list of sheets, and the open one in place of the view.
import { Refused, getText, isAbort, post, stream } from "../../api.js";
import { all, byId, one, sure } from "../../dom.js";
import { InPlace } from "../../panels/in_place.js";
import { Drawn } from "./drawn.js";
import { Hand } from "./hand.js";

const MOMENT = 400; // ms
/** @typedef {{source: string, view: number, near: [number, number]}} PickedLine */

export class Paper {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.turn = 0;
    this.stop = new AbortController(); // of the drawing under way
    this.name = ""; // of the open sheet
    /** @type {PickedLine[]} */
    this.lines = [];
    this.view = 0; // picked, by number
    this.item = 0;
    this.drags = 0; // pictures of what was moved, counted
    this.drawn = new Drawn(this);
    this.hand = new Hand(this);
    this.inPlace = new InPlace(bench, this.panel, (input) => this.asked(input));
    for (const place of [this.panel, this.paper, this.side]) place.addEventListener("click", (/** @type {MouseEvent} */ event) => this.click(event));
    for (const place of [this.paper, this.side]) place.addEventListener("change", (/** @type {Event} */ event) => this.changed(/** @type {HTMLInputElement} */ (event.target)));
    for (const place of [this.panel, this.side]) {
      place.addEventListener("keydown", (/** @type {KeyboardEvent} */ event) => {
        if (/** @type {HTMLElement} */ (event.target).matches("input, select, textarea")) event.stopPropagation();
      });
    }
    document.addEventListener("keydown", (event) => this.hand.key(event), true);
  }

  get panel() {
    return one("#drawings");
  }

  get paper() {
    return one("#paper");
  }

  get side() {
    return one("#on-sheet");
  }

  get isOpen() {
    return !this.paper.hidden;
  }

  /** Shown at its stage only, and drawn afresh with every state. */
  async refresh() {
    const here = this.bench.stage === "Hand over";
    this.panel.hidden = !here;
    if (!here) {
      this.show(false);
      return;
    }
    const turn = ++this.turn;
    if (this.name) await this.ahead(turn);
    if (turn !== this.turn) return;
    const html = await this.bench.trying(() => getText(this.bench.url("drawings"), this.name ? { open: this.name } : {}));
    if (turn !== this.turn || html === null) return;
    const held = document.createElement("template");
    held.innerHTML = html;
    const part = (/** @type {string} */ name) => sure(held.content.querySelector(`[data-for=${name}]`));
    const unfolded = Boolean(one("details[open]", this.panel));
    this.panel.replaceChildren(...part("drawings").childNodes);
    if (unfolded) one("details", this.panel)?.setAttribute("open", "");
    this.drawn.take(part("paper"));
    const open = Boolean(one("svg", this.paper));
    if (!open) this.name = "";
    this.show(open);
    if (open) await this.tellPick();
  }

  /** The open sheet is drawn, with its progress told where it takes a moment; what is wrong with it the panel says.
   * @param {number} turn */
  async ahead(turn) {
    const began = performance.now();
    this.stop.abort();
    this.stop = new AbortController();
    /** @param {number} _ @param {string} words */
    const told = (_, words) => {
      if (turn === this.turn && performance.now() - began > MOMENT) this.wait(words);
    };
    try {
      await stream(this.bench.url("drawings/ahead"), { open: this.name }, told, this.stop.signal);
    } catch (error) {
      if (!isAbort(error) && !(error instanceof Refused)) throw error;
    } finally {
      this.wait("");
    }
  }

  /** @param {string} words beside the name of the sheet */
  wait(words) {
    const place = one("[data-drawing]", this.paper);
    if (place) place.textContent = words && `${words} …`;
  }

  /** @param {boolean} on */
  show(on) {
    if (on === this.isOpen) return;
    this.paper.hidden = !on;
    document.body.classList.toggle("on-paper", on);
    this.side.hidden = !on;
    byId("actions").hidden = on;
    if (on) {
      this.drawn.fit();
      one("svg", this.paper).focus();
    } else {
      this.side.replaceChildren();
      this.hand.leave();
      this.pick();
      this.bench.view.resize();
    }
  }

  /** @param {string} name */
  async open(name) {
    this.name = name;
    this.pick();
    await this.refresh();
  }

  /** What is picked on the sheet: lines of one view, or a view, or one thing written.
   * @param {{lines?: PickedLine[], view?: number, item?: number}} [what] */
  pick(what = {}) {
    const { lines = [], view = 0, item = 0 } = what;
    this.lines = lines;
    this.view = lines.length ? lines[0].view : view;
    this.item = item;
    this.drawn.mark();
  }

  /** The actions that suit what is picked. */
  async tellPick() {
    const { lines, view, item } = this;
    const called = this.drawn.view(view)?.dataset.name ?? "";
    const asked = { sheet: this.name, called, ...(lines.length ? { on: lines.map((p) => p.source), near: lines.map((p) => p.near), view } : item ? { item, says: this.drawn.says(item) } : view ? { view } : {}) };
    const turn = ++this.turn;
    if (this.name) await this.ahead(turn);
    if (turn !== this.turn) return;
    const html = await this.bench.trying(() => post(this.bench.url("on-sheet"), asked));
    if (html === null || turn !== this.turn) return;
    this.side.innerHTML = html;
  }

  /** @param {{lines?: PickedLine[], view?: number, item?: number}} [what] */
  async choose(what) {
    this.pick(what);
    await this.tellPick();
  }

  /** @param {string} edit @param {Object<string, any>} values */
  async keep(edit, values) {
    await this.inPlace.keep({ edit, values: { ...values, sheet: this.name } });
    if (this.isOpen && (document.activeElement === document.body || document.activeElement === this.bench.view.canvas)) one("svg", this.paper)?.focus();
  }

  /** @param {HTMLInputElement} input */
  asked(input) {
    const { viewScale, title } = input.dataset;
    if (viewScale) {
      const [a, b] = input.value.split(":").map(Number);
      return { edit: "set view", values: { view: viewScale, scale: b ? String(a / b) : input.value, sheet: this.name } };
    }
    return title ? { edit: "set sheet", values: { sheet: this.name, entry: title, value: input.value } } : null;
  }

  /** A word of what is written, or something put on the sheet.
   * @param {HTMLInputElement} input */
  changed(input) {
    const words = /** @type {HTMLElement|null} */ (input.closest("[data-item-words]"));
    if (words && input.dataset.word) this.keep("set written", { item: words.dataset.itemWords, words: { [input.dataset.word]: input.value } });
    else if (input.matches("[data-put]") && input.value) {
      this.hand.place(input.value, input.value === "note" ? { text: "Note" } : input.value === "revisions" ? { row1: "A | | First issue | " } : {});
      input.value = "";
    }
  }

  /** @param {MouseEvent} event */
  click(event) {
    const target = /** @type {HTMLElement} */ (event.target);
    const act = /** @type {HTMLElement|null} */ (target.closest("button"));
    if (!act) return;
    const { bench, view } = this;
    const { openSheet, saveSheet, pickView, pickItem, write, beside, cutView, viewFlag, to, dropThing, drive } = act.dataset;
    if (openSheet !== undefined) this.open(openSheet === this.name ? "" : openSheet);
    else if (act.matches("[data-begin-sheet]")) this.begin();
    else if (saveSheet) bench.line.open("save drawing", [], saveSheet === "all" ? { sheet: "all", format: "pdf" } : { sheet: this.name, format: saveSheet });
    else if (act.matches("[data-close-sheet]")) this.open("");
    else if (act.matches("[data-fit-sheet]")) this.drawn.fit();
    else if (act.matches("[data-drop-sheet]")) this.keep("drop sheet", {});
    else if (act.matches("[data-add-view]")) bench.line.open("add view", bench.pickIds().filter((/** @type {string} */ id) => id.startsWith("n")), { sheet: this.name });
    else if (act.matches("[data-propose]")) this.keep("propose sizes", {});
    else if (pickView) this.choose({ view: Number(pickView) });
    else if (pickItem) this.choose({ item: Number(pickItem) });
    else if (write) this.hand.place(JSON.parse(write).kind, JSON.parse(write).words);
    else if (beside) this.keep("add view", { beside: view, side: beside });
    else if (cutView) this.keep("cut view", { view, toward: cutView });
    else if (act.matches("[data-cut-line]")) this.hand.draft.begin("line");
    else if (act.matches("[data-detail]")) this.hand.draft.begin("circle");
    else if (act.matches("[data-break]")) act.textContent?.includes("Mend") ? this.keep("set view", { view, breaks: "mended" }) : this.hand.draft.begin("break");
    else if (viewFlag) this.keep("set view", { view, [viewFlag]: to });
    else if (dropThing) this.drop(Number(dropThing));
    else if (drive) bench.openSize(drive.split(" "));
    else if (act.matches("[data-more]")) one(".on-sheet", this.side)?.classList.toggle("every");
  }

  /** On the line; the new sheet opens when it is there. */
  begin() {
    const known = new Set(all("[data-open-sheet]", this.panel).map((row) => row.dataset.openSheet));
    this.bench.line.open("begin sheet", this.bench.pickIds().filter((/** @type {string} */ id) => id.startsWith("n")));
    const look = () => {
      const fresh = all("[data-open-sheet]", this.panel).find((row) => !known.has(row.dataset.openSheet));
      if (fresh) {
        watcher.disconnect();
        this.open(fresh.dataset.openSheet);
      }
    };
    const watcher = new MutationObserver(look);
    watcher.observe(this.panel, { childList: true, subtree: true });
  }

  /** @param {number} thing */
  drop(thing) {
    this.pick();
    return this.keep("drop from sheet", { things: [thing] });
  }
}

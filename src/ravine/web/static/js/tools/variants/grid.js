// Rows of values to be tried, as inputs in a table; what came of each beside it.
import { one } from "../../dom.js";

/** @typedef {{works: boolean, why: string, volume?: number, mass?: number|null, wall?: number|null, size?: number[]}} Tried */
/** @typedef {{names: Object<string, string>, rows: Object<string, string>[], units: string}} Begin */

const MOST = 2000; // rows
const LENGTH = /^\s*([-+]?\d*\.?\d+)\s*([a-zµ"']*)\s*$/i;
const FIGURES = 6;

export class Grid {
  /** @param {HTMLTableElement} table @param {Begin} begin */
  constructor(table, begin) {
    this.table = table;
    this.names = Object.keys(begin.names);
    this.now = begin.names;
    this.units = begin.units;
    this.rows = begin.rows.map((r) => ({ ...r }));
    /** @type {(Tried|undefined)[]} */
    this.found = [];
    if (!this.names.length) return;
    if (!this.rows.length) this.rows.push({});
    table.addEventListener("input", (event) => this.written(/** @type {HTMLInputElement} */ (event.target)));
    table.addEventListener("paste", (event) => this.pasted(event));
    table.addEventListener("keydown", (event) => this.key(event));
    this.draw();
  }

  /** Names that a row uses, else all of them. */
  get shown() {
    const used = this.names.filter((n) => this.rows.some((r) => r[n]));
    return used.length ? used : this.names;
  }

  /** @param {Object<string, string>[]} rows */
  add(rows) {
    if (this.rows.length === 1 && !Object.keys(this.rows[0]).length) this.rows = [];
    this.rows = [...this.rows, ...rows].slice(0, MOST);
    this.found.length = 0;
    this.draw();
  }

  /** @param {number} at */
  drop(at) {
    this.rows.splice(at, 1);
    this.found.splice(at, 1);
    if (!this.rows.length) this.rows.push({});
    this.draw();
  }

  /** Evenly from one length to another; why not, where it cannot be.
   * @param {string} name @param {string} first @param {string} last @param {number} count @returns {string} */
  range(name, first, last, count) {
    const [a, b] = [first, last].map((t) => LENGTH.exec(t));
    if (!a || !b || (a[2] && b[2] && a[2] !== b[2])) return "A range goes from one length to another in the same unit, such as 2 mm to 4 mm";
    if (!Number.isInteger(count) || count < 2 || count > MOST) return `A range has 2 to ${MOST} rows`;
    const unit = a[2] || b[2];
    const step = (Number(b[1]) - Number(a[1])) / (count - 1);
    this.add(Array.from({ length: count }, (_, k) => ({ [name]: `${Number((Number(a[1]) + k * step).toFixed(9))}${unit ? ` ${unit}` : ""}` })));
    return "";
  }

  /** @param {Tried[]} found */
  show(found) {
    this.found = found;
    this.draw();
  }

  /** @param {Element} target */
  number(target) {
    return Number(/** @type {HTMLElement} */ (target.closest("[data-row]")).dataset.row);
  }

  /** @param {HTMLInputElement} input */
  written(input) {
    const row = this.rows[this.number(input)];
    const { name } = input.dataset;
    if (!name) return;
    if (input.value.trim()) row[name] = input.value.trim();
    else delete row[name];
    this.found[this.number(input)] = undefined;
    for (const cell of /** @type {HTMLElement} */ (input.closest("tr")).querySelectorAll(".tried")) cell.textContent = "";
  }

  /** Lines and tabs of a spreadsheet fill places to the right and below; a first line of names chooses the columns.
   * @param {ClipboardEvent} event */
  pasted(event) {
    const text = event.clipboardData?.getData("text/plain") ?? "";
    const input = /** @type {HTMLInputElement} */ (event.target);
    if (!/[\t\n;]/.test(text.trim()) || !input.dataset.name) return;
    event.preventDefault();
    const lines = text.trim().split(/\r?\n/).map((l) => l.split(/[\t;]/).map((v) => v.trim()));
    const named = lines[0].every((v) => this.names.includes(v));
    const names = named ? lines[0] : this.names.slice(this.names.indexOf(input.dataset.name));
    const from = this.number(input);
    for (const [k, line] of lines.slice(named ? 1 : 0).entries()) {
      const row = (this.rows[from + k] ??= {});
      line.forEach((value, c) => names[c] && value && (row[names[c]] = value));
    }
    this.rows = this.rows.slice(0, MOST);
    this.found.length = 0;
    this.draw();
  }

  /** Up, down and Enter go from row to row.
   * @param {KeyboardEvent} event */
  key(event) {
    const by = { ArrowUp: -1, ArrowDown: 1, Enter: 1 }[event.key];
    const input = /** @type {HTMLInputElement} */ (event.target);
    if (!by || !input.dataset.name) return;
    event.preventDefault();
    const at = this.number(input) + by;
    if (at === this.rows.length && event.key === "Enter") this.add([{}]);
    one(`[data-row="${at}"] [data-name="${input.dataset.name}"]`, this.table)?.focus();
  }

  /** Columns of figures: what was written as a plain length, and what came out. @returns {Object<string, (number|null)[]>} */
  numbers() {
    /** @type {Object<string, (number|null)[]>} */
    const columns = {};
    const works = this.rows.map((row, k) => [row, this.found[k]]).filter(([, f]) => /** @type {Tried|undefined} */ (f)?.works);
    for (const name of this.shown) columns[name] = works.map(([row]) => number(/** @type {any} */ (row)[name] || this.now[name]));
    const told = { volume: this.volume, mass: "mass, kg", wall: `smallest wall, ${this.units}` }; // none is the name of a value
    for (const [name, title] of Object.entries(told)) columns[title] = works.map(([, f]) => /** @type {any} */ (f)[name] ?? null);
    ["X", "Y", "Z"].forEach((axis, k) => (columns[`size along ${axis}, ${this.units}`] = works.map(([, f]) => /** @type {any} */ (f).size[k])));
    return Object.fromEntries(Object.entries(columns).filter(([, c]) => c.some((v) => v !== null)));
  }

  get volume() {
    return `volume, ${this.units}³`;
  }

  asText() {
    const head = [...this.names, "works", `volume ${this.units}3`, "mass kg", `wall ${this.units}`, `size ${this.units}`, "why not"];
    const line = (/** @type {any} */ row, /** @type {Tried|undefined} */ f) =>
      [...this.names.map((n) => row[n] ?? ""), f ? (f.works ? "yes" : "no") : "", f?.volume ?? "", f?.mass ?? "", f?.wall ?? "", f?.size?.join(" x ") ?? "", f?.why ?? ""].map((v) => String(v).replaceAll(";", ",")).join(";");
    return [head.join(";"), ...this.rows.map((r, k) => line(r, this.found[k]))].join("\n");
  }

  draw() {
    const head = [...this.names.map((n) => [n, ""]), ["volume", `${this.units}³`], ["mass", ""], ["smallest wall", `${this.units}, about`], ["overall", this.units], ["", ""]];
    this.table.innerHTML = `<thead><tr><th></th>${head.map(([n, t]) => `<th scope="col">${n}<small>${t}</small></th>`).join("")}</tr></thead><tbody></tbody>`;
    const body = this.table.tBodies[0];
    this.rows.forEach((row, k) => body.append(this.line(row, k)));
  }

  /** @param {Object<string, string>} row @param {number} k */
  line(row, k) {
    const tr = document.createElement("tr");
    const found = this.found[k];
    tr.dataset.row = String(k);
    tr.className = found && !found.works ? "off" : "";
    const figures = found?.works
      ? [figure(found.volume), weight(found.mass), figure(found.wall && Number(found.wall.toPrecision(3))), (found.size ?? []).map((v) => figure(v)).join(" × ")]
      : null;
    const inputs = this.names.map((n) => `<td><input data-name="${n}" size="7" spellcheck="false" placeholder="${this.now[n]}" aria-label="${n}, row ${k + 1}"></td>`).join("");
    const told = figures ? figures.map((t) => `<td class="tried">${t}</td>`).join("") : '<td class="tried" colspan="4"></td>';
    tr.innerHTML = `<th scope="row">${k + 1}</th>${inputs}${told}<td class="trials-row"><button type="button" class="link-do" data-take title="The model takes these values over">make current</button> <button type="button" class="link-do" data-drop title="Take this row off the table">drop</button></td>`;
    if (found && !found.works) one(".tried", tr).textContent = found.why;
    for (const input of tr.querySelectorAll("input")) input.value = row[/** @type {string} */ (input.dataset.name)] ?? "";
    return tr;
  }
}

/** @param {string} text */
function number(text) {
  const found = LENGTH.exec(text.replace("−", "-").replace(/\u202f/g, ""));
  return found ? Number(found[1]) : null;
}

/** @param {number|null|undefined} value */
const figure = (value) => (value === null || value === undefined ? "–" : Number(value.toPrecision(FIGURES)).toString());

/** @param {number|null|undefined} kg */
const weight = (kg) => (kg === null || kg === undefined ? "–" : kg < 1 ? `${figure(kg * 1000)} g` : `${figure(kg)} kg`);

// A driving value tried at several sizes in a study: a table with a small plot, and the smallest that keeps a limit.
import { stream } from "../../api.js";
import { figure } from "./simulate.js";

const SEARCHED = 4; // times that the range is narrowed
const LENGTH = /^\s*([-+]?\d*\.?\d+)\s*([a-zµ"']*)\s*$/i;

/** @typedef {{at: number, works: boolean, why: string, displacement?: number, von_mises?: number, margin?: number, mass?: number}} Tried */

export class Variants {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
  }

  /** @param {HTMLElement} study @param {string} called @param {boolean} search */
  async run(study, called, search) {
    /** @param {string} name */
    const value = (name) => /** @type {HTMLInputElement} */ (study.querySelector(`[data-${name}]`)).value;
    const [from, to] = ["from", "to"].map((n) => LENGTH.exec(value(n)));
    const limit = Number(value("limit"));
    if (!from || !to || (search && !(limit > 0))) {
      this.bench.say(search ? "Say from where to where, and how far it may bend" : "A range goes from one length to another, such as 2 mm to 6 mm");
      return;
    }
    const unit = from[2] || to[2] || this.bench.scene.units;
    const [low, high] = [Number(from[1]), Number(to[1])];
    const steps = Math.max(2, Math.min(20, Math.round(Number(value("steps"))) || 2));
    /** @type {Tried[]} */
    const found = [];
    const name = value("driven");
    const first = search ? [low, high] : Array.from({ length: steps }, (_, k) => low + ((high - low) * k) / (steps - 1));
    if (!(await this.tried(study, called, name, unit, first, found))) return;
    for (let k = 0; search && k < SEARCHED; k++) {
      const next = between(found, limit);
      if (next === null || !(await this.tried(study, called, name, unit, [next], found))) break;
    }
    this.write(study, name, unit, found, search ? limit : null);
  }

  /** @param {HTMLElement} study @param {string} called @param {string} name @param {string} unit @param {number[]} values @param {Tried[]} found */
  async tried(study, called, name, unit, values, found) {
    const place = /** @type {HTMLElement} */ (study.querySelector("[data-rows]"));
    /** @param {number} share @param {string} words */
    const told = (share, words) => (place.innerHTML = `<p>${words}</p><p><progress max="1" value="${share}"></progress></p>`);
    told(0, `trying ${values.length} of ${name}`);
    const rows = values.map((v) => ({ [name]: `${Number(v.toFixed(6))} ${unit}` }));
    const data = await this.bench.trying(() => stream(this.bench.url("simulate/variants"), {}, told, new AbortController().signal, { rows, called }));
    if (!data) {
      place.replaceChildren();
      return false;
    }
    const figures = JSON.parse(new TextDecoder().decode(data));
    values.forEach((at, k) => found.push({ at, ...figures[k] }));
    found.sort((a, b) => a.at - b.at);
    return true;
  }

  /** @param {HTMLElement} study @param {string} name @param {string} unit @param {Tried[]} found @param {number|null} limit */
  write(study, name, unit, found, limit) {
    const place = /** @type {HTMLElement} */ (study.querySelector("[data-rows]"));
    const keeps = limit === null ? null : found.find((t) => t.works && Number(t.displacement) <= limit);
    const rows = found.map((t) => `<tr${t === keeps ? ' class="best"' : ""}><th scope="row">${figure(t.at)} ${unit}</th>${t.works ? `<td>${figure(Number(t.displacement))}</td><td>${figure(Number(t.von_mises))}</td><td>${figure(1000 * Number(t.mass))}</td>` : `<td colspan="3">${t.why}</td>`}</tr>`).join("");
    const told = limit === null ? "" : `<p>${keeps ? `${figure(keeps.at)} ${unit} is the smallest tried that bends no more than ${figure(limit)} ${this.bench.scene.units}.` : "None of these keeps it; try larger ones."}</p>`;
    place.innerHTML = `${told}<table class="figures"><thead><tr><th scope="col">${name}</th><th scope="col">bends, ${this.bench.scene.units}</th><th scope="col">stress, MPa</th><th scope="col">mass, g</th></tr></thead>${rows}</table>${plot(found.filter((t) => t.works))}<p class="none">Meshing alone scatters figures by about 1 %.</p>`;
  }
}

/** Halfway between the largest that bends too far and the smallest that does not; null where there is no such place.
 * @param {Tried[]} found @param {number} limit */
function between(found, limit) {
  const good = found.filter((t) => t.works && Number(t.displacement) <= limit).map((t) => t.at);
  const bad = found.filter((t) => !t.works || Number(t.displacement) > limit).map((t) => t.at);
  if (!good.length || !bad.length) return null;
  return (Math.min(...good) + Math.max(...bad.filter((b) => b < Math.min(...good)), -Infinity)) / 2 || null;
}

/** @param {Tried[]} found */
function plot(found) {
  if (found.length < 2) return "";
  const [low, high] = [found[0].at, found[found.length - 1].at];
  const all = found.map((t) => Number(t.displacement));
  const [least, most] = [0.9 * Math.min(...all), Math.max(...all)];
  const spots = found.map((t) => [(200 * (t.at - low)) / (high - low), 60 - (56 * (Number(t.displacement) - least)) / (most - least)]);
  return `<svg class="rounds" viewBox="-4 -2 208 66" role="img" aria-label="How far it bends over the value"><polyline points="${spots.map((s) => s.join(",")).join(" ")}"/>${spots.map(([x, y]) => `<circle cx="${x}" cy="${y}" r="2"/>`).join("")}</svg>`;
}

// Printing at the stage Prove: findings shown and mended, the best ways up, layers to look through.
import { getText, postForJson } from "../../api.js";
import { one, sure } from "../../dom.js";
import { findById } from "../../view/picking.js";
import { Vector3 } from "three";
import { Basket } from "./basket.js";

const FIXED = { push: "faces", resize: "faces", thicken: "faces", mend: "parts", split: "parts", drill: "face", teardrop: "holes" };

export class Printing {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.turn = 0;
    this.part = "";
    this.ways = false;
    this.open = false;
    this.asked = 0;
    this.basket = new Basket();
    const { panel } = this;
    panel.addEventListener("click", (/** @type {MouseEvent} */ event) => this.click(event));
    panel.addEventListener("input", (/** @type {Event} */ event) => "layerAt" in /** @type {HTMLElement} */ (event.target).dataset && this.layer());
    panel.addEventListener("toggle", (/** @type {Event} */ event) => this.toggled(/** @type {HTMLDetailsElement} */ (event.target)), true);
    panel.addEventListener("pointerover", (/** @type {Event} */ event) => this.bench.view.highlight("hover", this.things(/** @type {HTMLElement} */ (event.target))));
    panel.addEventListener("pointerleave", () => this.bench.view.highlight("hover", []));
  }

  get panel() {
    return one("#printing");
  }

  /** Shown at its stage; measured only while it is open. */
  async refresh() {
    const here = this.bench.stage === "Prove";
    this.panel.hidden = !here;
    if (!here) return;
    if (!this.open) {
      if (!this.panel.children.length) this.panel.innerHTML = '<details class="printing"><summary class="side-title">Print</summary></details>';
      return;
    }
    const turn = ++this.turn;
    const html = await this.bench.trying(() => getText(this.bench.url("printing"), { part: this.part, ...(this.ways ? { ways: "1" } : {}) }));
    if (turn !== this.turn || html === null) return;
    const shown = !this.panel.querySelector("[data-layer]")?.hasAttribute("hidden") && Boolean(this.panel.querySelector("[data-layer]"));
    this.panel.innerHTML = html;
    one("details", this.panel).setAttribute("open", "");
    if (shown) this.layers();
    this.gathered();
  }

  /** @param {HTMLDetailsElement} details */
  toggled(details) {
    if (details.open === this.open) return;
    this.open = details.open;
    if (this.open) this.refresh();
  }

  /** Another part was picked. */
  follow() {
    const node = this.bench.picked.find((p) => p.node)?.node ?? "";
    if (node === this.part || !node) return;
    this.part = node;
    this.ways = false;
    this.refresh();
  }

  /** @param {HTMLElement} target */
  things(target) {
    const row = /** @type {HTMLElement|null} */ (target.closest("[data-faces]"));
    return row?.dataset.faces ? row.dataset.faces.split(" ").map((id) => findById(this.bench.view, id)).filter(Boolean) : [];
  }

  /** The part that is shown. */
  get shown() {
    return this.part || this.bench.scene.nodes.find((n) => n.body)?.id || "";
  }

  /** @param {MouseEvent} event */
  click(event) {
    const { bench } = this;
    const target = /** @type {HTMLElement} */ (event.target);
    const row = /** @type {HTMLElement|null} */ (target.closest("[data-place]"));
    const { way, savePrint } = target.dataset;
    const fix = /** @type {keyof typeof FIXED|undefined} */ (target.dataset.fix);
    if (fix) {
      const faces = this.things(target);
      if (fix === "split") bench.line.open(fix, [this.shown], { pins: "4 mm" });
      else if (FIXED[fix] === "parts") bench.line.open(fix, [this.shown]);
      else {
        bench.pick(faces);
        bench.line.open(fix, bench.pickIds());
      }
    } else if (row && target.closest("[data-show-print]")) {
      const { camera } = bench.view;
      camera.target.copy(new Vector3(...JSON.parse(sure(row.dataset.place))));
      camera.span = Math.min(camera.span, camera.radius * 0.8);
      camera.apply();
      bench.pick(this.things(target));
    } else if (target.closest("[data-set-print]")) bench.line.open("set print", [this.shown]);
    else if (way) bench.line.open("set print", [this.shown], { best: way });
    else if (savePrint) bench.line.open("save print", [this.shown], { format: savePrint });
    else if (target.closest("[data-ways]")) {
      this.ways = true;
      this.refresh();
    } else if (target.closest("[data-layers]")) this.layers();
    else if (target.closest("[data-quotes]")) this.quotes();
    else if (target.dataset.basket) this.put(target);
    else if (target.dataset.unput) {
      this.basket.drop(Number(target.dataset.unput));
      this.gathered();
    } else if (target.closest("[data-order]")) this.order(/** @type {HTMLButtonElement} */ (target));
    else if (target.dataset.again) this.again(target.dataset.again);
  }

  /** What the service asks for it, once it has looked at the mesh. */
  async quotes() {
    const place = one("[data-service]", this.panel);
    const count = Math.max(1, Math.round(Number(/** @type {HTMLInputElement|null} */ (place.querySelector("[data-count]"))?.value)) || 1);
    place.textContent = "The service looks at the mesh …";
    const found = await this.bench.trying(() => postForJson(this.bench.url("print/quotes"), { part: this.shown, quantity: count }));
    if (!found) {
      place.replaceChildren();
      return;
    }
    const ask = `<p>For <input data-count size="4" value="${count}" inputmode="numeric" aria-label="Pieces"> pieces <button type="button" class="link-do" data-quotes>ask again</button></p>`;
    if (found.away) place.innerHTML = `<p class="flaw-means hot">${found.away}. The part can be saved as a file meanwhile.</p>${ask}`;
    else if (found.looked.problems.length) place.innerHTML = `<p class="flaw-means hot">The service cannot print it: ${found.looked.problems.join(", ")}.</p>`;
    else {
      const rows = found.quotes.map((/** @type {any} */ q) => `<tr><th scope="row">${q.material}, ${q.finish}</th><td>${q.price.toFixed(2)}</td><td>${q.days} d</td><td><button type="button" class="link-do" data-basket="${q.choice}" data-upload="${found.looked.upload}" data-pieces="${count}" data-each="${q.price}" title="${count} of these into the basket">add</button></td></tr>`).join("");
      place.innerHTML = `${ask}<table class="figures"><thead><tr><th scope="col">Printed of</th><th scope="col">each</th><th scope="col">in</th><th></th></tr></thead>${rows}</table>`;
    }
  }

  /** @param {HTMLElement} target */
  put(target) {
    const { basket: choice = "", upload = "", pieces, each } = target.dataset;
    const name = this.bench.scene.nodes.find((n) => n.id === this.shown)?.name ?? "";
    const words = sure(target.closest("tr")?.querySelector("th")).textContent ?? "";
    const why = this.basket.add({ upload, choice, name, words, pieces: Number(pieces), each: Number(each) });
    if (why) this.bench.say(why);
    this.gathered();
  }

  /** The basket below the offers; it stays while other parts are looked at. */
  gathered() {
    const place = this.panel.querySelector("[data-gathered]");
    const { lines, total } = this.basket;
    if (!place) return;
    place.replaceChildren();
    if (!lines.length) return;
    const table = document.createElement("table");
    table.className = "figures";
    table.innerHTML = '<thead><tr><th scope="col">Basket</th><th scope="col">pieces</th><th scope="col">in all</th><th></th></tr></thead>';
    const body = table.createTBody();
    lines.forEach((line, k) => {
      const row = body.insertRow();
      row.innerHTML = `<th scope="row"></th><td>${line.pieces}</td><td>${(line.pieces * line.each).toFixed(2)}</td><td><button type="button" class="link-do" data-unput="${k}">drop</button></td>`;
      sure(row.querySelector("th")).textContent = `${line.name}, ${line.words}`;
    });
    const send = document.createElement("p");
    send.innerHTML = `<button type="button" class="act" data-order>Order</button> ${total.toFixed(2)} in all, as quoted`;
    place.append(table, send);
  }

  /** Sent under the basket's key; a lost answer is asked for again under the same one.
   * @param {HTMLButtonElement} button */
  async order(button) {
    button.disabled = true;
    const done = await this.bench.trying(() => postForJson(this.bench.url("print/orders"), this.basket.asked));
    button.disabled = false;
    if (!done) return;
    this.basket.empty();
    this.gathered();
    this.told(one("[data-ordered]", this.panel), done);
  }

  /** @param {HTMLElement} place @param {any} done */
  told(place, done) {
    const open = ["sending", "unknown"].includes(done.state);
    place.innerHTML = open ? `<p class="flaw-means hot">${done.words} <button type="button" class="link-do" data-again="${done.key}">ask again</button></p>` : `<p>Order ${done.answer.number} ${done.state}, ${Number(done.answer.total).toFixed(2)} in all.</p>`;
  }

  /** @param {string} key */
  async again(key) {
    const done = await this.bench.trying(() => postForJson(`${this.bench.url("print/orders")}/${key}`, {}));
    if (done) this.told(one("[data-ordered]", this.panel), done);
  }

  layers() {
    const place = one("[data-layer]", this.panel);
    place.hidden = !place.hidden;
    if (!place.hidden) this.layer();
  }

  /** The layer that the slider stands at. */
  async layer() {
    const place = one("[data-layer]", this.panel);
    const at = /** @type {HTMLInputElement} */ (place.querySelector("[data-layer-at]")).value;
    const asked = ++this.asked;
    const found = await this.bench.trying(() => postForJson(this.bench.url("studies/print layer"), { part: [this.shown], layer: at }));
    if (!found || asked !== this.asked) return;
    const sheet = one("svg", place);
    const [wide, deep] = found.bed;
    sheet.setAttribute("viewBox", `${-wide / 2} ${-deep / 2} ${wide} ${deep}`);
    sheet.innerHTML = `<rect class="bed" x="${-wide / 2}" y="${-deep / 2}" width="${wide}" height="${deep}"/><path class="support" d="${found.support}" fill-rule="evenodd"/><path class="matter" d="${found.outline}" fill-rule="evenodd"/><path class="fill" d="${found.fill}"/><path class="walls" d="${found.walls}"/>`;
    one("output", place).textContent = `layer ${found.layer} of ${found.layers}, ${Number(found.height.toFixed(3))} ${this.bench.scene.units} high`;
  }
}

// What changed since an earlier state: told in words, and hatched on the faces; and what a package still lacks.
import { BufferAttribute, BufferGeometry, Group, Mesh } from "three";
import { getText, post } from "../../api.js";
import { all, one } from "../../dom.js";
import { hatched, sheetColour } from "../../view/materials.js";
import { findById } from "../../view/picking.js";
import { Compared } from "./compared.js";

export class Review {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.turn = 0;
    this.since = "";
    this.plain = false; // whether the faces are left as they are
    this.marks = new Group();
    this.compared = new Compared(bench);
    /** @type {import("./compared.js").Way|""} how the state before is shown */
    this.way = "";
    /** @type {Object<string, any>|null} hatches by kind, made once */
    this.materials = null;
    const { panel } = this;
    panel.addEventListener("change", (/** @type {Event} */ event) => {
      const target = /** @type {HTMLSelectElement} */ (event.target);
      if (!target.matches("[data-since]")) return;
      this.since = target.value;
      this.refresh();
    });
    panel.addEventListener("click", (/** @type {MouseEvent} */ event) => this.click(event));
    panel.addEventListener("keydown", (/** @type {KeyboardEvent} */ event) => {
      if (/** @type {HTMLElement} */ (event.target).matches("select")) event.stopPropagation();
    });
    this.package.addEventListener("click", (/** @type {MouseEvent} */ event) => this.pack(/** @type {HTMLElement} */ (event.target)));
  }

  get panel() {
    return one("#review");
  }

  get package() {
    return one("#package");
  }

  async refresh() {
    const here = this.bench.stage === "Hand over";
    this.panel.hidden = !here;
    this.package.hidden = !here;
    if (!here) {
      this.leave();
      this.compared.leave();
      return;
    }
    const turn = ++this.turn;
    const html = await this.bench.trying(() => getText(this.bench.url("review"), this.since ? { since: this.since } : {}));
    if (html === null || turn !== this.turn) return;
    this.panel.innerHTML = html;
    await this.lay(this.way);
  }

  /** @param {MouseEvent} event */
  click(event) {
    const target = /** @type {HTMLElement} */ (event.target);
    const row = /** @type {HTMLElement|null} */ (target.closest("[data-faces]"));
    const way = /** @type {HTMLElement|null} */ (target.closest("[data-way]"))?.dataset.way;
    if (way) this.lay(/** @type {any} */ (way === this.way ? "" : way));
    else if (target.closest("[data-colours]")) {
      this.plain = target.getAttribute("aria-pressed") === "true";
      this.colour();
    } else if (row && target.closest("[data-pick-change]")) this.bench.pick((row.dataset.faces ?? "").split(" ").map((id) => findById(this.bench.view, id)).filter(Boolean), event.shiftKey);
  }

  /** @param {import("./compared.js").Way|""} way in which the state before is shown besides */
  async lay(way) {
    this.way = way;
    if (way && one("[data-review]", this.panel)) await this.compared.show(way, this.since);
    else this.compared.leave();
    this.colour();
  }

  leave() {
    if (!this.marks.parent) return;
    this.marks.removeFromParent();
    this.marks.clear();
    this.bench.view.draw();
  }

  /** Every changed face has the hatch of what happened to it; what is gone stands where it stood. */
  colour() {
    this.leave();
    for (const button of all("[data-way]", this.panel)) button.setAttribute("aria-pressed", String(button.dataset.way === this.way));
    one("[data-colours]", this.panel)?.setAttribute("aria-pressed", String(!this.plain));
    const told = one("[data-review]", this.panel);
    if (!told || this.plain) {
      this.compared.colour(told ? JSON.parse(told.dataset.review).was : {}, null);
      this.bench.view.draw();
      return;
    }
    const { view } = this.bench;
    this.materials ??= { moved: hatched(sheetColour("--water"), "diagonal", 0.4, 0.8), resized: hatched(sheetColour("--amber"), "check", 0.22, 0.6), new: hatched(sheetColour("--moss-fill"), "diagonal", 0.5, 0.85), gone: hatched(sheetColour("--rust"), "back", 0.25, 0.6) };
    const { faces, was, gone } = JSON.parse(told.dataset.review);
    this.compared.colour(was, this.materials);
    for (const place of view.places.values()) {
      /** @type {Object<string, number[]>} */
      const groups = {};
      place.body.faces.forEach((/** @type {number} */ face, /** @type {number} */ index) => {
        const kind = faces[`f${face}`];
        if (kind && kind !== "unchanged") (groups[kind] ??= []).push(index);
      });
      for (const [kind, indices] of Object.entries(groups)) this.hatch(place.drawable.facesGeometry(indices), this.materials[kind], place.group.matrix);
    }
    for (const corners of this.way && this.way !== "over" ? [] : gone) {
      const shape = new BufferGeometry();
      shape.setAttribute("position", new BufferAttribute(new Float32Array(corners), 3));
      shape.computeVertexNormals();
      this.hatch(shape, this.materials.gone);
    }
    view.scene.add(this.marks);
    view.draw();
  }

  /** @param {BufferGeometry} shape @param {any} material @param {any} [matrix] */
  hatch(shape, material, matrix) {
    const found = new Mesh(shape, material);
    if (matrix) {
      found.matrixAutoUpdate = false;
      found.matrix.copy(matrix);
    }
    found.renderOrder = 2;
    this.marks.add(found);
  }

  /** @param {HTMLElement} target */
  async pack(target) {
    const { bench } = this;
    const parts = bench.pickIds().filter((/** @type {string} */ id) => id.startsWith("n"));
    const list = one("[data-lacks]", this.package);
    if (target.closest("[data-missing]")) {
      list.textContent = "Looking …";
      const html = await bench.trying(() => post(bench.url("package"), { parts: parts.join(" ") }));
      list.innerHTML = html ?? "";
    } else if (target.closest("[data-pack]")) bench.line.open("package", parts);
    else if (target.closest("[data-share]")) bench.line.open("share", parts);
  }
}

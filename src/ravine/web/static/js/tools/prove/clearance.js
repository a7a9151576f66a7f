// Room between parts at the stage Prove: overlaps and narrow gaps, each to go to, to see alone and to cut open.
import { one, sure } from "../../dom.js";
import { getBuffer } from "../../api.js";
import { BufferAttribute, BufferGeometry, Mesh, Vector3 } from "three";
import { make } from "../../handles/knob.js";
import { findById } from "../../view/picking.js";

export class Clearance {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    /** @type {any[]|null} the two places shown */
    this.at = null;
    /** @type {any} */
    this.shared = null;
    this.layer = make("g", { class: "gap-shown" }, one("#grips"));
    this.panel.addEventListener("click", (/** @type {any} */ event) => this.click(/** @type {HTMLElement} */ (event.target)));
  }

  get panel() {
    return one("#clearance");
  }

  refresh() {
    const here = this.bench.stage === "Prove" && this.bench.scene.nodes.filter((n) => n.body).length > 1;
    this.panel.hidden = !here;
    this.leave();
    if (!here) return;
    if (!this.panel.children.length) this.panel.innerHTML = '<h2 class="side-title">Room between parts</h2><p class="none">Measuring …</p>';
    const within = /** @type {HTMLInputElement|null} */ (this.panel.querySelector("[name=within]"))?.value;
    this.bench.swap("GET", "clearance", "#clearance", within ? { within } : {});
  }

  leave() {
    this.at = null;
    if (this.shared) {
      this.bench.view.scene.remove(this.shared);
      this.shared.geometry.dispose();
      this.shared = null;
      this.bench.view.draw();
    }
    this.draw();
  }

  /** @param {HTMLElement} target */
  click(target) {
    const row = /** @type {HTMLElement|null} */ (target.closest("[data-pair]"));
    if (!row) return;
    const nodes = sure(row.dataset.pair).split(" ");
    if (target.closest("[data-pair-go]")) this.go(row, nodes);
    if (target.closest("[data-pair-alone]")) this.bench.hide(new Set(this.bench.scene.nodes.map((n) => n.id).filter((id) => !nodes.includes(id))));
    if (target.closest("[data-pair-cut]")) this.cut(row);
  }

  /** @param {HTMLElement} row @param {string[]} nodes */
  async go(row, nodes) {
    const { bench } = this;
    this.leave();
    this.at = JSON.parse(sure(row.dataset.places)).map((/** @type {any} */ p) => new Vector3(...p));
    const { camera } = bench.view;
    camera.target.copy(sure(this.at)[0]).lerp(sure(this.at)[1], 0.5);
    camera.span = Math.max(camera.radius * 0.15, 12 * Number(row.dataset.gap));
    camera.apply();
    bench.pick(nodes.map((/** @type {string} */ id) => findById(bench.view, id)).filter(Boolean));
    if (!row.classList.contains("note")) await this.show(nodes);
  }

  /** What both take up, seen through everything.
   * @param {string[]} nodes */
  async show(nodes) {
    const data = await this.bench.trying(() => getBuffer(this.bench.url("overlap"), { nodes }));
    if (!data) return;
    const geometry = new BufferGeometry();
    geometry.setAttribute("position", new BufferAttribute(new Float32Array(data), 3));
    const material = this.bench.view.materials.overlap;
    this.shared = new Mesh(geometry, material);
    this.shared.renderOrder = 6;
    this.bench.view.scene.add(this.shared);
    this.bench.view.draw();
  }

  /** Along the shortest way, so that the gap is seen at its true width.
   * @param {HTMLElement} row */
  cut(row) {
    const [a, b] = JSON.parse(sure(row.dataset.places)).map((/** @type {any} */ p) => new Vector3(...p));
    const way = b.clone().sub(a);
    const eye = this.bench.view.camera.direction();
    const across = way.lengthSq() > 1e-12 ? eye.clone().addScaledVector(way, -eye.dot(way) / way.lengthSq()) : eye;
    if (across.lengthSq() < 1e-6) across.set(1, 0, 0).cross(way);
    const along = [new Vector3(1, 0, 0), new Vector3(0, 1, 0), new Vector3(0, 0, 1)].find((v) => Math.abs(v.dot(way)) < 1e-6 * (way.length() || 1) && Math.abs(v.dot(eye)) > 0.4);
    const normal = along ? along.multiplyScalar(Math.sign(along.dot(eye))) : across.normalize();
    this.bench.section.place([...a.lerp(b, 0.5).toArray(), ...normal.toArray()]);
  }

  /** With every frame. */
  draw() {
    this.layer.replaceChildren();
    if (!this.at) return;
    const [a, b] = this.at.map((p) => this.bench.view.camera.project(p.clone()));
    make("path", { d: `M${a.x} ${a.y}L${b.x} ${b.y}` }, this.layer);
    for (const p of [a, b]) make("circle", { class: "finding", cx: p.x, cy: p.y, r: 7 }, this.layer);
  }
}

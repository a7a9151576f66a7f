// A figure over the whole surface of a part, as bands of colour with a legend and a probe at the pointer.
import { stream } from "../../api.js";
import { BufferAttribute, BufferGeometry, Color, DoubleSide, Mesh, MeshLambertMaterial, ShaderMaterial } from "three";
import { MeshBVH } from "three-mesh-bvh";
import { one } from "../../dom.js";
import { readMap } from "../../view/packets.js";

const BANDS = 11;
const PATIENCE = 400; // ms before progress is shown
const SCALE = ["#8f2f17", "#b8492c", "#cf7f5f", "#e2b394", "#efdcc3", "#f1ece0", "#cfdfdd", "#9cc3c9", "#5ea0b0", "#2b8199", "#0b5a70"];
const TITLES = { walls: "Wall thickness", draft: "Draft along", curvature: "Curvature", deviation: "Deviation" };
const WORST = { walls: "thinnest", draft: "least", curvature: "sharpest", deviation: "largest" };

export class Maps {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.pull = "z";
    this.turn = 0;
    /** @type {AbortController|null} */
    this.stop = null;
    /** @type {any} */
    this.shown = null;
    this.legend = one("#legend");
    this.probe = document.createElement("div");
    this.probe.className = "probe";
    this.probe.hidden = true;
    this.legend.after(this.probe);
    this.legend.addEventListener("click", (event) => {
      const target = /** @type {HTMLElement} */ (event.target);
      if (target.closest("[data-leave-map]")) this.leave();
      if (target.closest("[data-worst]")) this.goToWorst();
    });
    this.legend.addEventListener("change", (event) => {
      this.pull = /** @type {HTMLSelectElement} */ (event.target).value;
      this.show("draft", this.shown.nodes);
    });
    bench.view.canvas.addEventListener("pointermove", (event) => this.feel(event.offsetX, event.offsetY));
    bench.view.canvas.addEventListener("pointerleave", () => (this.probe.hidden = true));
  }

  /** @param {string} kind @param {string[]} nodes */
  async show(kind, nodes) {
    this.leave();
    const turn = ++this.turn;
    this.stop = new AbortController();
    const { signal } = this.stop;
    try {
      const began = performance.now();
      const told = (share, words) => turn === this.turn && performance.now() - began > PATIENCE && this.progress(share, words);
      const data = await stream(`${this.bench.url("map")}/${kind}`, { nodes, pull: this.pull }, told, signal);
      if (turn !== this.turn) return;
      this.legend.hidden = true;
      this.lay(readMap(data), nodes);
    } catch (error) {
      if (turn !== this.turn || signal.aborted) return;
      this.legend.hidden = true;
      this.bench.refused(error);
    }
  }

  /** In the place of the legend, until that comes. */
  progress(share, words) {
    this.legend.innerHTML = `<p><b>${words}</b></p><p><progress max="1" value="${share}"></progress></p><p><button type="button" class="link-do" data-leave-map>Stop</button></p>`;
    this.legend.hidden = false;
  }

  lay(found, nodes) {
    const ends = range(found);
    const geometry = new BufferGeometry();
    geometry.setAttribute("position", new BufferAttribute(found.corners, 3));
    if (found.normals) {
      geometry.setAttribute("normal", new BufferAttribute(found.normals, 3));
      this.put(found, nodes, new Mesh(geometry, stripes()), ends);
      return;
    }
    const colours = new Uint8Array(9 * found.head.count);
    const table = SCALE.map((c) => new Color(c));
    const none = new Color("#9fa5a2");
    for (let k = 0; k < found.head.count; k++) {
      const c = Number.isFinite(found.values[k]) ? table[band(found.values[k], ends)] : none;
      for (let i = 0; i < 3; i++) colours.set([c.r * 255, c.g * 255, c.b * 255], 9 * k + 3 * i);
    }
    geometry.setAttribute("color", new BufferAttribute(colours, 3, true));
    geometry.computeVertexNormals();
    const material = new MeshLambertMaterial({ vertexColors: true, side: DoubleSide });
    this.put(found, nodes, new Mesh(geometry, material), ends);
  }

  put(found, nodes, mesh, ends) {
    const { view } = this.bench;
    view.scene.add(mesh);
    view.cover(nodes[0], true);
    view.marks.picked.visible = false; // its hatch would lie over the colours
    this.shown = { found, nodes, mesh, ends, tree: null };
    this.write();
    view.draw();
  }

  leave() {
    this.turn++;
    this.stop?.abort();
    this.legend.hidden = true;
    if (!this.shown) return;
    const { mesh, nodes } = this.shown;
    this.bench.view.scene.remove(mesh);
    mesh.geometry.dispose();
    mesh.material.dispose();
    this.bench.view.cover(nodes[0], false);
    this.bench.view.marks.picked.visible = true;
    this.shown = null;
    this.legend.hidden = true;
    this.probe.hidden = true;
    this.bench.view.draw();
  }

  write() {
    const { found, ends } = this.shown;
    const { kind, unit, worst } = found.head;
    if (found.normals) {
      this.legend.innerHTML = `<p><b>Stripes</b></p><p class="none">Light bands as the surface would mirror them: a kink breaks them, a smooth joint bends them, an even one lets them run on.</p>
        <p><button type="button" class="link-do" data-leave-map>Back to the finish</button></p>`;
      this.legend.hidden = false;
      return;
    }
    const pull = kind === "draft" ? `<select aria-label="Direction of pull">${["x", "y", "z"].map((a) => `<option value="${a}" ${a === this.pull ? "selected" : ""}>${a.toUpperCase()}</option>`).join("")}</select>` : "";
    const step = (ends.high - ends.low) / BANDS;
    const rows = SCALE.map((_, i) => BANDS - 1 - i).map((i) => `<li><i></i><span>${this.words(ends.low + (i + 0.5) * step, false)}</span></li>`).join("");
    this.legend.innerHTML = `<p><b>${TITLES[kind]}</b> ${pull} <span>${unit}</span></p><ol>${rows}</ol>
      <p><button type="button" class="link-do" data-worst>${WORST[kind]} ${this.words(found.values[worst])}</button></p>
      <p><button type="button" class="link-do" data-leave-map>Back to the finish</button></p>`;
    [...this.legend.querySelectorAll("li i")].forEach((swatch, i) => (swatch.style.background = SCALE[BANDS - 1 - i]));
    this.legend.hidden = false;
  }

  /** @param {number} value @param {boolean} [unit] */
  words(value, unit = true) {
    const { head } = this.shown.found;
    const size = Math.max(Math.abs(this.shown.ends.high), Math.abs(this.shown.ends.low));
    const digits = Math.max(0, Math.min(4, 2 - Math.floor(Math.log10(size || 1))));
    return `${value.toFixed(digits).replace("-", "−")}${unit ? (head.unit === "°" ? "°" : ` ${head.unit}`) : ""}`;
  }

  goToWorst() {
    const { corners, head } = this.shown.found;
    const { camera } = this.bench.view;
    const at = 9 * head.worst;
    camera.target.set((corners[at] + corners[at + 3] + corners[at + 6]) / 3, (corners[at + 1] + corners[at + 4] + corners[at + 7]) / 3, (corners[at + 2] + corners[at + 5] + corners[at + 8]) / 3);
    camera.span = Math.min(camera.span, camera.radius * 0.6);
    camera.apply();
  }

  /** The figure under the pointer. */
  feel(x, y) {
    if (!this.shown || this.shown.found.normals) return;
    this.shown.tree ??= new MeshBVH(this.shown.mesh.geometry, { indirect: true });
    const { ray } = this.bench.view.camera.ray(x, y);
    const hit = this.shown.tree.raycastFirst(ray, DoubleSide);
    this.probe.hidden = !hit;
    if (!hit) return;
    const value = this.shown.found.values[hit.faceIndex];
    this.probe.textContent = Number.isFinite(value) ? this.words(value) : "nothing";
    this.probe.style.transform = `translate(${x + 14}px, ${y + 10}px)`;
  }
}

/** Bands of a ceiling of lamps, mirrored to the eye by the exact normals. */
function stripes() {
  return new ShaderMaterial({
    side: DoubleSide,
    vertexShader: "varying vec3 n; varying vec3 way; void main() { vec4 p = modelViewMatrix * vec4(position, 1.0); n = normalMatrix * normal; way = p.xyz; gl_Position = projectionMatrix * p; }",
    fragmentShader: `varying vec3 n; varying vec3 way;
      void main() { vec3 r = reflect(normalize(way), normalize(n)); float a = atan(r.x, r.y + 1.2) * 9.0; float edge = fwidth(a);
      float band = smoothstep(-edge, edge, sin(a)); vec3 dark = vec3(0.055, 0.28, 0.34), light = vec3(0.96, 0.95, 0.91);
      gl_FragColor = vec4(mix(dark, light, band) * (0.72 + 0.28 * abs(normalize(n).z)), 1.0); }`,
  });
}

/** Where the bands begin and end: what is far out of the usual does not stretch them. */
function range({ head, values }) {
  const known = [...values].filter(Number.isFinite).sort((a, b) => a - b);
  const at = (share) => known[Math.round(share * (known.length - 1))] ?? 0;
  if (head.kind === "walls") return { low: head.low, high: Math.max(at(0.9), head.low + 1e-6) };
  const size = Math.max(Math.abs(at(0.01)), Math.abs(at(0.99)), 1e-9);
  return { low: -size, high: size };
}

function band(value, { low, high }) {
  return Math.max(0, Math.min(BANDS - 1, Math.floor(((value - low) / (high - low)) * BANDS)));
}

// A figure over the whole surface of a part, as bands of colour with a legend and a probe at the pointer.
import { stream } from "../../api.js";
import { BufferAttribute, BufferGeometry, Color, DoubleSide, Mesh, MeshLambertMaterial, ShaderMaterial } from "three";
import { MeshBVH } from "three-mesh-bvh";
import { one } from "../../dom.js";
import { readMap } from "../../view/packets.js";

const BANDS = 11;
const PATIENCE = 400; // ms before progress is shown
const SCALE = ["#8f2f17", "#ae4226", "#cf7f5f", "#e2b394", "#efdcc3", "#f1ece0", "#cfdfdd", "#9cc3c9", "#5ea0b0", "#2b8199", "#0b5a70"];
/** @type {Table<string>} */
const TITLES = { walls: "Wall thickness", draft: "Draft", curvature: "Curvature", deviation: "Deviation" };
const LIMIT = 3; // degrees of draft that are enough, unless said
/** @type {Table<string>} */
const WORST = { walls: "thinnest", draft: "least", curvature: "sharpest", deviation: "largest" };

export class Maps {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.pull = "z";
    this.limit = LIMIT;
    this.turn = 0;
    /** @type {AbortController|null} */
    this.stop = null;
    /** @type {any} */
    this.shown = null;
    this.legend = one("#legend");
    this.probe = document.createElement("div");
    this.probe.className = "probe";
    this.probe.hidden = true;
    bench.view.canvas.after(this.probe);
    this.legend.addEventListener("click", (/** @type {any} */ event) => {
      const target = /** @type {HTMLElement} */ (event.target);
      if (target.closest("[data-leave-map]")) this.leave();
      if (target.closest("[data-worst]")) this.goToWorst();
    });
    this.legend.addEventListener("change", (/** @type {any} */ event) => {
      const { name, value } = /** @type {HTMLSelectElement} */ (event.target);
      if (name === "limit") this.limited(value);
      else {
        this.pull = value;
        this.show("draft", this.shown.nodes);
      }
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
      /** @param {number} share @param {string} words */
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

  /** In the place of the legend, until that comes.
   * @param {number} share @param {string} words */
  progress(share, words) {
    this.legend.innerHTML = `<p><b>${words}</b></p><p><progress max="1" value="${share}"></progress></p><p><button type="button" class="link-do" data-leave-map>Stop</button></p>`;
    this.legend.hidden = false;
  }

  /** How much draft is enough.
   * @param {string} text */
  limited(text) {
    const degrees = Number(text.replace(",", ".").replace("°", ""));
    if (degrees > 0 && degrees < 90) this.limit = degrees;
    else this.bench.say(`A limit of draft is more than 0° and less than 90°, not “${text.slice(0, 20)}”`);
    const { found, nodes } = this.shown;
    this.leave();
    this.lay(found, nodes);
  }

  /** @param {any} found @param {string[]} nodes */
  lay(found, nodes) {
    const ends = found.head.kind === "draft" ? upTo(this.limit) : { low: found.head.ends[0], high: found.head.ends[1] };
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

  /** @param {any} found @param {string[]} nodes @param {any} mesh @param {any} ends */
  put(found, nodes, mesh, ends) {
    const { view } = this.bench;
    view.scene.add(mesh);
    view.cover(nodes[0], true);
    view.over = mesh.material;
    view.clip(view.section?.planes || null);
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
    this.bench.view.over = null;
    this.bench.view.cover(nodes[0], false);
    this.bench.view.marks.picked.visible = true;
    this.shown = null;
    this.legend.hidden = true;
    this.probe.hidden = true;
    this.bench.view.draw();
  }

  write() {
    const { found } = this.shown;
    const { kind, unit, worst } = found.head;
    if (found.normals) {
      this.legend.innerHTML = `<p><b>Stripes</b></p><p class="none">Light bands as the surface would mirror them: a kink breaks them, a smooth joint bends them, an even one lets them run on.</p>
        <p><button type="button" class="link-do" data-leave-map>Back to the finish</button></p>`;
      this.legend.hidden = false;
      return;
    }
    const of = this.shown.nodes.map((/** @type {string} */ id) => named(this.bench, id));
    const about = kind === "deviation" ? `${TITLES[kind]} of ${of[0]} from ${of[1]}` : `${TITLES[kind]} of ${of[0]}`;
    const rows = SCALE.map((_, i) => BANDS - 1 - i).map((i) => `<li><i></i><span>${this.bandWords(i)}</span></li>`).join("");
    this.legend.innerHTML = `<p><b>${about}</b>${kind === "draft" ? "" : ` <span>${unit}</span>`}</p>${kind === "draft" ? this.asked() : ""}<ol>${rows}</ol>
      <p><button type="button" class="link-do" data-worst>${WORST[kind]} ${this.words(found.values[worst])}</button></p>
      <p><button type="button" class="link-do" data-leave-map>Back to the finish</button></p>`;
    [...this.legend.querySelectorAll("li i")].forEach((swatch, i) => (swatch.style.background = SCALE[BANDS - 1 - i]));
    this.legend.hidden = false;
  }

  /** Which way the part leaves its mould, and how much draft is enough. */
  asked() {
    const ways = ["x", "y", "z"].map((a) => `<option value="${a}" ${a === this.pull ? "selected" : ""}>${a.toUpperCase()}</option>`).join("");
    return `<p class="asked"><label>along <select name="pull">${ways}</select></label> <label>enough <input name="limit" value="${this.limit}°" size="4"></label></p>`;
  }

  /** @param {number} i */
  bandWords(i) {
    const { ends, found } = this.shown;
    const step = (ends.high - ends.low) / BANDS;
    if (found.head.kind !== "draft") return this.words(ends.low + (i + 0.5) * step, false);
    if (i === 0) return "looks away";
    if (i === BANDS - 1) return `${this.limit}° and more`;
    /** @param {number} k */
    const at = (k) => String(Number((ends.low + k * step).toFixed(2)));
    return `${at(i)} to ${at(i + 1)}°`;
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

  /** The figure under the pointer.
   * @param {number} x @param {number} y */
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

/** Bands for draft: one for what looks away from the pull, the rest up to what is enough, one for all beyond.
 * @param {number} limit */
function upTo(limit) {
  const step = limit / (BANDS - 2);
  return { low: -step, high: limit + step };
}

/** @param {Bench} bench @param {string} id */
function named(bench, id) {
  const { name } = bench.scene.nodes.find((/** @type {any} */ n) => n.id === id) ?? { name: "the part" };
  return name.replace(/[&<>]/g, (/** @type {string} */ c) => `&#${c.charCodeAt(0)};`);
}

/** A wall exactly along the pull does not look away.
 * @param {number} value */
function band(value, /** @type {any} */ { low, high }) {
  return Math.max(0, Math.min(BANDS - 1, Math.floor(((value - low) / (high - low)) * BANDS + 1e-6)));
}

// A simulated surface in place of its parts: bands of a figure, drawn moved, swinging when asked.
import { BufferAttribute, BufferGeometry, Color, DoubleSide, Mesh, ShaderMaterial } from "three";

export const BANDS = 11;
export const SCALE = ["#0b5a70", "#2b8199", "#5ea0b0", "#9cc3c9", "#cfdfdd", "#f1ece0", "#efdcc3", "#e2b394", "#cf7f5f", "#ae4226", "#8f2f17"];
const PERIOD = 1600; // ms of a swing

export class Overlay {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    /** @type {any} */
    this.mesh = null;
    /** @type {string[]} */
    this.nodes = [];
    this.ends = [0, 1];
    this.scale = 1; // how many times the displacement is drawn
    this.share = 1;
    this.playing = 0;
  }

  /** @param {import("../../view/packets.js").Simulated} found @param {string[]} nodes @param {string} field @param {number} scale */
  lay(found, nodes, field, scale) {
    const { view } = this.bench;
    this.leave();
    const shape = new BufferGeometry();
    shape.setAttribute("position", new BufferAttribute(found.points, 3));
    shape.setAttribute("shift", new BufferAttribute(found.moved, 3));
    shape.setAttribute("figure", new BufferAttribute(found.fields[field], 1));
    shape.setIndex(new BufferAttribute(found.triangles, 1));
    const [low, high] = found.head.ends[field];
    this.ends = field === "margin" ? [Math.min(low, 1), Math.min(high, 5)] : [low, high > low ? high : low + 1];
    const colours = field === "margin" ? [...SCALE].reverse() : SCALE;
    this.mesh = new Mesh(shape, banded(colours, this.ends));
    this.mesh.frustumCulled = false;
    this.nodes = nodes;
    this.scale = scale;
    this.share = 1;
    this.hide(true);
    view.over = this.mesh.material;
    view.scene.add(this.mesh);
    view.clip(view.section?.planes || null);
    view.marks.picked.visible = false;
    this.scaled(1);
  }

  /** Edges, too: what is drawn moved would leave them standing.
   * @param {boolean} on */
  hide(on) {
    const { view } = this.bench;
    for (const node of this.nodes) {
      const group = view.places.get(node)?.group;
      if (group?.children.length) group.visible = !on;
      else view.cover(node, on);
    }
  }

  /** @param {number} share of what it is drawn as at first */
  scaled(share) {
    this.share = share;
    if (!this.mesh) return;
    this.mesh.material.uniforms.scale.value = share * this.scale;
    const told = document.querySelector("[data-times]");
    if (told) told.textContent = `× ${Number((share * this.scale).toPrecision(3))}`;
    this.bench.view.draw();
  }

  /** Back and forth, until asked again. */
  play() {
    if (this.playing) {
      cancelAnimationFrame(this.playing);
      this.playing = 0;
      this.scaled(this.share);
      return;
    }
    const began = performance.now();
    const step = () => {
      if (!this.mesh) return;
      this.mesh.material.uniforms.scale.value = this.share * this.scale * Math.sin((2 * Math.PI * (performance.now() - began)) / PERIOD);
      this.bench.view.draw();
      this.playing = requestAnimationFrame(step);
    };
    this.playing = requestAnimationFrame(step);
  }

  leave() {
    if (!this.mesh) return;
    const { view } = this.bench;
    cancelAnimationFrame(this.playing);
    this.playing = 0;
    view.scene.remove(this.mesh);
    this.mesh.geometry.dispose();
    this.mesh.material.dispose();
    this.mesh = null;
    view.over = null;
    this.hide(false);
    view.marks.picked.visible = true;
    view.draw();
  }
}

/** @param {string[]} colours @param {number[]} ends */
function banded(colours, ends) {
  return new ShaderMaterial({
    side: DoubleSide,
    clipping: true,
    uniforms: { bands: { value: colours.map((c) => new Color(c).convertLinearToSRGB()) }, low: { value: ends[0] }, high: { value: ends[1] }, scale: { value: 1 } },
    vertexShader: `attribute vec3 shift; attribute float figure; uniform float scale; varying float value; varying vec3 place;
      #include <clipping_planes_pars_vertex>
      void main() { value = figure; vec4 mvPosition = modelViewMatrix * vec4(position + scale * shift, 1.0); place = mvPosition.xyz;
      #include <clipping_planes_vertex>
      gl_Position = projectionMatrix * mvPosition; }`,
    fragmentShader: `uniform vec3 bands[${BANDS}]; uniform float low; uniform float high; varying float value; varying vec3 place;
      #include <clipping_planes_pars_fragment>
      void main() {
      #include <clipping_planes_fragment>
      float at = (value - low) / (high - low) * ${BANDS}.0; int k = int(clamp(floor(at), 0.0, ${BANDS - 1}.0));
      vec3 n = normalize(cross(dFdx(place), dFdy(place))); float light = 0.66 + 0.34 * abs(n.z);
      float near = abs(fract(at + 0.5) - 0.5) / max(fwidth(at), 1e-5); float line = mix(0.82, 1.0, smoothstep(0.4, 1.1, near));
      gl_FragColor = vec4(bands[k] * light * line, 1.0); }`,
  });
}

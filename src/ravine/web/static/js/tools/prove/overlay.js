// A simulated surface in place of its parts: bands of a figure, drawn moved, swinging when asked.
import { BufferAttribute, BufferGeometry, Color, DoubleSide, Mesh, ShaderMaterial, Vector3 } from "three";
import { MeshBVH } from "three-mesh-bvh";
import { sliced } from "../../view/slice.js";

export const BANDS = 11;
export const SCALE = ["#0b5a70", "#2b8199", "#5ea0b0", "#9cc3c9", "#cfdfdd", "#f1ece0", "#efdcc3", "#e2b394", "#cf7f5f", "#ae4226", "#8f2f17"];
const PERIOD = 1600; // ms of a swing

export class Overlay {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    /** @type {any} */
    this.mesh = null;
    /** @type {any} to look into the surface as it is drawn */
    this.tree = undefined;
    /** @type {string[]} */
    this.nodes = [];
    this.ends = [0, 1];
    this.scale = 1; // how many times the displacement is drawn
    this.share = 1;
    this.playing = 0;
    /** @type {string[]} */
    this.colours = SCALE;
    /** @type {any} the plane that cuts, and what is drawn in it */
    this.plane = null;
    /** @type {any} */
    this.flat = null;
    /** @type {any} the elements within, and the figure at their corners */
    this.within = null;
    /** @type {any} */
    this.figures = null;
    this.probe = document.createElement("div");
    this.probe.className = "probe";
    this.probe.hidden = true;
    bench.view.canvas.after(this.probe);
    bench.view.canvas.addEventListener("pointermove", (event) => this.feel(event.offsetX, event.offsetY));
    bench.view.canvas.addEventListener("pointerleave", () => (this.probe.hidden = true));
  }

  /** The figure under the pointer, on the surface as it is drawn.
   * @param {number} x @param {number} y */
  feel(x, y) {
    this.probe.hidden = !this.mesh || Boolean(this.playing);
    if (this.probe.hidden) return;
    this.tree ??= this.drawn();
    const hit = this.tree.raycastFirst(this.bench.view.camera.ray(x, y).ray, DoubleSide);
    this.probe.hidden = !hit;
    if (!hit) return;
    const { geometry } = this.tree;
    const corners = [0, 1, 2].map((k) => geometry.index.getX(3 * hit.faceIndex + k));
    const [a, b, c] = corners.map((k) => new Vector3().fromBufferAttribute(geometry.attributes.position, k));
    const share = within(hit.point, a, b, c);
    const figures = this.mesh.geometry.attributes.figure.array;
    const value = figures[corners[0]] * share.x + figures[corners[1]] * share.y + figures[corners[2]] * share.z;
    this.probe.textContent = String(Number(value.toPrecision(3))).replace("-", "−");
    this.probe.style.transform = `translate(${x + 14}px, ${y + 10}px)`;
  }

  /** The surface where it is drawn, to be felt.
   * @returns {any} */
  drawn() {
    const { position, shift } = this.mesh.geometry.attributes;
    const times = this.share * this.scale;
    const places = Float32Array.from(position.array, (/** @type {number} */ v, /** @type {number} */ k) => v + times * shift.array[k]);
    const shape = new BufferGeometry();
    shape.setAttribute("position", new BufferAttribute(places, 3));
    shape.setIndex(new BufferAttribute(this.mesh.geometry.index.array, 1));
    return new MeshBVH(shape, { indirect: true });
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
    this.colours = field === "margin" ? [...SCALE].reverse() : SCALE;
    this.mesh = new Mesh(shape, banded(this.colours, this.ends));
    this.mesh.frustumCulled = false;
    this.nodes = nodes;
    this.scale = scale;
    this.share = 1;
    this.hide(true);
    view.over = this.mesh.material;
    this.within = found.within;
    this.figures = found.within.fields[field];
    view.capping = this;
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
    this.tree = undefined;
    if (!this.mesh) return;
    this.mesh.material.uniforms.scale.value = share * this.scale;
    this.cap();
    const told = document.querySelector("[data-times]");
    if (told) told.textContent = `× ${Number((share * this.scale).toPrecision(3))}`;
    this.bench.view.draw();
  }

  /** The view is cut by other planes now: what is seen in them has the colours of the figure, in place of hatching.
   * @param {any[]|null} planes */
  capped(planes) {
    const { section } = this.bench;
    this.plane = planes?.length ? planes[0] : null;
    section?.cut?.parts.forEach((part, k) => {
      for (const drawn of section.cut?.group.children.slice(2 * k, 2 * k + 2) ?? []) drawn.visible = !this.mesh || !this.nodes.includes(part.node);
    });
    this.cap();
  }

  /** Not while it swings: each picture would be cut anew. */
  cap() {
    if (this.flat) {
      this.bench.view.scene.remove(this.flat);
      this.flat.geometry.dispose();
      this.flat.material.dispose();
      this.flat = null;
    }
    if (!this.mesh || !this.plane || this.playing) return;
    const { normal, constant } = this.plane;
    const found = sliced(this.within, this.figures, this.share * this.scale, normal.toArray(), -constant);
    const shape = new BufferGeometry();
    shape.setAttribute("position", new BufferAttribute(found.points, 3));
    shape.setAttribute("shift", new BufferAttribute(new Float32Array(found.points.length), 3));
    shape.setAttribute("figure", new BufferAttribute(found.figures, 1));
    this.flat = new Mesh(shape, banded(this.colours, this.ends));
    this.flat.frustumCulled = false;
    this.bench.view.scene.add(this.flat);
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
    this.playing = -1;
    this.cap();
    const step = () => {
      if (!this.mesh) return;
      this.mesh.material.uniforms.scale.value = this.share * this.scale * Math.sin((2 * Math.PI * (performance.now() - began)) / PERIOD);
      this.bench.view.draw();
      this.playing = requestAnimationFrame(step);
    };
    this.playing = requestAnimationFrame(step);
  }

  /** The figure along places of the part, as it stands unmoved.
   * @param {Float32Array} places @returns {number[][]} pairs of how far along (mm) and the figure */
  along(places) {
    const flat = new MeshBVH(this.mesh.geometry, { indirect: true });
    const figures = this.mesh.geometry.attributes.figure.array;
    const { index } = this.mesh.geometry;
    const { position } = this.mesh.geometry.attributes;
    const spots = even(places);
    return spots.map(({ far, point }) => {
      const near = /** @type {any} */ (flat).closestPointToPoint(point);
      const corners = [0, 1, 2].map((k) => index.getX(3 * near.faceIndex + k));
      const [a, b, c] = corners.map((k) => new Vector3().fromBufferAttribute(position, k));
      const share = within(near.point, a, b, c);
      return [far, figures[corners[0]] * share.x + figures[corners[1]] * share.y + figures[corners[2]] * share.z];
    });
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
    this.capped(null);
    view.capping = null;
    this.tree = undefined;
    this.probe.hidden = true;
    view.over = null;
    this.hide(false);
    view.marks.picked.visible = true;
    view.draw();
  }
}

const ALONG = 60; // places along an edge

/** Places evenly along a chain of points.
 * @param {Float32Array} places */
function even(places) {
  const points = Array.from({ length: places.length / 3 }, (_, k) => new Vector3(places[3 * k], places[3 * k + 1], places[3 * k + 2]));
  const far = [0];
  for (let k = 1; k < points.length; k++) far.push(far[k - 1] + points[k].distanceTo(points[k - 1]));
  const whole = far[far.length - 1];
  return Array.from({ length: ALONG + 1 }, (_, i) => {
    const at = (whole * i) / ALONG;
    const k = Math.max(1, far.findIndex((f) => f >= at - 1e-9));
    const share = (at - far[k - 1]) / (far[k] - far[k - 1] || 1);
    return { far: at, point: points[k - 1].clone().lerp(points[k], share) };
  });
}

/** Shares of the corners of a triangle at a point on it.
 * @param {any} p @param {any} a @param {any} b @param {any} c */
function within(p, a, b, c) {
  const [u, v, w] = [b, c, p].map((q) => q.clone().sub(a));
  const [uu, uv, vv, uw, vw] = [u.dot(u), u.dot(v), v.dot(v), u.dot(w), v.dot(w)];
  const size = uu * vv - uv * uv || 1;
  const [y, z] = [(vv * uw - uv * vw) / size, (uu * vw - uv * uw) / size];
  return { x: 1 - y - z, y, z };
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

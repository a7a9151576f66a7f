// What a section shows: the filled outlines of the cut parts, and what lies under the pointer on them.
import { BufferAttribute, BufferGeometry, Color, DoubleSide, Group, LineSegments, Mesh, ShaderMaterial, Vector3 } from "three";
import { sheetColour } from "./materials.js";

/** @typedef {{node: string, rings: {from: number, count: number, closed: boolean}[], places: Float32Array, faces: Uint32Array, triangles: Uint32Array}} CutPart
 *  @typedef {{plane: number[][], parts: CutPart[]}} CutData */

export const ANGLES = [45, 135, 30, 120, 60, 150, 15, 105]; // of the hatching; neighbours in the list of parts differ
const EDGE_REACH = 6; // px
const CORNER_REACH = 8;
const CAP_FRAGMENT = `uniform vec3 colour; uniform vec3 ink; uniform float turn; uniform float step; varying vec2 flat_;
  void main() {
    float along = (flat_.x * cos(turn) - flat_.y * sin(turn)) / step;
    float wide = fwidth(along);
    float mark = 1.0 - smoothstep(0.15 * wide, 0.95 * wide, abs(fract(along) - 0.5));
    gl_FragColor = vec4(mix(colour, ink, 0.55 * mark), 1.0);
    #include <colorspace_fragment>
  }`;

export class Cut {
  /** @param {CutData} data @param {import("./view.js").View} view */
  constructor(data, view) {
    this.parts = data.parts;
    this.view = view;
    const [origin, x, y, normal] = data.plane.map((v) => new Vector3(...v));
    this.origin = origin;
    this.x = x;
    this.y = y;
    this.normal = normal;
    this.group = new Group();
    this.ink = new Color(sheetColour("--ink"));
    this.parts.forEach((part, k) => this.lay(part, k));
  }

  /** @param {number} u @param {number} v in the plane */
  place(u, v) {
    return this.origin.clone().addScaledVector(this.x, u).addScaledVector(this.y, v);
  }

  /** @param {{x: number, y: number, z: number}} point @returns {[number, number]} its foot in the plane */
  flat({ x, y, z }) {
    const { origin: o, x: u, y: v } = this;
    return [(x - o.x) * u.x + (y - o.y) * u.y + (z - o.z) * u.z, (x - o.x) * v.x + (y - o.y) * v.y + (z - o.z) * v.z];
  }

  /** @param {CutPart} part @param {number} k */
  lay(part, k) {
    const count = part.places.length / 2;
    const position = new Float32Array(3 * count);
    for (let i = 0; i < count; i++) this.place(part.places[2 * i], part.places[2 * i + 1]).toArray(position, 3 * i);
    const fill = new BufferGeometry();
    fill.setAttribute("position", new BufferAttribute(position, 3));
    fill.setAttribute("plain", new BufferAttribute(part.places, 2));
    fill.setIndex(new BufferAttribute(part.triangles, 1));
    const material = new ShaderMaterial({
      uniforms: {
        colour: { value: this.colour(part) }, ink: { value: this.ink },
        turn: { value: (ANGLES[k % ANGLES.length] * Math.PI) / 180 + Math.PI / 2 }, step: { value: 1 },
      },
      vertexShader: "attribute vec2 plain; varying vec2 flat_; void main() { flat_ = plain; gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }",
      fragmentShader: CAP_FRAGMENT, side: DoubleSide,
    });
    const lines = new BufferGeometry();
    lines.setAttribute("position", new BufferAttribute(position, 3));
    lines.setIndex([...stretches(part)].flatMap(([a, b]) => [a, b]));
    const edge = new LineSegments(lines, this.view.materials.cutEdge);
    edge.renderOrder = 2;
    this.group.add(new Mesh(fill, material), edge);
  }

  /** The finish of the part, paler, so that the hatching shows.
   * @param {any} part */
  colour(part) {
    const body = this.view.places.get(part.node)?.body;
    return new Color(body?.finish?.slice(0, 7) || sheetColour("--clay")).lerp(new Color(sheetColour("--panel")), 0.55);
  }

  /** Hatch lines as far apart on the screen at any zoom.
   * @param {number} span */
  scale(span) {
    const step = 2 ** Math.round(Math.log2(span * 0.019));
    for (const child of this.group.children) if (child instanceof Mesh) child.material.uniforms.step.value = step;
  }

  dispose() {
    for (const child of this.group.children) {
      child.geometry.dispose();
      if (child instanceof Mesh) child.material.dispose();
    }
  }

  /** The part whose matter a place in the plane lies in.
   * @returns {CutPart|undefined} @param {number} u @param {number} v */
  partAt(u, v) {
    return this.parts.find((part) => part.rings.filter((r) => r.closed && within(part, r, u, v)).length % 2 === 1);
  }

  /** What of the cut lies under a pixel of the view.
   * @param {number} x @param {number} y px @param {any} point there, on the plane */
  under(x, y, point) {
    const { camera } = this.view;
    const [u, v] = this.flat(point);
    const slope = Math.max(0.12, Math.abs(this.normal.dot(camera.direction())));
    const pixel = (1.5 * camera.span) / this.view.canvas.clientHeight / slope;
    return this.near(u, v, (a, b) => camera.project(this.place(a, b)), { x, y }, pixel);
  }

  /** A corner of the cut is the edge that it cuts, a line of it the face, matter the part.
   * @param {number} u @param {number} v mm in the plane @param {(u: number, v: number) => {x: number, y: number}} spot px of a place
   * @param {{x: number, y: number}} here @param {number} pixel mm, at most */
  near(u, v, spot, { x, y }, pixel) {
    const reach = CORNER_REACH * pixel;
    let corner = null;
    let line = null;
    for (const part of this.parts)
      for (const ring of part.rings) {
        for (const [a, b, before] of ringStretches(ring)) {
          const [au, av, bu, bv] = [part.places[2 * a], part.places[2 * a + 1], part.places[2 * b], part.places[2 * b + 1]];
          if (u < Math.min(au, bu) - reach || u > Math.max(au, bu) + reach || v < Math.min(av, bv) - reach || v > Math.max(av, bv) + reach) continue;
          const p = spot(au, av);
          const q = spot(bu, bv);
          const t = Math.max(0, Math.min(1, ((x - p.x) * (q.x - p.x) + (y - p.y) * (q.y - p.y)) / ((q.x - p.x) ** 2 + (q.y - p.y) ** 2 || 1)));
          const gap = Math.hypot(p.x + t * (q.x - p.x) - x, p.y + t * (q.y - p.y) - y);
          if (gap < EDGE_REACH && (!line || gap < line.gap)) line = { gap, part, face: part.faces[a] };
          if (before === null || part.faces[before] === part.faces[a]) continue;
          const away = Math.hypot(p.x - x, p.y - y);
          if (away < CORNER_REACH && (!corner || away < corner.away)) corner = { away, part, faces: [part.faces[before], part.faces[a]], at: this.place(au, av) };
        }
      }
    const edge = corner && this.edgeAt(/** @type {any} */ (corner));
    if (edge) return edge;
    const found = line ? line.part : this.partAt(u, v);
    const place = found && this.view.places.get(found.node);
    if (!place) return null;
    const base = { node: found.node, point: this.place(u, v), cut: true };
    if (line) return { ...base, kind: "face", index: line.face, id: `f${place.body.faces[line.face]}` };
    return { ...base, kind: "node", index: 0, id: found.node };
  }

  /** The edge between two faces that passes through a corner of the cut.
   * @param {{part: CutPart, faces: number[], at: any}} corner */
  edgeAt(/** @type {any} */ { part, faces: [one, other], at }) {
    const place = this.view.places.get(part.node);
    const rims = place?.drawable.shape.rims;
    if (!rims?.[one] || !rims[other]) return null;
    const spot = at.clone().applyMatrix4(place.group.matrix.clone().invert());
    let best = null;
    for (const e of rims[one].filter((/** @type {any} */ edge) => rims[other].includes(edge))) {
      const row = place.drawable.shape.edges[e];
      for (let i = 3; i < row.length; i += 3) {
        const a = new Vector3(row[i - 3], row[i - 2], row[i - 1]);
        const step = new Vector3(row[i], row[i + 1], row[i + 2]).sub(a);
        const t = Math.max(0, Math.min(1, spot.clone().sub(a).dot(step) / (step.lengthSq() || 1)));
        const gap = a.addScaledVector(step, t).distanceTo(spot);
        if (!best || gap < best.gap) best = { gap, e };
      }
    }
    if (!best) return null;
    return { kind: "edge", node: part.node, index: best.e, id: `e${place.body.edges[best.e]}`, point: at, cut: true };
  }

  /** The lines in which faces are cut.
   * @param {{kind: string, node: string, index: number}[]} things */
  linesOf(things) {
    const position = [];
    for (const thing of things) {
      const part = this.parts.find((p) => p.node === thing.node);
      if (!part || (thing.kind !== "face" && thing.kind !== "node")) continue;
      for (const [a, b] of stretches(part)) {
        if (thing.kind === "face" && part.faces[a] !== thing.index) continue;
        for (const i of [a, b]) position.push(...this.place(part.places[2 * i], part.places[2 * i + 1]).toArray());
      }
    }
    const found = new BufferGeometry();
    found.setAttribute("position", new BufferAttribute(new Float32Array(position), 3));
    return found;
  }
}

/** Each stretch as the numbers of its ends, and of the place before it. */
function* ringStretches(/** @type {any} */ { from, count, closed }) {
  for (let i = 0; i < count - (closed ? 0 : 1); i++) yield [from + i, from + ((i + 1) % count), i || closed ? from + ((i - 1 + count) % count) : null];
}

/** @param {CutPart} part @returns {Generator<number[]>} */
export function* stretches(part) {
  for (const ring of part.rings) yield* ringStretches(ring);
}

/** @param {any} part @param {number} u @param {number} v */
function within(part, /** @type {any} */ { from, count }, u, v) {
  let inside = false;
  for (let i = 0, j = count - 1; i < count; j = i++) {
    const [au, av] = [part.places[2 * (from + i)], part.places[2 * (from + i) + 1]];
    const [bu, bv] = [part.places[2 * (from + j)], part.places[2 * (from + j) + 1]];
    if (av > v !== bv > v && u < ((bu - au) * (v - av)) / (bv - av) + au) inside = !inside;
  }
  return inside;
}

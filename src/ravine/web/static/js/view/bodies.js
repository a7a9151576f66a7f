// Shapes as drawable geometry: one buffer of triangles and one of edges a shape, shared by all its places.
import { byId } from "../dom.js";
import { BufferAttribute, BufferGeometry, Color } from "three";
import { MeshBVH, SAH } from "three-mesh-bvh";

import { coatOfFinish } from "./finished.js";
import { softEdges } from "./soft.js";

/** @typedef {import("./packets.js").Shape} Shape */

const SOFT = 84; // of 255: how strongly the ink of an edge without a kink is drawn

/** @type {Object<string, any>} how surfaces look, by name */
const SURFACES = JSON.parse(byId("surfaces")?.textContent || "{}");

export class Drawable {
  /** @type {number[]} */ firstPoint = [];
  /** @type {number[]} */ firstIndex = [];

  /** @param {Shape} shape @param {SceneBody} body
   *  @param {string} clay */
  constructor(shape, body, clay) {
    this.shape = shape;
    /** @type {any} */
    this.bvh = null;
    this.triangles = this.buildTriangles(shape);
    this.edges = this.buildEdges(shape);
    this.paint(body, clay);
  }

  /** @param {any} shape */
  buildTriangles(shape) {
    let points = 0;
    let triangles = 0;
    for (const face of shape.faces) {
      points += face.points.length / 3;
      triangles += face.triangles.length;
    }
    const position = new Float32Array(3 * points);
    const normal = new Int8Array(4 * points);
    const index = new Uint32Array(triangles);
    const { firstPoint, firstIndex } = this;
    let p = 0;
    let t = 0;
    for (const face of shape.faces) {
      firstPoint.push(p);
      firstIndex.push(t);
      position.set(face.points, 3 * p);
      normal.set(face.normals, 4 * p);
      for (let i = 0; i < face.triangles.length; i++) index[t + i] = face.triangles[i] + p;
      p += face.points.length / 3;
      t += face.triangles.length;
    }
    firstPoint.push(p);
    firstIndex.push(t);
    const geometry = new BufferGeometry();
    geometry.setAttribute("position", new BufferAttribute(position, 3));
    geometry.setAttribute("normal", new BufferAttribute(normal, 4, true));
    geometry.setAttribute("color", new BufferAttribute(new Uint8Array(3 * p), 3, true));
    geometry.setAttribute("coat", new BufferAttribute(new Uint8Array(4 * p), 4, true));
    geometry.setIndex(new BufferAttribute(index, 1));
    geometry.computeBoundingBox();
    geometry.computeBoundingSphere();
    return geometry;
  }

  /** Picking tree, made when first needed; triangle numbers stay those of the buffer. */
  get tree() {
    this.bvh ??= new MeshBVH(this.triangles, { indirect: true, strategy: SAH });
    return this.bvh;
  }

  /** @param {any} shape */
  buildEdges(shape) {
    let count = 0;
    for (const line of shape.edges) count += Math.max(0, line.length / 3 - 1);
    const position = new Float32Array(6 * count);
    const ink = new Uint8Array(8 * count).fill(255);
    const soft = softEdges(shape);
    let at = 0;
    shape.edges.forEach((/** @type {any} */ line, /** @type {number} */ edge) => {
      for (let i = 3; i < line.length; i += 3) {
        position.set(line.subarray(i - 3, i + 3), at);
        if (soft[edge]) ink[(at / 3) * 4 + 3] = ink[(at / 3) * 4 + 7] = SOFT;
        at += 6;
      }
    });
    const geometry = new BufferGeometry();
    geometry.setAttribute("position", new BufferAttribute(position, 3));
    geometry.setAttribute("color", new BufferAttribute(ink, 4, true));
    return geometry;
  }

  /** @param {SceneBody} body @param {string} clay */
  paint(body, clay) {
    const colours = this.triangles.getAttribute("color");
    const coats = this.triangles.getAttribute("coat");
    const { min, max } = /** @type {any} */ (this.triangles.boundingBox);
    const sizes = [max.x - min.x, max.y - min.y, max.z - min.z];
    const along = sizes.indexOf(Math.max(...sizes));
    /** @param {any} finish */
    const look = (finish) => ({ c: new Color(finish?.slice(0, 7) || clay), coat: coatOfFinish(finish, SURFACES, along) });
    const whole = look(body.finish);
    for (let f = 0; f < this.shape.faces.length; f++) {
      const own = body.faceFinishes[String(body.faces[f])];
      const { c, coat } = own ? look(own) : whole;
      for (let i = this.firstPoint[f]; i < this.firstPoint[f + 1]; i++) {
        colours.setXYZ(i, c.r, c.g, c.b);
        coats.array.set(coat, 4 * i);
      }
    }
    colours.needsUpdate = coats.needsUpdate = true;
    this.coat = coatOf(body);
  }

  /** Which face a triangle belongs to.
   * @param {number} triangle */
  faceOf(triangle) {
    const at = 3 * triangle;
    let low = 0;
    let high = this.firstIndex.length - 1;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (this.firstIndex[middle] <= at) low = middle;
      else high = middle;
    }
    return low;
  }

  /** Geometry of some faces, sharing the buffers.
   * @param {number[]} faces */
  facesGeometry(faces) {
    const index = this.triangles.getIndex().array;
    const parts = faces.map((/** @type {number} */ f) => index.slice(this.firstIndex[f], this.firstIndex[f + 1]));
    const joined = new Uint32Array(parts.reduce((/** @type {any} */ n, /** @type {any} */ part) => n + part.length, 0));
    let at = 0;
    for (const part of parts) {
      joined.set(part, at);
      at += part.length;
    }
    const geometry = new BufferGeometry();
    geometry.setAttribute("position", this.triangles.getAttribute("position"));
    geometry.setIndex(new BufferAttribute(joined, 1));
    return geometry;
  }

  /** Segments of some edges.
   * @param {number[]} edges */
  edgesGeometry(edges) {
    const lines = edges.map((/** @type {number} */ e) => this.shape.edges[e]);
    /** @type {number[]} */
    const position = [];
    for (const line of lines)
      for (let i = 3; i < line.length; i += 3) position.push(...line.subarray(i - 3, i + 3));
    const geometry = new BufferGeometry();
    geometry.setAttribute("position", new BufferAttribute(new Float32Array(position), 3));
    return geometry;
  }

  /** The matter between faces and their copies a step away: what a push adds or takes.
   * @param {number[]} faces @param {import("three").Vector3} step in the shape's coordinates */
  sweptGeometry(faces, step) {
    /** @type {number[]} */
    const position = [];
    /** @param {number[]} a @param {number[]} b @param {number[]} c */
    const triangle = (a, b, c) => position.push(...a, ...b, ...c);
    /** @param {number[]} p */
    const away = (p) => [p[0] + step.x, p[1] + step.y, p[2] + step.z];
    for (const f of faces) {
      const { points, triangles } = this.shape.faces[f];
      /** @param {number} i */
      const at = (i) => [points[3 * i], points[3 * i + 1], points[3 * i + 2]];
      for (let i = 0; i < triangles.length; i += 3) triangle(away(at(triangles[i])), away(at(triangles[i + 1])), away(at(triangles[i + 2])));
      for (const e of this.shape.rims[f]) {
        const line = this.shape.edges[e];
        for (let i = 3; i < line.length; i += 3) {
          const a = [...line.subarray(i - 3, i)];
          const b = [...line.subarray(i, i + 3)];
          triangle(a, b, away(b));
          triangle(a, away(b), away(a));
        }
      }
    }
    const geometry = new BufferGeometry();
    geometry.setAttribute("position", new BufferAttribute(new Float32Array(position), 3));
    return geometry;
  }

  dispose() {
    this.triangles.dispose();
    this.edges.dispose();
  }
}

/** What decides the colours; when it changes the drawable is painted again.
 * @param {SceneBody} body */
export function coatOf(body) {
  return JSON.stringify([body.finish, body.faceFinishes]);
}

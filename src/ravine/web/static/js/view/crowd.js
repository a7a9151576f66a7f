// Parts that stand several times are drawn together: one call for their faces, one for their edges, however many.
import { Group, InstancedMesh, LineSegments, Matrix4 } from "three";

const NOWHERE = new Matrix4().makeScale(0, 0, 0);

export class Crowd {
  /** @param {import("./view.js").View} view */
  constructor(view) {
    this.view = view;
    this.group = new Group();
    /** @type {Map<string, {mesh: InstancedMesh, lines: any, slot: number}>} */
    this.slots = new Map();
  }

  /** Take over the drawing of all places that share what they draw. */
  gather() {
    for (const child of this.group.children) /** @type {any} */ (child).dispose?.();
    this.group.clear();
    this.slots.clear();
    const alike = new Map();
    for (const [node, place] of this.view.places) if (place.group.visible) alike.set(place.drawable, [...(alike.get(place.drawable) || []), node]);
    for (const [drawable, nodes] of alike) {
      if (nodes.length < 2) continue;
      const mesh = new InstancedMesh(drawable.triangles, this.view.skin, nodes.length);
      mesh.castShadow = mesh.receiveShadow = Boolean(this.view.finished);
      const lines = severalLines(drawable.edges, this.view.materials.edge, mesh.instanceMatrix, nodes.length);
      mesh.frustumCulled = lines.frustumCulled = false;
      this.group.add(mesh, lines);
      nodes.forEach((/** @type {string} */ node, /** @type {any} */ slot) => {
        this.view.places.get(node).group.clear();
        this.slots.set(node, { mesh, lines, slot });
      });
    }
    this.lay();
  }

  /** After places moved.
   * @param {Set<string>} [left] nodes that are not drawn */
  lay(left = new Set()) {
    for (const [node, { mesh, slot }] of this.slots) {
      mesh.setMatrixAt(slot, left.has(node) ? NOWHERE : this.view.places.get(node).group.matrix);
      mesh.instanceMatrix.needsUpdate = true;
    }
  }

  recolour() {
    for (const child of this.group.children) {
      const faces = child instanceof InstancedMesh;
      Object.assign(child, { material: faces ? this.view.skin : this.view.materials.edge, castShadow: faces && Boolean(this.view.finished), receiveShadow: faces && Boolean(this.view.finished) });
    }
  }

  /** @param {boolean} on */
  showEdges(on) {
    for (const { lines } of this.slots.values()) lines.visible = on;
  }
}

/** Segments drawn at each of several places; the renderer asks only for these fields.
 * @param {any} geometry @param {any} material @param {any} matrices @param {number} count */
function severalLines(geometry, material, matrices, count) {
  const lines = /** @type {any} */ (new LineSegments(geometry, material));
  return Object.assign(lines, { isInstancedMesh: true, instanceMatrix: matrices, instanceColor: null, morphTexture: null, count });
}

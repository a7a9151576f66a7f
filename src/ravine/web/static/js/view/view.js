// The view: scene, ground grid, overlays of pick, hover, locked and previewed matter. Draws only when asked.
import {
  Box3, BufferAttribute, BufferGeometry, Color, CustomBlending, DirectionalLight, Group, HemisphereLight, LineBasicMaterial,
  LineSegments, Matrix4, Mesh, OneFactor, OneMinusSrcAlphaFactor, Scene, SrcAlphaFactor, Vector3, WebGLRenderer,
} from "three";
import { Camera } from "./camera.js";
import { Contact } from "./contact.js";
import { Crowd } from "./crowd.js";
import { LENGTHS, niceStep } from "./lengths.js";
import { clip, makeMaterials, sheetColour } from "./materials.js";

const HEAVY = 60000; // segments of edges, above which a model is drawn thinner while it turns
const REST = 180; // ms
/** Blended, but drawn before what is opaque, so that from below the model covers the sheet it stands on. */
const FADING = { blending: CustomBlending, blendSrc: SrcAlphaFactor, blendDst: OneMinusSrcAlphaFactor, blendSrcAlpha: OneFactor, blendDstAlpha: OneMinusSrcAlphaFactor };
const PIECE = 15; // steps of a line of the grid between which it fades

/** A 3x4 row matrix as three.js wants it.
 * @param {number[]} m */
export function placement(m) {
  return new Matrix4().set(...m.slice(0, 12), 0, 0, 0, 1);
}

export class View {
  /** @param {HTMLCanvasElement} canvas @param {() => void} afterDraw */
  constructor(canvas, afterDraw) {
    this.canvas = canvas;
    this.afterDraw = afterDraw;
    this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true, preserveDrawingBuffer: true });
    this.renderer.setClearColor(0, 0);
    this.renderer.localClippingEnabled = true;
    this.scene = new Scene();
    this.parts = new Group();
    /** @type {Table} */
    this.marks = { locked: new Group(), picked: new Group(), hover: new Group(), ghost: new Group() };
    this.materials = makeMaterials();
    this.places = new Map(); // node id → {node, drawable, group}
    this.camera = new Camera(canvas, () => this.turned());
    this.crowd = new Crowd(this);
    this.contact = new Contact(this);
    this.light();
    this.scene.add(this.parts, this.crowd.group, ...Object.values(this.marks));
    this.units = "mm";
    this.beforeDraw = () => {};
    this.atRest = () => {};
    this.trying = false; // a state is shown that is not kept
    /** @type {any} the material of the finished look, while that is shown */
    this.finished = null;
    /** @type {import("../tools/handover/compared.js").Compared|null} what is drawn beside or over it */
    this.comparing = null;
    /** @type {any} the material of what lies in the place of a part, as a map does */
    this.over = null;
    /** @type {{capped: (planes: any[]|null) => void}|null} what draws itself cut open */
    this.capping = null;
    this.only = ""; // the one kind of thing that is picked, while one is chosen
    this.box = new Box3();
    this.frames = 0;
    this.moving = false;
    /** @type {any} */
    this.resting = 0;
    this.heavy = false;
    this.thinned = false;
    this.leftAway = false;
    /** @type {import("../tools/sketch/sketches.js").Sketches|null} */
    this.sketches = null;
    /** @type {import("../tools/section/section.js").Section|null} */
    this.section = null;
    new ResizeObserver(() => this.resize()).observe(canvas);
    matchMedia("(prefers-color-scheme: dark)").addEventListener("change", () => this.recolour());
    this.resize();
    this.watchPixels();
  }

  /** Moved to a screen of another density, the window keeps its size and is drawn anew. */
  watchPixels() {
    const again = () => {
      this.draw();
      this.watchPixels();
    };
    matchMedia(`(resolution: ${devicePixelRatio}dppx)`).addEventListener("change", again, { once: true });
  }

  light() {
    this.sky = new HemisphereLight(0xffffff, 0xb9b3a4, 2.15);
    this.scene.add(this.sky);
    this.sun = new DirectionalLight(0xffffff, 1.35);
    this.scene.add(this.sun, this.sun.target);
  }

  /** From over the shoulder of the eye. */
  headlight() {
    const side = new Vector3().setFromMatrixColumn(this.camera.lens.matrixWorld, 0);
    const up = new Vector3().setFromMatrixColumn(this.camera.lens.matrixWorld, 1);
    const reach = this.camera.distance * 0.5;
    this.sun.position.copy(this.camera.lens.position).addScaledVector(side, -reach * 0.7).addScaledVector(up, reach);
    this.sun.target.position.copy(this.camera.target);
  }

  /** What faces are drawn with. */
  get skin() {
    return this.finished || this.materials.body;
  }

  /** Everything that is shown, for the camera to keep in sight. */
  extent() {
    const box = this.box.clone();
    if (this.comparing) box.union(this.comparing.box);
    for (const sketch of this.sketches?.list || [])
      for (const [x, y] of Object.values(sketch.points)) box.expandByPoint(new Vector3(x, y, 0).applyMatrix4(sketch.matrix));
    return box;
  }

  /** The box around some of what is shown; null where there is none of it.
   * @param {any[]} things */
  extentOf(things) {
    const box = new Box3();
    for (const { kind, node, index } of things) {
      const place = this.places.get(node);
      if (!place?.group.visible) continue;
      const { drawable, group } = place;
      if (kind === "node") box.union(drawable.triangles.boundingBox.clone().applyMatrix4(group.matrix));
      const row = kind === "face" ? drawable.shape.faces[index].points : kind === "edge" ? drawable.shape.edges[index] : [];
      for (let i = 0; i < row.length; i += 3) box.expandByPoint(new Vector3(row[i], row[i + 1], row[i + 2]).applyMatrix4(group.matrix));
    }
    return box.isEmpty() ? null : box;
  }

  recolour() {
    Object.assign(this.materials, makeMaterials());
    for (const { group } of this.places.values()) {
      if (!group.children.length) continue;
      group.children[0].material = this.skin;
      group.children[0].castShadow = group.children[0].receiveShadow = Boolean(this.finished);
      group.children[1].material = this.materials.edge;
      if (group.children[2]) group.children[2].material = this.materials.rim;
    }
    this.crowd.recolour();
    this.contact.lay();
    this.dress();
    this.clip(this.section?.planes || null);
    this.section?.relay();
    /** @type {string} */
    this.gridKey = "";
    this.draw();
  }

  /** Whether round forms have their outline now: not in a hurry, since it costs about as much as the faces. */
  get rimmed() {
    return !this.finished && !this.section?.planes && !this.trying && !this.moving;
  }

  /** What goes with the plain look and not with the finished one: ink, and outlines where nothing is cut open. */
  dress() {
    const ink = !this.finished;
    const rim = this.rimmed;
    for (const { group } of this.places.values()) {
      if (group.children[1]) group.children[1].visible = ink;
      if (group.children[2]) group.children[2].visible = rim;
    }
    this.crowd.showEdges(ink);
    this.comparing?.dress();
    if (this.grid) for (const lines of this.grid) lines.visible = ink;
  }

  /** @param {any[]|null} planes what lies before them is not drawn */
  clip(planes) {
    const further = { ...(this.finished && { finished: this.finished }), ...(this.over && { over: this.over }) };
    clip({ ...this.materials, ...further }, planes);
    this.capping?.capped(planes);
    this.dress();
    this.draw();
  }

  resize() {
    const { clientWidth: width, clientHeight: height } = this.canvas;
    if (!width || !height) return;
    this.renderer.setPixelRatio(pixels());
    this.renderer.setSize(width, height, false);
    this.materials.rim.uniforms.view.value.set(width * this.camera.share, height);
    this.camera.apply();
  }

  draw() {
    if (this.waiting || !this.camera) return;
    this.waiting = true;
    requestAnimationFrame(() => {
      this.waiting = false;
      if (this.renderer.getPixelRatio() !== pixels()) this.resize();
      this.ground();
      if (!this.finished) this.headlight();
      this.beforeDraw();
      this.section?.cut?.scale(this.camera.span);
      this.thin();
      this.contact.draw();
      if (this.comparing) this.comparing.render();
      else this.renderer.render(this.scene, this.camera.lens);
      this.frames++;
      if (this.moving) this.rest();
      this.afterDraw();
    });
  }

  // --- the model -------------------------------------------------------------------------------------------

  /** Show these places.
   * @param {SceneNode[]} nodes @param {(node: SceneNode) => import("./bodies.js").Drawable|null} drawableOf
   *  @param {(node: SceneNode) => SceneBody} bodyOf @param {Set<string>} hidden */
  show(nodes, drawableOf, bodyOf, hidden) {
    this.parts.clear();
    this.places.clear();
    this.marks.locked.clear();
    this.box.makeEmpty();
    for (const node of nodes) {
      const drawable = drawableOf(node);
      if (!drawable) continue;
      const group = new Group();
      group.matrixAutoUpdate = false;
      group.matrix.copy(placement(node.matrix));
      group.add(new Mesh(drawable.triangles, this.skin), new LineSegments(drawable.edges, this.materials.edge));
      if (bodyOf(node).kind === "solid") group.add(new Mesh(drawable.triangles, this.materials.rim));
      group.children[0].castShadow = group.children[0].receiveShadow = Boolean(this.finished);
      group.visible = !hidden.has(node.id);
      this.parts.add(group);
      group.updateMatrixWorld(true);
      this.places.set(node.id, { node, drawable, group, body: bodyOf(node) });
      if (group.visible) this.box.union(drawable.triangles.boundingBox.clone().applyMatrix4(group.matrix));
      if (group.visible && bodyOf(node).locked) this.mark("locked", this.materials.locked, drawable.triangles, group.matrix);
    }
    this.crowd.gather();
    if (!this.trying) this.contact.lay();
    this.dress();
    this.heavy = this.weigh() > HEAVY;
    this.draw();
  }

  /** The check over locked parts, where they are drawn now. */
  relock() {
    this.marks.locked.clear();
    for (const { drawable, group, body } of this.places.values()) if (group.visible && body.locked) this.mark("locked", this.materials.locked, drawable.triangles, group.matrix);
  }

  /** Segments of edges that are drawn. */
  weigh() {
    let found = 0;
    for (const { drawable, group } of this.places.values()) if (group.visible) found += drawable.edges.getAttribute("position").count / 2;
    return found;
  }

  /** The faces of a part are not drawn while something is laid over them.
   * @param {string} node @param {boolean} on */
  cover(node, on) {
    const place = this.places.get(node);
    if (place?.group.children.length) place.group.children[0].visible = !on;
    else if (place) this.crowd.lay(on ? new Set([node]) : undefined);
  }

  /** While a large model turns, its edges and what is smaller than a dot are left away. */
  thin() {
    const rim = this.rimmed;
    for (const { group } of this.places.values()) if (group.children[2]) group.children[2].visible = rim;
    const on = this.moving && this.heavy;
    if (on === this.thinned && !on) return;
    this.thinned = on;
    const perPixel = this.camera.span / this.canvas.clientHeight;
    const left = new Set();
    for (const [node, { drawable, group }] of this.places) {
      const small = on && drawable.triangles.boundingSphere.radius < 1.5 * perPixel;
      if (small) left.add(node);
      if (!group.children.length) continue;
      group.children[1].visible = !on && !this.finished;
      group.children[0].layers.mask = small ? 0 : 1;
    }
    this.crowd.showEdges(!on && !this.finished);
    if (on || this.leftAway) this.crowd.lay(left);
    this.leftAway = left.size > 0;
  }

  /** The camera moved. */
  turned() {
    this.moving = true;
    clearTimeout(this.resting);
    this.draw();
  }

  /** Drawn while it moves: when nothing follows for a moment it rests, and all of it is drawn. */
  rest() {
    clearTimeout(this.resting);
    this.resting = setTimeout(() => {
      this.moving = false;
      if (this.thinned || this.rimmed || this.finished) this.draw();
      this.atRest();
    }, REST);
  }

  /** Add a mesh to one of the overlays.
   * @param {string} which @param {any} material @param {any} geometry @param {any} matrix */
  mark(which, material, geometry, matrix, lines = false) {
    const found = lines ? new LineSegments(geometry, material) : new Mesh(geometry, material);
    found.matrixAutoUpdate = false;
    found.matrix.copy(matrix);
    found.renderOrder = /** @type {Table} */ ({ locked: 1, ghost: 2, picked: 3, hover: 4 })[which] + (lines ? 0.5 : 0);
    this.marks[which].add(found);
    return found;
  }

  /** @param {string} which */
  clearMarks(which) {
    for (const child of this.marks[which].children) if (which !== "locked") child.geometry.index ? child.geometry.setIndex(null) : child.geometry.dispose();
    this.marks[which].clear();
  }

  /** Mark picked or hovered things.
   * @param {"picked"|"hover"} which @param {Thing[]} things
   * @param {boolean} [bare] by their borders alone */
  highlight(which, things, bare = false) {
    this.clearMarks(which);
    this.sketches?.highlight(which, things.filter((/** @type {any} */ t) => t.sketch));
    this.section?.highlight(which, things);
    const fill = this.materials[which];
    const line = this.materials[which === "picked" ? "pickedEdge" : "hoverEdge"];
    for (const thing of things) {
      const place = this.places.get(thing.node);
      if (!place || !place.group.visible) continue;
      const { drawable, group } = place;
      const { shape } = drawable;
      if (thing.kind === "node") {
        if (!bare) this.mark(which, fill, drawable.facesGeometry(shape.faces.map((/** @type {any} */ _, /** @type {number} */ i) => i)), group.matrix);
      } else if (thing.kind === "face") {
        if (!bare && !thing.bare) this.mark(which, fill, drawable.facesGeometry([thing.index]), group.matrix);
        this.mark(which, line, drawable.edgesGeometry(shape.rims[thing.index] || []), group.matrix, true);
      } else if (thing.kind === "edge") this.mark(which, line, drawable.edgesGeometry([thing.index]), group.matrix, true);
    }
    this.draw();
  }

  // --- the ground ------------------------------------------------------------------------------------------

  /** The survey sheet below the model; its step follows the zoom. */
  ground() {
    const unit = LENGTHS[this.units];
    const step = niceStep((this.camera.span / unit) * 0.02) * unit;
    const floor = this.box.isEmpty() ? 0 : this.box.min.z;
    const key = `${step} ${floor} ${this.camera.centre.x.toFixed(0)} ${this.camera.centre.y.toFixed(0)}`;
    if (key === this.gridKey) return;
    this.gridKey = key;
    this.gridStep = step;
    if (this.grid) {
      this.scene.remove(...this.grid);
      this.grid.forEach((g) => g.geometry.dispose());
    }
    const half = 60;
    const cx = Math.round(this.camera.centre.x / step / 5) * 5;
    const cy = Math.round(this.camera.centre.y / step / 5) * 5;
    /** @type {Object<string, number[]>} in pieces, so that they can fade; those through the origin are axes */
    const rows = { faint: [], strong: [], axis: [] };
    /** @param {number} k */
    const kind = (k) => (k === 0 ? rows.axis : k % 5 === 0 ? rows.strong : rows.faint);
    for (let i = -half; i <= half; i++) {
      const x = (cx + i) * step;
      const y = (cy + i) * step;
      for (let j = -half; j < half; j += PIECE) {
        kind(cx + i).push(x, (cy + j) * step, floor, x, (cy + j + PIECE) * step, floor);
        kind(cy + i).push((cx + j) * step, y, floor, (cx + j + PIECE) * step, y, floor);
      }
    }
    this.grid = ["faint", "strong", "axis"].map((name) => {
      const geometry = new BufferGeometry();
      geometry.setAttribute("position", new BufferAttribute(new Float32Array(rows[name]), 3));
      geometry.setAttribute("color", new BufferAttribute(fading(rows[name], cx * step, cy * step, half * step), 4, true));
      const found = new LineSegments(geometry, new LineBasicMaterial({ color: new Color(sheetColour(`--grid-${name}`)), vertexColors: true, depthWrite: false, ...FADING }));
      found.renderOrder = -1;
      found.visible = !this.finished;
      return found;
    });
    this.scene.add(...this.grid);
  }

  /** Bound the camera by what is shown. */
  bound() {
    const shown = this.extent();
    const box = shown.isEmpty() ? new Box3(new Vector3(-50, -50, 0), new Vector3(50, 50, 60)) : shown;
    this.camera.bound(box);
  }
}

/** Ink on the ends of lines of the grid: full in the middle, none at the rim.
 * @param {any} row @param {number} x @param {number} y @param {number} reach */
function fading(row, x, y, reach) {
  const found = new Uint8Array((4 * row.length) / 3).fill(255);
  for (let i = 0; i < row.length; i += 3) {
    const away = Math.hypot(row[i] - x, row[i + 1] - y) / reach;
    found[(4 * i) / 3 + 3] = 255 * Math.max(0, Math.min(1, 1.25 * (1 - away)));
  }
  return found;
}

/** Pixels drawn for each of the page's. */
function pixels() {
  return Math.min(devicePixelRatio, 2);
}

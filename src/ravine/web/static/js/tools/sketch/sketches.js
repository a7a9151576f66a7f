// Sketches in the view: their curves, points, closed areas and sizes, and what of them lies under the pointer.
import { sure } from "../../dom.js";
import { BufferAttribute, BufferGeometry, Color, DoubleSide, Group, LineBasicMaterial, LineDashedMaterial, LineSegments, Mesh, MeshBasicMaterial, Plane, PlaneGeometry, Points, PointsMaterial, SRGBColorSpace, Shape, ShapeGeometry, TextureLoader, Path, Vector2, Vector3, Matrix4 } from "three";
import { make } from "../../handles/knob.js";
import { sheetColour } from "../../view/materials.js";
import { dimension, endsOf, sizeWords } from "./sizes.js";

const POINT_REACH = 8; // px
const CURVE_REACH = 6;
const CLEARER = 3; // px that a curve must be nearer than a point to be meant

export class Sketches {
  /** @param {import("../../view/view.js").View} view @param {SVGElement} overlay */
  constructor(view, overlay) {
    this.view = view;
    /** @type {Sketch[]} */
    this.list = [];
    this.group = new Group();
    this.pictures = new Map(); // textures by address
    this.marks = { picked: new Group(), hover: new Group() };
    view.scene.add(this.group, this.marks.picked, this.marks.hover);
    this.labels = make("g", { class: "sketch-sizes" });
    sure(overlay.parentNode).insertBefore(make("svg", { class: "sizes-over", "aria-hidden": "true" }), overlay).append(this.labels);
    this.active = ""; // the sketch that is worked in: it is drawn over everything, with its sizes
    this.drawingIn = false; // while something is drawn its own colours tell
    /** @type {Sketch[]} */
    this.saved = []; // as in the saved state, whatever a preview shows
    this.usedKey = `ravine-used-${location.pathname}`;
    this.used = new Set((localStorage.getItem(this.usedKey) || "").split(" ").filter(Boolean));
    this.still = new Set(); // ids of the saved state: what is not among them is new, in a preview
  }

  /** @param {any[]} list as in core/view/scene.py @param {boolean} saved */
  show(list, saved) {
    clear(this.group);
    this.shown = { list, saved };
    this.list = (list || []).map((entry) => ({ ...entry, matrix: matrixOf(entry.plane) }));
    if (saved) {
      this.saved = this.list;
      this.still = new Set(this.list.flatMap((s) => s.curves.map((/** @type {any} */ c) => c.id)));
    }
    for (const sketch of this.list) {
      const part = new Group();
      part.matrixAutoUpdate = false;
      part.matrix.copy(sketch.matrix);
      this.layPicture(sketch, part);
      this.fillAreas(sketch, part);
      this.drawCurves(sketch, part);
      this.group.add(part);
    }
    this.group.updateMatrixWorld(true);
    this.view.draw();
  }

  /** The picture behind a sketch, each loaded once.
   * @param {any} part */
  layPicture(/** @type {any} */ { picture }, part) {
    if (!picture) return;
    if (!this.pictures.has(picture.address)) {
      this.pictures.set(picture.address, new TextureLoader().load(`${this.view.canvas.dataset.pictures}/${picture.address}`, (/** @type {any} */ texture) => {
        texture.colorSpace = SRGBColorSpace;
        this.view.draw();
      }));
    }
    const geometry = new PlaneGeometry(picture.wide, picture.tall);
    geometry.translate(picture.corner[0] + picture.wide / 2, picture.corner[1] + picture.tall / 2, 0);
    const mesh = new Mesh(geometry, new MeshBasicMaterial({ map: this.pictures.get(picture.address), transparent: true, opacity: picture.strength, side: DoubleSide, depthWrite: false }));
    mesh.renderOrder = 1.2;
    part.add(mesh);
  }

  /** @param {Sketch} sketch @param {any} part */
  fillAreas(sketch, part) {
    for (const area of sketch.areas) {
      const mesh = new Mesh(areaGeometry(area), areaMaterial("--water", this.resting(sketch) ? 0.02 : 0.09));
      mesh.renderOrder = 1.5;
      mesh.userData = { kind: "area", id: area.id, sketch: sketch.id };
      part.add(mesh);
    }
  }

  /** Whether it has done its work and is not at hand.
   * @param {Sketch} sketch */
  resting(sketch) {
    return this.used.has(sketch.id) && sketch.id !== this.active;
  }

  /** @param {Sketch} sketch @param {any} part */
  drawCurves(sketch, part) {
    const opacity = this.resting(sketch) ? 0.35 : 1;
    const rows = { "--ink": [], "--water": [], "--moss": [], helper: [] };
    for (const curve of sketch.curves) {
      const which = curve.helper ? "helper" : !this.still.has(curve.id) ? "--moss" : curve.held ? "--ink" : "--water";
      for (const line of curve.lines) pushSegments(rows[which], line);
    }
    for (const [name, places] of Object.entries(rows)) {
      if (!places.length) continue;
      const geometry = lineGeometry(places);
      const helper = name === "helper";
      const depthTest = sketch.id !== this.active;
      const material = helper
        ? new LineDashedMaterial({ color: new Color(sheetColour("--soft")), dashSize: 3, gapSize: 2, depthTest, transparent: true, opacity })
        : new LineBasicMaterial({ color: new Color(sheetColour(name)), depthTest, transparent: true, opacity });
      const lines = new LineSegments(geometry, material);
      if (helper) lines.computeLineDistances();
      lines.renderOrder = 5;
      part.add(lines);
    }
    if (sketch.id !== this.active) return;
    const spots = Object.values(sketch.points).flatMap(([x, y]) => [x, y, 0]);
    if (!spots.length) return;
    const geometry = new BufferGeometry();
    geometry.setAttribute("position", new BufferAttribute(new Float32Array(spots), 3));
    const points = new Points(geometry, new PointsMaterial({ color: new Color(sheetColour("--ink")), size: 4, sizeAttenuation: false, depthTest: false, transparent: true }));
    points.renderOrder = 6;
    part.add(points);
  }

  /** In the plane of a sketch, where the pointer is.
   * @returns {{x: number, y: number}|null} @param {Sketch} sketch @param {number} x @param {number} y */
  flat(sketch, x, y) {
    const { ray } = this.view.camera.ray(x, y);
    const normal = new Vector3().setFromMatrixColumn(sketch.matrix, 2);
    const origin = new Vector3().setFromMatrixPosition(sketch.matrix);
    const hit = ray.intersectPlane(new Plane().setFromNormalAndCoplanarPoint(normal, origin), new Vector3());
    if (!hit) return null;
    hit.applyMatrix4(sketch.matrix.clone().invert());
    return { x: hit.x, y: hit.y };
  }

  /** @param {Sketch} sketch @param {number} x @param {number} y */
  toScreen(sketch, x, y) {
    return this.view.camera.project(new Vector3(x, y, 0).applyMatrix4(sketch.matrix));
  }

  /** The nearest curve within reach.
   * @returns {{curve: any, gap: number, at: {x: number, y: number}}|null} @param {Sketch} sketch @param {number} x @param {number} y */
  curveUnder(sketch, x, y) {
    let best = null;
    for (const [curve, line] of sketch.curves.flatMap((/** @type {any} */ c) => c.lines.map((/** @type {any} */ l) => [c, l]))) {
      let a = this.toScreen(sketch, line[0], line[1]);
      for (let i = 2; i < line.length; i += 2) {
        const b = this.toScreen(sketch, line[i], line[i + 1]);
        const dx = b.x - a.x;
        const dy = b.y - a.y;
        const t = Math.max(0, Math.min(1, ((x - a.x) * dx + (y - a.y) * dy) / (dx * dx + dy * dy || 1)));
        const gap = Math.hypot(a.x + t * dx - x, a.y + t * dy - y);
        if (gap < CURVE_REACH && (!best || gap < best.gap))
          best = { curve, gap, at: { x: line[i - 2] + t * (line[i] - line[i - 2]), y: line[i - 1] + t * (line[i + 1] - line[i - 1]) } };
        a = b;
      }
    }
    return best;
  }

  /** The nearest point within reach.
   * @returns {{id: string, gap: number}|null} @param {Sketch} sketch @param {number} x @param {number} y */
  pointUnder(sketch, x, y) {
    let best = null;
    for (const [id, [px, py]] of Object.entries(sketch.points)) {
      const at = this.toScreen(sketch, px, py);
      const gap = Math.hypot(at.x - x, at.y - y);
      if (gap < POINT_REACH && (!best || gap < best.gap)) best = { id, gap };
    }
    return best;
  }

  /** What of a sketch lies under the pointer: a point, else a curve, else an area that no face hides.
   * @param {number} x @param {number} y @param {number} faceDistance of the nearest face along the ray */
  under(x, y, faceDistance = Infinity) {
    for (const sketch of this.list) {
      if (this.resting(sketch) && faceDistance < Infinity) continue;
      const point = sketch.id === this.active && this.pointUnder(sketch, x, y);
      const found = this.curveUnder(sketch, x, y);
      if (point && !(found && found.gap + CLEARER < point.gap)) return { kind: "point", id: point.id, sketch: sketch.id };
      if (found && (sketch.id === this.active || this.inFront(sketch, found.at, faceDistance))) return { kind: "curve", id: found.curve.id, sketch: sketch.id };
    }
    const caster = this.view.camera.ray(x, y);
    const hits = caster.intersectObjects(this.group.children.flatMap((/** @type {any} */ g) => g.children.filter((/** @type {any} */ c) => c.userData.kind === "area")), false);
    const hit = hits[0];
    if (!hit || hit.distance > faceDistance + 0.02) return null;
    if (faceDistance < Infinity && this.used.has(hit.object.userData.sketch) && hit.object.userData.sketch !== this.active) return null;
    return { kind: "area", id: hit.object.userData.id, sketch: hit.object.userData.sketch };
  }

  /** Whether no face hides a place of a sketch.
   * @param {Sketch} sketch @param {Place} at @param {number} faceDistance */
  inFront(sketch, at, faceDistance) {
    const place = new Vector3(at.x, at.y, 0).applyMatrix4(sketch.matrix);
    return place.distanceTo(this.view.camera.lens.position) < faceDistance + 0.5;
  }

  /** @param {string} id */
  find(id) {
    for (const sketch of this.list) {
      if (id === sketch.id) return { kind: "sketch", id, sketch: id };
      if (id in sketch.points) return { kind: "point", id, sketch: sketch.id };
      if (sketch.curves.some((/** @type {any} */ c) => c.id === id)) return { kind: "curve", id, sketch: sketch.id };
      if (sketch.areas.some((/** @type {any} */ a) => a.id === id)) return { kind: "area", id, sketch: sketch.id };
      if (sketch.sizes.some((/** @type {any} */ r) => r.id === id)) return { kind: "rule", id, sketch: sketch.id };
    }
    return null;
  }

  /** @param {string} id */
  named(id) {
    return this.list.find((s) => s.id === id);
  }

  /** @param {"picked"|"hover"} which @param {any[]} things */
  highlight(which, things) {
    clear(this.marks[which]);
    const active = which === "picked" && things.length ? things[0].sketch : this.active;
    if (which === "picked" && (things.length ? active : "") !== this.active) {
      this.active = things.length ? active : "";
      if (this.shown) this.show(this.shown.list, this.shown.saved);
    }
    const colour = which === "picked" ? "--rust" : "--water";
    for (const thing of things) {
      const sketch = this.named(thing.sketch);
      if (!sketch) continue;
      const part = new Group();
      part.matrixAutoUpdate = false;
      part.matrix.copy(sketch.matrix);
      const area = thing.kind === "area" && sketch.areas.find((/** @type {any} */ a) => a.id === thing.id);
      if (area) part.add(new Mesh(areaGeometry(area), which === "picked" ? this.view.materials.picked : areaMaterial(colour, 0.2)));
      const curves = thing.kind === "sketch" ? sketch.curves.filter(() => !this.drawingIn) : sketch.curves.filter((/** @type {any} */ c) => c.id === thing.id);
      /** @type {number[]} */
      const places = [];
      for (const line of curves.flatMap((/** @type {any} */ c) => c.lines)) pushSegments(places, line);
      for (const line of area ? area.lines : []) pushSegments(places, [...line, line[0], line[1]]);
      if (places.length) part.add(new LineSegments(lineGeometry(places), new LineBasicMaterial({ color: new Color(sheetColour(colour)), depthTest: false, transparent: true })));
      if (thing.kind === "point") {
        const geometry = new BufferGeometry();
        geometry.setAttribute("position", new BufferAttribute(new Float32Array([...sketch.points[thing.id], 0]), 3));
        part.add(new Points(geometry, new PointsMaterial({ color: new Color(sheetColour(colour)), size: 9, sizeAttenuation: false, depthTest: false, transparent: true })));
      }
      for (const child of part.children) child.renderOrder = 7;
      this.marks[which].add(part);
    }
    this.marks[which].updateMatrixWorld(true);
    this.view.draw();
  }

  /** On the screen, between its points.
   * @param {Sketch} sketch */
  middle(sketch) {
    const spots = Object.values(sketch.points).map(([x, y]) => this.toScreen(sketch, x, y));
    const sum = spots.reduce((s, p) => ({ x: s.x + p.x, y: s.y + p.y }), { x: 0, y: 0 });
    return { x: sum.x / (spots.length || 1), y: sum.y / (spots.length || 1) };
  }

  /** The lines of a dimension.
   * @returns {{x: number, y: number}} where its value stands @param {Sketch} sketch @param {any} size @param {any} middle @param {any[]} rows */
  drawSize(sketch, size, middle, rows) {
    const ends = endsOf(size, sketch);
    const places = (ends || size.at).map((/** @type {any[]} */ [x, y]) => this.toScreen(sketch, x, y));
    if (!ends) {
      const sum = places.reduce((/** @type {any} */ s, /** @type {Place} */ p) => ({ x: s.x + p.x, y: s.y + p.y }), { x: 0, y: 0 });
      return { x: sum.x / places.length, y: sum.y / places.length - 14 };
    }
    const found = dimension(places[0], places[1], size.kind, middle);
    const group = make("g", { class: "size-lines" });
    for (const [a, b] of [...found.lines, ...found.ticks]) group.append(make("line", { x1: a.x, y1: a.y, x2: b.x, y2: b.y }));
    rows.push(group);
    return found.at;
  }

  /** Where a sketch counts from, and its two named directions; with its plane while it is only tried.
   * @param {Sketch} sketch @param {boolean} fresh */
  axes(sketch, fresh) {
    const reach = 0.16 * this.view.camera.span;
    const group = make("g", { class: "sketch-axes" });
    /** @param {number} x @param {number} y */
    const spot = (x, y) => this.toScreen(sketch, x * reach, y * reach);
    if (fresh) make("polygon", { points: [[-1, -1], [1, -1], [1, 1], [-1, 1]].map(([x, y]) => spot(x, y)).map((p) => `${p.x},${p.y}`).join(" ") }, group);
    const origin = spot(0, 0);
    for (const [x, y, name] of /** @type {[number, number, string][]} */ ([[1, 0, "across"], [0, 1, "up"]])) {
      const end = spot(x, y);
      make("line", { x1: origin.x, y1: origin.y, x2: end.x, y2: end.y }, group);
      make("text", { x: end.x + 5, y: end.y - 4 }, group).textContent = name;
    }
    make("circle", { cx: origin.x, cy: origin.y, r: 4 }, group);
    return group;
  }

  /** These sketches have done their work: they are drawn fainter, and solids are picked before them.
   * @param {string[]} ids */
  use(ids) {
    for (const id of ids) this.used.add(id);
    localStorage.setItem(this.usedKey, [...this.used].join(" "));
    if (this.shown) this.show(this.shown.list, this.shown.saved);
  }

  /** Sizes beside what they hold, with every frame.
   * @param {boolean} [quiet] while a handle is in use they stay away */
  drawLabels(quiet = false) {
    /** @type {Element[]} */
    const rows = [];
    for (const sketch of this.list) {
      const fresh = !this.saved.some((s) => s.id === sketch.id);
      if (fresh || sketch.id === this.active) rows.push(this.axes(sketch, fresh));
    }
    for (const sketch of this.list.filter((s) => s.id === this.active && !quiet)) {
      const middle = this.middle(sketch);
      for (const size of sketch.sizes) {
        const { x, y } = this.drawSize(sketch, size, middle, rows);
        const label = make("g", { class: "size-tag", transform: `translate(${x.toFixed(1)} ${y.toFixed(1)})`, "data-size": size.id, "data-on": size.on.join(" ") });
        const text = make("text", { y: 4 });
        text.textContent = (size.name ? `${size.name} = ` : size.text ? "= " : "") + sizeWords(size, this.view.units);
        const wide = 12 + 7 * text.textContent.length;
        label.append(make("rect", { x: -wide / 2, y: -9, width: wide, height: 18, rx: 3 }), text);
        rows.push(label);
      }
    }
    this.labels.replaceChildren(...rows);
  }
}

/** @param {number[][]} plane origin and two directions */
function matrixOf([origin, x, y]) {
  const a = new Vector3(...x);
  const b = new Vector3(...y);
  return new Matrix4().makeBasis(a, b, a.clone().cross(b)).setPosition(new Vector3(...origin));
}

/** @param {any} group */
function clear(group) {
  group.traverse((/** @type {any} */ child) => child.geometry?.dispose());
  group.clear();
}

/** @param {any} places @param {any} line */
function pushSegments(places, line) {
  for (let i = 2; i < line.length; i += 2) places.push(line[i - 2], line[i - 1], 0, line[i], line[i + 1], 0);
}

/** @param {any} places */
function lineGeometry(places) {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(new Float32Array(places), 3));
  return geometry;
}

/** @param {any} line */
function ring(line) {
  const found = [];
  for (let i = 0; i < line.length; i += 2) found.push(new Vector2(line[i], line[i + 1]));
  return found;
}

/** @param {any} area */
function areaGeometry(area) {
  const shape = new Shape(ring(area.lines[0]));
  shape.holes = area.lines.slice(1).map((/** @type {any} */ line) => new Path(ring(line)));
  return new ShapeGeometry(shape);
}

/** @param {string} name @param {number} opacity */
function areaMaterial(name, opacity) {
  return new MeshBasicMaterial({ color: new Color(sheetColour(name)), transparent: true, opacity, side: DoubleSide, depthWrite: false, polygonOffset: true, polygonOffsetFactor: -1, polygonOffsetUnits: -2 });
}

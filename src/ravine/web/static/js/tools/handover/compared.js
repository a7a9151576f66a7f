// The state before beside the open one, over it, or up to a line that the hand drags: one camera for both.
import { Box3, Group, LineSegments, Mesh, Vector2 } from "three";
import { getBuffer, getJson } from "../../api.js";
import { one } from "../../dom.js";
import { Drawable } from "../../view/bodies.js";
import { sheetColour } from "../../view/materials.js";
import { readPacket } from "../../view/packets.js";
import { placement } from "../../view/view.js";

const NUDGE = 0.02; // of the width, by an arrow key
/** @typedef {"beside"|"over"|"wiped"} Way */
const KEYS = /** @type {Object<string, number>} */ ({ ArrowLeft: -NUDGE, ArrowDown: -NUDGE, ArrowRight: NUDGE, ArrowUp: NUDGE, Home: -1, End: 1 });

export class Compared {
  /** @param {import("../../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    /** @type {Way|""} */
    this.way = "";
    this.since = "";
    this.group = new Group();
    /** @type {{place: Group, drawable: Drawable, body: SceneBody}[]} */
    this.places = [];
    /** @type {Drawable[]} those that nothing else shows */
    this.own = [];
    this.marks = new Group();
    this.box = new Box3();
    this.share = 0.5; // of the width, where the wiping line stands
    this.turn = 0;
    this.edge = one("#wipe");
    this.edge.addEventListener("pointerdown", (/** @type {PointerEvent} */ event) => this.edge.setPointerCapture(event.pointerId));
    this.edge.addEventListener("pointermove", (/** @type {PointerEvent} */ event) => {
      if (this.edge.hasPointerCapture(event.pointerId)) this.wipe((event.clientX - this.bench.view.canvas.getBoundingClientRect().left) / this.bench.view.canvas.clientWidth);
    });
    this.edge.addEventListener("keydown", (/** @type {KeyboardEvent} */ event) => {
      const step = KEYS[event.key];
      if (step === undefined) return;
      event.preventDefault();
      event.stopPropagation();
      this.wipe(this.share + step);
    });
  }

  /** @param {Way} way @param {string} since what is compared with, as the page asks for it */
  async show(way, since) {
    const { view } = this.bench;
    const turn = ++this.turn;
    if (this.since !== since && !(await this.load(since, turn))) return;
    view.comparing = this;
    this.seat(way === "beside");
    this.way = way;
    this.dress();
    this.label();
    view.bound();
    view.camera.apply();
  }

  /** With the materials that the view has now. */
  dress() {
    const { materials, section } = this.bench.view;
    const over = this.way === "over";
    for (const { place } of this.places) {
      const [faces, edges, rim] = place.children.map((/** @type {any} */ child) => child);
      faces.material = over ? materials.was : materials.body;
      Object.assign(edges, { material: materials.edge, visible: !over });
      Object.assign(rim, { material: materials.rim, visible: !over && !section?.planes });
    }
  }

  /** Two pictures side by side are seen whole from where one was, and from there again when they are one.
   * @param {boolean} beside */
  seat(beside) {
    const { view } = this.bench;
    const { camera } = view;
    if (beside === (camera.share < 1)) return;
    if (beside) this.before = { target: camera.target.clone(), span: camera.span };
    camera.share = beside ? 0.5 : 1;
    if (beside) {
      view.bound();
      const { span } = camera;
      camera.fit();
      if (camera.span < span) Object.assign(camera, { span });
    } else if (this.before) {
      camera.target.copy(this.before.target);
      camera.span = this.before.span;
    }
    view.resize();
  }

  /** @param {string} since @param {number} turn @returns {Promise<boolean>} whether it is what is still wanted */
  async load(since, turn) {
    const { bench } = this;
    const scene = await bench.trying(() => getJson(bench.url("review/before"), { since }));
    if (!scene) return false;
    const missing = scene.bodies.filter((/** @type {SceneBody} */ b) => !bench.shapes.has(b.shape));
    await Promise.all(missing.map(async (/** @type {SceneBody} */ body) => {
      const data = await bench.trying(() => getBuffer(`/m/${scene.model}/mesh/${body.id}`, { revision: scene.revision, shape: body.shape }));
      if (data) bench.shapes.set(body.shape, readPacket(data, null));
    }));
    if (turn !== this.turn) return false;
    this.clear();
    this.since = since;
    this.called = scene.called;
    const drawables = new Map();
    for (const body of scene.bodies) {
      const shape = bench.shapes.get(body.shape);
      if (!shape) continue;
      const made = new Drawable(shape, body, sheetColour("--clay"));
      this.own.push(made);
      drawables.set(body.id, { made, body });
    }
    for (const node of scene.nodes) {
      const found = drawables.get(node.body);
      if (!found || bench.hidden.has(node.id)) continue;
      const place = new Group();
      place.matrixAutoUpdate = false;
      place.matrix.copy(placement(node.matrix));
      place.add(new Mesh(found.made.triangles), new LineSegments(found.made.edges, bench.view.materials.edge), new Mesh(found.made.triangles, bench.view.materials.rim));
      this.group.add(place);
      this.places.push({ place, drawable: found.made, body: found.body });
      this.box.union(found.made.triangles.boundingBox.clone().applyMatrix4(place.matrix));
    }
    this.group.add(this.marks);
    bench.view.scene.add(this.group);
    return true;
  }

  /** Faces as they were, with the hatch of what became of them; over the model their borders alone.
   * @param {Object<string, string>} was kind by face @param {Object<string, any>|null} materials */
  colour(was, materials) {
    this.marks.clear();
    if (!materials && this.way !== "over") return;
    for (const { place, drawable, body } of this.places) {
      /** @type {Object<string, number[]>} */
      const groups = {};
      body.faces.forEach((/** @type {number} */ face, /** @type {number} */ index) => {
        const kind = was[`f${face}`];
        if (kind) (groups[kind] ??= []).push(index);
      });
      if (this.way === "over") {
        const rims = new Set(Object.values(groups).flat().flatMap((index) => drawable.shape.rims[index] ?? []));
        if (rims.size) this.mark(new LineSegments(drawable.edgesGeometry([...rims]), this.bench.view.materials.wasEdge), place);
      } else for (const [kind, indices] of Object.entries(groups)) this.mark(new Mesh(drawable.facesGeometry(indices), materials?.[kind]), place);
    }
  }

  /** @param {any} found @param {Group} place */
  mark(found, place) {
    found.matrixAutoUpdate = false;
    found.matrix.copy(place.matrix);
    found.renderOrder = 2;
    this.marks.add(found);
  }

  clear() {
    this.group.removeFromParent();
    this.group.clear();
    this.marks.clear();
    for (const made of this.own) made.dispose();
    this.own = [];
    this.places = [];
    this.box.makeEmpty();
    this.since = "";
  }

  leave() {
    this.turn++;
    if (!this.way) return;
    const { view } = this.bench;
    this.way = "";
    this.seat(false);
    view.comparing = null;
    this.clear();
    this.label();
    view.bound();
    view.camera.apply();
  }

  // --- the line between, and what stands on its sides --------------------------------------------------------

  /** @param {number} share */
  wipe(share) {
    this.share = Math.min(1, Math.max(0, share));
    this.label();
    this.bench.view.draw();
  }

  label() {
    const sides = one("#compared");
    sides.hidden = !this.way;
    sides.dataset.shown = this.way;
    if (!this.way) return;
    const at = this.way === "wiped" ? this.share : 0.5;
    this.edge.style.left = `${100 * at}%`;
    this.edge.setAttribute("aria-valuenow", String(Math.round(100 * at)));
    this.edge.hidden = this.way === "over";
    this.edge.tabIndex = this.way === "wiped" ? 0 : -1;
    one("[data-side=was]", sides).textContent = this.called ?? "";
    one("[data-side=now]", sides).textContent = "now";
  }

  // --- drawing -------------------------------------------------------------------------------------------------

  render() {
    const { renderer, scene, camera } = this.bench.view;
    if (this.way === "over") {
      this.marks.visible = true;
      renderer.render(scene, camera.lens);
      return;
    }
    const { width, height } = renderer.getSize(new Vector2());
    const half = this.way === "beside";
    const cut = Math.round(width * (half ? 0.5 : this.share));
    renderer.setScissorTest(true);
    for (const was of [true, false]) {
      const [x, wide] = was ? [0, cut] : [cut, width - cut];
      if (wide < 1) continue;
      renderer.setViewport(half ? x : 0, 0, half ? wide : width, height);
      renderer.setScissor(x, 0, wide, height);
      this.pass(was);
    }
    renderer.setScissorTest(false);
    renderer.setViewport(0, 0, width, height);
    this.group.visible = true;
  }

  /** @param {boolean} was the state before, else the open one with all that is shown on it */
  pass(was) {
    const { renderer, scene, camera, grid, sky, sun } = this.bench.view;
    const stays = new Set([this.group, sky, sun, sun.target, ...(grid ?? [])]);
    const away = scene.children.filter((/** @type {any} */ child) => child.visible && (was ? !stays.has(child) : child === this.group));
    for (const child of away) child.visible = false;
    this.marks.visible = was;
    renderer.render(scene, camera.lens);
    for (const child of away) child.visible = true;
  }
}

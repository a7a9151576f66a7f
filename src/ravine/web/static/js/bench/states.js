// The states of the model as the page has them: the saved one, the one that is only tried, and the way between them.
import { ask, getBuffer, getJson, Refused } from "../api.js";
import { all, byId, one } from "../dom.js";
import { coatOf, Drawable } from "../view/bodies.js";
import { sheetColour } from "../view/materials.js";
import { readCut, readPacket } from "../view/packets.js";
import { findAgain } from "../view/picking.js";
import { HideSteps } from "./hiding.js";
import { Telling } from "./telling.js";

const { htmx } = /** @type {any} */ (window);

export class States extends Telling {
  constructor() {
    super();
    this.base = 0;
    /** @type {any[]} */
    this.picked = [];
    this.hidden = new Set();
    /** @type {Set<string>|null} what was hidden before a part was shown alone */
    this.beforeAlone = null;
    this.hides = new HideSteps();
    /** @type {{nodes: any[], bodies: any[], sketches?: any[], units: string}} */
    /** @type {Scene} */
    this.scene = { nodes: [], bodies: [], sketches: [], units: "mm" };
    this.shapes = new Map(); // address → Shape
    /** @type {Map<string, any>} shapes as they look from near, by address */
    this.fine = new Map();
    this.drawables = new Map(); // body id and address → Drawable
    this.panelsDue = false;
    /** @type {Promise<void>|null} */
    this.refreshing = null;
    this.finished = new Set(); // jobs whose end has been shown
    /** @type {number[]} */
    this.previewTimes = [];
    /** @type {number[]} */
    this.acceptTimes = [];
    this.changing = 0; // how many changes of this page are on their way
    this.tellOthers = () => {}; // the other windows on this model
    this.still = { places: new Map() }; // where things stand in the saved state, whatever a preview shows
  }

  /** Fetch the newest state and show it.
   * @param {boolean} [fit] @param {() => boolean} [still] whether it is wanted yet
   * when it has come
   * @returns {Promise<boolean>} whether it is shown */
  async reload(fit = false, still = () => true) {
    const scene = await this.trying(() => getJson(this.url("scene")));
    if (!scene) return false;
    await Promise.all(scene.bodies.filter((/** @type {any} */ b) => !this.shapes.has(b.shape)).map((/** @type {any} */ b) => this.fetchShape(b, scene.revision)));
    if (!still()) return false;
    this.take(scene, scene.revision);
    if (fit) {
      this.view.bound();
      this.view.camera.fit();
    }
    return true;
  }

  /** @param {SceneBody} body @param {any} revision */
  async fetchShape(body, revision) {
    const data = await this.trying(() => getBuffer(`${this.url("mesh")}/${body.id}`, { revision, shape: body.shape }));
    if (data) this.shapes.set(body.shape, readPacket(data, null));
  }

  /** Make a scene the saved state of the page.
   * @param {Scene} scene @param {number} revision */
  take(scene, revision) {
    this.maps.leave(); // its figures are those of the state before
    this.simulate?.leave();
    this.scene = scene;
    this.base = revision;
    this.view.units = scene.units;
    this.view.gridKey = "";
    this.show(scene, true);
    this.still = { places: new Map(this.view.places) };
    this.forgetOld();
    this.view.bound();
    this.pick(this.picked.map((p) => findAgain(this.view, p) || (p.kind === "node" && scene.nodes.some((/** @type {any} */ n) => n.path.includes(p.id)) ? p : null)).filter(Boolean));
    this.root.dataset.revision = String(revision);
    this.section.refresh();
    this.pins.refresh();
    this.dimensions.refresh();
  }

  /** @param {Scene} scene */
  show(scene, saved = false) {
    this.sketches.show((scene.sketches || []).filter((/** @type {any} */ s) => !this.hidden.has(s.id)), saved);
    const bodies = new Map(scene.bodies.map((/** @type {any} */ b) => [b.id, b]));
    /** @param {any} node */
    const bodyOf = (node) => bodies.get(node.body);
    this.view.trying = Boolean(this.previewing);
    this.view.show(scene.nodes, (/** @type {any} */ node) => this.drawable(bodyOf(node)), bodyOf, this.hidden);
    if (this.explode?.on) this.explode.lay();
  }

  /** @param {SceneBody} body */
  drawable(body) {
    const shape = this.fine.get(body.shape) || this.shapes.get(body.shape);
    if (!shape) return null;
    const key = `${body.id} ${body.shape}`;
    let found = this.drawables.get(key);
    if (!found) {
      found = new Drawable(shape, body, sheetColour("--clay"));
      this.drawables.set(key, found);
    } else if (found.coat !== coatOf(body)) found.paint(body, sheetColour("--clay"));
    return found;
  }

  /** A body of the saved state is drawn anew, with what is known of it now.
   * @param {SceneBody} body */
  redrawn(body) {
    const key = `${body.id} ${body.shape}`;
    const old = this.drawables.get(key);
    this.drawables.delete(key);
    this.show(this.scene);
    this.still = { places: new Map(this.view.places) };
    this.mark();
    old?.dispose();
  }

  /** Keep the shapes of the last states for quick stepping; drop drawables nobody shows. */
  forgetOld() {
    const shown = new Set(this.scene.bodies.map((b) => `${b.id} ${b.shape}`));
    for (const [key, drawable] of this.drawables)
      if (!shown.has(key)) {
        drawable.dispose();
        this.drawables.delete(key);
      }
    for (const address of this.fine.keys()) if (!this.scene.bodies.some((b) => b.shape === address)) this.fine.delete(address);
    for (const address of this.shapes.keys()) {
      if (this.shapes.size <= 200 + this.scene.bodies.length) break;
      if (!this.scene.bodies.some((b) => b.shape === address)) this.shapes.delete(address);
    }
  }

  // --- what the layers above do ----------------------------------------------------------------------------

  /** @param {any[]} things @param {boolean} [add] */
  pick(things, add) {}

  mark() {}

  /** @param {string} name */
  setStage(name) {}

  // --- edits -----------------------------------------------------------------------------------------------

  /** Read the bodies of an answer into the shapes. */
  receive(/** @type {any} */ { head, blobs }) {
    let next = 0;
    head.bodies.forEach((/** @type {SceneBody} */ body, /** @type {string | number} */ i) => {
      if (!head.packets[i]) return;
      const packet = blobs[next++];
      const base = this.scene.bodies.find((b) => b.id === body.id);
      this.shapes.set(body.shape, readPacket(packet, base ? this.shapes.get(base.shape) : null));
    });
    return blobs.slice(next);
  }

  /** @param {any} answer */
  showPreview(answer) {
    this.dropDrafts();
    const [cut] = this.receive(answer);
    if (!answer.head.scene) return;
    this.maps.leave();
    this.previewing = answer.head.scene;
    this.show(answer.head.scene);
    if (answer.head.pins) this.pins.show(answer.head.pins);
    if (answer.head.cut) {
      this.section.show(readCut(cut));
      this.section.widths.show(answer.head.width);
    }
    if (!this.line.grips.handle?.ghost.length) this.view.clearMarks("ghost");
    this.markGone(answer.head.scene);
    this.markNew(new Set((answer.head.pieces || []).filter((/** @type {any} */ p) => p.dropped).map((/** @type {any} */ p) => p.node)));
    this.pieces.show(answer.head.pieces);
    this.view.highlight("picked", this.picked.map((p) => findAgain(this.view, p)).filter(Boolean));
  }

  /** Parts the edit would take away stay visible as removed matter.
   * @param {Scene} scene */
  markGone(scene) {
    const left = new Set(scene.nodes.map((/** @type {any} */ n) => n.id));
    for (const [id, place] of this.still.places)
      if (!left.has(id) && place.group.visible) this.view.mark("ghost", this.view.materials.removed, place.drawable.facesGeometry(place.drawable.shape.faces.map((/** @type {any} */ _, /** @type {number} */ i) => i)), place.group.matrix);
  }

  /** Parts the edit would make are shown as added matter.
   * @param {Set<string>} dropped but these */
  markNew(dropped) {
    for (const [id, { drawable, group }] of this.view.places)
      if (!this.still.places.has(id) && group.visible && !dropped.has(id)) this.view.mark("ghost", this.view.materials.added, drawable.triangles.clone(), group.matrix);
  }

  hidePreview() {
    if (!this.previewing) return;
    this.previewing = null;
    this.pieces.show([]);
    this.show(this.scene);
    this.section.relay();
    this.pins.show(this.pins.saved);
    this.still = { places: new Map(this.view.places) };
    this.dropDrafts();
    this.mark();
  }

  dropDrafts() {
    for (const [key, drawable] of this.drawables)
      if (key.includes(" draft")) {
        drawable.dispose();
        this.drawables.delete(key);
      }
    for (const address of this.shapes.keys()) if (address.startsWith("draft")) this.shapes.delete(address);
  }

  /** @param {any} answer */
  async accepted(answer) {
    const saved = this.receive(answer);
    this.previewing = null;
    const known = new Set((this.scene.sketches || []).map((s) => s.id));
    if (answer.head.scene) this.take(answer.head.scene, answer.head.revision);
    const begun = this.sketches.list.find((s) => !known.has(s.id));
    if (begun && answer.head.scene) this.begin(begun);
    else {
      this.hidePreview();
      this.show(this.scene);
    }
    this.dropDrafts();
    this.justDone = true;
    this.mark();
    answer.head.files.forEach((/** @type {string} */ name, /** @type {string | number} */ i) => download(name, saved[i]));
    if (answer.head.files.length) this.say(`Saved ${answer.head.files.join(", ")}`);
    this.view.canvas.focus();
    if (!answer.head.scene) return;
    this.tellOthers();
    await this.refreshPanels();
  }

  /** A sketch just begun: looked at square on and picked, so that drawing comes next.
   * @param {Sketch} sketch */
  begin(sketch) {
    this.drawing.lookAt(sketch);
    if (this.stage === "Bring in") this.setStage("Shape");
    this.pick([{ kind: "sketch", id: sketch.id, sketch: sketch.id }]);
  }

  /** @param {-1|1} direction */
  async step(direction) {
    await this.moveTo({ base: this.base, direction });
  }

  /** @param {any} where */
  async moveTo(where) {
    if (this.line.isOpen) this.line.leave();
    const began = performance.now();
    this.changing++;
    try {
      await ask(this.url("step"), where);
      await this.reload();
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      this.say(error.message);
      if (error.status === 409) await this.reload();
      return;
    } finally {
      this.changing--;
    }
    this.tellOthers();
    this.stepTime = performance.now() - began;
    await this.refreshPanels();
  }

  /** Everything beside the view comes by one request at a time, so that an older answer never lies over a newer one.
   * Its source is what the panels stand in, since they themselves are replaced. Ends when the newest state is shown. */
  refreshPanels() {
    this.panelsDue = true;
    this.refreshing ??= this.panelsUntilFresh().finally(() => (this.refreshing = null));
    return this.refreshing;
  }

  async panelsUntilFresh() {
    while (this.panelsDue) {
      this.panelsDue = false;
      await this.swap("GET", "panels", ".side-right", {}, "none").catch(() => {}); // htmx:sendError tells it
      this.checkup.refresh();
      this.clearance.refresh();
      this.features.refresh();
      this.values.refresh();
      this.joints.refresh();
      this.simulate.refresh();
      this.printing.refresh();
      this.sheet.refresh();
      this.paper.refresh();
      this.links.refresh();
      this.review.refresh();
      this.notes.refresh();
      this.standing.refresh();
      one(".journal .here")?.scrollIntoView({ block: "nearest" });
      for (const tell of this.told) tell();
    }
  }

  // --- jobs ------------------------------------------------------------------------------------------------

  /** @param {string} html */
  showJobs(html) {
    byId("jobs").innerHTML = html;
    htmx.process(byId("jobs"));
    this.jobsChanged();
  }

  /** When a job has ended well, its result is shown and its note goes away by itself. */
  async jobsChanged() {
    for (const job of all('.job[data-state="done"]')) {
      if (this.finished.has(job.dataset.job)) continue;
      this.finished.add(job.dataset.job);
      const first = this.scene.nodes.length === 0;
      await this.reload(first);
      if (!first) this.view.bound();
      await this.refreshPanels();
      setTimeout(() => this.swap("POST", `jobs/${job.dataset.job}/seen`, "#jobs"), 2500);
    }
  }
}

/** @param {string} name @param {ArrayBuffer} data */
function download(name, data) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([data]));
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60000);
}

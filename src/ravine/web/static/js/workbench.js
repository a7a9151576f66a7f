// The bench: holds the state of the page and lets view, line, lists and keys speak to each other.
import { Vector3 } from "three";
import * as alike from "./alike.js";
import { Apart } from "./apart.js";
import { coatOf, Drawable } from "./bodies.js";
import { Checkup } from "./checkup.js";
import { all, one } from "./dom.js";
import { Clearance } from "./clearance.js";
import * as files from "./files.js";
import { Finished } from "./finished.js";
import { Dragging } from "./dragging.js";
import { Drawing } from "./drawing.js";
import { Fence } from "./fence.js";
import { Handle } from "./handle.js";
import * as kept from "./kept.js";
import * as keys from "./keys.js";
import { Line } from "./line.js";
import { make } from "./bead.js";
import { Maps } from "./maps.js";
import * as parts from "./parts.js";
import { findById, under } from "./picking.js";
import { sheetColour } from "./materials.js";
import { Pins } from "./pins.js";
import { Placing } from "./placing.js";
import { Picture } from "./picture.js";
import { Pieces } from "./pieces.js";
import { Section } from "./section.js";
import { Sketches } from "./sketches.js";
import { Turning } from "./turning.js";
import * as underList from "./under.js";
import { ask, readCut, readPacket, Refused } from "./transport.js";
import { LENGTHS, View } from "./view.js";
import { Widening } from "./widen.js";

const { htmx } = /** @type {any} */ (window);
const byId = (id) => document.getElementById(id);

export class Workbench {
  static under = under;

  constructor() {
    this.root = byId("view");
    this.model = this.root.dataset.model;
    this.stage = this.root.dataset.stage;
    this.base = 0;
    this.scene = { nodes: [], bodies: [], units: "mm" };
    this.shapes = new Map(); // address → Shape
    this.drawables = new Map(); // body id and address → Drawable
    this.picked = [];
    this.hovered = null;
    this.hidden = new Set();
    this.panelsDue = false;
    /** @type {Promise<void>|null} */
    this.refreshing = null;
    this.keeping = Promise.resolve(); // what is hidden is kept in the order it was said
    this.finished = new Set(); // jobs whose end has been shown
    this.previewTimes = [];
    this.acceptTimes = [];
    this.view = new View(/** @type {HTMLCanvasElement} */ (byId("canvas")), () => this.drawn());
    this.still = { places: new Map() }; // where things stand in the saved state, whatever a preview shows
    this.view.beforeDraw = () => this.appearance?.lay();
    const layer = () => /** @type {any} */ (make("g", {}, byId("overlay")));
    this.handle = new Handle(layer(), this.view, (mm, done) => this.line.slide(mm, done));
    this.turning = new Turning(layer(), this.view, (degrees, done) => this.line.slide(degrees, done));
    this.placing = new Placing(this, /** @type {any} */ (byId("overlay")));
    this.sketches = new Sketches(this.view, /** @type {any} */ (byId("overlay")));
    this.view.sketches = this.sketches;
    this.pieces = new Pieces(this);
    this.line = new Line(this);
    this.drawing = new Drawing(this);
    this.checkup = new Checkup(this);
    this.clearance = new Clearance(this);
    this.maps = new Maps(this);
    this.fence = new Fence(this);
    this.widening = new Widening(this);
    this.dragging = new Dragging(this);
    this.section = new Section(this);
    this.view.section = this.section;
    this.pins = new Pins(this);
    this.apart = new Apart(this);
    this.appearance = new Finished(this);
    this.picture = new Picture(this);
    this.listen();
    keys.listen(this);
    files.listen(this);
    parts.listen(this);
    alike.listen(this);
    kept.listen(this);
    underList.listen(this);
  }

  url(what) {
    return `/m/${this.model}/${what}`;
  }

  // --- state -----------------------------------------------------------------------------------------------

  /** Fetch the newest state and show it. @param {boolean} [fit] */
  async reload(fit = false) {
    const answer = await fetch(this.url("scene"));
    if (!answer.ok) {
      this.tell(await answer.text());
      return;
    }
    const scene = await answer.json();
    await Promise.all(scene.bodies.filter((b) => !this.shapes.has(b.shape)).map((b) => this.fetchShape(b, scene.revision)));
    this.take(scene, scene.revision);
    if (fit) {
      this.view.bound();
      this.view.camera.fit();
    }
  }

  async fetchShape(body, revision) {
    const answer = await fetch(`${this.url("mesh")}/${body.id}?revision=${revision}&shape=${body.shape}`);
    if (!answer.ok) {
      this.tell(await answer.text());
      return;
    }
    this.shapes.set(body.shape, readPacket(await answer.arrayBuffer(), null));
  }

  /** Make a scene the saved state of the page. */
  take(scene, revision) {
    this.maps.leave(); // its figures are those of the state before
    this.scene = scene;
    this.base = revision;
    this.view.units = scene.units;
    this.view.gridKey = "";
    this.show(scene, true);
    this.still = { places: new Map(this.view.places) };
    this.forgetOld();
    this.view.bound();
    this.pick(this.picked.map((p) => findById(this.view, p.id) || (p.kind === "node" && scene.nodes.some((n) => n.path.includes(p.id)) ? p : null)).filter(Boolean));
    this.root.dataset.revision = String(revision);
    this.section.refresh();
    this.pins.refresh();
  }

  show(scene, saved = false) {
    this.sketches.show((scene.sketches || []).filter((s) => !this.hidden.has(s.id)), saved);
    const bodies = new Map(scene.bodies.map((b) => [b.id, b]));
    const bodyOf = (node) => bodies.get(node.body);
    this.view.show(scene.nodes, (node) => this.drawable(bodyOf(node)), bodyOf, this.hidden);
    if (this.apart?.share) this.apart.lay();
  }

  drawable(body) {
    const shape = this.shapes.get(body.shape);
    if (!shape) return null;
    const key = `${body.id} ${body.shape}`;
    let found = this.drawables.get(key);
    if (!found) {
      found = new Drawable(shape, body, sheetColour("--clay"));
      this.drawables.set(key, found);
    } else if (found.coat !== coatOf(body)) found.paint(body, sheetColour("--clay"));
    return found;
  }

  /** Keep the shapes of the last states for quick stepping; drop drawables nobody shows. */
  forgetOld() {
    const shown = new Set(this.scene.bodies.map((b) => `${b.id} ${b.shape}`));
    for (const [key, drawable] of this.drawables)
      if (!shown.has(key)) {
        drawable.dispose();
        this.drawables.delete(key);
      }
    for (const address of this.shapes.keys()) {
      if (this.shapes.size <= 200 + this.scene.bodies.length) break;
      if (!this.scene.bodies.some((b) => b.shape === address)) this.shapes.delete(address);
    }
  }

  // --- edits -----------------------------------------------------------------------------------------------

  /** Read the bodies of an answer into the shapes. */
  receive({ head, blobs }) {
    let next = 0;
    head.bodies.forEach((body, i) => {
      if (!head.packets[i]) return;
      const packet = blobs[next++];
      const base = this.scene.bodies.find((b) => b.id === body.id);
      this.shapes.set(body.shape, readPacket(packet, base ? this.shapes.get(base.shape) : null));
    });
    return blobs.slice(next);
  }

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
    if (!this.line.handle?.ghost.length) this.view.clearMarks("ghost");
    this.markGone(answer.head.scene);
    this.markNew(new Set((answer.head.pieces || []).filter((p) => p.dropped).map((p) => p.node)));
    this.pieces.show(answer.head.pieces);
    this.view.highlight("picked", this.picked.map((p) => findById(this.view, p.id)).filter(Boolean));
  }

  /** Parts the edit would take away stay visible as removed matter. */
  markGone(scene) {
    const left = new Set(scene.nodes.map((n) => n.id));
    for (const [id, place] of this.still.places)
      if (!left.has(id) && place.group.visible) this.view.mark("ghost", this.view.materials.removed, place.drawable.facesGeometry(place.drawable.shape.faces.map((_, i) => i)), place.group.matrix);
  }

  /** Parts the edit would make are shown as added matter. @param {Set<string>} dropped but these */
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
    answer.head.files.forEach((name, i) => download(name, saved[i]));
    if (answer.head.files.length) this.say(`Saved ${answer.head.files.join(", ")}`);
    this.view.canvas.focus();
    if (answer.head.scene) await this.refreshPanels();
  }

  /** A sketch just begun: looked at square on and picked, so that drawing comes next. */
  begin(sketch) {
    this.drawing.lookAt(sketch);
    if (this.stage === "Bring in") this.setStage("Shape");
    this.pick([{ kind: "sketch", id: sketch.id, sketch: sketch.id }]);
  }

  /** @param {-1|1} direction */
  async step(direction) {
    await this.moveTo({ base: this.base, direction });
  }

  async moveTo(where) {
    if (this.line.isOpen) this.line.leave();
    const began = performance.now();
    try {
      await ask(this.url("step"), where);
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      this.say(error.message);
      if (error.status === 409) await this.reload();
      return;
    }
    await this.reload();
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
    }
  }

  // --- picking ---------------------------------------------------------------------------------------------

  pickIds() {
    return this.picked.map((p) => p.id);
  }

  /** The places of what is picked, each once. */
  pickNodes() {
    return [...new Set(this.picked.map((p) => p.node).filter(Boolean))];
  }

  /** @param {object[]} things @param {boolean} [add] add to the pick, or take away what is in it */
  pick(things, add = false) {
    if (things.length && this.line.fillPick(things[0])) return;
    let next = things;
    if (add && this.picked.length && things.length && together(this.picked[0], things[0])) {
      const now = new Map(this.picked.map((p) => [p.id, p]));
      for (const thing of things) now.has(thing.id) ? now.delete(thing.id) : now.set(thing.id, thing);
      next = [...now.values()];
    }
    this.widening.keep(this.pickIds());
    this.picked = next;
    this.mark();
    this.refreshActions();
    const same = this.line.form?.dataset.pickField && next.length;
    if (same) this.line.open(this.line.form.dataset.edit, this.pickIds(), without(this.line.values(), this.line.form.dataset.pickField));
  }

  mark() {
    this.view.highlight("picked", this.picked.flatMap((p) => this.spread(p)));
    const words = { face: ["face", "faces"], edge: ["edge", "edges"], vertex: ["corner", "corners"], node: ["part", "parts"], sketch: ["sketch", "sketches"], curve: ["curve", "curves"], point: ["point", "points"], area: ["area", "areas"], rule: ["rule", "rules"] };
    const count = this.picked.length;
    const mixed = this.picked.some((p) => p.kind !== this.picked[0].kind);
    byId("foot-picked").textContent = mixed ? `${count} things` : count ? `${count} ${words[this.picked[0].kind][count > 1 ? 1 : 0]}` : "nothing";
    this.markRows();
  }

  /** A group stands for the parts below it. */
  spread(thing) {
    if (thing.sketch || thing.kind !== "node" || this.view.places.has(thing.id)) return [thing];
    return this.scene.nodes.filter((n) => n.path.includes(thing.id)).map((n) => ({ ...thing, node: n.id }));
  }

  markRows() {
    const on = new Set(this.pickIds());
    for (const row of all(".part")) row.classList.toggle("on", row.dataset.nodes.split(" ").some((n) => on.has(n)));
    one("#step-back").disabled = !one(".journal .here")?.previousElementSibling;
    one("#step-forward").disabled = !one(".journal .ahead");
  }

  refreshActions() {
    this.swap("POST", "pick", "#actions", { picked: this.pickIds().join(" "), stage: this.stage });
  }

  hover(found) {
    if (found?.id === this.hovered?.id && found?.node === this.hovered?.node) return;
    this.hovered = found;
    this.view.highlight("hover", found ? [found] : []);
    this.view.canvas.style.cursor = found ? "pointer" : "default";
  }

  pickHovered(add) {
    if (this.hovered) this.pick([this.hovered], add);
  }

  /** Keyboard: from face to face over all that is shown. */
  walk(way) {
    const faces = [];
    for (const [node, place] of this.view.places) if (place.group.visible) place.body.faces.forEach((id, index) => faces.push({ kind: "face", node, index, id: `f${id}` }));
    if (!faces.length) return;
    const at = faces.findIndex((f) => f.id === this.hovered?.id && f.node === this.hovered?.node);
    this.hover(faces[(at + way + faces.length) % faces.length]);
  }

  // --- looking ---------------------------------------------------------------------------------------------

  look(name) {
    const { camera } = this.view;
    if (name === "fit") camera.fit();
    else if (name === "parallel") {
      camera.parallel = !camera.parallel;
      document.querySelector('[data-look="parallel"]').setAttribute("aria-pressed", String(camera.parallel));
    } else if (name === "square on") this.lookSquareOn();
    else camera.lookFrom(new Vector3(...keys.LOOKS[name]));
  }

  lookSquareOn() {
    const sketch = this.sketches.named(this.picked.find((p) => p.sketch)?.sketch);
    if (sketch) {
      this.drawing.lookAt(sketch);
      return;
    }
    const face = this.picked.find((p) => p.kind === "face");
    if (!face) {
      this.say("Pick a face or a sketch first; the view then turns square on to it");
      return;
    }
    const { drawable, group } = this.view.places.get(face.node);
    const [x, y, z] = drawable.shape.faces[face.index].normals;
    this.view.camera.lookFrom(new Vector3(x, y, z).transformDirection(group.matrix));
  }

  hide(hidden) {
    this.hidden = hidden;
    for (const [node, place] of this.view.places) place.group.visible = !hidden.has(node);
    this.show(this.previewing || this.scene);
    if (!this.previewing) this.still = { places: new Map(this.view.places) };
    this.mark();
    byId("foot-hidden").textContent = hiddenWords(hidden);
    this.keeping = this.keeping.then(() => this.keepHidden([...hidden].join(" "))).then(() => this.section.refresh());
  }

  async keepHidden(hidden) {
    const answer = await fetch(this.url("hidden"), { method: "POST", headers: { "X-Ravine": "1" }, body: new URLSearchParams({ hidden }) });
    if (!answer.ok) this.tell(await answer.text());
    await this.refreshPanels();
  }

  drawn() {
    this.handle?.draw();
    this.turning?.draw();
    this.placing?.draw();
    this.placing?.arc.draw();
    this.section?.draw();
    this.pins?.draw();
    this.pieces?.draw();
    this.checkup?.draw();
    this.clearance?.draw();
    this.sketches?.drawLabels(Boolean(this.line?.handle));
    this.drawing?.draw();
    const unit = LENGTHS[this.view.units];
    byId("foot-grid").textContent = `${Number((this.view.gridStep / unit).toPrecision(6))} ${this.view.units}`;
    this.root.dataset.drawn = String(this.view.frames);
  }

  /** Have the server render a fragment into its place. Each place is the source of its own requests: htmx lets one
   * element have one request under way and keeps only the last one waiting, which is right for a place. */
  swap(method, what, place, values = {}, how = "innerHTML") {
    return htmx.ajax(method, this.url(what), { source: place, target: place, swap: how, values });
  }

  // --- telling ---------------------------------------------------------------------------------------------

  tell(html) {
    byId("told").innerHTML = html;
    clearTimeout(this.telling);
    this.telling = setTimeout(() => byId("told").replaceChildren(), 9000);
  }

  say(words) {
    const note = document.createElement("p");
    note.className = "say-plain";
    note.textContent = words;
    this.tell("");
    byId("told").append(note);
  }

  /** The journal's last bead while a line is open. */
  pending(words) {
    const item = byId("pending");
    if (!item) return;
    item.hidden = !words;
    item.querySelector("span").textContent = words;
  }

  opened(edit) {
    for (const action of all(".action")) action.classList.toggle("on", action.dataset.edit === edit && Boolean(edit));
  }

  // --- jobs ------------------------------------------------------------------------------------------------

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

  listen() {
    const { canvas } = this.view;
    /** @param {MouseEvent} event @returns {[number, number]} */
    const spot = (event) => [event.offsetX, event.offsetY];
    canvas.addEventListener("pointermove", (event) => {
      if (event.buttons || this.looking) return;
      this.looking = true;
      requestAnimationFrame(() => {
        this.looking = false;
        if (this.drawing.active) {
          this.drawing.move(...spot(event));
          return;
        }
        this.hover(under(this.view, ...spot(event)));
      });
    });
    canvas.addEventListener("pointerleave", () => {
      this.hover(null);
      this.drawing.forget();
    });
    canvas.addEventListener("pointerup", (event) => {
      if (this.view.camera.dragged || event.button !== 0) return;
      if (this.drawing.active) {
        this.drawing.click(...spot(event));
        return;
      }
      if (this.pieces.click(...spot(event))) return;
      const found = under(this.view, ...spot(event));
      if (found && event.altKey) found.single = true; // the facet itself, on a mesh that has faces
      if (found || !this.line.isOpen) this.pick(found ? [found] : [], event.shiftKey || event.ctrlKey || event.metaKey);
    });
    canvas.addEventListener("dblclick", (event) => {
      const found = under(this.view, ...spot(event));
      if (this.drawing.active || found?.sketch) return;
      if (found?.kind === "edge") {
        this.pick([found]);
        this.widening.along(event.shiftKey ? "loop" : "run");
      }
      else if (found && !this.line.isOpen) this.pick([{ kind: "node", node: found.node, index: 0, id: found.node }]);
    });
    document.addEventListener("click", (event) => {
      const target = /** @type {HTMLElement} */ (event.target);
      const action = /** @type {HTMLElement|null} */ (target.closest("[data-edit].action"));
      if (action) this.line.open(action.dataset.edit, this.pickIds());
      if (target.closest("[data-more]")) byId("actions").classList.toggle("every");
      const fence = target.closest("[data-fence]");
      if (fence) this.fence.choose(/** @type {any} */ (fence.getAttribute("data-fence")));
      if (target.closest("[data-through]")) this.fence.toggleThrough();
      const widen = target.closest("[data-widen]");
      if (widen) this.widening.do(/** @type {any} */ (widen.getAttribute("data-widen")));
      const along = target.closest("[data-along]");
      if (along) this.widening.along(/** @type {any} */ (along.getAttribute("data-along")));
      const map = target.closest("[data-map]");
      if (map) this.maps.show(map.getAttribute("data-map"), this.pickNodes());
      const look = target.closest("[data-look]");
      if (look) this.look(look.getAttribute("data-look"));
      const size = target.closest("[data-size]");
      if (size) this.openSize(size.getAttribute("data-on").split(" "));
      const go = target.closest("[data-go]");
      if (go) this.moveTo({ base: this.base, target: Number(go.getAttribute("data-go")) });
      const stage = target.closest("[data-stage].stage");
      if (stage) this.setStage(stage.getAttribute("data-stage"));
    });
    byId("only").addEventListener("change", (event) => {
      this.view.only = /** @type {HTMLSelectElement} */ (event.target).value;
      this.hover(null);
      this.view.canvas.focus();
    });
    byId("step-back").addEventListener("click", () => this.step(-1));
    byId("step-forward").addEventListener("click", () => this.step(1));
    document.body.addEventListener("htmx:beforeSwap", (event) => {
      const { detail } = /** @type {CustomEvent} */ (event);
      if (detail.xhr.status < 400) return;
      detail.shouldSwap = false;
      this.tell(detail.xhr.responseText);
    });
    document.body.addEventListener("htmx:sendError", () => this.say("The server does not answer; what you see may be out of date."));
    document.body.addEventListener("htmx:oobAfterSwap", () => this.markRows());
    document.body.addEventListener("htmx:afterSwap", (event) => {
      this.markRows();
      const { target } = /** @type {CustomEvent} */ (event).detail;
      if (target.id === "jobs") this.jobsChanged();
    });
  }

  /** A size was clicked: its line opens with the value it has. @param {string[]} on */
  openSize(on) {
    this.pick(on.map((id) => findById(this.view, id)).filter(Boolean));
    this.line.open("dimension", on);
  }

  setStage(name) {
    this.stage = name;
    for (const button of all(".stage")) button.setAttribute("aria-pressed", String(button.dataset.stage === name));
    this.refreshActions();
    this.checkup.refresh();
    this.clearance.refresh();
  }
}

/** Curves and points of a sketch are picked together, other things with their like; faces, edges and corners where
 * the line that is open takes them all. */
function together(a, b) {
  const drawn = (t) => t.kind === "curve" || t.kind === "point";
  const solid = (t) => t.kind === "face" || t.kind === "edge" || t.kind === "vertex";
  return a.kind === b.kind || (drawn(a) && drawn(b)) || (solid(a) && solid(b));
}

/** @param {Set<string>} hidden */
function hiddenWords(hidden) {
  const sketches = [...hidden].filter((id) => id.startsWith("s")).length;
  const count = (n, word) => (n ? [`${n} ${word}${n > 1 ? (word.endsWith("h") ? "es" : "s") : ""}`] : []);
  return [...count(hidden.size - sketches, "part"), ...count(sketches, "sketch")].join(", ") || "nothing";
}

function without(values, name) {
  const { [name]: _, ...rest } = values;
  return rest;
}

/** @param {string} name @param {ArrayBuffer} data */
function download(name, data) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([data]));
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60000);
}

const bench = new Workbench();
Object.assign(window, { bench }); // for the browser tests and the curious
for (const row of all(".part.away")) for (const n of row.dataset.leaves.split(" ")) bench.hidden.add(n);
for (const row of all(".sketch-row.away")) bench.hidden.add(row.dataset.sketch);
byId("foot-hidden").textContent = hiddenWords(bench.hidden);
await bench.reload(true);
bench.jobsChanged();
bench.root.dataset.ready = "true";
if (bench.scene.bodies.some((b) => b.faces.length > 400)) fetch(bench.url("ahead"), { method: "POST", headers: { "X-Ravine": "1" } });

// The bench wires the page: view, handles, line, panels and the tools of the trades speak to each other through it.
import { post } from "./api.js";
import * as events from "./bench/events.js";
import { Looks } from "./bench/looks.js";
import * as alike from "./panels/alike.js";
import * as edge from "./panels/edge.js";
import { Explode } from "./view/explode.js";
import { Checkup } from "./tools/mend/checkup.js";
import { all, byId } from "./dom.js";
import { Clearance } from "./tools/prove/clearance.js";
import { Printing } from "./tools/prove/printing.js";
import { Simulate } from "./tools/prove/simulate.js";
import { Standing } from "./tools/prove/standing.js";
import { Dimensions } from "./tools/shape/dimensions.js";
import { Features } from "./tools/shape/features.js";
import { Values } from "./tools/shape/values.js";
import { Joining } from "./tools/assemble/joining.js";
import { Joints } from "./tools/assemble/joints.js";
import { Sheet } from "./tools/sheet/sheet.js";
import { Links } from "./tools/handover/links.js";
import { Paper } from "./tools/handover/paper.js";
import { Notes } from "./tools/handover/notes.js";
import { Review } from "./tools/handover/review.js";
import { Shelf } from "./tools/assemble/shelf.js";
import * as files from "./panels/files.js";
import { Finished } from "./view/finished.js";
import { Dragging } from "./handles/dragging.js";
import { Drawing } from "./tools/sketch/drawing.js";
import { Marquee } from "./panels/marquee.js";
import { Halo } from "./view/halo.js";
import { Handle } from "./handles/handle.js";
import * as kept from "./panels/kept.js";
import * as keys from "./panels/keys.js";
import { Lengths } from "./handles/lengths.js";
import { Line } from "./line/line.js";
import { make } from "./handles/knob.js";
import { Maps } from "./tools/prove/maps.js";
import * as others from "./bench/others.js";
import * as refining from "./bench/refining.js";
import * as apart from "./tools/assemble/apart.js";
import * as parts from "./panels/parts.js";
import { findById, under } from "./view/picking.js";
import { Pins } from "./panels/pins.js";
import { Placing } from "./handles/placing.js";
import { Picture } from "./panels/picture.js";
import { Pieces } from "./line/pieces.js";
import { Section } from "./tools/section/section.js";
import { Sketches } from "./tools/sketch/sketches.js";
import * as tour from "./panels/tour.js";
import { Testing } from "./bench/testing.js";
import { Turning } from "./handles/turning.js";
import * as underList from "./panels/under.js";
import { View } from "./view/view.js";
import { Growing } from "./panels/grow.js";


export class Workbench extends Looks {
  static under = under;

  constructor() {
    super();
    /** @type {any[]} */
    this.told = [];
    this.view = new View(/** @type {HTMLCanvasElement} */ (byId("canvas")), () => this.drawn());
    this.view.beforeDraw = () => this.appearance?.lay();
    this.halo = new Halo(/** @type {any} */ (make("g", {}, byId("grips"))), this.view);
    const layer = () => /** @type {any} */ (make("g", {}, byId("overlay")));
    this.handle = new Handle(layer(), this.view, (mm, done) => this.line.grips.slide(mm, done));
    this.turning = new Turning(layer(), this.view, (degrees, done) => this.line.grips.slide(degrees, done));
    this.placing = new Placing(this, /** @type {any} */ (byId("overlay")));
    this.lengths = new Lengths(layer(), this);
    this.sketches = new Sketches(this.view, /** @type {any} */ (byId("overlay")));
    this.view.sketches = this.sketches;
    this.pieces = new Pieces(this);
    this.line = new Line(this);
    this.drawing = new Drawing(this);
    this.checkup = new Checkup(this);
    this.clearance = new Clearance(this);
    this.features = new Features(this);
    this.values = new Values(this);
    this.joints = new Joints(this);
    this.simulate = new Simulate(this);
    this.printing = new Printing(this);
    this.sheet = new Sheet(this);
    this.paper = new Paper(this);
    this.links = new Links(this);
    this.review = new Review(this);
    this.notes = new Notes(this);
    this.joining = new Joining(this);
    this.shelf = new Shelf(this);
    this.standing = new Standing(this);
    this.dimensions = new Dimensions(this);
    this.maps = new Maps(this);
    this.marquee = new Marquee(this);
    this.growing = new Growing(this);
    this.dragging = new Dragging(this);
    this.section = new Section(this);
    this.view.section = this.section;
    this.pins = new Pins(this);
    this.explode = new Explode(this);
    this.appearance = new Finished(this);
    this.picture = new Picture(this);
    events.listen(this);
    keys.listen(this);
    files.listen(this);
    parts.listen(this);
    apart.listen(this, /** @type {HTMLElement} */ (byId("parts").parentElement));
    alike.listen(this);
    kept.listen(this);
    underList.listen(this);
    edge.listen(this);
    refining.listen(this);
    this.tellOthers = others.listen(this);
  }

  /** A size was clicked: its line opens with the value it has.
   * @param {string[]} on */
  openSize(on) {
    this.pick(on.map((/** @type {string} */ id) => findById(this.view, id)).filter(Boolean));
    this.line.open("dimension", on);
  }

  /** What a typed word asks of the page itself.
   * @param {string} what */
  pageAct(what) {
    const hidden = () => this.hide(new Set([...this.hidden, ...this.pickNodes()]));
    const acts = { "step back": () => this.step(-1), "step forward": () => this.step(1), "show all": () => this.hide(new Set()), fit: () => this.fit(), help: () => window.open("/help", "_blank"),
      hide: () => (this.pickNodes().length ? hidden() : this.say("Pick what is to be hidden first")) };
    /** @type {Table} */ (acts)[what]?.();
  }

  /** @param {string|null} name */
  setStage(name) {
    this.stage = name;
    for (const button of all(".stage")) button.setAttribute("aria-pressed", String(button.dataset.stage === name));
    this.refreshActions();
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
    this.shelf.refresh();
    this.standing.refresh();
  }
}

const bench = new Workbench();
Object.assign(window, { bench, page: new Testing(bench) }); // for the browser tests and the curious
for (const row of all(".part.away")) for (const n of row.dataset.leaves.split(" ")) bench.hidden.add(n);
for (const row of all(".sketch-row.away")) bench.hidden.add(row.dataset.sketch);
await bench.reload(true);
bench.tellHidden();
bench.jobsChanged();
bench.features.refresh();
bench.values.refresh();
bench.joints.refresh();
bench.simulate.refresh();
bench.printing.refresh();
bench.sheet.refresh();
bench.paper.refresh();
bench.links.refresh();
bench.review.refresh();
bench.notes.refresh();
bench.shelf.refresh();
bench.standing.refresh();
tour.listen(bench);
bench.root.dataset.ready = "true";
if (bench.scene.bodies.some((b) => b.faces.length > 400)) bench.trying(() => post(bench.url("ahead")));

// Where the eye is and what it sees: views by name, hidden parts, and what is drawn again with every picture.
import { hiddenWords } from "./words.js";
import { byId, one, sure } from "../dom.js";
import { Vector3 } from "three";
import { post } from "../api.js";
import { LOOKS } from "../panels/keys.js";
import { LENGTHS } from "../view/lengths.js";
import { tell } from "../panels/edge.js";
import { drawAxes } from "../view/axes.js";
import { Picks } from "./picks.js";

export class Looks extends Picks {
  constructor() {
    super();
    this.axes = byId("axes");
    this.looked = "freely"; // the look that was last asked for
    /** @type {Vector3|null} */
    this.from = null; // and where the eye was then
    this.toldEdge = "";
    this.keeping = Promise.resolve(); // what is hidden is kept in the order it was said
  }

  /** @param {string} name */
  look(name) {
    const { camera } = this.view;
    if (name === "fit") this.fit();
    else if (name === "parallel") {
      camera.parallel = !camera.parallel;
      one('[data-look="parallel"]').setAttribute("aria-pressed", String(camera.parallel));
    } else if (name === "square on") this.lookSquareOn();
    else {
      camera.lookFrom(new Vector3(.../** @type {Table} */ (LOOKS)[name]));
      if (name === "corner") this.fit();
    }
    if (name === "fit" || name === "parallel") return; // these leave the eye where it was
    this.looked = name;
    this.from = camera.direction();
  }

  /** What is picked fills the view, or all that is shown. */
  fit() {
    this.view.bound();
    this.view.camera.fit(this.view.extentOf(this.picked.flatMap((p) => this.spread(p))));
  }

  /** What the bar's folded words say. */
  tellEdge() {
    const { camera } = this.view;
    const named = !this.from || camera.direction().distanceToSquared(this.from) < 1e-6 ? this.looked : "freely";
    const look = [named, camera.parallel ? "parallel" : "", this.appearance?.on ? "finished" : ""].filter(Boolean).join(", ");
    const only = /** @type {HTMLSelectElement} */ (byId("only")).selectedOptions[0].text;
    const pick = [only, this.marquee?.tool || "", this.marquee?.tool && this.marquee.through ? "through" : ""].filter(Boolean).join(", ");
    if (look + pick === this.toldEdge) return;
    this.toldEdge = look + pick;
    tell("look", look);
    tell("pick", pick);
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

  /** @param {Set<string>} hidden ids @param {boolean} [noted] whether this is a step that can be taken back */
  hide(hidden, noted = true) {
    if (noted && !same(hidden, this.hidden)) this.hides.note(this.base, this.hidden);
    this.hidden = hidden;
    for (const [node, place] of this.view.places) place.group.visible = !hidden.has(node);
    this.show(this.previewing || this.scene);
    if (!this.previewing) this.still = { places: new Map(this.view.places) };
    this.mark();
    this.tellHidden();
    this.keeping = this.keeping.then(() => this.keepHidden([...hidden].join(" "))).then(() => this.section.refresh());
  }

  tellHidden() {
    byId("foot-hidden").textContent = hiddenWords(this.hidden);
    byId("foot-show-all").hidden = !this.hidden.size;
    this.markSteps();
  }

  /** @param {-1|1} direction */
  async step(direction) {
    const hidden = this.line.isOpen ? null : this.hides.step(direction, this.base, this.hidden);
    if (hidden) this.hide(hidden, false);
    else await super.step(direction);
  }

  /** @param {string} hidden */
  async keepHidden(hidden) {
    await this.trying(() => post(this.url("hidden"), new URLSearchParams({ hidden })));
    await this.refreshPanels();
  }

  drawn() {
    this.appearance?.settle();
    this.halo?.draw();
    this.handle?.draw();
    this.turning?.draw();
    this.placing?.draw();
    this.lengths?.draw();
    this.placing?.arc.draw();
    this.section?.draw();
    this.pins?.draw();
    this.notes?.draw();
    this.dimensions?.draw();
    this.pieces?.draw();
    this.explode?.draw();
    this.checkup?.draw();
    this.clearance?.draw();
    this.sketches?.drawLabels(Boolean(this.line?.grips.handle));
    this.drawing?.draw();
    const unit = LENGTHS[this.view.units];
    byId("foot-grid").textContent = `${Number((sure(this.view.gridStep) / unit).toPrecision(6))} ${this.view.units}`;
    drawAxes(this.axes, this.view.camera);
    this.tellEdge();
    this.root.dataset.drawn = String(this.view.frames);
  }
}

/** @param {Set<string>} a @param {Set<string>} b */
function same(a, b) {
  return a.size === b.size && [...a].every((id) => b.has(id));
}

// What is told on the page: refusals, notes, the journal's waiting line, and fragments swapped into their places.
import { isAbort, Refused } from "../api.js";
import { all, byId } from "../dom.js";

const { htmx } = /** @type {any} */ (window);

// The tools are made in workbench.js; declared here, so that every layer of the bench knows them.
export class Telling {
  /** @type {import("../view/view.js").View} */ view;
  /** @type {import("../line/line.js").Line} */ line;
  /** @type {import("../handles/handle.js").Handle} */ handle;
  /** @type {import("../handles/turning.js").Turning} */ turning;
  /** @type {(() => void)[]} called when a state has been kept and the panels show it */ told;
  /** @type {import("../view/halo.js").Halo} */ halo;
  /** @type {import("../handles/placing.js").Placing} */ placing;
  /** @type {import("../handles/lengths.js").Lengths} */ lengths;
  /** @type {import("../handles/dragging.js").Dragging} */ dragging;
  /** @type {import("../line/pieces.js").Pieces} */ pieces;
  /** @type {import("../tools/sketch/sketches.js").Sketches} */ sketches;
  /** @type {import("../tools/sketch/drawing.js").Drawing} */ drawing;
  /** @type {import("../tools/section/section.js").Section} */ section;
  /** @type {import("../tools/prove/clearance.js").Clearance} */ clearance;
  /** @type {import("../tools/shape/features.js").Features} */ features;
  /** @type {import("../tools/shape/values.js").Values} */ values;
  /** @type {import("../tools/assemble/joints.js").Joints} */ joints;
  /** @type {import("../tools/sheet/sheet.js").Sheet} */ sheet;
  /** @type {import("../tools/handover/paper.js").Paper} */ paper;
  /** @type {import("../tools/handover/links.js").Links} */ links;
  /** @type {import("../tools/handover/review.js").Review} */ review;
  /** @type {import("../tools/handover/notes.js").Notes} */ notes;
  /** @type {import("../tools/prove/standing.js").Standing} */ standing;
  /** @type {import("../tools/prove/simulate.js").Simulate} */ simulate;
  /** @type {import("../tools/prove/printing.js").Printing} */ printing;
  /** @type {import("../tools/shape/dimensions.js").Dimensions} */ dimensions;
  /** @type {import("../tools/prove/maps.js").Maps} */ maps;
  /** @type {import("../tools/mend/checkup.js").Checkup} */ checkup;
  /** @type {import("../panels/marquee.js").Marquee} */ marquee;
  /** @type {import("../panels/grow.js").Growing} */ growing;
  /** @type {import("../panels/pins.js").Pins} */ pins;
  /** @type {import("../panels/picture.js").Picture} */ picture;
  /** @type {import("../view/explode.js").Explode} */ explode;
  /** @type {import("../view/finished.js").Finished} */ appearance;

  constructor() {
    this.root = byId("view");
    this.model = this.root.dataset.model;
    this.stage = this.root.dataset.stage;
    /** @type {ReturnType<typeof setTimeout>|undefined} */
    this.telling = undefined;
  }

  /** @param {string} what */
  url(what) {
    return `/m/${this.model}/${what}`;
  }

  /** Have the server render a fragment into its place. Each place is the source of its own requests: htmx lets one
   * element have one request under way and keeps only the last one waiting, which is right for a place.
   * @param {string} method @param {string} what @param {string} place */
  swap(method, what, place, values = {}, how = "innerHTML") {
    return htmx.ajax(method, this.url(what), { source: place, target: place, swap: how, values });
  }

  /** @param {string} html */
  tell(html) {
    byId("told").innerHTML = html;
    clearTimeout(this.telling);
    this.telling = setTimeout(() => byId("told").replaceChildren(), 9000);
  }

  /** @param {string|null} words */
  say(words) {
    const note = document.createElement("p");
    note.className = "say-plain";
    note.textContent = words;
    this.tell("");
    byId("told").append(note);
  }

  /** What the server would not do, in its own words.
   * @param {unknown} error */
  refused(error) {
    if (!(error instanceof Refused)) throw error;
    if (error.html) this.tell(error.html);
    else this.say(error.message);
  }

  /** A request whose refusal is told; null then.
   * @template T @param {() => Promise<T>} request @returns {Promise<T|null>} */
  async trying(request) {
    try {
      return await request();
    } catch (error) {
      if (!isAbort(error)) this.refused(error);
      return null;
    }
  }

  /** The journal's last knob while a line is open.
   * @param {string} words */
  pending(words) {
    const item = byId("pending");
    if (!item) return;
    item.hidden = !words;
    item.querySelector("span").textContent = words;
  }

  /** @param {string} edit */
  opened(edit) {
    for (const action of all(".action")) action.classList.toggle("on", action.dataset.edit === edit && Boolean(edit));
  }
}

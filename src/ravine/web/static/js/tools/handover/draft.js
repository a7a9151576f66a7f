// What is drawn by hand on a view: where it is cut, enlarged or broken.

const REACH = 2.5; // mm on the paper within which a corner falls on a middle, or level with one
const SLANT = 6; // degrees from level or upright below which a stretch is made so
/** @typedef {[number, number]} Spot */

export class Draft {
  /** @param {import("./hand.js").Hand} hand */
  constructor(hand) {
    this.hand = hand;
    /** @type {"circle"|"line"|"break"|""} */
    this.shape = "";
    this.places = /** @type {Spot[]} */ ([]);
    this.fell = false; // whether the last corner fell on a middle
  }

  get drawn() {
    return this.hand.drawn;
  }

  /** @param {"circle"|"line"|"break"} shape */
  begin(shape) {
    this.hand.leave();
    this.shape = shape;
    this.drawn.svg.classList.add("placing");
    const words = {
      circle: "Draw the circle from its middle",
      line: "Click the corners of the cutting line; they fall on middles of rounds. Enter ends it",
      break: "Draw from one side of the strip that is left out to the other",
    };
    this.hand.paper.bench.say(words[shape]);
  }

  leave() {
    this.shape = "";
    this.places = [];
  }

  /** @param {Spot} place */
  start(place) {
    this.places.push(this.shape === "line" ? this.corner(place) : place);
  }

  /** On the middle of a round, else level with one, and the stretch before it level or upright where it nearly is.
   * @param {Spot} place @returns {Spot} */
  corner(place) {
    const before = this.places.at(-1);
    const middles = this.drawn.middles(this.hand.paper.view);
    const on = middles.find((m) => Math.hypot(m[0] - place[0], m[1] - place[1]) < REACH);
    this.fell = Boolean(on);
    if (on) return [...on];
    const found = /** @type {Spot} */ ([...place]);
    for (const k of /** @type {(0|1)[]} */ ([0, 1])) {
      const level = middles.find((m) => Math.abs(m[k] - place[k]) < REACH / 2);
      if (level) found[k] = level[k];
    }
    if (!before) return found;
    const [dx, dy] = [found[0] - before[0], found[1] - before[1]];
    const lean = Math.abs((Math.atan2(dy, dx) * 180) / Math.PI) % 180;
    if (Math.min(lean, 180 - lean) < SLANT) found[1] = before[1];
    else if (Math.abs(lean - 90) < SLANT) found[0] = before[0];
    return found;
  }

  /** @param {Spot} place under the pointer */
  sketch(place) {
    const to = this.shape === "line" ? this.corner(place) : place;
    const path = `M${[...this.places, to].map(([x, y]) => `${x} ${-y}`).join("L")}`;
    const [x, y] = this.places[0] ?? to;
    const circle = (/** @type {Spot} */ [a, b], /** @type {number} */ r) => `<circle cx="${a}" cy="${-b}" r="${r}" stroke-width="0.4"/>`;
    const line = `<path d="${path}" stroke-width="0.5"/>${this.fell && this.shape === "line" ? circle(to, 1.2) : ""}`;
    this.drawn.ghost(this.shape === "circle" ? circle([x, y], Math.hypot(to[0] - x, to[1] - y)) : line);
  }

  /** The press that drew it is over; a line waits for its end.
   * @param {Spot} place */
  async drewTo(place) {
    const { shape, places } = this;
    if (shape === "line" || !places.length) return;
    const { paper } = this.hand;
    const view = paper.view;
    const [a, b] = [places[0], place].map((p) => this.drawn.within(view, p));
    const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
    this.hand.leave();
    if (Math.hypot(dx, dy) < 1e-6) return;
    if (shape === "circle") await paper.keep("detail view", { view, middle: a, radius: `${Math.hypot(dx, dy)} mm` });
    else {
      const k = Math.abs(dx) > Math.abs(dy) ? 0 : 1;
      const [low, high] = [a[k], b[k]].sort((p, q) => p - q);
      await paper.keep("set view", { view, along: "xy"[k], low: `${low} mm`, high: `${high} mm` });
    }
  }

  /** A cutting line is whole: it is looked at from below, or from the left where it runs upright. */
  async endLine() {
    if (this.shape !== "line" || this.places.length < 2) return;
    const { paper } = this.hand;
    const view = paper.view;
    let line = this.places.map((p) => this.drawn.within(view, p));
    line = line.filter((p, n) => !n || Math.hypot(p[0] - line[n - 1][0], p[1] - line[n - 1][1]) > 1e-3);
    this.hand.leave();
    const longest = line.slice(1).map((p, n) => [Math.abs(p[0] - line[n][0]), Math.abs(p[1] - line[n][1])]);
    const squares = longest.filter(([dx, dy]) => Math.min(dx, dy) < 1e-6 * Math.max(dx, dy));
    const [wide, high] = (squares.length ? squares : longest).reduce(([w, h], [dx, dy]) => [w + dx, h + dy], [0, 0]);
    await paper.keep("cut view", { view, line, toward: wide >= high ? "below" : "left" });
  }
}

// Steps of hiding and showing: stepping back takes back first what was hidden since the last edit.

export class HideSteps {
  constructor() {
    /** @type {{base: number, hidden: Set<string>}[]} */
    this.back = [];
    /** @type {{base: number, hidden: Set<string>}[]} */
    this.ahead = [];
  }

  /** @param {number} base the state of the model meanwhile @param {Set<string>} before what was hidden until now */
  note(base, before) {
    this.back.push({ base, hidden: before });
    this.ahead = [];
  }

  /** @param {-1|1} direction @param {number} base */
  has(direction, base) {
    return (direction < 0 ? this.back : this.ahead).at(-1)?.base === base;
  }

  /** What is hidden one step on; null where that step is one of the model.
   * @param {-1|1} direction @param {number} base
   * @param {Set<string>} now @returns {Set<string>|null} */
  step(direction, base, now) {
    if (!this.has(direction, base)) return null;
    const [from, to] = direction < 0 ? [this.back, this.ahead] : [this.ahead, this.back];
    const last = /** @type {{base: number, hidden: Set<string>}} */ (from.pop());
    to.push({ base, hidden: now });
    return last.hidden;
  }
}

// What is to be printed by the service, gathered over several parts and sent as one order.

/** @typedef {{upload: string, choice: string, name: string, words: string, pieces: number, each: number}} Line */

const MOST = 50; // lines of an order

export class Basket {
  constructor() {
    /** @type {Line[]} */
    this.lines = [];
    this.key = ""; // of the order that these lines are sent as; another one once they change
  }

  /** More pieces of what is in it already, as they are asked for last.
   * @param {Line} line @returns {string} why not, else nothing */
  add(line) {
    const known = this.lines.findIndex((l) => l.upload === line.upload && l.choice === line.choice);
    if (known < 0 && this.lines.length === MOST) return `An order has up to ${MOST} lines; send this one first`;
    if (known < 0) this.lines.push(line);
    else this.lines[known] = { ...line, pieces: this.lines[known].pieces + line.pieces };
    this.key = "";
    return "";
  }

  /** @param {number} at */
  drop(at) {
    this.lines.splice(at, 1);
    this.key = "";
  }

  empty() {
    this.lines = [];
    this.key = "";
  }

  get total() {
    return this.lines.reduce((sum, l) => sum + l.pieces * l.each, 0);
  }

  /** As it is sent: the same key for as long as nothing changes, so that nothing is ordered twice.
   * @returns {{key: string, lines: {stock_number: string, item: string, quantity: number}[]}} */
  get asked() {
    this.key ||= crypto.randomUUID();
    return { key: this.key, lines: this.lines.map((l) => ({ stock_number: l.upload, item: l.choice, quantity: l.pieces })) };
  }
}

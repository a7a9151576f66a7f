// The basket of the print service: lines, their sum, and the key under which they are sent.
import assert from "node:assert/strict";
import test from "node:test";
import { Basket } from "../../src/ravine/web/static/js/tools/prove/basket.js";

const line = (upload, choice, pieces = 1, each = 2.5) => ({ upload, choice, name: upload, words: choice, pieces, each });

test("lines of one part and material are one, at the price that was asked for last", () => {
  const basket = new Basket();
  basket.add(line("u1", "petg", 2, 3));
  basket.add(line("u1", "pa12"));
  basket.add(line("u1", "petg", 5, 2));
  assert.deepEqual(basket.lines.map((l) => [l.choice, l.pieces, l.each]), [["petg", 7, 2], ["pa12", 1, 2.5]]);
  assert.equal(basket.total, 16.5);
  basket.drop(0);
  assert.equal(basket.total, 2.5);
});

test("the key stays while it is asked again, and is another one once the lines are others", () => {
  const basket = new Basket();
  basket.add(line("u1", "petg"));
  const { key, lines } = basket.asked;
  assert.deepEqual(lines, [{ stock_number: "u1", item: "petg", quantity: 1 }]);
  assert.equal(basket.asked.key, key);
  basket.add(line("u2", "petg"));
  const after = basket.asked.key;
  assert.notEqual(after, key);
  basket.drop(1);
  assert.notEqual(basket.asked.key, after);
  basket.empty();
  assert.deepEqual(basket.asked.lines, []);
});

test("an order has its bound, which more pieces of what is in it do not meet", () => {
  const basket = new Basket();
  for (let k = 0; k < 50; k++) assert.equal(basket.add(line(`u${k}`, "petg")), "");
  assert.match(basket.add(line("one more", "petg")), /up to 50 lines/);
  assert.equal(basket.add(line("u3", "petg")), "");
  assert.equal(basket.lines.length, 50);
});

// Pictures put together to one that plays, read back by zlib and by the rules of the format.
import assert from "node:assert/strict";
import test from "node:test";
import { crc32, deflateSync, inflateSync } from "node:zlib";
import { animated, chunksOf, crc } from "../../src/ravine/web/static/js/panels/apng.js";

const SIGNATURE = [137, 80, 78, 71, 13, 10, 26, 10];
const crcOf = crc32 ?? ((data) => crc(data)); // Node before 20.15 has none of its own

/** A grey picture of one value, its data in as many pieces as asked. */
function png(value, pieces = 1, wide = 3, high = 2) {
  const raw = Buffer.alloc((wide + 1) * high, value);
  for (let row = 0; row < high; row++) raw[row * (wide + 1)] = 0; // no filter
  const data = deflateSync(raw);
  const cut = Math.ceil(data.length / pieces);
  const head = Buffer.alloc(13);
  head.writeUInt32BE(wide, 0);
  head.writeUInt32BE(high, 4);
  head.set([8, 0, 0, 0, 0], 8);
  const chunk = (type, body) => {
    const found = Buffer.alloc(12 + body.length);
    found.writeUInt32BE(body.length, 0);
    found.write(type, 4, "latin1");
    body.copy(found, 8);
    found.writeUInt32BE(crcOf(found.subarray(4, 8 + body.length)), 8 + body.length);
    return found;
  };
  const parts = Array.from({ length: pieces }, (_, k) => chunk("IDAT", data.subarray(k * cut, (k + 1) * cut)));
  return new Uint8Array(Buffer.concat([Buffer.from(SIGNATURE), chunk("IHDR", head), chunk("tEXt", Buffer.from("Title\0one")), ...parts, chunk("IEND", Buffer.alloc(0))]));
}

test("the check sum is the one of the standard", () => {
  assert.equal(crc(new TextEncoder().encode("123456789")), 0xcbf43926);
  assert.equal(crc(new TextEncoder().encode("IEND")), 0xae426082);
});

for (const pieces of [1, 3]) {
  test(`three pictures in ${pieces} pieces each play one after the other`, () => {
    const file = animated([10, 20, 30].map((v) => png(v, pieces)), 12);
    assert.deepEqual([...file.subarray(0, 8)], SIGNATURE);
    const rows = chunksOf(file);
    const names = rows.map(([type]) => type);
    assert.equal(names[0], "IHDR");
    assert.equal(names[1], "acTL", "before the first data");
    assert.equal(names.at(-1), "IEND");
    assert.deepEqual(["fcTL", "IDAT", "fdAT"].map((type) => names.filter((n) => n === type).length), [3, pieces, 2 * pieces]);
    const view = (data) => new DataView(data.buffer, data.byteOffset, data.length);
    assert.deepEqual([view(rows[1][1]).getUint32(0), view(rows[1][1]).getUint32(4)], [3, 0], "three pictures, for ever");
    const orders = rows.filter(([type]) => ["fcTL", "fdAT"].includes(type)).map(([, data]) => view(data).getUint32(0));
    assert.deepEqual(orders, orders.map((_, k) => k), "numbered without a gap");
    const frames = [];
    for (const [type, data] of rows) {
      if (type === "fcTL") {
        const told = view(data);
        assert.deepEqual([told.getUint32(4), told.getUint32(8), told.getUint32(12), told.getUint32(16)], [3, 2, 0, 0]);
        assert.deepEqual([told.getUint16(20), told.getUint16(22)], [1, 12], "a twelfth of a second");
        frames.push([]);
      } else if (type === "IDAT") frames.at(-1).push(data);
      else if (type === "fdAT") frames.at(-1).push(data.subarray(4));
    }
    assert.deepEqual(frames.map((f) => inflateSync(Buffer.concat(f))[1]), [10, 20, 30]);
  });
}

test("every block of the file carries its own check sum", () => {
  const file = Buffer.from(animated([png(1), png(2)], 5));
  for (let at = 8; at < file.length; ) {
    const long = file.readUInt32BE(at);
    assert.equal(file.readUInt32BE(at + 8 + long), crc(new Uint8Array(file.subarray(at + 4, at + 8 + long))));
    at += 12 + long;
    assert.ok(at <= file.length);
  }
});

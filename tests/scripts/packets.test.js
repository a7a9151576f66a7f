// The binary layouts, written here byte by byte as the server does, read by the page's reader.
import assert from "node:assert/strict";
import test from "node:test";
import { readContainer, readCut, readMap, readPacket, readStreamed } from "../../src/ravine/web/static/js/view/packets.js";

const encoder = new TextEncoder();

/** Magic, length of the head (padded to four bytes with blanks, as the server pads it), head, then rows. */
function packed(magic, head, rows = []) {
  let text = JSON.stringify(head);
  while (encoder.encode(text).length % 4) text += " ";
  const told = encoder.encode(text);
  const parts = rows.map((row) => new Uint8Array(row.buffer ?? row, row.byteOffset ?? 0, row.byteLength));
  const out = new Uint8Array(8 + told.length + parts.reduce((n, p) => n + p.length + ((4 - (p.length % 4)) % 4), 0));
  out.set(encoder.encode(magic));
  new DataView(out.buffer).setUint32(4, told.length, true);
  out.set(told, 8);
  let at = 8 + told.length;
  for (const part of parts) {
    out.set(part, at);
    at += part.length + ((4 - (part.length % 4)) % 4);
  }
  return out.buffer;
}

const square = {
  points: new Float32Array([0, 0, 0, 1, 0, 0, 1, 1, 0]), normals: new Int8Array([0, 0, 127, 0, 0, 0, 127, 0, 0, 0, 127, 0]),
  triangles: new Uint32Array([0, 1, 2]),
};

test("a container gives its head and its blobs, each padded to four bytes", () => {
  const blobs = [encoder.encode("abcde"), encoder.encode("xyz"), new Uint8Array(0)];
  const { head, blobs: found } = readContainer(packed("RVE1", { words: "größer", blobs: [5, 3, 0] }, blobs));
  assert.equal(head.words, "größer");
  assert.deepEqual(found.map((b) => new TextDecoder().decode(b)), ["abcde", "xyz", ""]);
});

test("what has another beginning is not read", () => {
  assert.throws(() => readContainer(packed("RVP1", { blobs: [] })), /unexpected/);
  assert.throws(() => readPacket(packed("RVE1", {}), null), /unexpected/);
});

test("a packet of a shape: faces, edges, corners", () => {
  const edge = new Float32Array([0, 0, 0, 1, 0, 0]);
  const head = { faces: [[3, 1]], edges: [[2]], corners: 1, rims: [[0]] };
  const shape = readPacket(packed("RVP1", head, [square.points, square.normals, square.triangles, edge, new Float32Array([7, 8, 9])]), null);
  assert.deepEqual([...shape.faces[0].points], [...square.points]);
  assert.deepEqual([...shape.faces[0].triangles], [0, 1, 2]);
  assert.equal(shape.faces[0].normals[2], 127);
  assert.deepEqual([...shape.edges[0]], [...edge]);
  assert.deepEqual([...shape.corners], [7, 8, 9]);
  assert.deepEqual(shape.rims, [[0]]);
});

test("faces and edges that did not change are those of the base itself", () => {
  const base = { faces: [{ name: "first" }, { name: "second" }], edges: [new Float32Array(6)], corners: new Float32Array(0), rims: [] };
  const head = { faces: [1, [3, 1], 0], edges: [0], corners: 0, rims: [] };
  const shape = readPacket(packed("RVP1", head, [square.points, square.normals, square.triangles]), base);
  assert.equal(shape.faces[0], base.faces[1]);
  assert.equal(shape.faces[2], base.faces[0]);
  assert.equal(shape.edges[0], base.edges[0]);
  assert.deepEqual([...shape.faces[1].points], [...square.points]);
});

test("a section: rings one after the other with the face behind every piece", () => {
  const head = { plane: [0, 0, 1], parts: [{ node: "n4", rings: [[2, 1], [1, 0]], triangles: 1 }] };
  const rows = [new Float32Array([0, 0, 1, 0, 5, 5]), new Uint32Array([11, 12, 13]), new Uint32Array([0, 1, 2])];
  const { parts: [part] } = readCut(packed("RVC1", head, rows));
  assert.deepEqual(part.rings, [{ from: 0, count: 2, closed: true }, { from: 2, count: 1, closed: false }]);
  assert.deepEqual([...part.places], [0, 0, 1, 0, 5, 5]);
  assert.deepEqual([...part.faces], [11, 12, 13]);
  assert.deepEqual([...part.triangles], [0, 1, 2]);
});

test("a map over a surface, with and without normals", () => {
  const corners = new Float32Array(9).fill(2);
  for (const normals of [true, false]) {
    const rows = [corners, new Float32Array([0.5]), ...(normals ? [new Float32Array(9).fill(1)] : [])];
    const found = readMap(packed("RVM1", { count: 1, normals }, rows));
    assert.deepEqual([...found.corners], [...corners]);
    assert.deepEqual([...found.values], [0.5]);
    assert.equal(found.normals === null, !normals);
  }
});

/** Frames of an answer, cut into pieces of a given size. */
function answer(frames, size) {
  const all = frames.flatMap((f) => {
    const length = new Uint8Array(4);
    new DataView(length.buffer).setUint32(0, f.length, true);
    return [...length, ...f];
  });
  const pieces = [];
  for (let i = 0; i < all.length; i += size) pieces.push(Uint8Array.from(all.slice(i, i + size)));
  return { body: new ReadableStream({ start(to) { pieces.forEach((p) => to.enqueue(p)); to.close(); } }) };
}

const progress = (share) => encoder.encode(JSON.stringify({ share, words: "at it" }));

for (const size of [1, 3, 7, 4096]) {
  test(`progress and the answer come whole in pieces of ${size} bytes`, async () => {
    const told = [];
    const frames = [progress(0.25), progress(0.5), encoder.encode("RVM1")];
    const found = await readStreamed(answer(frames, size), (share) => told.push(share), (reason) => new Error(reason));
    assert.deepEqual(told, [0.25, 0.5]);
    assert.equal(new TextDecoder().decode(found), "RVM1");
  });
}

test("a refusal in the stream, and one that breaks off, are told", async () => {
  const refusal = (reason) => new Error(reason);
  const error = encoder.encode(JSON.stringify({ error: "too thin" }));
  await assert.rejects(readStreamed(answer([error], 5), () => {}, refusal), /too thin/);
  await assert.rejects(readStreamed(answer([progress(0.1)], 5), () => {}, refusal), /broke off/);
});

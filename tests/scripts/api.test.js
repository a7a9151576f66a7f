// The one place every request goes through: its headers, what is tried again, how refusals come back.
import assert from "node:assert/strict";
import test from "node:test";
import { Refused, ask, getJson, getText, isAbort, keep, post, postForJson, withParams, wordsOf } from "../../src/ravine/web/static/js/api.js";

/** Stands for the server: gives the answers in turn, an Error is thrown, and keeps what was asked. */
function serving(t, ...answers) {
  const asked = [];
  t.mock.method(globalThis, "fetch", async (url, init) => {
    asked.push({ url, ...init });
    const next = answers.shift();
    if (next instanceof Error) throw next;
    return next;
  });
  return asked;
}

const abort = Object.assign(new Error("left"), { name: "AbortError" });
const away = new TypeError("fetch failed");
const json = (data, status = 200) => new Response(JSON.stringify(data), { status, headers: { "Content-Type": "application/json" } });

function container(head) {
  const told = new TextEncoder().encode(JSON.stringify(head));
  const out = new Uint8Array(8 + told.length);
  out.set(new TextEncoder().encode("RVE1"));
  new DataView(out.buffer).setUint32(4, told.length, true);
  out.set(told, 8);
  return new Response(out, { status: head.error ? 422 : 200, headers: { "Content-Type": "application/x-ravine" } });
}

test("values stand in the address with lists as words apart", () => {
  assert.equal(withParams("/m/1/cut", { plane: "0,0,1", nodes: ["n4", "n5"], n: 2 }), "/m/1/cut?plane=0%2C0%2C1&nodes=n4+n5&n=2");
  assert.equal(withParams("/m/1/cut", {}), "/m/1/cut");
});

test("words of a fragment", () => assert.equal(wordsOf("<p>The <b>wall</b>\n is\tthin</p>"), "The wall is thin"));

test("every request carries the header that other sites cannot send", async (t) => {
  const asked = serving(t, new Response("x"), new Response("x"), json({}), container({ blobs: [] }));
  await getText("/a");
  await post("/b", new URLSearchParams("x=1"));
  await postForJson("/c", { x: 1 });
  await ask("/d", {});
  assert.deepEqual(asked.map((a) => a.headers["X-Ravine"]), ["1", "1", "1", "1"]);
  assert.equal(asked[2].headers["Content-Type"], "application/json");
  assert.equal(asked[2].body, '{"x":1}');
});

test("what only reads is asked twice when nobody answers; what changes something is not", async (t) => {
  const asked = serving(t, away, json({ n: 1 }), away, away, away);
  assert.deepEqual(await getJson("/a"), { n: 1 });
  assert.equal(asked.length, 2);
  await assert.rejects(getJson("/a"), (error) => error instanceof Refused && error.status === 0 && /does not answer/.test(error.message));
  assert.equal(asked.length, 4);
  await assert.rejects(post("/b"), Refused);
  assert.equal(asked.length, 5);
});

test("a question too long for an address goes in the body, and is asked twice all the same", async (t) => {
  const asked = serving(t, away, json({ n: 1 }), json({ n: 2 }));
  const picked = Array.from({ length: 600 }, (_, i) => `f${100000 + i}@n7`);
  assert.deepEqual(await getJson("/m/1/actions", { picked }), { n: 1 });
  assert.equal(asked[1].url, "/m/1/actions");
  assert.equal(asked[1].method, "POST");
  assert.equal(asked[1].headers["X-Ravine-Query"], "1");
  assert.equal(new URLSearchParams(asked[1].body).get("picked"), picked.join(" "));
  await getJson("/m/1/actions", { picked: picked.slice(0, 3) });
  assert.equal(asked[2].method, undefined);
});

test("an edit whose answer was lost is asked for again under its own name", async (t) => {
  const asked = serving(t, away, away, container({ revision: 7, blobs: [] }), container({ revision: 8, blobs: [] }));
  assert.equal((await keep("/edits", { edit: "push" })).head.revision, 7);
  const names = asked.map((a) => JSON.parse(a.body).token);
  assert.equal(new Set(names).size, 1);
  assert.ok(names[0].length >= 8 && names[0].length <= 40);
  await keep("/edits", { edit: "push" });
  assert.notEqual(JSON.parse(asked[3].body).token, names[0]);
});

test("a request that was left is no refusal and is not asked again", async (t) => {
  const asked = serving(t, abort);
  await assert.rejects(getText("/a"), isAbort);
  assert.equal(asked.length, 1);
  assert.equal(isAbort(away), false);
});

test("a refusal keeps its words, its status and what to show", async (t) => {
  serving(t, new Response("<div>no such <b>face</b></div>", { status: 422 }), new Response("", { status: 500 }));
  await assert.rejects(getText("/a"), { message: "no such face", status: 422, html: "<div>no such <b>face</b></div>" });
  await assert.rejects(getText("/a"), { message: "the server answered 500" });
});

test("an edit that is refused gives reason, field and the nearest value", async (t) => {
  const told = { reason: "too far", nearest: "3 mm", field: "distance", where: ["f1"] };
  serving(t, container({ error: told, blobs: [] }), new Response("<html>", { status: 502, headers: { "Content-Type": "text/html" } }));
  await assert.rejects(ask("/e", {}), (error) => {
    assert.deepEqual(error.told, told);
    return error.status === 422;
  });
  await assert.rejects(ask("/e", {}), /answered 502/);
});

test("while something is under way the page says that it is busy, and not afterwards, even when it fails", async (t) => {
  const marks = [];
  globalThis.document = { documentElement: { toggleAttribute: (name, on) => marks.push([name, on]) } };
  t.after(() => delete globalThis.document);
  serving(t, json({}), new Response("no", { status: 422 }), abort);
  await getJson("/a");
  await assert.rejects(post("/b"));
  await assert.rejects(ask("/c", {}));
  assert.deepEqual(marks.map(([, on]) => on), [true, false, true, false, true, false]);
});

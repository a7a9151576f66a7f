// Steps of hiding, between the steps of the model.
import assert from "node:assert/strict";
import test from "node:test";
import { HideSteps } from "../../src/ravine/web/static/js/bench/hiding.js";

const none = new Set(), one = new Set(["n1"]), two = new Set(["n1", "n2"]);

test("what was hidden since the last edit is taken back first, the newest first, and forward again", () => {
  const steps = new HideSteps();
  steps.note(7, none);
  steps.note(7, one); // two are hidden now
  assert.equal(steps.step(-1, 7, two), one);
  assert.equal(steps.step(-1, 7, one), none);
  assert.equal(steps.step(-1, 7, none), null, "what comes next is a step of the model");
  assert.equal(steps.step(1, 7, none), one);
  assert.equal(steps.step(1, 7, one), two);
  assert.equal(steps.step(1, 7, two), null);
});

test("an edit made after hiding is stepped back over before it", () => {
  const steps = new HideSteps();
  steps.note(7, none);
  assert.equal(steps.has(-1, 8), false);
  assert.equal(steps.step(-1, 8, one), null);
  assert.equal(steps.step(-1, 7, one), none, "back at the state it was done in");
});

test("hiding anew forgets what was ahead", () => {
  const steps = new HideSteps();
  steps.note(7, none);
  steps.step(-1, 7, one);
  steps.note(7, none);
  assert.equal(steps.has(1, 7), false);
});

// What the Bench's scripts decide, without a browser: node's own test runner.
import assert from "node:assert/strict";
import { test } from "node:test";

import { benchQuery, filled, renderUrl } from "../../frontend/js/bench/address.js";
import { aims, around, idle } from "../../frontend/js/bench/conditions.js";
import { Trail, between } from "../../frontend/js/bench/trailing.js";

const dial = (id, values, more = {}) => ({
  id,
  label: id.toUpperCase(),
  values,
  labels: values.map((v) => `<${v}>`),
  shipped: 0,
  needs: [],
  choiceNeeds: values.map(() => []),
  aims: values.map(() => false),
  ...more,
});

const DIALS = [
  dial("output", ["picture", "clip"]),
  dial("grain", ["0", "1", "2"], {
    needs: [{ dial: "output", met: [true, false], why: "Not in clips." }],
    choiceNeeds: [[], [], [{ dial: "shape", met: [false, true], why: "Too fine for 2." }]],
  }),
  dial("shape", ["fine", "coarse"]),
  dial("meter", ["frame", "spot"], { aims: [false, true] }),
];
const DATA = {
  engine: "e1",
  body: "heron",
  firstBody: "heron",
  firstScene: "workshop",
  dials: DIALS,
  reference: [0, 1, 0, 0],
  slip: null,
  savedIntent: "finished",
  ways: ["clip", "wipe", "stripes"],
  urls: { render: { picture: "/render/SCENE.jpg", marks: "/render/SCENE.marks.png" } },
};

test("a dial counts where every condition is met, and says why not", () => {
  assert.equal(idle(DIALS, [0, 1, 0, 0], 1), "");
  assert.equal(idle(DIALS, [1, 1, 0, 0], 1), "Not in clips.");
  assert.equal(idle(DIALS, [0, 2, 0, 0], 1), "Too fine for 2.");
  assert.equal(idle(DIALS, [0, 2, 1, 0], 1), "");
  // A body without the other dial sets no condition.
  assert.equal(idle(DIALS.slice(1), [2, 1, 0], 0), "");
  const taken = [{ ...DIALS[0], exposed: "Exposed already." }, ...DIALS.slice(1)];
  assert.equal(idle(taken, [0, 1, 0, 0], 0), "");
  assert.equal(idle(taken, [0, 1, 0, 0], 0, true), "Exposed already.");
  assert.equal(idle(taken, [1, 1, 0, 0], 1, true), "Not in clips.");
});

test("the meter aims only where a dial stands that does", () => {
  assert.equal(aims(DIALS, [0, 0, 0, 0]), false);
  assert.equal(aims(DIALS, [0, 0, 0, 1]), true);
});

test("a row of neighbours keeps the present place and stays on the dial", () => {
  assert.deepEqual(around(13, 6, 7), [3, 4, 5, 6, 7, 8, 9]);
  assert.deepEqual(around(13, 0, 7), [0, 1, 2, 3, 4, 5, 6]);
  assert.deepEqual(around(13, 12, 7), [6, 7, 8, 9, 10, 11, 12]);
  assert.deepEqual(around(3, 1, 7), [0, 1, 2]);
  for (let count = 1; count < 30; count += 1)
    for (let here = 0; here < count; here += 1) assert.ok(around(count, here, 7).includes(here));
});

const PLAIN = {
  scene: "workshop",
  positions: [0, 0, 0, 0],
  line: "output",
  intent: "finished",
  clip: false,
  wipe: false,
  stripes: "",
  surround: "mid",
};

test("an address holds what differs", () => {
  const state = {
    ...PLAIN,
    scene: "loft",
    positions: [1, 0, 1, 0],
    line: "shape",
    clip: true,
    stripes: "70",
    surround: "dark",
  };
  const query = benchQuery(DATA, state);
  const said = "scene=loft&output=clip&shape=coarse&line=shape&clip=1&stripes=70&surround=dark";
  assert.equal(`${query}`, said);
  assert.equal(`${benchQuery(DATA, PLAIN)}`, "line=output");
});

test("over a slip an address says what stands differently from the slip, as shipped too", () => {
  const over = { ...DATA, slip: 7, version: 2, newest: 3 };
  assert.equal(`${benchQuery(over, PLAIN)}`, "slip=7&version=2&grain=0&line=output");
  const kept = { ...PLAIN, positions: over.reference };
  assert.equal(`${benchQuery(over, kept)}`, "slip=7&version=2&line=output");
});

test("a render's address is filled in from the server's", () => {
  assert.equal(
    renderUrl(DATA, "own 1", [0, 2, 0, 0], 96, { kind: "marks", more: { level: 70 } }),
    "/render/own%201.marks.png?grain=2&width=96&level=70&v=e1",
  );
  assert.equal(filled("/bench/failing/SCENE", "a/b"), "/bench/failing/a%2Fb");
});

function kept() {
  const held = new Map();
  globalThis.sessionStorage = {
    getItem: (key) => held.get(key) ?? null,
    setItem: (key, value) => held.set(key, value),
  };
}

test("the trail goes back, forgets what was undone, and comes back after a reload", () => {
  kept();
  const trail = new Trail("t", [0, 0, 0, 0]);
  trail.add([1, 0, 0, 0], "output");
  trail.add([1, 0, 1, 0], "shape");
  assert.equal(trail.words(DIALS, 2), "SHAPE from <fine> to <coarse>");
  assert.deepEqual(trail.go(0).positions, [0, 0, 0, 0]);
  assert.equal(trail.go(3), null);
  trail.add([0, 2, 0, 0], "grain");
  assert.equal(trail.points.length, 2);
  const again = new Trail("t", [0, 2, 0, 0]);
  assert.deepEqual([again.points.length, again.at], [2, 1]);
  // Reached by another way: what stood before is kept below.
  // Another recipe stands beside it in the list, but undo and redo keep to one.
  const other = new Trail("t", [1, 1, 1, 1]);
  assert.equal(other.points.length, 3);
  assert.equal(other.words(DIALS, 2), "Another recipe begins");
  assert.equal(other.before, -1);
  other.add([1, 2, 1, 1], "grain");
  assert.equal(other.before, 2);
  other.go(1);
  assert.equal(other.after, 4);
  assert.equal(other.go(other.after), null);
});

test("what changed between two points is said dial by dial", () => {
  assert.deepEqual(between(DIALS, [0, 0, 0, 0], [0, 2, 1, 0]), [
    "GRAIN from <0> to <2>",
    "SHAPE from <fine> to <coarse>",
  ]);
  assert.deepEqual(between(DIALS, [0, 0, 0, 0], [0, 0, 0, 0]), []);
});

// The Bench: collects what is chosen, keeps it in the address, shows what the server renders.
import { benchQuery, filled, readQuery, renderUrl } from "./address.js";
import { isTyping } from "./app.js";
import { showSlip, showStrip } from "./lines.js";
import { page } from "./page.js";
import { stopPatches } from "./patches.js";
import { metersSpot, peek, showOther, showPicture } from "./picture.js";
import { askQuery, hush, onTake, showFacts, showSteps } from "./judgement.js";
import { showOwn } from "./own.js";
import { openSave, showTake } from "./saving.js";
import { drawChoice, drawEverywhere } from "./everywhere.js";
import { bench, byId, data, index, rows } from "./store.js";
import { Trail, between, drawTrail } from "./trail.js";
import { say } from "./work.js";

const trail = new Trail(`plum-trail-${data.slip ?? data.body}`, bench.state.positions);
let lastPush = { line: null, at: 0 };

// ---- what is shown -----------------------------------------------------------------------------
// A browser holds six connections to a server: small pictures that are still under way would keep
// the large one waiting.
function dropSmall() {
  stopPatches();
  for (const image of document.querySelectorAll("#strip img, #patches img"))
    if (!image.complete) image.removeAttribute("src");
}

let resting = null;
let shown = "";
function show() {
  peek.hide();
  dropSmall();
  hush();
  byId("frame").dataset.size = bench.state.size;
  // Asked for before anything is drawn, so that the server works while the page does.
  const picture = showPicture();
  for (const id of ["view", "than", "surround", "intent"]) byId(id).value = bench.state[id];
  byId("raw-notice").hidden = bench.state.intent !== "raw_only";
  byId("true-size").value = bench.state.size;
  if (bench.state.stripes) byId("zebra-level").value = bench.state.stripes;
  for (const button of document.querySelectorAll("[data-look]"))
    button.setAttribute("aria-pressed", Boolean(bench.state[button.dataset.look]));
  const scene = data.scenes.find((s) => s.id === bench.state.scene);
  byId("mount").dataset.surround = bench.state.surround;
  byId("scene-line").textContent = scene?.line ?? "";
  showOwn(scene);
  for (const link of document.querySelectorAll("#scenes a")) {
    const chosen = link.dataset.scene === bench.state.scene;
    if (chosen && shown !== bench.state.scene) {
      // The row is longer than a phone is wide: bring the chosen one into it, once for each choice,
      // without moving the page.
      shown = bench.state.scene;
      byId("scenes").scrollLeft +=
        link.getBoundingClientRect().left - byId("scenes").getBoundingClientRect().left - 40;
    }
    if (chosen) link.setAttribute("aria-current", "true");
    else link.removeAttribute("aria-current");
  }
  showMeter();
  showSlip();
  showTake();
  const fillStrip = showStrip();
  // The large picture first; strip and gauge follow once the hand rests, so that a held key never
  // queues up.
  picture.then(() => {
    clearTimeout(resting);
    resting = setTimeout(() => {
      fillStrip();
      showFacts();
    }, 40);
  });
}

// ---- changes and the address --------------------------------------------------------------------
let repeats = false;
function change(patch, { step = false } = {}) {
  bench.state = { ...bench.state, ...patch };
  show();
  if ("positions" in patch) trail.add(bench.state.positions, bench.state.line);
  const url = `${data.urls.bench}?${benchQuery(data, bench.state)}`;
  const now = performance.now();
  // Steps of one dial in quick succession, or by a key that is held, are one entry for the back
  // button.
  if (step && lastPush.line === bench.state.line && (repeats || now - lastPush.at < 700))
    history.replaceState(null, "", url);
  else history.pushState(null, "", url);
  lastPush = { line: step ? bench.state.line : null, at: now };
}

function turn(dialId, position) {
  const k = index.get(dialId);
  const to = Math.max(0, Math.min(position, data.dials[k].values.length - 1));
  if (to === bench.state.positions[k] && dialId === bench.state.line) return;
  const positions = [...bench.state.positions];
  positions[k] = to;
  change({ positions, line: dialId }, { step: true });
}

function turnAll(places) {
  const positions = [...bench.state.positions];
  for (const [dialId, place] of Object.entries(places)) positions[index.get(dialId)] = place;
  change({ positions }, { step: true });
}

onTake(turn, turnAll);

function goLine(dialId, focus = true) {
  if (dialId !== bench.state.line) change({ line: dialId });
  if (focus) rows.get(dialId).focus({ preventScroll: false });
}

// A number of the reckoner, at the place nearest to it by ratio.
function goValue(dialId, value) {
  const numbers = data.dials[index.get(dialId)].values.map((v) => {
    const [top, under] = String(v).replace("f/", "").split("/");
    return Number(top) / Number(under ?? 1);
  });
  const off = numbers.map((n) => (n > 0 ? Math.abs(Math.log(n / value)) : n === value ? 0 : 99));
  const best = off.reduce((at, o, k) => (Number.isFinite(o) && !(o >= off[at]) ? k : at), 0);
  const balance = data.dials[index.get("white_balance")]?.values.indexOf("kelvin") ?? -1;
  const fixed = dialId === "kelvin" && balance >= 0 ? { white_balance: balance } : {};
  turnAll({ [dialId]: best, ...fixed });
  goLine(dialId);
}

function goScene(scene) {
  if (scene !== bench.state.scene) change({ scene, place: "" });
}

function goPoint(at) {
  const point = trail.go(at);
  // Undo at the beginning leads back to the recipe on the body that was left.
  if (!point && at < 0 && data.back) return location.assign(data.back);
  if (!point) return say(at < 0 ? "Nothing to undo." : "Nothing to redo.");
  bench.state = {
    ...bench.state,
    positions: [...point.positions],
    line: point.line ?? bench.state.line,
  };
  history.pushState(null, "", `${data.urls.bench}?${benchQuery(data, bench.state)}`);
  show();
}

// Whatever is begun is looked at on the scene at hand.
function openBegin() {
  for (const link of byId("begin").querySelectorAll("a[href]")) {
    const to = new URL(link.href);
    to.searchParams.set("scene", bench.state.scene);
    link.href = to.href;
  }
  byId("begin").showModal();
}

function openTrail() {
  const handlers = {
    jump: (at) => {
      goPoint(at);
      openTrail();
    },
    vary: (at) => {
      goPoint(at);
      byId("trail").close();
      openSave("new");
      if (trail.points[at].name) byId("save-name").value = trail.points[at].name;
    },
  };
  drawTrail(byId("trail-list"), trail, data.dials, handlers);
  const changed = between(data.dials, data.reference, bench.state.positions);
  byId("trail-since").textContent = changed.length
    ? `Since ${data.referenceName}: ${changed.join("; ")}.`
    : `The same as ${data.referenceName}.`;
  if (!byId("trail").open) byId("trail").showModal();
}

function openEverywhere() {
  if (!byId("everywhere").open) byId("everywhere").showModal();
  drawChoice(byId("everywhere-choice"), data.scenes, fillEverywhere);
  fillEverywhere();
}

function fillEverywhere() {
  drawEverywhere({
    scenes: data.scenes,
    holder: byId("everywhere-pictures"),
    state: byId("everywhere-state"),
    render: (scene) =>
      renderUrl(data, scene, bench.state.positions, 288, { view: bench.state.view }),
    failing: (scene) => `${filled(data.urls.failing, scene)}?${askQuery()}`,
    go: (scene) => {
      byId("everywhere").close();
      goScene(scene);
    },
  });
}
byId("everywhere").addEventListener("close", () => byId("everywhere-pictures").replaceChildren());

addEventListener("popstate", () => {
  const query = new URLSearchParams(location.search);
  if ((query.get("slip") ?? "") !== String(data.slip ?? "")) return location.reload();
  const before = String(bench.state.positions);
  bench.state = readQuery(data, location.search);
  if (String(bench.state.positions) !== before) trail.add(bench.state.positions, bench.state.line);
  show();
});

// ---- mouse, touch, keys -------------------------------------------------------------------------
byId("lines").addEventListener("click", (event) => {
  const row = event.target.closest(".line");
  if (!row) return;
  const step = event.target.closest(".step");
  if (step)
    turn(
      row.dataset.dial,
      bench.state.positions[index.get(row.dataset.dial)] + Number(step.dataset.step),
    );
  else goLine(row.dataset.dial);
});
byId("strip").addEventListener("click", (event) => {
  const button = event.target.closest("button");
  if (button) turn(bench.state.line, Number(button.dataset.place));
});
byId("scenes").addEventListener("click", (event) => {
  const link = event.target.closest("a[data-scene]");
  if (!link || event.ctrlKey || event.metaKey || event.shiftKey) return;
  event.preventDefault();
  goScene(link.dataset.scene);
});
byId("wipe").addEventListener("input", showOther);

// A body that meters a spot looks where the picture is clicked; with Shift the arrow keys move the
// place.
const inFrame = (value) => Math.min(1, Math.max(0, value)).toFixed(3);
byId("frame").addEventListener("click", (event) => {
  if (!metersSpot() || bench.state.wipe || bench.state.loupe) return;
  const box = byId("frame").getBoundingClientRect();
  const across = inFrame((event.clientX - box.left) / box.width);
  change({ spot: `${across},${inFrame((event.clientY - box.top) / box.height)}` });
});
// At 100 % the picture can be pulled under the glass.
let pull = null;
byId("frame").addEventListener("pointerdown", (event) => {
  if (!bench.state.loupe || !bench.crop || event.target.matches("input")) return;
  pull = { x: event.clientX, y: event.clientY };
  byId("frame").setPointerCapture(event.pointerId);
});
byId("frame").addEventListener("dragstart", (event) => event.preventDefault());
byId("frame").addEventListener("pointerup", (event) => {
  if (pull) moveCrop(pull.x - event.clientX, pull.y - event.clientY);
  pull = null;
});
function moveCrop(across, down) {
  if (!bench.crop || Math.hypot(across, down) < 3) return;
  const [left, top, width, height, columns, rows] = bench.crop;
  const shown = width / byId("frame").clientWidth; // photosites a pixel of the page
  const within = (at, size, most) => Math.min(Math.max(at, size / 2), most - size / 2) / most;
  const x = within(left + width / 2 + across * shown, width, columns);
  const y = within(top + height / 2 + down * shown, height, rows);
  change({ place: `${inFrame(x)},${inFrame(y)}` });
}
const PUSH = 0.25; // of the frame, by Shift and an arrow key
const NUDGE = 0.03;
function nudgeSpot(across, down) {
  const [x, y] = (bench.state.spot || "0.5,0.5").split(",").map(Number);
  change({ spot: `${inFrame(x + across * NUDGE)},${inFrame(y + down * NUDGE)}` });
}
function showMeter() {
  const [x, y] = bench.state.spot.split(",");
  byId("meter").hidden = !metersSpot() || !bench.state.spot || bench.state.loupe;
  byId("meter").style.left = `${x * 100}%`;
  byId("meter").style.top = `${y * 100}%`;
  byId("frame").classList.toggle("aims", metersSpot() && !bench.state.loupe);
  byId("frame").classList.toggle("pulls", bench.state.loupe);
}
document.addEventListener("plum:go", ({ detail }) => {
  if (detail.what === "dial") goLine(detail.id);
  else if (detail.what === "scene") goScene(detail.id);
  else if (detail.what === "act") acts[detail.id]();
  else if (detail.what === "value") goValue(detail.id, detail.value);
  else {
    const query = benchQuery(data, { ...bench.state, scene: detail.id });
    location.assign(`${data.urls.bench}?${query}`);
  }
});

byId("slip-state").addEventListener("click", openTrail);
for (const button of document.querySelectorAll("[data-look]"))
  button.addEventListener("click", () => acts[button.dataset.look]());
for (const [id, key] of [
  ["view", "view"],
  ["than", "than"],
  ["surround", "surround"],
  ["intent", "intent"],
  ["true-size", "size"],
])
  byId(id).addEventListener("change", () => change({ [key]: byId(id).value }));
byId("intent").addEventListener("change", () => byId("intent").blur());
byId("steps").addEventListener("toggle", showSteps);
// The hue ring's chips lead to the lines of their hues.
byId("gauge-own").addEventListener("click", (event) => {
  const chip = event.target.closest("[data-line]");
  if (chip) goLine(chip.dataset.line);
});
byId("gauge-own").addEventListener("keydown", (event) => {
  const chip = event.key === "Enter" && event.target.closest("[data-line]");
  if (chip) goLine(chip.dataset.line);
});
for (const form of document.querySelectorAll("[data-onto]"))
  form.addEventListener(
    "submit",
    () => {
      const { name, note, author } = data;
      form.elements.from.value = askQuery({ name, note, author });
    },
    { capture: true },
  );
// One thing at a time lies over the picture.
const BARE = { clip: false, stripes: "", apart: false, guess: false };
byId("zebra-level").addEventListener("change", () =>
  change({ ...BARE, stripes: byId("zebra-level").value }),
);
byId("guess").addEventListener("click", () => change({ ...BARE, guess: !bench.state.guess }));
// The first steps, until they were closed or a slip was saved.
const first = byId("first");
if (first) {
  first.hidden = localStorage.getItem("plum-first") === "done";
  byId("first-close").addEventListener("click", () => {
    localStorage.setItem("plum-first", "done");
    first.hidden = true;
  });
}

const nextLine = (by) =>
  goLine(data.dials[(index.get(bench.state.line) + by + data.dials.length) % data.dials.length].id);
const stepBy = (by) =>
  turn(bench.state.line, bench.state.positions[index.get(bench.state.line)] + by);
const SURROUNDS = ["mid", "light", "dark"];
// What the keys do, by the names that the server's list of keys gives them.
const acts = {
  lineBefore: () => nextLine(-1),
  lineAfter: () => nextLine(1),
  stepDown: () => stepBy(-1),
  stepUp: () => stepBy(1),
  firstPlace: () => turn(bench.state.line, 0),
  lastPlace: () => turn(bench.state.line, Infinity),
  shipped: () => turn(bench.state.line, data.dials[index.get(bench.state.line)].shipped),
  hold: () => {
    bench.held = true;
    showOther();
  },
  note: () => {
    const query = new URLSearchParams(location.search);
    query.set("back", location.pathname + location.search);
    location.assign(`${data.urls.note}?${query}`);
  },
  clip: () => change({ ...BARE, clip: !bench.state.clip }),
  stripes: () => change({ ...BARE, stripes: bench.state.stripes ? "" : byId("zebra-level").value }),
  apart: () => change({ ...BARE, apart: !bench.state.apart }),
  written: () => change({ written: !bench.state.written, ends: false }),
  ends: () => change({ ends: !bench.state.ends, written: false }),
  grey: () => change({ view: bench.state.view === "grey" ? "" : "grey" }),
  everywhere: openEverywhere,
  trail: openTrail,
  begin: openBegin,
  loupe: () => change({ loupe: !bench.state.loupe }),
  wipe: () => change({ wipe: !bench.state.wipe }),
  surround: () =>
    change({ surround: SURROUNDS[(SURROUNDS.indexOf(bench.state.surround) + 1) % 3] }),
  save: () => openSave("version"),
  vary: () => openSave("new"),
};
const actOf = new Map(page.keys.map(({ press, act }) => [press, acts[act]]));

addEventListener("keydown", (event) => {
  if (isTyping(event.target)) return;
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  if ((event.ctrlKey || event.metaKey) && (key === "z" || key === "y")) {
    event.preventDefault();
    return goPoint(key === "y" || event.shiftKey ? trail.after : trail.before);
  }
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.target.matches("input[type=range]") && key.startsWith("Arrow")) return;
  if (/^[1-9]$/.test(key))
    return goScene((data.scenes[Number(key) - 1] ?? { id: bench.state.scene }).id);
  if (event.shiftKey && key.startsWith("Arrow") && (bench.state.loupe || metersSpot())) {
    event.preventDefault();
    const across = { ArrowLeft: -1, ArrowRight: 1 }[key] ?? 0;
    const down = { ArrowUp: -1, ArrowDown: 1 }[key] ?? 0;
    if (!bench.state.loupe) return nudgeSpot(across, down);
    const push = PUSH * byId("frame").clientWidth;
    return moveCrop(across * push, down * push);
  }
  const act = actOf.get(key);
  if (!act || (event.repeat && key.length === 1)) return;
  event.preventDefault();
  repeats = event.repeat;
  act();
  repeats = false;
});
const letGo = () => {
  if (!bench.held) return;
  bench.held = false;
  showOther();
};
addEventListener("keyup", (event) => actOf.get(event.key.toLowerCase()) === acts.hold && letGo());
addEventListener("blur", letGo);
let sizing = null;
addEventListener("resize", () => {
  clearTimeout(sizing);
  sizing = setTimeout(show, 200);
});

show();
if (byId("lines").scrollHeight > byId("lines").clientHeight)
  rows.get(bench.state.line).scrollIntoView({ block: "nearest" });

// The Bench: collects what is chosen, keeps it in the address, shows what the server renders.
import { post, say, isTyping } from "./app.js";
import { benchQuery, dialPairs, readQuery, renderUrl } from "./address.js";
import { Gauge } from "./gauge.js";
import { Margin } from "./margin.js";
import { drawPatches, pairOf } from "./patches.js";
import { Peek, peeksOver } from "./peek.js";
import { drawSheet } from "./sheet.js";
import { Trail, drawTrail } from "./trail.js";

const data = JSON.parse(document.getElementById("bench-data").textContent);
const byId = (id) => document.getElementById(id);
const rows = new Map([...document.querySelectorAll(".line")].map((row) => [row.dataset.dial, row]));
const index = new Map(data.dials.map((dial, k) => [dial.id, k]));
const gauge = new Gauge(byId("curve"));
const STRIP = 7;

let state = { ...readQuery(data, location.search), positions: [...data.positions], scene: data.scene, line: data.line };
const trail = new Trail(`plum-trail-${data.slip ?? data.body}`, state.positions);
let held = false;
let asked = null;
let lastPush = { line: null, at: 0 };

// ---- pictures ------------------------------------------------------------------------------------------
const pixels = (element) => Math.min(1600, Math.max(320, Math.round(element.clientWidth * Math.min(devicePixelRatio, 2))));
const frameWidth = () => pixels(byId("frame"));
const seen = (extra = {}) => ({ detail: state.loupe, view: state.view, ...extra });
const current = (width = frameWidth()) => renderUrl(data, state.scene, state.positions, width, seen());
const withDial = (dialId, place, width = frameWidth()) => {
  const positions = [...state.positions];
  positions[index.get(dialId)] = place;
  return renderUrl(data, state.scene, positions, width, seen());
};
// What the recipe is held against: as shipped, the version that was opened, or another slip.
const referenceCode = () => state.than || (data.slip ? `slip-${data.slip}.${data.version}` : `As shipped~${data.body}`);
const referenceName = () => (state.than ? byId("than").selectedOptions[0]?.textContent : data.referenceName) ?? data.referenceName;
const referenceUrl = () =>
  state.than ? renderUrl(data, state.scene, state.positions, frameWidth(), seen({ more: { code: state.than } })) : renderUrl(data, state.scene, data.reference, frameWidth(), seen());
const peek = new Peek(byId("peek"), byId("badge"), () => showOther());

async function showPicture() {
  asked?.abort();
  const mine = (asked = new AbortController());
  const started = performance.now();
  byId("frame").setAttribute("aria-busy", "true");
  try {
    const answer = await fetch(current(), { signal: mine.signal });
    if (!answer.ok) throw new Error("The picture could not be rendered. Reload the page; if that does not help, choose another scene.");
    const blob = await answer.blob();
    const fresh = new Image();
    fresh.src = URL.createObjectURL(blob);
    await fresh.decode();
    if (mine.signal.aborted) return URL.revokeObjectURL(fresh.src);
    byId("frame").style.setProperty("--ratio", fresh.naturalWidth / fresh.naturalHeight);
    const old = byId("picture").src;
    byId("picture").src = fresh.src;
    if (old.startsWith("blob:")) URL.revokeObjectURL(old);
    byId("exposure").textContent = answer.headers.get("Plum-Exposure") ?? "";
    readout("clipped", Number(answer.headers.get("Plum-Clipped")));
    readout("crushed", Number(answer.headers.get("Plum-Crushed")));
    byId("frame").setAttribute("aria-busy", "false");
    document.dispatchEvent(new CustomEvent("plum:shown", { detail: { ms: performance.now() - started, server: answer.headers.get("Server-Timing") } }));
    showMarks();
    showOther();
  } catch (error) {
    if (error.name !== "AbortError") say(error.message, "fault");
  }
}

function readout(id, share) {
  byId(id).textContent = share === 0 ? "none" : share < 0.001 ? "< 0.1 %" : `${(share * 100).toFixed(1)} %`;
  const loud = byId("clipped").textContent !== "none" || byId("crushed").textContent !== "none";
  byId("readouts").classList.toggle("look", loud);
}

async function showMarks() {
  const marks = byId("marks");
  const kind = state.apart ? ".apart.png" : state.zebra ? ".zebra.png" : state.clip ? ".marks.png" : "";
  marks.hidden = !kind;
  marks.classList.toggle("covers", state.apart);
  if (!kind) return;
  const more = state.apart ? { than: referenceCode() } : state.zebra ? { level: state.zebra } : {};
  const url = renderUrl(data, state.scene, state.positions, frameWidth(), { detail: state.loupe, kind, more });
  marks.src = url;
  if (!state.apart) return;
  const [mean, high] = ((await fetch(url)).headers.get("Plum-Difference") ?? "").split(" ");
  if (state.apart && mean) badgeOf(`From ${referenceName()}: CIEDE2000 ${mean} on average, ${high} at the 95th percentile`);
}

function badgeOf(words) {
  byId("badge").hidden = !words;
  byId("badge").textContent = words;
}

function showOther() {
  const other = byId("other");
  const on = held || state.wipe;
  other.hidden = !on;
  byId("seam").hidden = byId("wipe").hidden = !state.wipe || held;
  const ways = [state.loupe && "100 %, fixed place", state.zebra && `zebra at ${state.zebra} %`, state.view && byId("view").selectedOptions[0]?.textContent];
  badgeOf(held ? `Reference: ${referenceName()}` : state.wipe ? `Left: ${referenceName()}, right: now` : ways.filter(Boolean).join(", "));
  if (on) {
    other.src = referenceUrl();
    const share = held ? 100 : Number(byId("wipe").value);
    other.style.clipPath = `inset(0 ${100 - share}% 0 0)`;
    byId("seam").style.left = `${share}%`;
  }
}

// ---- the slip ------------------------------------------------------------------------------------------
const met = (need) => {
  const at = index.get(need.dial);
  if (at === undefined) return true;
  const value = data.dials[at].values[state.positions[at]];
  if (need.least !== null) return Number(value) >= need.least;
  return need.only.length ? need.only.includes(value) : !need.never.includes(value);
};

// Why a dial has no say where it stands; empty when it has one.
const idle = (dial) => [...dial.needs, ...dial.choiceNeeds[state.positions[index.get(dial.id)]]].find((need) => !met(need))?.why ?? "";

function showSlip() {
  let changes = 0;
  data.dials.forEach((dial, k) => {
    const row = rows.get(dial.id);
    const at = state.positions[k];
    const changed = at !== data.reference[k];
    changes += changed ? 1 : 0;
    row.classList.toggle("changed", changed);
    row.classList.toggle("here", dial.id === state.line);
    const why = idle(dial);
    row.classList.toggle("off", Boolean(why));
    row.tabIndex = dial.id === state.line ? 0 : -1;
    row.setAttribute("aria-valuenow", at);
    const note = why ? "" : dial.notes[at];
    row.setAttribute("aria-valuetext", [dial.labels[at], note, why].filter(Boolean).join(", "));
    row.querySelector(".shown").textContent = dial.labels[at];
    row.querySelector(".cost").textContent = note;
    row.querySelector(".cost").hidden = !note;
    row.title = why;
    row.querySelectorAll(".notches rect").forEach((rect, place) => rect.classList.toggle("at", place === at));
  });
  const words = changes === 1 ? "1 change" : `${changes} changes`;
  byId("slip-state").textContent = data.slip
    ? `${changes ? `${words} since version ${data.version}` : `Version ${data.version}, nothing changed`}`
    : changes ? `${words} from as shipped, not saved` : "As shipped; turn a dial to begin";
  byId("save").textContent = data.slip ? `Save version ${data.newest + 1}` : "Save";
  const dial = data.dials[index.get(state.line)];
  const at = state.positions[index.get(state.line)];
  byId("gauge-title").textContent = `${dial.label}: ${dial.labels[at]}`;
  byId("gauge-purpose").textContent = idle(dial) || dial.purpose;
  byId("gauge-means").textContent = [dial.means, !idle(dial) && dial.notes[at] ? `Here: ${dial.notes[at]}.` : "", dial.later].filter(Boolean).join(" ");
}

let filling = 0;
function showStrip() {
  const k = index.get(state.line);
  const dial = data.dials[k];
  const here = state.positions[k];
  const room = matchMedia("(max-width: 1023px)").matches ? dial.values.length : STRIP;
  const first = Math.max(0, Math.min(here - Math.floor(room / 2), dial.values.length - room));
  const places = dial.values.map((_, p) => p).slice(first, first + room);
  const strip = byId("strip");
  const scroll = strip.scrollLeft;
  while (strip.children.length < places.length) {
    const button = document.createElement("button");
    button.type = "button";
    button.append(new Image(), document.createElement("span"));
    strip.append(button);
  }
  while (strip.children.length > places.length) strip.lastChild.remove();
  // Nearest first: the browser asks in the order in which addresses are set.
  const order = [...places.keys()].sort((a, b) => Math.abs(places[a] - here) - Math.abs(places[b] - here));
  const mine = (filling += 1);
  const setAll = () => {
    for (const n of mine === filling ? order : []) {
      const positions = [...state.positions];
      positions[k] = places[n];
      const url = renderUrl(data, state.scene, positions, 192, seen());
      const image = strip.children[n].firstChild;
      if (image.getAttribute("src") !== url) image.src = url;
      image.alt = "";
    }
  };
  places.forEach((place, n) => {
    const button = strip.children[n];
    button.dataset.place = place;
    button.setAttribute("aria-pressed", place === here);
    button.setAttribute("aria-label", `${dial.label} ${dial.labels[place]}`);
    button.lastChild.textContent = dial.labels[place] + (place === dial.shipped && dial.labels[place].length <= 5 ? " shipped" : "");
  });
  strip.scrollLeft = scroll;
  return setAll;
}

const askQuery = (more = {}) => {
  const query = new URLSearchParams(dialPairs(data, state.positions));
  for (const [key, value] of Object.entries({ scene: state.scene, body: data.body, intent: state.intent, line: state.line, schools: chosenSchools(), ...more })) query.set(key, value);
  return query;
};

// The school is a setting of the person: it stays in this browser and counts for every recipe.
for (const box of document.querySelectorAll("[data-school]")) {
  box.checked = (localStorage.getItem("plum-schools") ?? "").split(",").includes(box.value);
  box.addEventListener("change", () => {
    const chosen = [...document.querySelectorAll("[data-school]:checked")].map((b) => b.value);
    localStorage.setItem("plum-schools", chosen.join(","));
    showFacts();
  });
}
const chosenSchools = () => localStorage.getItem("plum-schools") ?? "";

let factsAsked = null;
async function showFacts() {
  factsAsked?.abort();
  factsAsked = new AbortController();
  const mine = factsAsked.signal;
  const ask = async (url) => {
    const answer = await fetch(url, { signal: mine, headers: { Accept: "application/json" } });
    return answer.ok ? answer.json() : null;
  };
  try {
    const facts = await ask(`${data.urls.facts}?${askQuery()}`);
    if (!facts) return;
    byId("white").textContent = facts.white;
    const pair = pairOf(data.dials, state.line);
    byId("curve").toggleAttribute("hidden", facts.kind !== "tone");
    byId("gauge-own").hidden = facts.kind === "tone" || Boolean(pair);
    byId("patches").hidden = !pair;
    if (facts.kind === "tone") gauge.draw(facts);
    else if (pair) drawPatches(byId("patches"), { dials: data.dials, positions: state.positions, pair, url: (there) => renderUrl(data, state.scene, there, 96, seen()), choose: turnAll });
    else byId("gauge-own").innerHTML = facts.gauge;
    margin.ask(`${data.urls.verdicts}?${askQuery()}`).then(() => showBest(ask));
  } catch (error) {
    if (error.name !== "AbortError") throw error;
  }
}

// Dots on the steps of which the least is said, where more is said of the present one.
async function showBest(ask) {
  const buttons = [...byId("strip").children];
  for (const button of buttons) button.classList.remove("best");
  if (!margin.found.length) return;
  const weights = await ask(`${data.urls.best}?${askQuery({ places: buttons.map((b) => b.dataset.place).join(",") })}`).catch(() => null);
  const here = weights?.[state.positions[index.get(state.line)]];
  if (here === undefined) return;
  const least = Math.min(...Object.values(weights));
  for (const button of buttons) if (least < here - 0.05 && weights[button.dataset.place] <= least + 0.05) button.classList.add("best");
}

const margin = new Margin({ list: byId("verdicts"), more: byId("more-verdicts"), spot: byId("spot"), peek, urlWith: withDial, take: (dialId, place) => turn(dialId, place) });
peeksOver(
  byId("strip"),
  (target) => {
    const button = target.closest("button");
    if (!button || button.getAttribute("aria-pressed") === "true") return null;
    return { url: withDial(state.line, Number(button.dataset.place)), words: `Would be: ${button.getAttribute("aria-label")}` };
  },
  peek,
);

let resting = null;
let shown = "";
function show() {
  peek.hide();
  byId("frame").dataset.size = state.size;
  for (const id of ["view", "than", "surround", "intent"]) byId(id).value = state[id];
  byId("raw-notice").hidden = state.intent !== "raw_only";
  byId("true-size").value = state.size;
  if (state.zebra) byId("zebra-level").value = state.zebra;
  for (const button of document.querySelectorAll("[data-look]")) button.setAttribute("aria-pressed", Boolean(state[button.dataset.look]));
  const scene = data.scenes.find((s) => s.id === state.scene);
  byId("mount").dataset.surround = state.surround;
  byId("scene-line").textContent = scene?.line ?? "";
  for (const link of document.querySelectorAll("#scenes a")) {
    const chosen = link.dataset.scene === state.scene;
    if (chosen && shown !== state.scene) {
      // The row is longer than a phone is wide: bring the chosen one into it, once for each choice, without moving the page.
      shown = state.scene;
      byId("scenes").scrollLeft += link.getBoundingClientRect().left - byId("scenes").getBoundingClientRect().left - 40;
    }
    if (chosen) link.setAttribute("aria-current", "true");
    else link.removeAttribute("aria-current");
  }
  showSlip();
  const fillStrip = showStrip();
  // The large picture first; strip and gauge follow once the hand rests, so that a held key never queues up.
  showPicture().then(() => {
    clearTimeout(resting);
    resting = setTimeout(() => {
      fillStrip();
      showFacts();
    }, 40);
  });
}

// ---- changes and the address -----------------------------------------------------------------------------
function change(patch, { step = false } = {}) {
  state = { ...state, ...patch };
  if ("positions" in patch) trail.add(state.positions, state.line);
  const url = `${data.urls.bench}?${benchQuery(data, state)}`;
  const now = performance.now();
  // Steps of one dial in quick succession are one entry for the back button.
  if (step && lastPush.line === state.line && now - lastPush.at < 700) history.replaceState(null, "", url);
  else history.pushState(null, "", url);
  lastPush = { line: step ? state.line : null, at: now };
  show();
}

function turn(dialId, position) {
  const k = index.get(dialId);
  const to = Math.max(0, Math.min(position, data.dials[k].values.length - 1));
  if (to === state.positions[k] && dialId === state.line) return;
  const positions = [...state.positions];
  positions[k] = to;
  change({ positions, line: dialId }, { step: true });
}

function turnAll(places) {
  const positions = [...state.positions];
  for (const [dialId, place] of Object.entries(places)) positions[index.get(dialId)] = place;
  change({ positions }, { step: true });
}

function goLine(dialId, focus = true) {
  if (dialId !== state.line) change({ line: dialId });
  if (focus) rows.get(dialId).focus({ preventScroll: false });
}

function goScene(scene) {
  if (scene !== state.scene) change({ scene });
}

function goPoint(at) {
  const point = trail.go(at);
  if (!point) return say(at < 0 ? "Nothing to undo." : "Nothing to redo.");
  state = { ...state, positions: [...point.positions], line: point.line ?? state.line };
  history.pushState(null, "", `${data.urls.bench}?${benchQuery(data, state)}`);
  show();
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
  if (!byId("trail").open) byId("trail").showModal();
}

function openSheet() {
  byId("sheet").showModal();
  drawSheet({
    scenes: data.scenes,
    holder: byId("sheet-pictures"),
    state: byId("sheet-state"),
    render: (scene) => renderUrl(data, scene, state.positions, 288, { view: state.view }),
    failing: (scene) => `${data.urls.failing}${encodeURIComponent(scene)}?${askQuery()}`,
    go: (scene) => {
      byId("sheet").close();
      goScene(scene);
    },
  });
}
byId("sheet").addEventListener("close", () => byId("sheet-pictures").replaceChildren());

addEventListener("popstate", () => {
  const query = new URLSearchParams(location.search);
  if ((query.get("slip") ?? "") !== String(data.slip ?? "")) return location.reload();
  const before = String(state.positions);
  state = readQuery(data, location.search);
  if (String(state.positions) !== before) trail.add(state.positions, state.line);
  show();
});

// ---- saving and taking away --------------------------------------------------------------------------------
const dialog = byId("save-dialog");
let saveAs = "version";

function openSave(as) {
  saveAs = as;
  byId("save-title").textContent = as === "new" && data.slip ? "Save as a variant" : data.slip ? `Save version ${data.newest + 1}` : "Save as a slip";
  byId("save-intent").value = state.intent;
  byId("save-name").value = as === "new" && data.slip ? `${data.name}, variant` : data.name;
  dialog.showModal();
  byId("save-name").select();
  suggestName();
}

// A name from what the recipe looks like, offered and never forced.
async function suggestName() {
  byId("suggested").hidden = true;
  const answer = await fetch(`${data.urls.name}?${askQuery()}`, { headers: { Accept: "application/json" } }).catch(() => null);
  if (!answer?.ok) return;
  const { name } = await answer.json();
  byId("suggested").textContent = `Call it ${name}`;
  byId("suggested").dataset.name = name;
  byId("suggested").hidden = false;
  if (!byId("save-name").value) byId("save-name").value = name;
}
byId("suggested").addEventListener("click", () => {
  byId("save-name").value = byId("suggested").dataset.name;
  byId("save-name").focus();
});

byId("save-form").addEventListener("submit", async (event) => {
  event.preventDefault();
  const form = new FormData(byId("save-form"));
  for (const [id, value] of dialPairs(data, state.positions)) form.set(id, value);
  form.set("body", data.body);
  form.set("scene", state.scene);
  form.set("line", state.line);
  form.set("as", saveAs);
  if (data.slip) {
    form.set("slip", data.slip);
    form.set("version", data.version);
  }
  byId("save-go").disabled = true;
  try {
    location.assign((await post(data.urls.save, form)).to);
  } catch (error) {
    say(error.message, "fault");
    byId("save-go").disabled = false;
  }
});
byId("save-no").addEventListener("click", () => dialog.close());
byId("save").addEventListener("click", () => openSave("version"));
byId("vary").addEventListener("click", () => openSave("new"));

function takeQuery() {
  const query = new URLSearchParams({ name: data.name || "New slip", scene: state.scene, body: data.body });
  for (const key of ["note", "author"]) if (data[key]) query.set(key, data[key]);
  query.set("intent", state.intent);
  for (const [id, value] of dialPairs(data, state.positions)) query.set(id, value);
  return query;
}
byId("take").addEventListener("toggle", () => {
  for (const link of document.querySelectorAll("[data-take]")) link.href = `${link.dataset.take}?${takeQuery()}`;
  const now = [data.name || "On the Bench", data.body, ...dialPairs(data, state.positions).map((p) => p.join("="))].join("~");
  const wall = new URLSearchParams([["scene", state.scene], ...(data.slip ? [["r", `slip-${data.slip}.${data.version}`]] : [["r", `As shipped~${data.body}`]]), ["r", now]]);
  byId("to-wall").href = `${data.urls.wall}?${wall}`;
});
byId("copy").addEventListener("click", async () => {
  byId("take").open = false;
  try {
    await navigator.clipboard.writeText(location.href);
    say("The link is copied.");
  } catch {
    say("The browser does not let us copy; take the link from the address bar.", "fault");
  }
});
addEventListener("click", (event) => {
  for (const menu of document.querySelectorAll("details.menu[open]")) if (!menu.contains(event.target)) menu.open = false;
});

// ---- mouse, touch, keys --------------------------------------------------------------------------------------
byId("lines").addEventListener("click", (event) => {
  const row = event.target.closest(".line");
  if (!row) return;
  const step = event.target.closest(".step");
  if (step) turn(row.dataset.dial, state.positions[index.get(row.dataset.dial)] + Number(step.dataset.step));
  else goLine(row.dataset.dial);
});
byId("strip").addEventListener("click", (event) => {
  const button = event.target.closest("button");
  if (button) turn(state.line, Number(button.dataset.place));
});
byId("scenes").addEventListener("click", (event) => {
  const link = event.target.closest("a[data-scene]");
  if (!link || event.ctrlKey || event.metaKey || event.shiftKey) return;
  event.preventDefault();
  goScene(link.dataset.scene);
});
byId("wipe").addEventListener("input", showOther);
document.addEventListener("plum:go", ({ detail }) => {
  if (detail.what === "dial") goLine(detail.id);
  else if (detail.what === "scene") goScene(detail.id);
  else {
    const query = benchQuery(data, { ...state, scene: detail.id });
    location.assign(`${data.urls.bench}?${query}`);
  }
});

byId("slip-state").addEventListener("click", openTrail);
for (const button of document.querySelectorAll("[data-look]")) button.addEventListener("click", () => keys[LOOK_KEYS[button.dataset.look]]());
for (const [id, key] of [["view", "view"], ["than", "than"], ["surround", "surround"], ["intent", "intent"], ["true-size", "size"]]) byId(id).addEventListener("change", () => change({ [key]: byId(id).value }));
byId("zebra-level").addEventListener("change", () => change({ zebra: byId("zebra-level").value }));
byId("paste-form").addEventListener("submit", async (event) => {
  event.preventDefault();
  try {
    const said = await post(byId("paste-form").action, new FormData(byId("paste-form")));
    const rows = [...said.understood.map((words) => [words, "understood"]), ...said.unclear.map(([words, why]) => [`${words}: ${why}`, "unclear"])];
    const list = Object.assign(document.createElement("ul"), { className: "read" });
    list.append(...rows.map(([words, kind]) => Object.assign(document.createElement("li"), { textContent: words, className: kind })));
    const go = Object.assign(document.createElement("a"), { href: said.to, className: "btn main", textContent: "To the Bench" });
    byId("paste-said").replaceChildren(list, ...(said.understood.length ? [go] : []));
  } catch (error) {
    say(error.message, "fault");
  }
});

const nextLine = (by) => goLine(data.dials[(index.get(state.line) + by + data.dials.length) % data.dials.length].id);
const stepBy = (by) => turn(state.line, state.positions[index.get(state.line)] + by);
const LOOK_KEYS = { clip: "c", zebra: "z", loupe: "l", wipe: "w", apart: "x" };
const SURROUNDS = ["mid", "light", "dark"];
const keys = {
  ArrowUp: () => nextLine(-1),
  ArrowDown: () => nextLine(1),
  ArrowLeft: () => stepBy(-1),
  ArrowRight: () => stepBy(1),
  Home: () => turn(state.line, 0),
  End: () => turn(state.line, Infinity),
  0: () => turn(state.line, data.dials[index.get(state.line)].shipped),
  b: () => {
    held = true;
    showOther();
  },
  c: () => change({ clip: !state.clip, zebra: "", apart: false }),
  z: () => change({ zebra: state.zebra ? "" : byId("zebra-level").value, clip: false, apart: false }),
  x: () => change({ apart: !state.apart, clip: false, zebra: "" }),
  g: () => change({ view: state.view === "grey" ? "" : "grey" }),
  a: openSheet,
  t: openTrail,
  n: () => byId("begin").showModal(),
  l: () => change({ loupe: !state.loupe }),
  w: () => change({ wipe: !state.wipe }),
  m: () => change({ surround: SURROUNDS[(SURROUNDS.indexOf(state.surround) + 1) % 3] }),
  s: () => openSave("version"),
  d: () => openSave("new"),
};

addEventListener("keydown", (event) => {
  if (isTyping(event.target)) return;
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  if ((event.ctrlKey || event.metaKey) && (key === "z" || key === "y")) {
    event.preventDefault();
    return goPoint(key === "y" || event.shiftKey ? trail.at + 1 : trail.at - 1);
  }
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.target.matches("input[type=range]") && key.startsWith("Arrow")) return;
  if (/^[1-9]$/.test(key)) return goScene((data.scenes[Number(key) - 1] ?? { id: state.scene }).id);
  const act = keys[key];
  if (!act || (event.repeat && key.length === 1)) return;
  event.preventDefault();
  act();
});
addEventListener("keydown", (event) => {
  const open = event.key === "Escape" && document.querySelector("details.menu[open]");
  if (open) {
    open.open = false;
    open.querySelector("summary").focus();
  }
});
const letGo = () => {
  if (!held) return;
  held = false;
  showOther();
};
addEventListener("keyup", (event) => event.key.toLowerCase() === "b" && letGo());
addEventListener("blur", letGo);
let sizing = null;
addEventListener("resize", () => {
  clearTimeout(sizing);
  sizing = setTimeout(show, 200);
});

show();
rows.get(state.line).scrollIntoView({ block: "nearest" });

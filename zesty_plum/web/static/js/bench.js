// The Bench: collects what is chosen, keeps it in the address, shows what the server renders.
import { post, say, isTyping } from "./app.js";
import { benchQuery, dialPairs, readQuery, renderUrl } from "./address.js";
import { Gauge } from "./gauge.js";

const data = JSON.parse(document.getElementById("bench-data").textContent);
const byId = (id) => document.getElementById(id);
const rows = new Map([...document.querySelectorAll(".line")].map((row) => [row.dataset.dial, row]));
const index = new Map(data.dials.map((dial, k) => [dial.id, k]));
const gauge = new Gauge(byId("curve"));
const STRIP = 7;

let state = { ...readQuery(data, location.search), positions: [...data.positions], scene: data.scene, line: data.line };
// Steps back and forward survive a reload; each slip has its own, in this window.
const TRAIL = `plum-trail-${data.slip ?? data.body}`;
const { done = [], undone = [] } = JSON.parse(sessionStorage.getItem(TRAIL) ?? "{}");
const keepTrail = () => sessionStorage.setItem(TRAIL, JSON.stringify({ done: done.slice(-1000), undone }));
let held = false;
let asked = null;
let lastPush = { line: null, at: 0 };

// ---- pictures ------------------------------------------------------------------------------------------
const pixels = (element) => Math.min(1600, Math.max(320, Math.round(element.clientWidth * Math.min(devicePixelRatio, 2))));
const frameWidth = () => pixels(byId("frame"));
const current = (width = frameWidth()) => renderUrl(data, state.scene, state.positions, width, { detail: state.loupe });
const referenceUrl = () => renderUrl(data, state.scene, data.reference, frameWidth(), { detail: state.loupe });

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

function showMarks() {
  const marks = byId("marks");
  marks.hidden = !state.clip;
  if (state.clip) marks.src = renderUrl(data, state.scene, state.positions, frameWidth(), { detail: state.loupe, marks: true });
}

function showOther() {
  const [other, badge] = [byId("other"), byId("badge")];
  const on = held || state.wipe;
  other.hidden = !on;
  byId("seam").hidden = byId("wipe").hidden = !state.wipe || held;
  badge.hidden = !held && !state.loupe && !state.wipe;
  badge.textContent = held ? `Reference: ${data.referenceName}` : state.wipe ? `Left: ${data.referenceName}, right: now` : "100 %, fixed place";
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
  byId("gauge-means").textContent = [dial.means, !idle(dial) && dial.notes[at] ? `Here: ${dial.notes[at]}.` : ""].join(" ");
  byId("gauge-later").textContent = dial.later;
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
      const url = renderUrl(data, state.scene, positions, 192, { detail: state.loupe });
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

let factsAsked = null;
async function showFacts() {
  factsAsked?.abort();
  factsAsked = new AbortController();
  const query = new URLSearchParams(dialPairs(data, state.positions));
  query.set("scene", state.scene);
  query.set("body", data.body);
  try {
    const answer = await fetch(`${data.urls.facts}?${query}`, { signal: factsAsked.signal, headers: { Accept: "application/json" } });
    if (!answer.ok) return;
    const facts = await answer.json();
    gauge.draw(facts);
    byId("white").textContent = facts.white;
  } catch (error) {
    if (error.name !== "AbortError") throw error;
  }
}

let resting = null;
let shown = "";
function show() {
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
function snapshot() {
  return { ...state, positions: [...state.positions] };
}

function change(patch, { step = false } = {}) {
  if ("positions" in patch) {
    done.push(snapshot());
    undone.length = 0;
    keepTrail();
  }
  state = { ...state, ...patch };
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

function goLine(dialId, focus = true) {
  if (dialId !== state.line) change({ line: dialId });
  if (focus) rows.get(dialId).focus({ preventScroll: false });
}

function goScene(scene) {
  if (scene !== state.scene) change({ scene });
}

function undo(from, to) {
  if (!from.length) return say(from === done ? "Nothing to undo." : "Nothing to redo.");
  to.push(snapshot());
  const past = from.pop();
  keepTrail();
  state = { ...state, positions: past.positions, line: past.line };
  history.pushState(null, "", `${data.urls.bench}?${benchQuery(data, state)}`);
  show();
}

addEventListener("popstate", () => {
  const query = new URLSearchParams(location.search);
  if ((query.get("slip") ?? "") !== String(data.slip ?? "")) return location.reload();
  state = readQuery(data, location.search);
  show();
});

// ---- saving and taking away --------------------------------------------------------------------------------
const dialog = byId("save-dialog");
let saveAs = "version";

function openSave(as) {
  saveAs = as;
  byId("save-title").textContent = as === "new" && data.slip ? "Save as a variant" : data.slip ? `Save version ${data.newest + 1}` : "Save as a slip";
  byId("save-name").value = as === "new" && data.slip ? `${data.name}, variant` : data.name;
  dialog.showModal();
  byId("save-name").select();
}

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
  for (const key of ["note", "author", "intent"]) if (data[key]) query.set(key, data[key]);
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
  if (!byId("take").contains(event.target)) byId("take").open = false;
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

const nextLine = (by) => goLine(data.dials[(index.get(state.line) + by + data.dials.length) % data.dials.length].id);
const stepBy = (by) => turn(state.line, state.positions[index.get(state.line)] + by);
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
  c: () => change({ clip: !state.clip }),
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
    return key === "y" || event.shiftKey ? undo(undone, done) : undo(done, undone);
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
  if (event.key === "Escape" && byId("take").open) {
    byId("take").open = false;
    byId("take").querySelector("summary").focus();
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

// Every change of the Bench's state, with its entry in the address and in the trail.
import Alpine from "@alpinejs/csp";
import { say } from "../frame/notes.js";
import { benchQuery } from "./address.js";
import { showFacts, hush } from "./facts.js";
import { unpeek } from "./peek.js";
import { showPicture } from "./picture.js";
import { bench, data, index, lineAt } from "./store.js";
import { fillStrip, showStrip } from "./strip.js";
import { Trail } from "./trailing.js";

export const trail =
  data && new Trail(`plum-trail-${data.slip ?? data.body}`, bench.state.positions);
const REST = 40; // milliseconds after the picture in which the hand may go on
const QUICK = 700; // milliseconds within which steps of one dial are one entry for the back button
const address = () => `${data.urls.bench}?${benchQuery(data, bench.state)}`;
const kept = () => ({ slip: data.slip, ...Alpine.raw(bench.state) });
if (data) history.replaceState(kept(), "");

let resting = null;
export function show() {
  unpeek();
  hush();
  // A browser holds six connections to a server: small pictures that are still under way would keep
  // the large one waiting.
  bench.took += 1;
  bench.judging = true;
  for (const [n, image] of document.querySelectorAll("#strip img").entries())
    if (!image.complete) bench.strip[n].src = null;
  // Asked for before anything is drawn, so that the server works while the page does; strip and
  // gauge follow once the hand rests, so that a held key never queues up.
  const picture = showPicture();
  showStrip();
  picture.then(() => {
    clearTimeout(resting);
    resting = setTimeout(() => {
      fillStrip();
      showFacts();
    }, REST);
  });
}

let lastPush = { line: null, at: 0 };

export function change(patch, { step = false } = {}) {
  Object.assign(bench.state, patch);
  show();
  if ("positions" in patch) trail.add(bench.state.positions, bench.state.line);
  const now = performance.now();
  const same = step && lastPush.line === bench.state.line;
  if (same && (bench.repeats || now - lastPush.at < QUICK))
    history.replaceState(kept(), "", address());
  else history.pushState(kept(), "", address());
  lastPush = { line: step ? bench.state.line : null, at: now };
}

export function turn(dialId, position) {
  const k = index.get(dialId);
  const to = Math.max(0, Math.min(position, data.dials[k].values.length - 1));
  if (to === bench.state.positions[k] && dialId === bench.state.line) return;
  change({ positions: bench.state.positions.with(k, to), line: dialId }, { step: true });
}

export function turnAll(places) {
  const positions = [...bench.state.positions];
  for (const [dialId, place] of Object.entries(places)) positions[index.get(dialId)] = place;
  change({ positions }, { step: true });
}

export const stepBy = (by) => turn(bench.state.line, lineAt().at + by);

export function goLine(dialId) {
  if (dialId !== bench.state.line) change({ line: dialId });
  document.querySelector(`[data-dial="${dialId}"]`).focus();
}

export function nextLine(by) {
  const many = data.dials.length;
  goLine(data.dials[(lineAt().k + by + many) % many].id);
}

// A number of the reckoner, at the place nearest to it by ratio.
export function goValue(dialId, value) {
  const off = data.dials[index.get(dialId)].values.map((said) => {
    const [top, under = 1] = String(said).replace("f/", "").split("/").map(Number);
    return top > 0 ? Math.abs(Math.log(top / under / value)) : top === value ? 0 : Infinity;
  });
  const fixed = data.dials[index.get("white_balance")]?.values.indexOf("kelvin") ?? -1;
  const balance = dialId === "kelvin" && fixed >= 0 ? { white_balance: fixed } : {};
  turnAll({ [dialId]: off.indexOf(Math.min(...off)), ...balance });
  goLine(dialId);
}

export function goScene(scene) {
  if (scene !== bench.state.scene) change({ scene, place: "" });
}

export function goPoint(at) {
  const point = trail.go(at);
  // Undo at the beginning leads back to the recipe on the body that was left.
  if (!point && at < 0 && data.back) return location.assign(data.back);
  if (!point) return say(at < 0 ? "Nothing to undo." : "Nothing to redo.");
  const line = point.line ?? bench.state.line;
  Object.assign(bench.state, { positions: [...point.positions], line });
  history.pushState(kept(), "", address());
  show();
}

// The back button of the browser.
export function wentBack({ state }) {
  if (state?.slip !== data.slip) return location.reload();
  const before = String(bench.state.positions);
  Object.assign(bench.state, state);
  if (String(bench.state.positions) !== before) trail.add(bench.state.positions, bench.state.line);
  show();
}

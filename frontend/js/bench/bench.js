// The Bench: its keys, its ways to look, and the ways out of it.
import { say } from "../frame/notes.js";
import { isModified, isTyping, page } from "../frame/page.js";
import { benchQuery, dialPairs, editioned } from "./address.js";
import * as changes from "./changes.js";
import { showOther } from "./picture.js";
import { askQuery, bench, data, lineAt, metersSpot, sceneOf } from "./store.js";

const { change, goLine, goScene, stepBy, turn } = changes;
const SURROUNDS = ["mid", "light", "dark"];
// One thing at a time lies over the picture.
const BARE = { clip: false, stripes: "", apart: false, guess: false };
const flip = (flag, more = {}) => change({ ...more, [flag]: !bench.state[flag] });
const open = (dialog, detail = {}) => dispatchEvent(new CustomEvent(`plum-${dialog}`, { detail }));

let zebra = "95"; // per cent, chosen last
// What the keys do, by the names that the server's list of keys gives them.
const acts = {
  lineBefore: () => changes.nextLine(-1),
  lineAfter: () => changes.nextLine(1),
  stepDown: () => stepBy(-1),
  stepUp: () => stepBy(1),
  firstPlace: () => turn(bench.state.line, 0),
  lastPlace: () => turn(bench.state.line, Infinity),
  shipped: () => turn(bench.state.line, lineAt().dial.shipped),
  hold: () => {
    bench.held = true;
    showOther();
  },
  note: () => {
    const query = new URLSearchParams(location.search);
    query.set("back", location.pathname + location.search);
    location.assign(`${data.urls.note}?${query}`);
  },
  clip: () => flip("clip", BARE),
  stripes: () => change({ ...BARE, stripes: bench.state.stripes ? "" : zebra }),
  apart: () => flip("apart", BARE),
  written: () => flip("written", { ends: false }),
  ends: () => flip("ends", { written: false }),
  grey: () => change({ view: bench.state.view === "grey" ? "" : "grey" }),
  everywhere: () => open("everywhere"),
  trail: () => open("trail"),
  begin: () => open("begin"),
  loupe: () => flip("loupe"),
  wipe: () => flip("wipe"),
  surround: () =>
    change({ surround: SURROUNDS[(SURROUNDS.indexOf(bench.state.surround) + 1) % 3] }),
  save: () => open("save"),
  vary: () => open("save", { as: "new" }),
};
const actOf = new Map(page.keys.map(({ press, act }) => [press, acts[act]]));

export default () => ({
  firstSeen: localStorage.getItem("plum-first") === "done",
  init() {
    changes.show();
    const lines = document.getElementById("lines");
    if (lines.scrollHeight > lines.clientHeight)
      lines.querySelector(`[data-dial="${bench.state.line}"]`).scrollIntoView({ block: "nearest" });
  },
  show: changes.show,
  wentBack: changes.wentBack,
  key(event) {
    if (isTyping(event.target) || event.defaultPrevented) return;
    const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
    if ((event.ctrlKey || event.metaKey) && (key === "z" || key === "y")) {
      event.preventDefault();
      const { before, after } = changes.trail;
      return changes.goPoint(key === "y" || event.shiftKey ? after : before);
    }
    if (isModified(event)) return;
    const arrow = key.startsWith("Arrow");
    if (arrow && event.target.matches("input[type=range]")) return;
    if (arrow && event.shiftKey && (bench.state.loupe || metersSpot())) return; // the mount's
    if (/^[1-9]$/.test(key)) return goScene(data.scenes[key - 1]?.id ?? bench.state.scene);
    const act = actOf.get(key);
    if (!act || (event.repeat && key.length === 1)) return;
    event.preventDefault();
    bench.repeats = event.repeat;
    act();
    bench.repeats = false;
  },
  keyUp(event) {
    if (actOf.get(event.key.toLowerCase()) === acts.hold) this.letGo();
  },
  letGo() {
    if (!bench.held) return;
    bench.held = false;
    showOther();
  },
  // What other parts of the page ask for.
  go({ what, id, value }) {
    if (what === "dial") goLine(id);
    else if (what === "scene") goScene(id);
    else if (what === "act") acts[id]();
    else if (what === "value") changes.goValue(id, value);
    else location.assign(`${data.urls.bench}?${benchQuery(data, { ...bench.state, scene: id })}`);
  },
  look: (way) => acts[way](),
  guess: () => flip("guess", BARE),
  isOn: (way) => Boolean(bench.state[way]),
  choose: (key, value) => change({ [key]: value }),
  intend({ target }) {
    change({ intent: target.value });
    target.blur(); // so that keys turn dials again
  },
  zebra: () => bench.state.stripes || zebra,
  zebraAt(level) {
    zebra = level;
    change({ ...BARE, stripes: level });
  },
  sceneLine: () => sceneOf(bench.state.scene)?.line ?? "",
  changes: () => data.reference.filter((at, k) => at !== bench.state.positions[k]).length,
  closeFirst() {
    localStorage.setItem("plum-first", "done");
    this.firstSeen = true;
  },
  // Whatever is begun is looked at on the scene at hand.
  begin(dialog) {
    for (const link of dialog.querySelectorAll("a[href]")) {
      const to = new URL(link.href);
      to.searchParams.set("scene", bench.state.scene);
      link.href = to.href;
    }
    dialog.showModal();
  },
  // The recipe in hand with its words, true at every change.
  inHand() {
    const { name, note, author, came } = data;
    return String(askQuery({ name, note, author, came: came?.code ?? "" }));
  },
  toWall() {
    const pairs = dialPairs(data, bench.state.positions);
    const said = [...editioned(data, new URLSearchParams(), pairs)].map((pair) => pair.join("="));
    const query = new URLSearchParams({ scene: bench.state.scene });
    query.append("r", data.slip ? `slip-${data.slip}.${data.version}` : `As shipped~${data.body}`);
    query.append("r", [data.name || "On the Bench", data.body, ...said].join("~"));
    return `${data.urls.wall}?${query}`;
  },
  async copy({ target }) {
    target.closest("details").open = false;
    await navigator.clipboard.writeText(location.href).then(
      () => say("The link is copied."),
      () => say("The browser does not let us copy; take the link from the address bar.", "fault"),
    );
  },
});

// The large picture, and what lies over it: marks, zebra, the map of differences, the reference, a
// peek.
import { renderUrl } from "./address.js";
import { aims } from "./conditions.js";
import { Peek } from "./peek.js";
import { bench, byId, data, index, windowId } from "./store.js";
import { say } from "./work.js";

let asked = null;
let asks = 0;
const pixels = (element) =>
  Math.min(1600, Math.max(320, Math.round(element.clientWidth * Math.min(devicePixelRatio, 2))));
export const frameWidth = () => pixels(byId("frame"));
export const metersSpot = () => aims(data.dials, bench.state.positions);
export const meterSpot = () => (metersSpot() ? bench.state.spot : "");
export const seen = (extra = {}) => ({
  detail: bench.state.loupe,
  place: bench.state.place,
  view: bench.state.view,
  written: bench.state.written || (data.dials[index.get(bench.state.line)].filed && extra.detail),
  ends: bench.state.ends ? bench.state.intent : "",
  spot: meterSpot(),
  ...extra,
});
const current = (width = frameWidth()) =>
  renderUrl(data, bench.state.scene, bench.state.positions, width, seen());
export const withDial = (dialId, place, width = frameWidth()) => {
  const positions = [...bench.state.positions];
  positions[index.get(dialId)] = place;
  return renderUrl(data, bench.state.scene, positions, width, seen());
};
// What the recipe is bench.held against: as shipped, the version that was opened, or another slip.
const referenceCode = () =>
  bench.state.than || (data.slip ? `slip-${data.slip}.${data.version}` : `As shipped~${data.body}`);
export const referenceName = () =>
  (bench.state.than ? byId("than").selectedOptions[0]?.textContent : data.referenceName) ??
  data.referenceName;
const referenceUrl = () =>
  bench.state.than
    ? renderUrl(
        data,
        bench.state.scene,
        bench.state.positions,
        frameWidth(),
        seen({ more: { code: bench.state.than } }),
      )
    : renderUrl(data, bench.state.scene, data.reference, frameWidth(), seen());
export const peek = new Peek(byId("peek"), byId("badge"), () => showOther());

export async function showPicture() {
  asked?.abort();
  const mine = (asked = new AbortController());
  const started = performance.now();
  byId("frame").setAttribute("aria-busy", "true");
  try {
    const headers = { "Plum-Ask": `${windowId}p.${(asks += 1)}` };
    const answer = await fetch(current(), { signal: mine.signal, headers });
    if (answer.status === 204) return; // something newer was asked for
    if (!answer.ok) throw new Error(answer.statusText);
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
    bench.crop = answer.headers.get("Plum-Crop")?.split(",").map(Number) ?? null;
    byId("frame").setAttribute("aria-busy", "false");
    document.dispatchEvent(
      new CustomEvent("plum:shown", {
        detail: { ms: performance.now() - started, server: answer.headers.get("Server-Timing") },
      }),
    );
    showMarks();
    showOther();
    showInset();
  } catch (error) {
    if (error.name === "AbortError") return;
    byId("frame").setAttribute("aria-busy", "false");
    say(
      "The picture did not come. See whether Zesty Plum is still running, then reload the page; " +
        "if that does not help, choose another scene.",
      "fault",
    );
  }
}

const LOUD = 0.01; // share of the frame without tone from which on it is marked
function readout(id, share) {
  byId(id).textContent =
    share === 0 ? "none" : share < 0.001 ? "< 0.1 %" : `${(share * 100).toFixed(1)} %`;
  byId(id).classList.toggle("loud", share >= LOUD);
}

async function showMarks() {
  const marks = byId("marks");
  const ways = { apart: "apart", stripes: "zebra", clip: "marks", guess: "guess" };
  const way = Object.keys(ways).find((flag) => bench.state[flag]);
  marks.hidden = !way;
  marks.classList.toggle("covers", bench.state.apart);
  if (!way) return;
  const more = bench.state.apart
    ? { than: referenceCode() }
    : bench.state.stripes
      ? { level: bench.state.stripes }
      : {};
  const url = renderUrl(data, bench.state.scene, bench.state.positions, frameWidth(), {
    detail: bench.state.loupe,
    place: bench.state.place,
    spot: meterSpot(),
    kind: ways[way],
    more,
  });
  marks.src = url;
  if (!bench.state.apart) return;
  const [mean, high] = ((await fetch(url)).headers.get("Plum-Difference") ?? "").split(" ");
  if (bench.state.apart && mean)
    badgeOf(`From ${referenceName()}: CIEDE2000 ${mean} on average, ${high} in the worst 5 %`);
}

// Sharpness, noise and grain act on photosites: a picture that fits the mount hardly has them.
export const tooFine = () => data.dials[index.get(bench.state.line)].fine && !bench.state.loupe;

// The part that tells most, at 100 %, in a corner of the picture.
function showInset() {
  const inset = byId("inset");
  inset.hidden = !tooFine() || bench.state.wipe || bench.held;
  if (inset.hidden) return;
  const width = Math.max(96, Math.round(inset.clientWidth * Math.min(devicePixelRatio, 2)));
  const more = seen({ detail: true });
  inset.src = renderUrl(data, bench.state.scene, bench.state.positions, width, more);
}

function badgeOf(words) {
  byId("badge").hidden = !words;
  byId("badge").textContent = words;
}

export function showOther() {
  const other = byId("other");
  const on = bench.held || bench.state.wipe;
  other.hidden = !on;
  byId("seam").hidden = byId("wipe").hidden = !bench.state.wipe || bench.held;
  const ways = [
    bench.state.loupe && "100 %",
    tooFine() && "Too fine for this size: corner and strip at 100 %",
    bench.state.written && "As the file is written",
    bench.state.ends && data.ends[bench.state.intent],
    bench.state.guess && "Striped: hardly taught, a guess",
    bench.state.stripes && `zebra at ${bench.state.stripes} %`,
    bench.state.view && byId("view").selectedOptions[0]?.textContent,
  ];
  badgeOf(
    bench.held
      ? `Reference: ${referenceName()}`
      : bench.state.wipe
        ? `Left: ${referenceName()}, right: now`
        : ways.filter(Boolean).join(", "),
  );
  if (on) {
    other.src = referenceUrl();
    const share = bench.held ? 100 : Number(byId("wipe").value);
    other.style.clipPath = `inset(0 ${100 - share}% 0 0)`;
    byId("seam").style.left = `${share}%`;
  }
}

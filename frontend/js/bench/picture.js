// The large picture, and what lies over it: marks, zebra, the map of differences, the reference,
// the part at 100 %.
import { say } from "../frame/notes.js";
import { renderUrl } from "./address.js";
import { bench, data, index, lineAt, meterSpot, numbered } from "./store.js";

const byId = (id) => document.getElementById(id);
const pixels = (wide, least) => Math.max(least, Math.round(wide * Math.min(devicePixelRatio, 2)));
const frameWidth = () => Math.min(1600, pixels(byId("frame").clientWidth, 320));
export const seen = (extra = {}) => ({
  detail: bench.state.loupe,
  place: bench.state.place,
  view: bench.state.view,
  written: bench.state.written || (lineAt().dial.filed && extra.detail),
  ends: bench.state.ends ? bench.state.intent : "",
  spot: meterSpot(),
  ...extra,
});
const here = (width, ways, positions = bench.state.positions) =>
  renderUrl(data, bench.state.scene, positions, width, ways);
export function withDials(places, width = frameWidth()) {
  const positions = [...bench.state.positions];
  for (const [id, place] of Object.entries(places)) positions[index.get(id)] = place;
  return here(width, seen(), positions);
}

// What the recipe is held against: as shipped, the version that was opened, or another slip.
const chosen = (id) => byId(id).selectedOptions[0]?.textContent;
const referenceName = () => (bench.state.than && chosen("than")) || data.referenceName;
const referenceUrl = () =>
  bench.state.than
    ? here(frameWidth(), seen({ more: { code: bench.state.than } }))
    : here(frameWidth(), seen(), data.reference);

let asked = null;
export async function showPicture() {
  asked?.abort();
  const { signal } = (asked = new AbortController());
  const started = performance.now();
  bench.busy = true;
  try {
    const headers = { "Plum-Ask": numbered("p").ask };
    const answer = await fetch(here(frameWidth(), seen()), { signal, headers });
    if (answer.status === 204) return; // something newer was asked for
    if (!answer.ok) throw new Error(answer.statusText);
    const fresh = new Image();
    fresh.src = URL.createObjectURL(await answer.blob());
    await fresh.decode();
    if (signal.aborted) return URL.revokeObjectURL(fresh.src);
    const old = byId("picture").src;
    byId("picture").src = fresh.src;
    if (old.startsWith("blob:")) URL.revokeObjectURL(old);
    const told = (name) => answer.headers.get(`Plum-${name}`);
    bench.ratio = fresh.naturalWidth / fresh.naturalHeight;
    bench.exposure = told("Exposure") ?? "";
    [bench.clipped, bench.crushed] = [Number(told("Clipped")), Number(told("Crushed"))];
    bench.crop = told("Crop")?.split(",").map(Number) ?? null;
    const detail = { ms: performance.now() - started, server: answer.headers.get("Server-Timing") };
    document.dispatchEvent(new CustomEvent("plum:shown", { detail }));
    showOther();
    cover(signal); // the strip need not wait for it
  } catch (error) {
    if (error.name === "AbortError") return;
    bench.busy = false;
    say(
      "The picture did not come. See whether Zesty Plum is still running, then reload the page; " +
        "if that does not help, choose another scene.",
      "fault",
    );
  }
}

// The address of a picture once it can be shown.
async function drawn(url) {
  if (url)
    await Object.assign(new Image(), { src: url })
      .decode()
      .catch(() => {});
  return url;
}

// What lies over the picture, all at once.
async function cover(signal) {
  const [marks, inset] = await Promise.all([marked(), close()].map(drawn));
  if (signal.aborted) return;
  Object.assign(bench.over, { marks, inset });
  bench.busy = false;
  if (marks && bench.state.apart) showDifference(marks);
}

const OVERLAYS = { apart: "apart", stripes: "zebra", clip: "marks", guess: "guess" };
function marked() {
  const { apart, stripes, loupe, place, than } = bench.state;
  const kind = OVERLAYS[Object.keys(OVERLAYS).find((flag) => bench.state[flag])];
  if (!kind) return null;
  const own = data.slip ? `slip-${data.slip}.${data.version}` : `As shipped~${data.body}`;
  const more = apart ? { than: than || own } : stripes ? { level: stripes } : {};
  return here(frameWidth(), { detail: loupe, place, spot: meterSpot(), kind, more });
}

async function showDifference(map) {
  const told = (await fetch(map)).headers.get("Plum-Difference");
  const [mean, high] = (told ?? "").split(" ");
  if (bench.state.apart && mean)
    bench.badge = `From ${referenceName()}: CIEDE2000 ${mean} on average, ${high} in the worst 5 %`;
}

// Sharpness, noise and grain act on photosites: a picture that fits the mount hardly has them.
const tooFine = () => lineAt().dial.fine && !bench.state.loupe;

// The part that tells most, at 100 %, in a corner of the picture.
function close() {
  const width = pixels(0.31 * byId("frame").clientWidth - 4, 96); // as wide as it is drawn
  const shows = tooFine() && !bench.state.wipe && !bench.held;
  return shows ? here(width, seen({ detail: true })) : null;
}

export function showOther() {
  const { wipe, loupe, written, ends, guess, stripes, view } = bench.state;
  bench.over.other = bench.held || wipe ? referenceUrl() : null;
  const ways = [
    loupe && "100 %",
    tooFine() && "Too fine for this size: corner and strip at 100 %",
    written && "As the file is written",
    ends && data.ends[bench.state.intent],
    guess && "Striped: hardly taught, a guess",
    stripes && `zebra at ${stripes} %`,
    view && chosen("view"),
  ];
  if (bench.held) bench.badge = `Reference: ${referenceName()}`;
  else if (wipe) bench.badge = `Left: ${referenceName()}, right: now`;
  else bench.badge = ways.filter(Boolean).join(", ");
}

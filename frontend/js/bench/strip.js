// The strip: every step of the line in hand, rendered.
import Alpine from "@alpinejs/csp";
import { ask } from "../frame/page.js";
import { renderUrl } from "./address.js";
import { turn } from "./changes.js";
import { peek, unpeek } from "./peek.js";
import { seen } from "./picture.js";
import { around } from "./conditions.js";
import { askQuery, bench, data, lineAt, numbered } from "./store.js";

const STRIP = 7;
const WIDE = 192; // pixels of a step's picture, where it is not shown at 100 %
const strip = () => document.getElementById("strip");

// The strip's places; their pictures come by `fillStrip`, and until then those before stay.
export function showStrip() {
  const { dial, at } = lineAt();
  const narrow = matchMedia("(width < 1024px)").matches;
  const places = around(dial.values.length, at, narrow ? dial.values.length : STRIP);
  const shipped = (place) =>
    place === dial.shipped && dial.labels[place].length <= 5 ? " shipped" : "";
  bench.strip = places.map((place, n) => ({
    place,
    pressed: place === at,
    best: false,
    src: bench.strip[n]?.src ?? null,
    name: `${dial.label} ${dial.labels[place]}`,
    purpose: dial.purposes[place] ?? "",
    words: dial.labels[place] + shipped(place),
  }));
  Alpine.nextTick(middle);
}

// Where all steps are in a row that scrolls, the present one stands in the middle of it.
function middle() {
  const row = strip();
  const pressed = row.querySelector('[aria-pressed="true"]');
  if (!pressed || row.scrollWidth <= row.clientWidth) return;
  const before = pressed.offsetLeft - row.offsetLeft;
  row.scrollLeft = before - (row.clientWidth - pressed.clientWidth) / 2;
}

export function fillStrip() {
  const { k, dial, at } = lineAt();
  const drawn = strip().querySelector("img")?.clientWidth ?? 0;
  const exact = Math.round(drawn * Math.min(devicePixelRatio, 2)) || WIDE;
  const [width, more] = dial.fine ? [exact, { detail: true }] : [WIDE, {}];
  // Nearest first: the browser asks in the order in which addresses are set.
  const order = [...bench.strip].sort((a, b) => Math.abs(a.place - at) - Math.abs(b.place - at));
  for (const step of order) {
    const positions = bench.state.positions.with(k, step.place);
    step.src = renderUrl(data, bench.state.scene, positions, width, seen(more));
  }
}

// Marks the steps of which the least is said, where more is said of the present one.
export async function showBest(got) {
  const steps = bench.strip;
  const query = askQuery({ ...numbered("b"), places: steps.map((step) => step.place).join(",") });
  const best = await ask(`${data.urls.best}?${query}`, got).catch(() => null);
  for (const step of best ? steps : []) step.best = best.includes(step.place);
}

export default () => ({
  take: (step) => turn(bench.state.line, step.place),
  look: (event, step) => step.pressed || peek(event, bench.state.line, step.place, step.name),
  leave: unpeek,
});

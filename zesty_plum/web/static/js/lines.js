// The lines of the dials on the Bench, and the strip of rendered steps of the one in hand.
import { renderUrl } from "./address.js";
import { idle } from "./conditions.js";
import { seen } from "./picture.js";
import { around } from "./places.js";
import { bench, byId, data, index, rows } from "./store.js";

const STRIP = 7;
const onOwn = () => Boolean(data.scenes.find((s) => s.id === bench.state.scene)?.own);

export function showSlip() {
  let changes = 0;
  data.dials.forEach((dial, k) => {
    const row = rows.get(dial.id);
    const at = bench.state.positions[k];
    const changed = at !== data.reference[k];
    changes += changed ? 1 : 0;
    row.classList.toggle("changed", changed);
    row.classList.toggle("here", dial.id === bench.state.line);
    const why = idle(data.dials, bench.state.positions, k, onOwn());
    row.classList.toggle("off", Boolean(why));
    row.tabIndex = dial.id === bench.state.line ? 0 : -1;
    row.setAttribute("aria-valuenow", at);
    const note = why ? "" : dial.notes[at];
    row.setAttribute("aria-valuetext", [dial.labels[at], note, why].filter(Boolean).join(", "));
    row.querySelector(".shown").textContent = dial.labels[at];
    row.querySelector(".cost").textContent = note;
    row.querySelector(".cost").hidden = !note;
    row.title = why;
    row
      .querySelectorAll(".notches rect")
      .forEach((rect, place) => rect.classList.toggle("at", place === at));
  });
  const words = changes === 1 ? "1 change" : `${changes} changes`;
  byId("slip-state").textContent = data.slip
    ? changes
      ? `${words} since version ${data.version}`
      : `Version ${data.version}, nothing changed`
    : changes
      ? `${words} from as shipped, not saved`
      : "Factory settings";
  byId("save").textContent = data.slip ? `Save version ${data.newest + 1}` : "Save";
  const k = index.get(bench.state.line);
  const dial = data.dials[k];
  const at = bench.state.positions[k];
  const why = idle(data.dials, bench.state.positions, k, onOwn());
  byId("gauge-title").textContent = `${dial.label}: ${dial.labels[at]}`;
  byId("gauge-purpose").textContent = why || dial.purposes[at] || dial.purpose;
  byId("gauge-means").textContent = [dial.means, !why && dial.here[at], dial.later]
    .filter(Boolean)
    .join(" ");
}

let filling = 0;
// The strip's places; its pictures come when what is returned is called.
export function showStrip() {
  const k = index.get(bench.state.line);
  const dial = data.dials[k];
  const here = bench.state.positions[k];
  const room = matchMedia("(max-width: 1023px)").matches ? dial.values.length : STRIP;
  const places = around(dial.values.length, here, room);
  const strip = byId("strip");
  while (strip.children.length < places.length) {
    const button = document.createElement("button");
    button.type = "button";
    button.append(new Image(), document.createElement("span"));
    strip.append(button);
  }
  while (strip.children.length > places.length) strip.lastChild.remove();
  // Nearest first: the browser asks in the order in which addresses are set.
  const order = [...places.keys()].sort(
    (a, b) => Math.abs(places[a] - here) - Math.abs(places[b] - here),
  );
  const mine = (filling += 1);
  const setAll = () => {
    for (const n of mine === filling ? order : []) {
      const positions = [...bench.state.positions];
      positions[k] = places[n];
      const image = strip.children[n].firstChild;
      const exact = Math.round(image.clientWidth * Math.min(devicePixelRatio, 2)) || 192;
      const [width, more] = dial.fine ? [exact, { detail: true }] : [192, {}];
      const url = renderUrl(data, bench.state.scene, positions, width, seen(more));
      if (image.getAttribute("src") !== url) image.src = url;
      image.alt = "";
    }
  };
  places.forEach((place, n) => {
    const button = strip.children[n];
    button.dataset.place = place;
    button.setAttribute("aria-pressed", place === here);
    button.setAttribute("aria-label", `${dial.label} ${dial.labels[place]}`);
    button.title = dial.purposes[place] ?? "";
    button.lastChild.textContent =
      dial.labels[place] +
      (place === dial.shipped && dial.labels[place].length <= 5 ? " shipped" : "");
  });
  // Where all steps are in a row that scrolls, the present one stands in the middle of it.
  const pressed = strip.children[here - places[0]];
  if (strip.scrollWidth > strip.clientWidth)
    strip.scrollLeft =
      pressed.offsetLeft - strip.offsetLeft - (strip.clientWidth - pressed.clientWidth) / 2;
  return setAll;
}

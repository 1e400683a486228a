// A day: shoots are moved along the line of time by dragging or keys, slots that fit come as they
// are worked out, and a form says what a shoot would need while it is filled in.
import { told } from "./work.js";

const STEP = 5;
const sky = document.querySelector(".sky");

async function move(bar, by) {
  const form = new FormData();
  form.set("by", by);
  const answer = await told(bar.dataset.move, "Moving it", form);
  if (answer) location.assign(answer.to);
}

function drag(bar, down) {
  const minute = sky.getBoundingClientRect().width / sky.dataset.minutes;
  const wide = sky.viewBox.baseVal.width;
  const from = Number(bar.getAttribute("x"));
  let by = 0;
  const moved = (event) => {
    by = Math.round((event.clientX - down.clientX) / minute / STEP) * STEP;
    bar.setAttribute("x", from + (by * wide) / sky.dataset.minutes);
  };
  bar.setPointerCapture(down.pointerId);
  bar.addEventListener("pointermove", moved);
  bar.addEventListener(
    "pointerup",
    () => {
      bar.removeEventListener("pointermove", moved);
      if (by) move(bar, by);
      else document.querySelector(`a[data-of="${bar.dataset.shoot}"]`)?.click();
    },
    { once: true },
  );
}

const KEYS = { ArrowLeft: -STEP, ArrowRight: STEP, PageDown: -30, PageUp: 30 };
for (const bar of document.querySelectorAll("[data-move]")) {
  bar.addEventListener("pointerdown", (event) => drag(bar, event));
  bar.addEventListener("keydown", (event) => {
    if (event.key === "Enter")
      return document.querySelector(`a[data-of="${bar.dataset.shoot}"]`)?.click();
    if (!(event.key in KEYS)) return;
    event.preventDefault();
    move(bar, KEYS[event.key]);
  });
}

// From each bar to its card, while the cards stand in one row.
function tie() {
  document.getElementById("ties")?.remove();
  const bars = [...document.querySelectorAll(".sky .at")];
  const cards = [...document.querySelectorAll(".slots > .slot")];
  const tops = new Set(cards.map((card) => Math.round(card.getBoundingClientRect().top)));
  if (!bars.length || tops.size !== 1 || bars.length !== cards.length) return;
  const holder = document.querySelector(".ties");
  const box = holder.getBoundingClientRect();
  const svg = document.createElementNS("http://www.w3.org/2000/svg", "svg");
  svg.id = "ties";
  svg.setAttribute("aria-hidden", "true");
  svg.setAttribute("viewBox", `0 0 ${box.width} ${box.height}`);
  bars.forEach((bar, k) => {
    const [b, c] = [bar.getBoundingClientRect(), cards[k].getBoundingClientRect()];
    const from = (b.left + b.right) / 2 - box.left;
    const to = (c.left + c.right) / 2 - box.left;
    const line = document.createElementNS("http://www.w3.org/2000/svg", "polyline");
    const [y, half] = [box.height, box.height / 2];
    line.setAttribute("points", `${from},0 ${from},${half - 3} ${to},${half + 3} ${to},${y}`);
    svg.append(line);
  });
  holder.append(svg);
}
tie();
addEventListener("resize", tie);
document.fonts?.ready.then(tie);

// Slots that fit are rendered and judged on the way; what is known already came with the page.
async function fit(small) {
  const answer = await fetch(small.dataset.fits).catch(() => null);
  const found = answer?.ok ? await answer.json() : { words: "No slot could be looked for." };
  small.textContent = found.words;
  const use = document.getElementById("use");
  if (found.at && use && small.closest("[data-held]")) {
    use.querySelector('[name="at"]').value = found.at;
    use.querySelector("button").textContent = `Use ${found.name}`;
    use.hidden = false;
  }
}
(async () => {
  for (const small of document.querySelectorAll("[data-fits]")) await fit(small);
})();

// What the shoot would need, as the form stands.
for (const form of document.querySelectorAll("[data-try]")) {
  let soon = 0;
  let asked = 0;
  form.addEventListener("input", () => {
    clearTimeout(soon);
    soon = setTimeout(async () => {
      const mine = (asked += 1);
      const answer = await fetch(form.dataset.try, {
        method: "POST",
        body: new FormData(form),
        headers: { Accept: "application/json" },
      }).catch(() => null);
      const said = await answer?.json().catch(() => null);
      if (mine !== asked || !said) return;
      const told_ = said.printed
        ? [`${said.printed}.`, ...said.warnings.map((w) => `${w}.`), said.apart]
        : [said.error];
      form.querySelector(".tried").textContent = told_.filter(Boolean).join(" ");
    }, 120);
  });
}

// What was ticked stays so on this machine, as long as it says the same.
const list = document.querySelector("[data-ticks]");
if (list) {
  const key = `plum-leaving-${list.dataset.ticks}`;
  const boxes = [...list.querySelectorAll("input")];
  const words = (box) => box.parentElement.textContent.trim();
  const done = new Set(JSON.parse(localStorage.getItem(key) ?? "[]"));
  const keep = () =>
    localStorage.setItem(key, JSON.stringify(boxes.filter((b) => b.checked).map(words)));
  for (const box of boxes) box.checked ||= done.has(words(box)); // one may be ticked already
  keep();
  list.addEventListener("change", keep);
}

// A place that is known brings its degrees, zone and mains.
for (const field of document.querySelectorAll('input[list="places"]'))
  field.addEventListener("change", () => {
    const known = [...field.list.options].find((o) => o.value === field.value);
    for (const [name, value] of Object.entries(known?.dataset ?? {}))
      field.form.elements[name].value = value;
  });

// What the server says of the recipe while the hand rests: gauges, verdicts, the better steps.
import { dialPairs, renderUrl } from "./address.js";
import { Gauge } from "./gauge.js";
import { Margin } from "./margin.js";
import { pairOf } from "./conditions.js";
import { drawPatches } from "./patches.js";
import { meterSpot, peek, seen, withDial } from "./picture.js";
import { peeksOver } from "./peek.js";
import { bench, byId, data, index, windowId } from "./store.js";

const gauge = new Gauge(byId("curve"));

export const askQuery = (more = {}) => {
  const query = new URLSearchParams(dialPairs(data, bench.state.positions));
  for (const [key, value] of Object.entries({
    scene: bench.state.scene,
    body: data.body,
    intent: bench.state.intent,
    line: bench.state.line,
    schools: chosenSchools(),
    spot: meterSpot(),
    ...more,
  }))
    query.set(key, value);
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

// The server drops what it works out for this window when the window asks anew.
let asks = 0;
const numbered = (kind) => ({ ask: `${windowId}${kind}.${(asks += 1)}` });
const REST = 260; // milliseconds that the hand has to rest before verdicts are worked out

let verdictsDue = null;
let factsAsked = null;
// What was about to be asked of the recipe before is not asked any more.
export function hush() {
  factsAsked?.abort();
  clearTimeout(verdictsDue);
}

export async function showFacts() {
  hush();
  factsAsked = new AbortController();
  byId("verdicts").setAttribute("aria-busy", "true");
  const mine = factsAsked.signal;
  const ask = async (url) => {
    const answer = await fetch(url, { signal: mine, headers: { Accept: "application/json" } });
    return answer.status === 200 ? answer.json() : null;
  };
  try {
    const facts = await ask(`${data.urls.facts}?${askQuery()}`);
    if (!facts) return;
    byId("white").textContent = facts.white;
    byId("room").textContent = facts.room;
    byId("guess").hidden = !facts.guess;
    byId("guess").textContent = `${Math.max(1, Math.round(100 * facts.guess))} % a guess`;
    byId("guess").setAttribute("aria-pressed", Boolean(bench.state.guess));
    const pair = pairOf(data.pairs, bench.state.line);
    byId("curve").toggleAttribute("hidden", facts.kind !== "tone");
    byId("gauge-own").hidden = facts.kind === "tone" || Boolean(pair);
    byId("patches").hidden = !pair;
    if (facts.kind === "tone") gauge.draw(facts);
    else if (pair)
      drawPatches(byId("patches"), {
        dials: data.dials,
        positions: bench.state.positions,
        pair,
        url: (there) => renderUrl(data, bench.state.scene, there, 96, seen()),
        choose: (places) => takenAll(places),
      });
    else byId("gauge-own").innerHTML = facts.gauge;
    showSteps();
    showRemains(ask);
    clearTimeout(verdictsDue);
    verdictsDue = setTimeout(() => {
      const verdicts = (more) => () =>
        `${data.urls.verdicts}?${askQuery({ ...numbered("v"), ...more })}`;
      if (!mine.aborted)
        margin.ask(verdicts({ mends: "later" }), verdicts({})).then(() => showBest(ask));
    }, REST);
  } catch (error) {
    if (error.name !== "AbortError") throw error;
  }
}

// What remains beside the recipe on another body that this one came from.
async function showRemains(ask) {
  if (!data.came) return;
  const told = await ask(`${data.urls.remains}?${askQuery({ came: data.came.code })}`).catch(
    () => null,
  );
  if (told) byId("came-said").textContent = told.said;
}

// Dots on the steps of which the least is said, where more is said of the present one.
async function showBest(ask) {
  const buttons = [...byId("strip").children];
  for (const button of buttons) button.classList.remove("best");
  if (!margin.found.length) return;
  const places = buttons.map((b) => b.dataset.place).join(",");
  const query = askQuery({ ...numbered("b"), places });
  const weights = await ask(`${data.urls.best}?${query}`).catch(() => null);
  const here = weights?.[bench.state.positions[index.get(bench.state.line)]];
  if (here === undefined) return;
  const least = Math.min(...Object.values(weights));
  for (const button of buttons)
    if (least < here - 0.05 && weights[button.dataset.place] <= least + 0.05)
      button.classList.add("best");
}

// Filled in by the Bench, which alone changes the bench.state.
let taken = () => {};
let takenAll = () => {};
export function onTake(one, several) {
  taken = one;
  takenAll = several;
}

const margin = new Margin({
  list: byId("verdicts"),
  more: byId("more-verdicts"),
  spot: byId("spot"),
  peek,
  urlWith: withDial,
  take: (...where) => taken(...where),
});
peeksOver(
  byId("strip"),
  (target) => {
    const button = target.closest("button");
    if (!button || button.getAttribute("aria-pressed") === "true") return null;
    return {
      url: withDial(bench.state.line, Number(button.dataset.place)),
      words: `Would be: ${button.getAttribute("aria-label")}`,
    };
  },
  peek,
);

// In words, what the steps next to where the dial stands would do in this scene; asked for only
// while somebody reads it.
export async function showSteps() {
  if (!byId("steps").open) return;
  const list = byId("steps-list");
  list.setAttribute("aria-busy", "true");
  const answer = await fetch(`${data.urls.effects}?${askQuery(numbered("e"))}`, {
    headers: { Accept: "application/json" },
  }).catch(() => null);
  if (answer?.status === 204) return; // something newer was asked for
  const moves = answer?.ok ? await answer.json() : [];
  const said = moves.map(({ sentence }) =>
    Object.assign(document.createElement("li"), { textContent: sentence }),
  );
  list.replaceChildren(...said);
  list.setAttribute("aria-busy", "false");
}

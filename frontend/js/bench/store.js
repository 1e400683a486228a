// What the parts of the Bench share: the page's data, and the state that the address holds.
import Alpine from "@alpinejs/csp";
import { dialPairs, editioned } from "./address.js";
import { aims, idle } from "./conditions.js";

// On other pages there is none, and nothing of it is used.
const holder = document.getElementById("bench-data");
export const data = holder ? JSON.parse(holder.textContent) : null;
// The server drops what it works out for this window when the window asks anew.
export const windowId = Math.random().toString(36).slice(2);
export const index = new Map(data?.dials.map((dial, k) => [dial.id, k]));

Alpine.store("bench", {
  state: data && structuredClone(data.state),
  busy: true, // the large picture is under way
  judging: true, // verdicts are
  took: 0, // how often a picture was asked for
  repeats: false, // steps come from a key that is held
  held: false, // the reference is looked at while a key is held
  wiped: 50, // per cent of the frame that shows it while it is wiped
  crop: null, // the part shown at 100 %, in photosites
  ratio: 1.5,
  over: { other: null, marks: null, inset: null, peek: null, spot: null },
  badge: "",
  peekWords: "",
  exposure: "",
  clipped: null,
  crushed: null,
  facts: { white: "–", room: "", guess: 0, gauge: "" },
  came: "", // what remains beside the recipe that this one came from
  strip: [],
  schools: (localStorage.getItem("plum-schools") ?? "").split(",").filter(Boolean),
});
export const bench = Alpine.store("bench");

export const sceneOf = (id) => data.scenes.find((scene) => scene.id === id);
export const lineAt = () => {
  const k = index.get(bench.state.line);
  return { k, dial: data.dials[k], at: bench.state.positions[k] };
};
export const idleAt = (k) =>
  idle(data.dials, bench.state.positions, k, Boolean(sceneOf(bench.state.scene)?.own));
export const metersSpot = () => aims(data.dials, bench.state.positions);
export const meterSpot = () => (metersSpot() ? bench.state.spot : "");

// What is asked of the server about the recipe on the slip.
export function askQuery(more = {}) {
  const query = editioned(data, new URLSearchParams(), dialPairs(data, bench.state.positions));
  const { scene, intent, line } = bench.state;
  const said = { scene, body: data.body, intent, line, schools: bench.schools, spot: meterSpot() };
  for (const [key, value] of Object.entries({ ...said, ...more })) query.set(key, value);
  return query;
}

let asks = 0;
export const numbered = (kind) => ({ ask: `${windowId}${kind}.${(asks += 1)}` });

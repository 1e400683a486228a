// What the server says of the recipe while the hand rests.
import { ask } from "../frame/page.js";
import { askQuery, bench, data } from "./store.js";

let asked = null;
const waiting = []; // parts of the page that ask for more once the facts are there

// Asks `more` with the options of a request that ends when something newer is asked for.
export const afterFacts = (more) => waiting.push(more);

// What was about to be asked of the recipe before is not asked any more.
export const hush = () => asked?.abort();

export async function showFacts() {
  hush();
  bench.judging = true;
  const { signal } = (asked = new AbortController());
  const got = { signal, headers: { Accept: "application/json" } };
  try {
    const facts = await ask(`${data.urls.facts}?${askQuery()}`, got);
    if (!facts) return;
    bench.facts = facts;
    for (const more of waiting) more(got);
  } catch (error) {
    if (error.name !== "AbortError") throw error;
  }
}

// Verdicts beside the picture: as many as fit whole, the rest on demand, each with its mend.
import { ask } from "../frame/page.js";
import { turn } from "./changes.js";
import { afterFacts } from "./facts.js";
import { peek, unpeek } from "./peek.js";
import { askQuery, bench, data, numbered } from "./store.js";
import { showBest } from "./strip.js";

const FIRST = 3;
const REST = 260; // milliseconds that the hand has to rest before verdicts are worked out
const WAYS = ["loose", "tight", "tighter"];
const named = ({ mend }) => `${mend.label} ${mend.printed}`;

export default () => ({
  found: [],
  all: false,
  many: FIRST, // how many fit
  init() {
    afterFacts((got) => setTimeout(() => got.signal.aborted || this.ask(got), REST));
  },
  // What is said at once; what could be done about it, which is tried on the picture, follows.
  async ask(got) {
    try {
      for (const more of [{ mends: "later" }, {}]) {
        const query = askQuery({ ...numbered("v"), ...more });
        const found = await ask(`${data.urls.verdicts}?${query}`, got);
        if (!found) return;
        await this.draw(found);
        if (!found.length) break;
      }
      bench.judging = false;
      if (this.found.length) showBest(got);
    } catch (error) {
      if (error.name !== "AbortError") throw error;
    }
  },
  // Room comes first from what is said of the dial in general, then from the curve's height, then
  // from the last verdict.
  async draw(found) {
    this.rest();
    this.found = found;
    this.many = this.all ? found.length : Math.min(FIRST, found.length);
    await null; // until the list stands there, before it is painted
    const panel = this.$root.closest("[data-fits]");
    const rows = this.$refs.list.querySelectorAll("li");
    for (const row of rows) row.hidden = false;
    const overflows = () => panel.scrollHeight > panel.clientHeight + 1;
    const fits = (way) => ((panel.dataset.fits = way), !overflows());
    if (WAYS.some(fits) || this.all) return;
    while (this.many > 1 && overflows()) rows[(this.many -= 1)].hidden = true;
    WAYS.some(fits);
  },
  more() {
    return this.all ? "Only the weightiest" : `${this.found.length - this.many} more`;
  },
  hasMore() {
    return this.found.length > (this.all ? FIRST : this.many);
  },
  turnAll() {
    this.all = !this.all;
    this.draw(this.found);
  },
  point: (verdict) => (bench.over.spot = verdict.at ?? null),
  look(event, verdict) {
    this.point(verdict);
    peek(event, verdict.mend.dial, verdict.mend.place, named(verdict));
  },
  rest() {
    bench.over.spot = null;
    unpeek();
  },
  named,
  then: (verdict) => verdict.mend.sentence.slice(named(verdict).length),
  take: ({ mend }) => turn(mend.dial, mend.place),
});

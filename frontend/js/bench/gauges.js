// What stands beside the picture: what the dial in hand does, its gauge, and what was measured.
import { ask } from "../frame/page.js";
import { goLine } from "./changes.js";
import { pairOf } from "./conditions.js";
import { afterFacts, showFacts } from "./facts.js";
import { askQuery, bench, data, idleAt, lineAt, numbered } from "./store.js";

const LOUD = 0.01; // share of the frame without tone from which on it is marked
const why = () => idleAt(lineAt().k);

export default () => ({
  steps: [],
  stepsBusy: false,
  init() {
    this.$watch("$store.bench.facts", ({ gauge }) => (this.$refs.gauge.innerHTML = gauge));
    afterFacts(() => this.showSteps());
    afterFacts((got) => this.showRemains(got));
  },
  title: () => `${lineAt().dial.label}: ${lineAt().dial.labels[lineAt().at]}`,
  purpose: () => why() || lineAt().dial.purposes[lineAt().at] || lineAt().dial.purpose,
  means() {
    const { dial, at } = lineAt();
    return [dial.means, !why() && dial.here[at], dial.later].filter(Boolean).join(" ");
  },
  isPair: () => Boolean(pairOf(data.pairs, bench.state.line)),
  isLoud: (share) => share >= LOUD,
  share(share) {
    if (share === null) return "–";
    if (share === 0) return "none";
    return share < 0.001 ? "< 0.1 %" : `${(share * 100).toFixed(1)} %`;
  },
  // The hue ring's chips lead to the lines of their hues.
  follow({ target }) {
    const chip = target.closest("[data-line]");
    if (chip) goLine(chip.dataset.line);
  },
  // In words, what the steps next to where the dial stands would do in this scene; asked for only
  // while somebody reads it.
  async showSteps() {
    if (!this.$refs.steps.open) return;
    this.stepsBusy = true;
    const moves = await ask(`${data.urls.effects}?${askQuery(numbered("e"))}`);
    if (!moves) return; // something newer was asked for
    this.steps = moves.map(({ sentence }) => sentence);
    this.stepsBusy = false;
  },
  // What remains beside the recipe on another body that this one came from.
  async showRemains(got) {
    if (!data.came) return;
    const query = askQuery({ came: data.came.code });
    const told = await ask(`${data.urls.remains}?${query}`, got).catch(() => null);
    if (told) bench.came = told.said;
  },
  // The school is a setting of the person: it stays in this browser and counts for every recipe.
  follows: (school) => bench.schools.split(",").includes(school),
  chooseSchools() {
    const boxes = [...this.$root.querySelectorAll("input[type=checkbox]:checked")];
    bench.schools = boxes.map((box) => box.value).join(",");
    localStorage.setItem("plum-schools", bench.schools);
    showFacts();
  },
});

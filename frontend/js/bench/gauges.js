// What stands beside the picture: what the dial in hand does, its gauge, and what was measured.
import { each } from "../frame/each.js";
import { ask } from "../frame/page.js";
import { goLine, turnAll } from "./changes.js";
import { afterFacts, showFacts } from "./facts.js";
import { withDials } from "./picture.js";
import { askQuery, bench, data, idleAt, lineAt, numbered } from "./store.js";

const LOUD = 0.01; // share of the frame without tone from which on it is marked
const PATCH = 96; // pixels

// Patches of a square, those around the present one first, until something newer is asked for.
function fillPatches(holder) {
  const cells = [...holder.querySelectorAll("[data-places]")];
  cells.sort((a, b) => a.dataset.order - b.dataset.order);
  const { took } = bench;
  const draw = ({ firstElementChild: image, dataset }) => {
    image.src = withDials(JSON.parse(dataset.places), PATCH);
    return image.decode().catch(() => {});
  };
  each(cells, draw, () => took === bench.took);
}
const why = () => idleAt(lineAt().k);

export default () => ({
  steps: [],
  stepsBusy: false,
  init() {
    this.$watch("$store.bench.facts", ({ gauge }) => {
      this.$refs.gauge.innerHTML = gauge;
      fillPatches(this.$refs.gauge);
    });
    afterFacts(() => this.showSteps());
    afterFacts((got) => this.showRemains(got));
  },
  title: () => `${lineAt().dial.label}: ${lineAt().dial.labels[lineAt().at]}`,
  purpose: () => why() || lineAt().dial.purposes[lineAt().at] || lineAt().dial.purpose,
  means() {
    const { dial, at } = lineAt();
    return [dial.means, !why() && dial.here[at], dial.later].filter(Boolean).join(" ");
  },
  isLoud: (share) => share >= LOUD,
  share(share) {
    if (share === null) return "–";
    if (share === 0) return "none";
    return share < 0.001 ? "< 0.1 %" : `${(share * 100).toFixed(1)} %`;
  },
  // The hue ring's chips lead to the lines of their hues; of a square's patches one is taken.
  follow({ type, target }) {
    const { line, places } = target.closest("[data-line], [data-places]")?.dataset ?? {};
    if (line) goLine(line);
    else if (places && type === "click") turnAll(JSON.parse(places));
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
  chooseSchools() {
    localStorage.setItem("plum-schools", bench.schools);
    showFacts();
  },
});

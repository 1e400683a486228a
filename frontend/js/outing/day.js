// A day: shoots are moved along its line of time, and slots that fit come when they are known.
import { ask } from "../frame/page.js";
import { told } from "../frame/work.js";

const STEP = 5; // minutes
const LOST = { words: "No slot could be looked for.", at: "", name: "" };

export default (minutes) => ({
  ties: "", // a path from each bar to its card
  tied: "0 0 1 1", // the box that it is drawn in
  fits: {}, // by the id of a shoot
  async init() {
    document.fonts.ready.then(() => this.tie());
    // Slots that fit are rendered and judged on the way; what is known already came with the page.
    for (const { dataset } of this.$root.querySelectorAll("[data-fits]"))
      this.fits[dataset.shoot] = (await ask(dataset.fits)) ?? LOST;
  },
  found(shoot) {
    return this.fits[shoot] ?? { ...LOST, words: "Looking for a slot that fits" };
  },
  // Only while the cards stand in one row.
  tie() {
    const bars = [...this.$root.querySelectorAll("[data-bar]")];
    const cards = [...this.$root.querySelectorAll("[data-card]")];
    const tops = new Set(cards.map((card) => Math.round(card.getBoundingClientRect().top)));
    const box = this.$refs.ties.getBoundingClientRect();
    this.tied = `0 0 ${box.width} ${box.height}`;
    const middle = (element) => {
      const { left, right } = element.getBoundingClientRect();
      return (left + right) / 2 - box.left;
    };
    const half = box.height / 2;
    const way = (from, to) => `M${from} 0V${half - 3}L${to} ${half + 3}V${box.height}`;
    const ways = bars.map((bar, k) => way(middle(bar), middle(cards[k])));
    this.ties = tops.size === 1 ? ways.join("") : "";
  },
  async move(url, by) {
    const form = new FormData();
    form.set("by", by);
    const answer = await told(url, "Moving it", form);
    if (answer) location.assign(answer.to);
  },
  open(shoot) {
    this.$root.querySelector(`[data-card="${shoot}"] a`).click();
  },
  drag(down, url, shoot) {
    const bar = down.currentTarget;
    const sky = bar.ownerSVGElement;
    const minute = sky.getBoundingClientRect().width / minutes;
    const from = Number(bar.getAttribute("x"));
    let by = 0;
    const moved = ({ clientX }) => {
      by = Math.round((clientX - down.clientX) / minute / STEP) * STEP;
      bar.setAttribute("x", from + (by * sky.viewBox.baseVal.width) / minutes);
    };
    const up = () => {
      bar.removeEventListener("pointermove", moved);
      if (by) this.move(url, by);
      else this.open(shoot);
    };
    bar.setPointerCapture(down.pointerId);
    bar.addEventListener("pointermove", moved);
    bar.addEventListener("pointerup", up, { once: true });
  },
});

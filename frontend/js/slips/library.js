// The library: search as you type, parts that come when they are scrolled to, and what is selected.
import { piece, urls } from "../frame/page.js";

const SOON = 90; // milliseconds of rest after which a search is made
const AHEAD = "1200px"; // parts are fetched this far before they are seen
const BOX = 'input[name="id"]';

async function fetched(url) {
  const answer = await fetch(url).catch(() => null);
  return answer?.ok ? piece(await answer.text()) : null;
}

let asked = 0;
let soon = 0;
export default () => ({
  picked: [], // selected ids, also of cards that a search has put away
  here: [], // ids of the cards that are shown
  all: false,
  init() {
    this.near = new IntersectionObserver((seen) => this.fill(seen), { rootMargin: AHEAD });
    // What was selected before this script ran, or before the page was left, is selected.
    this.picked = this.every(`${BOX}:checked`).map((box) => box.value);
    this.all = this.$refs.all.checked;
    this.watch();
    const { text } = this.$refs;
    if (text.value !== text.defaultValue) this.search(); // typed before this script ran
  },
  every(what) {
    return [...this.$refs.shelf.querySelectorAll(what)];
  },
  away() {
    return this.picked.filter((id) => !this.here.includes(id));
  },
  pick({ target }) {
    if (target.name !== "id") return;
    const others = this.picked.filter((id) => id !== target.value);
    this.picked = target.checked ? [...others, target.value] : others;
  },
  none() {
    [this.picked, this.all] = [[], false];
    this.mark();
  },
  mark() {
    this.here = this.every(BOX).map((box) => box.value);
    for (const box of this.every(BOX)) box.checked = this.picked.includes(box.value);
  },
  watch() {
    this.reserve();
    for (const part of this.every("[data-part]")) this.near.observe(part);
    this.mark();
  },
  // Cards are of one height, so what has not come yet takes the room that it will need.
  reserve() {
    const card = this.$refs.shelf.querySelector("article");
    if (!card) return;
    const { gridTemplateColumns, rowGap } = getComputedStyle(card.parentElement);
    const [columns, gap] = [gridTemplateColumns.split(" ").length, parseFloat(rowGap)];
    const row = card.getBoundingClientRect().height + gap;
    for (const part of this.every("[data-part]"))
      part.style.height = `${Math.ceil(part.dataset.count / columns) * row - gap}px`;
  },
  async fill(seen) {
    for (const { isIntersecting, target } of seen) {
      const url = target.dataset.part;
      if (!isIntersecting || !url) continue;
      delete target.dataset.part;
      const cards = await fetched(url);
      if (cards) {
        target.replaceChildren(cards);
        target.style.height = "";
        this.mark();
      } else target.dataset.part = url; // asked again when it is next seen
    }
  },
  searchSoon() {
    clearTimeout(soon);
    soon = setTimeout(() => this.search(), SOON);
  },
  async search() {
    const mine = (asked += 1);
    const args = new URLSearchParams(new FormData(this.$refs.search));
    if (!args.get("q")) args.delete("q");
    const found = await fetched(`${urls.slips}?${args}&part=found`);
    if (mine !== asked || !found) return;
    this.$refs.shelf.replaceChildren(found);
    this.$refs.picked.elements.q.value = args.get("q") ?? "";
    history.replaceState(null, "", `${urls.slips}?${args}`);
    this.watch();
  },
});

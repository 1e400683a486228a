// The row of scenes: the chosen one is brought into view, and pictures of one's own are taken in.
import { isNew } from "../frame/page.js";
import { takeEach, takeFiles } from "../frame/takein.js";
import { goScene } from "./changes.js";
import { bench } from "./store.js";

const ASIDE = 40; // pixels of the row before the chosen one

export default () => ({
  init() {
    this.bring();
    this.$watch("$store.bench.state.scene", () => this.bring());
    if (isNew) this.take(); // chosen before this script ran
  },
  // The row is longer than a phone is wide; the page itself does not move.
  bring() {
    const link = this.$root.querySelector(`[data-scene="${bench.state.scene}"]`);
    const left = (element) => element.getBoundingClientRect().left;
    if (link) this.$root.scrollLeft += left(link) - left(this.$root) - ASIDE;
  },
  here: (id) => (bench.state.scene === id ? "true" : null),
  go(event, id) {
    if (event.ctrlKey || event.metaKey || event.shiftKey) return;
    event.preventDefault();
    goScene(id);
  },
  take() {
    const files = [...this.$refs.own.files];
    if (files.length > 1) takeFiles(files);
    else takeEach(files);
  },
});

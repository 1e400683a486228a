// The recipe in every scene at once, or in a chosen few; where it fails its intent is marked.
import { each } from "../frame/each.js";
import { ask } from "../frame/page.js";
import { filled, renderUrl } from "./address.js";
import { goScene } from "./changes.js";
import { askQuery, bench, data } from "./store.js";

const LEFT_OUT = "plum-scenes-left-out";
const WIDE = 288;

let drawing = 0;
export default () => ({
  scenes: data.scenes,
  left: (localStorage.getItem(LEFT_OUT) ?? "").split(",").filter(Boolean),
  cells: [],
  looked: 0,
  open() {
    this.$root.showModal();
    this.draw();
  },
  empty() {
    drawing += 1;
    this.cells = [];
  },
  choose({ id }) {
    const without = this.left.filter((other) => other !== id);
    this.left = this.left.includes(id) ? without : [...without, id];
    localStorage.setItem(LEFT_OUT, this.left.join(","));
    this.draw();
  },
  told() {
    const [many, failed] = [this.cells.length, this.cells.filter((cell) => cell.fails).length];
    if (!many) return "No scene is chosen.";
    if (this.looked < many) return `Looked at ${this.looked} of ${many} …`;
    if (failed) return `It falls short in ${failed} of ${many} scenes.`;
    return `It does what it is for in all ${many} scenes.`;
  },
  draw() {
    const mine = (drawing += 1);
    const { positions, view } = bench.state;
    const src = (id) => renderUrl(data, id, positions, WIDE, { view });
    this.looked = 0;
    this.cells = this.scenes
      .filter(({ id }) => !this.left.includes(id))
      .map(({ id, title }) => ({ id, title, src: src(id), says: "", fails: false }));
    const look = async (cell) => {
      const said = await ask(`${filled(data.urls.failing, cell.id)}?${askQuery()}`);
      this.looked += 1;
      cell.says = (said?.sentence ?? "") + (said?.more ? ` And ${said.more} more.` : "");
      cell.fails = Boolean(said?.fails);
    };
    each(this.cells, look, () => mine === drawing);
  },
  go(cell) {
    this.$root.close();
    goScene(cell.id);
  },
});

// Files that are dropped anywhere on a page.
import { takeFiles, within } from "./takein.js";

const carries = (event) => event.dataTransfer?.types.includes("Files");

export default () => ({
  depth: 0,
  enter(event, by) {
    if (carries(event)) this.depth = Math.max(0, this.depth + by);
  },
  over: (event) => carries(event) && event.preventDefault(),
  async drop(event) {
    if (!carries(event)) return;
    event.preventDefault();
    this.depth = 0;
    takeFiles(await within(event.dataTransfer));
  },
});

// Words that take a moment to work out, and come when they are known; one after another.
import { ask } from "./page.js";

let before = Promise.resolve();
export default (url) => ({
  words: "",
  async init() {
    this.words = (await (before = before.then(() => ask(url))))?.words ?? "";
  },
});

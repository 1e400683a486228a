// Words that take a moment to work out, and come when they are known.
import { ask } from "./page.js";

export default (url) => ({
  words: "",
  async init() {
    this.words = (await ask(url))?.words ?? "";
  },
});

// Finds places, dials, scenes, commands, slips, days and shoots by their names.
import { ask, goTo, urls } from "./page.js";

let asking = null; // until what is typed has been looked for
export default (body) => ({
  text: "",
  at: 0,
  closed: true,
  found: null,
  init() {
    this.$watch("text", () => (asking = this.find(this.text.trim())));
  },
  async find(q) {
    const found = q ? await ask(`${urls.find}?${new URLSearchParams({ q, body })}`) : null;
    if (q === this.text.trim()) this.found = found ?? [];
  },
  open() {
    return !this.closed && this.found !== null && this.text.trim() !== "";
  },
  look() {
    [this.closed, this.at] = [false, 0];
  },
  step(by) {
    const count = this.found?.length;
    if (count) this.at = (this.at + count + by) % count;
  },
  async takeAt() {
    await asking;
    const entry = this.found?.[Math.min(this.at, this.found.length - 1)];
    if (entry) this.take(entry);
  },
  take({ url, what, id }) {
    this.text = "";
    document.getElementById("find").blur();
    if (url) location.assign(url);
    else goTo(what, id);
  },
});

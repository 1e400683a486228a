// A question of a drill: its time, flicking, keys, and the pictures of the next one ahead.
import { isModified } from "../frame/page.js";

const typing = (target) => target.closest("input, textarea, select") !== null;

export default (ahead) => ({
  began: performance.now(),
  own: "", // the right picture, while the left one is shown in its place
  init() {
    this.$refs.next?.focus();
    // One after the other, after this page itself.
    addEventListener("load", async () => {
      for (const url of ahead) await fetch(url, { priority: "low" }).catch(() => null);
    });
  },
  stop() {
    this.$refs.seconds.value = ((performance.now() - this.began) / 1000).toFixed(1);
  },
  // So that only the change moves.
  flick(on) {
    const [left, right] = this.$root.querySelectorAll("img[data-side]");
    if (!right || on === Boolean(this.own)) return;
    const shown = right.src;
    right.src = on ? left.src : this.own;
    this.own = on ? shown : "";
  },
  key(event) {
    if (typing(event.target) || isModified(event)) return;
    if (event.key === " " && !event.target.closest("button:not([data-flick])")) {
      this.flick(true);
      event.preventDefault();
    } else if (/^[1-9]$/.test(event.key)) {
      this.$root.querySelectorAll('button[name="said"]')[event.key - 1]?.click();
    } else if (event.key === "Enter" && !event.target.closest("a, button")) {
      this.$refs.next?.click();
    }
  },
});

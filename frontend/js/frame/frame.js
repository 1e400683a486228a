// What every page answers to by keys, and the drawer of sums.
import { isModified, isTyping, piece, urls } from "./page.js";

const KEYS = { "/": "find", "?": "help", r: "reckon" };

export default () => ({
  key(event) {
    if (isTyping(event.target) || isModified(event) || !(event.key in KEYS)) return;
    event.preventDefault();
    this[KEYS[event.key]]();
  },
  find: () => document.getElementById("find").focus(),
  help() {
    this.$refs.keys.showModal();
  },
  async reckon() {
    const { drawer, sums } = this.$refs;
    if (!sums.children.length)
      sums.append(piece(await (await fetch(`${urls.reckoner}?part=1`)).text()));
    drawer.showModal();
  },
  print: () => print(),
});

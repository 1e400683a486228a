// Saving a slip: a new version, or a variant under a name of its own.
import { say } from "../frame/notes.js";
import { ask, post } from "../frame/page.js";
import { dialPairs, editioned } from "./address.js";
import { askQuery, bench, data } from "./store.js";

export default () => ({
  as: "version",
  name: "",
  intent: bench.state.intent,
  suggested: "",
  busy: false,
  open({ as = "version", name = "" }) {
    const own = as === "new" && data.slip ? `${data.name}, variant` : data.name;
    Object.assign(this, { as, name: name || own, intent: bench.state.intent, suggested: "" });
    this.$root.showModal();
    this.select();
    this.suggest();
  },
  select() {
    this.$nextTick(() => this.$refs.name.select());
  },
  // A name from what the recipe looks like, offered and never forced.
  async suggest() {
    this.suggested = (await ask(`${data.urls.name}?${askQuery()}`))?.name ?? "";
    const { name } = this.$refs;
    if (name.value) return;
    // At once, so that who begins to type just now writes over it.
    this.name = name.value = this.suggested;
    name.select();
  },
  take() {
    this.name = this.suggested;
    this.$refs.name.focus();
  },
  async save({ target }) {
    const form = new FormData(target);
    editioned(data, form, dialPairs(data, bench.state.positions));
    this.busy = true;
    try {
      location.assign((await post(data.urls.save, form)).to);
    } catch (error) {
      say(error.message, "fault");
      this.busy = false;
    }
  },
});

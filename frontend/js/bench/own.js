// A picture of one's own under the print: its name, its light, and taking it out of the row.
import { benchQuery, filled } from "./address.js";
import { bench, data, sceneOf } from "./store.js";

export default () => ({
  init() {
    // What was typed before this script ran stays: the page came with what is said of its picture.
    this.$watch("$store.bench.state.scene", (id) => {
      for (const name of ["title", "light", "revision"])
        this.$root.querySelector(`[name=${name}]`).value = sceneOf(id)?.[name] ?? "";
    });
  },
  shown: () => Boolean(sceneOf(bench.state.scene)?.own),
  to: (what) => filled(data.urls[what], bench.state.scene),
  // The look in hand stays when its picture goes or is named.
  keep({ target }) {
    target.elements.query.value = benchQuery(data, { ...bench.state, scene: data.firstScene });
  },
});

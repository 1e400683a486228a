// The trail: every point of the way, to go back to, name, or make a variant from.
import { goPoint, trail } from "./changes.js";
import { bench, data } from "./store.js";
import { between } from "./trailing.js";

export default () => ({
  rows: [],
  since: "",
  open() {
    this.read();
    this.$root.showModal();
  },
  read() {
    const told = (point, at) => ({ at, name: point.name, words: trail.words(data.dials, at) });
    this.rows = trail.points.map(told).reverse();
    const changed = between(data.dials, data.reference, bench.state.positions).join("; ");
    const than = data.referenceName;
    this.since = changed ? `Since ${than}: ${changed}.` : `The same as ${than}.`;
  },
  here: (row) => (row.at === trail.at ? "step" : null),
  go(row) {
    goPoint(row.at);
    this.read();
  },
  name: (row) => trail.name(row.at, row.name.trim()),
  vary(row) {
    goPoint(row.at);
    this.$root.close();
    this.$dispatch("plum-save", { as: "new", name: row.name });
  },
});

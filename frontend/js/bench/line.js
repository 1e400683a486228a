// A dial's line on the slip.
import { goLine, turn } from "./changes.js";
import { bench, data, idleAt, index } from "./store.js";

export default (id) => {
  const k = index.get(id);
  const dial = data.dials[k];
  const at = () => bench.state.positions[k];
  const why = () => idleAt(k);
  const note = () => (why() ? "" : dial.notes[at()]);
  return {
    at,
    why,
    note,
    here: () => bench.state.line === id,
    changed: () => at() !== data.reference[k],
    shown: () => dial.labels[at()],
    told: () => [dial.labels[at()], note(), why()].filter(Boolean).join(", "),
    go: () => goLine(id),
    step: (by) => turn(id, at() + by),
  };
};

// What the parts of the Bench share: the page's data, and the state that the address holds.
import { readQuery } from "./address.js";

export const data = JSON.parse(document.getElementById("bench-data").textContent);
// The server drops what it works out for this window when the window asks anew.
export const windowId = Math.random().toString(36).slice(2);
export const byId = (id) => document.getElementById(id);
export const rows = new Map(
  [...document.querySelectorAll(".line")].map((row) => [row.dataset.dial, row]),
);
export const index = new Map(data.dials.map((dial, k) => [dial.id, k]));
export const bench = {
  state: {
    ...readQuery(data, location.search),
    positions: [...data.positions],
    scene: data.scene,
    line: data.line,
  },
  held: false,
  crop: null,
};

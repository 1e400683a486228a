// The shift has two directions: a square of rendered patches, the present one framed; choosing is
// looking.
import { renderUrl } from "./address.js";
import { turnAll } from "./changes.js";
import { pairOf } from "./conditions.js";
import { afterFacts } from "./facts.js";
import { seen } from "./picture.js";
import { nearest, spread } from "./places.js";
import { bench, data, index } from "./store.js";

const SIDE = 5;
const WIDE = 96;

export default () => ({
  cells: [],
  ends: {},
  init() {
    afterFacts(() => this.draw());
  },
  draw() {
    const pair = pairOf(data.pairs, bench.state.line);
    if (!pair) return (this.cells = []);
    const [x, y] = [pair.across, pair.down].map((id) => index.get(id));
    const { positions, scene } = bench.state;
    const places = (k) => spread(data.dials[k].values.length, positions[k], SIDE);
    const [columns, rows] = [places(x), places(y).reverse()];
    const [hereX, hereY] = [nearest(columns, positions[x]), nearest(rows, positions[y])];
    const named = (k, place) => `${data.dials[k].label} ${data.dials[k].labels[place]}`;
    this.ends = pair.ends;
    this.cells = rows.flatMap((row, r) =>
      columns.map((column, c) => ({
        src: null,
        url: renderUrl(data, scene, positions.with(x, column).with(y, row), WIDE, seen()),
        words: `${named(x, column)}, ${named(y, row)}`,
        pressed: column === hereX && row === hereY,
        far: Math.hypot(r - rows.indexOf(hereY), c - columns.indexOf(hereX)),
        places: { [pair.across]: column, [pair.down]: row },
      })),
    );
    const waiting = [...this.cells].sort((a, b) => a.far - b.far);
    for (let hand = 0; hand < 2; hand += 1) this.fill(waiting, bench.took);
  },
  // Two at a time, those around the present one first, and no further once something newer is asked
  // for.
  async fill(waiting, took) {
    while (took === bench.took && waiting.length) {
      const cell = waiting.shift();
      await Object.assign(new Image(), { src: cell.url })
        .decode()
        .catch(() => {});
      cell.src = cell.url;
    }
  },
  take: (cell) => turnAll(cell.places),
});

// The shift has two directions: a square of rendered patches, the present one framed; choosing is
// looking.
import { nearest, spread } from "./places.js";

const SIDE = 5;

let drawing = 0;
export const stopPatches = () => (drawing += 1);

// Two at a time, those around the present one first, and no further once something newer is asked
// for.
async function fill(waiting, mine) {
  const hand = async () => {
    while (mine === drawing && waiting.length) {
      const [image, url] = waiting.shift();
      image.src = url;
      await image.decode().catch(() => {});
    }
  };
  await Promise.all([hand(), hand()]);
}

export function drawPatches(holder, { dials, positions, pair, url, choose }) {
  const [x, y] = [pair.across, pair.down].map((id) => dials.findIndex((d) => d.id === id));
  const columns = spread(dials[x].values.length, positions[x], SIDE);
  const rows = spread(dials[y].values.length, positions[y], SIDE).reverse();
  const [hereX, hereY] = [nearest(columns, positions[x]), nearest(rows, positions[y])];
  const waiting = [];
  const buttons = rows.flatMap((row, r) =>
    columns.map((column, c) => {
      const there = [...positions];
      there[x] = column;
      there[y] = row;
      const button = document.createElement("button");
      button.type = "button";
      const named = (dial, place) => `${dial.label} ${dial.labels[place]}`;
      const words = `${named(dials[x], column)}, ${named(dials[y], row)}`;
      button.setAttribute("aria-label", words);
      button.title = words;
      button.setAttribute("aria-pressed", column === hereX && row === hereY);
      const image = new Image();
      image.alt = "";
      waiting.push([
        image,
        url(there),
        Math.hypot(r - rows.indexOf(hereY), c - columns.indexOf(hereX)),
      ]);
      button.append(image);
      button.addEventListener("click", () => choose({ [pair.across]: column, [pair.down]: row }));
      return button;
    }),
  );
  const label = (words, place) =>
    Object.assign(document.createElement("span"), {
      textContent: words,
      className: `end at-${place}`,
    });
  holder.replaceChildren(
    ...buttons,
    ...Object.entries(pair.ends).map(([place, words]) => label(words, place)),
  );
  waiting.sort((a, b) => a[2] - b[2]);
  fill(waiting, stopPatches());
}

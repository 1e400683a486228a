// The shift has two directions: a square of rendered patches, the present one framed; choosing is
// looking.
const SIDE = 5;

// The two dials of a body's shift, across and down, with words for their ends; null where a dial
// has no partner.
const PAIRS = [
  {
    across: "shift_blue",
    down: "shift_red",
    ends: { left: "less blue", right: "bluer", top: "redder", bottom: "less red" },
  },
  {
    across: "shift_amber",
    down: "shift_green",
    ends: { left: "bluer", right: "amber", top: "greener", bottom: "magenta" },
  },
];

export const pairOf = (dials, line) =>
  PAIRS.find(
    (p) =>
      (p.across === line || p.down === line) &&
      dials.some((d) => d.id === p.across) &&
      dials.some((d) => d.id === p.down),
  ) ?? null;

// Places of one direction around where the dial stands, every second one, kept on the dial.
function places(dial, here) {
  const step = dial.values.length > 9 ? 2 : 1;
  const last = dial.values.length - 1;
  const first = Math.max(0, Math.min(here - step * Math.floor(SIDE / 2), last - step * (SIDE - 1)));
  return Array.from({ length: SIDE }, (_, k) => first + k * step).filter(
    (p) => p >= 0 && p <= last,
  );
}

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
  const columns = places(dials[x], positions[x]);
  const rows = places(dials[y], positions[y]).reverse();
  const nearest = (list, at) =>
    list.reduce((best, p) => (Math.abs(p - at) < Math.abs(best - at) ? p : best));
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

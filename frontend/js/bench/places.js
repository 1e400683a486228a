// Which places of a dial are shown at once.

// A row of `room` neighbours with the present one in the middle, as far as the dial goes.
export function around(count, here, room) {
  const shown = Math.min(room, count);
  const first = Math.max(0, Math.min(here - Math.floor(shown / 2), count - shown));
  return Array.from({ length: shown }, (_, k) => first + k);
}

// `side` places around the present one, every second one where there are many.
export function spread(count, here, side) {
  const step = count > 9 ? 2 : 1;
  const last = count - 1;
  const first = Math.max(0, Math.min(here - step * Math.floor(side / 2), last - step * (side - 1)));
  return Array.from({ length: side }, (_, k) => first + k * step).filter((p) => p <= last);
}

export const nearest = (places, at) =>
  places.reduce((best, p) => (Math.abs(p - at) < Math.abs(best - at) ? p : best));

// When a dial counts, and which of its places are shown; conditions are looked up, not decided.

export function unmet(dials, positions, k) {
  const dial = dials[k];
  const needs = [...dial.needs, ...dial.choiceNeeds[positions[k]]];
  return needs.find((need) => {
    const at = dials.findIndex((other) => other.id === need.dial);
    return at >= 0 && !need.met[positions[at]];
  });
}

// Why a dial has no say where it stands, or on one's `own` picture; empty when it has one.
export const idle = (dials, positions, k, own = false) =>
  (own && dials[k].exposed) || (unmet(dials, positions, k)?.why ?? "");

// Whether the meter looks at a spot that somebody chooses.
export const aims = (dials, positions) =>
  dials.some((dial, k) => dial.aims[positions[k]] && !unmet(dials, positions, k));

// A row of `room` neighbours with the present one in the middle, as far as the dial goes.
export function around(count, here, room) {
  const shown = Math.min(room, count);
  const first = Math.max(0, Math.min(here - Math.floor(shown / 2), count - shown));
  return Array.from({ length: shown }, (_, k) => first + k);
}

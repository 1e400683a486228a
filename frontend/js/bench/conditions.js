// When a dial counts. Which places meet a condition is the server's to say; here it is looked up.

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

// The two dials that make a square with a line, or null where it has no partner.
export const pairOf = (pairs, line) =>
  pairs.find((pair) => pair.across === line || pair.down === line) ?? null;

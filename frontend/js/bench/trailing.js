// One change at a time: every point of the way in this window, also after a reload.
const KEPT = 1000;

export class Trail {
  constructor(key, positions) {
    this.key = key;
    const kept = JSON.parse(sessionStorage.getItem(key) ?? "null");
    const same =
      kept?.points?.[kept.at] && String(kept.points[kept.at].positions) === String(positions);
    // A bench that was reached by another way, such as a link, begins a trail of its own on top of
    // the old one.
    this.points = kept?.points ?? [];
    this.at = kept?.at ?? -1;
    if (!same) this.add(positions, null, true);
  }

  add(positions, line, begins = false) {
    this.points.splice(this.at + 1);
    this.points.push({ positions: [...positions], line, name: "", begins });
    if (this.points.length > KEPT) this.points.shift();
    this.at = this.points.length - 1;
    this.keep();
  }

  go(at) {
    if (at < 0 || at >= this.points.length) return null;
    this.at = at;
    this.keep();
    return this.points[at];
  }

  // Where undo and redo go: never from one recipe to another, which the list still holds.
  get before() {
    return this.points[this.at].begins ? -1 : this.at - 1;
  }

  get after() {
    return this.points[this.at + 1]?.begins ? this.points.length : this.at + 1;
  }

  name(at, words) {
    this.points[at].name = words;
    this.keep();
  }

  keep() {
    sessionStorage.setItem(this.key, JSON.stringify({ points: this.points, at: this.at }));
  }

  // What changed from one point to the next, in words, as the body prints it.
  words(dials, at) {
    if (at === 0) return "Where the trail begins";
    if (this.points[at].begins) return "Another recipe begins";
    return (
      between(dials, this.points[at - 1].positions, this.points[at].positions).join("; ") ||
      "Nothing changed"
    );
  }
}

export function between(dials, before, now) {
  return dials.flatMap((dial, k) =>
    before[k] === now[k]
      ? []
      : [`${dial.label} from ${dial.labels[before[k]]} to ${dial.labels[now[k]]}`],
  );
}

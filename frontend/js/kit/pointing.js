// Pointing at the four corner patches of a chart.
export default (words) => ({
  words,
  places: [],
  typed: "",
  at: ([x, y]) => ({ left: `${100 * x}%`, top: `${100 * y}%` }),
  point({ currentTarget, clientX, clientY }) {
    if (this.places.length === 4) return;
    const { left, top, width, height } = currentTarget.getBoundingClientRect();
    this.set([...this.places, [(clientX - left) / width, (clientY - top) / height]]);
  },
  set(places) {
    this.places = places;
    this.typed = places.map((place) => place.map((v) => v.toFixed(4)).join(" ")).join("  ");
  },
});

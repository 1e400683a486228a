// Match it by hand: dials are turned, and the picture follows.
const WIDE = "640";

export default (dials) => ({
  dials: dials.map((dial) => ({ ...dial, shipped: dial.at })),
  many: 0,
  turned() {
    return this.dials.filter((dial) => dial.at !== dial.shipped);
  },
  said() {
    return [this.many, ...this.turned().map((d) => `${d.id}=${d.values[d.at]}`)].join(";");
  },
  turn(dial, by) {
    if (!(dial.at + by in dial.values)) return;
    dial.at += by;
    this.many += 1;
    const mine = document.getElementById("mine");
    const url = new URL(mine.dataset.render, location.href);
    for (const { id, values, at } of this.turned()) url.searchParams.set(id, values[at]);
    url.searchParams.set("width", WIDE);
    mine.src = url;
  },
});

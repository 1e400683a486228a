// The tone curve over the scene's histogram, in stops; numbers come from the server.
const WIDTH = 208;
const HEIGHT = 148;

const path = (values) => values.map((v, k) => `${k ? "L" : "M"}${((k / (values.length - 1)) * WIDTH).toFixed(1)} ${(HEIGHT - 2 - v * (HEIGHT - 6)).toFixed(1)}`).join("");

export class Gauge {
  constructor(svg) {
    this.svg = svg;
  }

  draw({ curve, before, histogram }) {
    const bar = WIDTH / histogram.length;
    const area = histogram.map((v, k) => `L${(k * bar).toFixed(1)} ${(HEIGHT - v * HEIGHT * 0.55).toFixed(1)}`).join("");
    this.svg.querySelector(".bars").setAttribute("d", `M0 ${HEIGHT}${area}L${WIDTH} ${HEIGHT}Z`);
    this.svg.querySelector(".before").setAttribute("d", path(before));
    this.svg.querySelector(".now").setAttribute("d", path(curve));
  }
}

// The tone curve over the scene's histogram, in stops; numbers come from the server.
const WIDTH = 208;
const HEIGHT = 148;

function path(values) {
  const step = WIDTH / (values.length - 1);
  const points = values.map((v, k) => [k * step, HEIGHT - 2 - v * (HEIGHT - 6)]);
  return `M${points.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join("L")}`;
}

function svgPart(name, attributes) {
  const part = document.createElementNS("http://www.w3.org/2000/svg", name);
  for (const [key, value] of Object.entries(attributes)) part.setAttribute(key, value);
  return part;
}

export class Gauge {
  constructor(svg) {
    this.svg = svg;
  }

  draw({ curve, before, histogram, bands }) {
    const bar = WIDTH / histogram.length;
    const area = histogram
      .map((v, k) => `L${(k * bar).toFixed(1)} ${(HEIGHT - v * HEIGHT * 0.55).toFixed(1)}`)
      .join("");
    this.svg.querySelector(".bars").setAttribute("d", `M0 ${HEIGHT}${area}L${WIDTH} ${HEIGHT}Z`);
    // Where faces and white things of the scene lie.
    this.svg.querySelector("#bands").replaceChildren(
      ...bands.flatMap(({ name, low, high }, k) => {
        const [x, width] = [low * WIDTH, Math.max(3, (high - low) * WIDTH)];
        const rect = svgPart("rect", {
          x,
          y: 0,
          width,
          height: HEIGHT,
          fill: "var(--color-zest)",
          "fill-opacity": 0.22,
        });
        const text = svgPart("text", {
          x: Math.min(x + 2, WIDTH - 34),
          y: 12 + 12 * k,
          "font-size": 11,
          fill: "var(--color-ink)",
        });
        text.textContent = name;
        return [rect, text];
      }),
    );
    this.svg.querySelector(".before").setAttribute("d", path(before));
    this.svg.querySelector(".now").setAttribute("d", path(curve));
  }
}

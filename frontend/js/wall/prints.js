// All prints of the Wall zoom and move together; the place is kept in the address behind its #.
import { isModified, isTyping } from "../frame/page.js";

const clamp = (v) => Math.min(1, Math.max(0, v));
const CLICK = 6; // pixels of movement that are still a click
const STEP = 0.1; // of a print, by an arrow key
const MOVES = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

let drag = null;
export default (zooms) => ({
  zoom: "1",
  x: 0.5,
  y: 0.4,
  images: [],
  init() {
    this.images = [...this.$root.querySelectorAll("[data-print]")];
    for (const image of this.images) image.dataset.fit = image.src;
    const kept = new URLSearchParams(location.hash.slice(1));
    if (zooms.includes(kept.get("zoom"))) this.zoom = kept.get("zoom");
    const [x, y] = (kept.get("at") ?? "").split(",").map(Number);
    if (x >= 0 && x <= 1 && y >= 0 && y <= 1) Object.assign(this, { x, y });
    if (this.images.length) this.draw();
  },
  source(fit) {
    if (this.zoom === "1" || fit.includes(".apart.png")) return fit;
    return this.zoom === "100" ? `${fit}&detail=1` : fit.replace("width=640", "width=1280");
  },
  scale() {
    return this.zoom === "100" ? 1 : Number(this.zoom);
  },
  draw() {
    for (const image of this.images) {
      const wanted = this.source(image.dataset.fit);
      if (image.src !== wanted) image.src = wanted;
      image.style.transformOrigin = `${this.x * 100}% ${this.y * 100}%`;
      image.style.transform = this.scale() === 1 ? "" : `scale(${this.scale()})`;
    }
    const at = `${this.x.toFixed(3)},${this.y.toFixed(3)}`;
    const hash = this.zoom === "1" ? "" : `#zoom=${this.zoom}&at=${at}`;
    history.replaceState(null, "", location.pathname + location.search + hash);
    // Links and forms of the Wall lead to the same place in the prints.
    for (const form of this.$root.querySelectorAll("form[method=get]"))
      form.action = form.action.split("#")[0] + hash;
  },
  to(zoom) {
    if (zoom) this.zoom = zoom;
    this.draw();
  },
  move(across, down) {
    this.x = clamp(this.x + across / (this.scale() - 1));
    this.y = clamp(this.y + down / (this.scale() - 1));
    this.draw();
  },
  key(event) {
    if (isTyping(event.target) || isModified(event)) return;
    const [across, down] = MOVES[event.key] ?? [];
    if (event.key === "+") this.to(zooms[zooms.indexOf(this.zoom) + 1]);
    else if (event.key === "-") this.to(zooms[zooms.indexOf(this.zoom) - 1]);
    else if (event.key in MOVES && this.scale() > 1) this.move(across * STEP, down * STEP);
    else return;
    event.preventDefault();
  },
  grip({ target, clientX, clientY, pointerId }) {
    if (this.scale() === 1) return;
    drag = { x: clientX, y: clientY, moved: 0 };
    target.setPointerCapture(pointerId);
  },
  pull({ target, clientX, clientY }) {
    if (!drag) return;
    const { width, height } = target.parentElement.getBoundingClientRect();
    const [across, down] = [clientX - drag.x, clientY - drag.y];
    drag = { x: clientX, y: clientY, moved: drag.moved + Math.abs(across) + Math.abs(down) };
    this.move(-across / width, -down / height);
  },
  // What was pulled was not clicked.
  click(event) {
    if (drag?.moved > CLICK) event.preventDefault();
    drag = null;
  },
});

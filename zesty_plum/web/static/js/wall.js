// All prints of the Wall zoom and move together; the place is kept in the address behind its #.
const buttons = [...document.querySelectorAll("[data-zoom]")];
const images = [...document.querySelectorAll(".print-on .crop img")].map((image) => ({
  image,
  fit: image.src,
}));
const state = { zoom: "1", x: 0.5, y: 0.4 };

function read() {
  const kept = new URLSearchParams(location.hash.slice(1));
  if (buttons.some((b) => b.dataset.zoom === kept.get("zoom"))) state.zoom = kept.get("zoom");
  const [x, y] = (kept.get("at") ?? "").split(",").map(Number);
  if (x >= 0 && x <= 1 && y >= 0 && y <= 1) Object.assign(state, { x, y });
}

function source(fit) {
  if (state.zoom === "1" || fit.includes(".apart.png")) return fit;
  return state.zoom === "100" ? `${fit}&detail=1` : fit.replace("width=640", "width=1280");
}

function draw() {
  for (const button of buttons)
    button.setAttribute("aria-pressed", String(button.dataset.zoom === state.zoom));
  const scale = state.zoom === "100" ? 1 : Number(state.zoom);
  for (const { image, fit } of images) {
    const wanted = source(fit);
    if (image.getAttribute("src") !== wanted) image.src = wanted;
    image.style.transformOrigin = `${state.x * 100}% ${state.y * 100}%`;
    image.style.transform = scale === 1 ? "" : `scale(${scale})`;
    image.classList.toggle("moves", scale > 1);
  }
  const hash =
    state.zoom === "1" ? "" : `#zoom=${state.zoom}&at=${state.x.toFixed(3)},${state.y.toFixed(3)}`;
  history.replaceState(null, "", location.pathname + location.search + hash);
  // Links and forms of the Wall lead to the same place in the prints.
  for (const form of document.querySelectorAll(".wall form[method=get]"))
    form.action = form.action.split("#")[0] + hash;
}

const clamp = (v) => Math.min(1, Math.max(0, v));
function move(dx, dy) {
  const scale = Number(state.zoom);
  state.x = clamp(state.x + dx / (scale - 1));
  state.y = clamp(state.y + dy / (scale - 1));
  draw();
}

for (const button of buttons)
  button.addEventListener("click", () => {
    state.zoom = button.dataset.zoom;
    draw();
  });

let drag = null;
for (const { image } of images) {
  image.draggable = false;
  image.addEventListener("pointerdown", (event) => {
    if (!image.classList.contains("moves")) return;
    drag = { x: event.clientX, y: event.clientY, moved: 0 };
    image.setPointerCapture(event.pointerId);
  });
  image.addEventListener("pointermove", (event) => {
    if (!drag) return;
    const box = image.parentElement.getBoundingClientRect();
    const [dx, dy] = [event.clientX - drag.x, event.clientY - drag.y];
    drag = { x: event.clientX, y: event.clientY, moved: drag.moved + Math.abs(dx) + Math.abs(dy) };
    move(-dx / box.width, -dy / box.height);
  });
  image.closest("button").addEventListener("click", (event) => {
    if (drag?.moved > 6) event.preventDefault();
    drag = null;
  });
}
document.addEventListener("keydown", (event) => {
  if (
    event.target.closest("input, select, textarea") ||
    event.ctrlKey ||
    event.metaKey ||
    event.altKey
  )
    return;
  const at = buttons.findIndex((b) => b.dataset.zoom === state.zoom);
  const steps = {
    ArrowLeft: [-0.1, 0],
    ArrowRight: [0.1, 0],
    ArrowUp: [0, -0.1],
    ArrowDown: [0, 0.1],
  };
  if (event.key === "+" && at < buttons.length - 1) state.zoom = buttons[at + 1].dataset.zoom;
  else if (event.key === "-" && at > 0) state.zoom = buttons[at - 1].dataset.zoom;
  else if (event.key in steps && (state.zoom === "2" || state.zoom === "4"))
    move(...steps[event.key]);
  else return;
  event.preventDefault();
  draw();
});
if (images.length) {
  read();
  draw();
}

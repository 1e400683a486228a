// A question of a drill: flicking between the sides, marks, turning dials, keys, and the pictures
// of the next question, asked for while somebody still looks at this one.
const main = document.querySelector("main.drill");
const form = document.getElementById("answers");
const began = performance.now();

form?.addEventListener("submit", () => {
  form.elements.seconds.value = ((performance.now() - began) / 1000).toFixed(1);
});

// The left picture over the right one while the key is held, so that only the change moves.
const sides = [...document.querySelectorAll("img[data-side]")];
const over = sides.length === 2 ? sides[1] : null;
let own = "";
function flick(on) {
  if (!over || on === Boolean(own)) return;
  if (on) {
    own = over.src;
    over.src = sides[0].src;
  } else {
    over.src = own;
    own = "";
  }
}
const button = document.getElementById("flick");
button?.addEventListener("pointerdown", () => flick(true));
for (const ends of ["pointerup", "pointerleave"])
  button?.addEventListener(ends, () => flick(false));

// Where is it wrong: a mark by click, or by arrow keys and Enter.
const area = document.getElementById("mark-on");
const at = { x: 0.5, y: 0.5 };
function put() {
  const ring = area.querySelector("circle");
  ring.setAttribute("cx", `${at.x * 100}%`);
  ring.setAttribute("cy", `${at.y * 100}%`);
}
function set() {
  document.getElementById("said").value = `${at.x.toFixed(4)},${at.y.toFixed(4)}`;
  form.requestSubmit();
}
area?.addEventListener("click", (event) => {
  if (!event.detail) return set(); // Enter or space on it
  const box = area.querySelector("img").getBoundingClientRect();
  at.x = (event.clientX - box.left) / box.width;
  at.y = (event.clientY - box.top) / box.height;
  put();
  set();
});
const MOVES = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
area?.addEventListener("keydown", (event) => {
  const by = MOVES[event.key];
  if (!by) return;
  event.preventDefault();
  const far = event.shiftKey ? 0.005 : 0.025;
  at.x = Math.min(1, Math.max(0, at.x + by[0] * far));
  at.y = Math.min(1, Math.max(0, at.y + by[1] * far));
  put();
});
if (area) area.focus();

// Match it by hand.
const mine = document.getElementById("mine");
let steps = 0;
function turned() {
  const url = new URL(mine.dataset.render, location.href);
  const said = [steps];
  for (const line of document.querySelectorAll("[data-dial]")) {
    const value = JSON.parse(line.dataset.values)[line.dataset.at];
    line.querySelector("output").textContent = JSON.parse(line.dataset.labels)[line.dataset.at];
    if (line.dataset.at !== line.dataset.shipped) {
      url.searchParams.set(line.dataset.dial, value);
      said.push(`${line.dataset.dial}=${value}`);
    }
  }
  url.searchParams.set("width", "640");
  mine.src = url;
  document.getElementById("said").value = said.join(";");
  document.getElementById("steps").textContent = steps === 1 ? "1 step" : `${steps} steps`;
}
for (const line of document.querySelectorAll("[data-dial]"))
  for (const press of line.querySelectorAll("[data-by]"))
    press.addEventListener("click", () => {
      const to = Number(line.dataset.at) + Number(press.dataset.by);
      if (to < 0 || to >= JSON.parse(line.dataset.values).length) return;
      line.dataset.at = to;
      steps += 1;
      turned();
    });

const typing = (target) => target.closest("input, textarea, select") !== null;
document.addEventListener("keydown", (event) => {
  if (typing(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === " " && over && !event.target.closest("button:not(#flick)")) {
    flick(true);
    event.preventDefault();
  } else if (/^[1-9]$/.test(event.key)) {
    form?.querySelectorAll('button[name="said"]')[event.key - 1]?.click();
  } else if (event.key === "Enter" && !event.target.closest("a, button")) {
    document.getElementById("next")?.click();
  }
});
document.addEventListener("keyup", (event) => {
  if (event.key === " ") flick(false);
});
document.getElementById("next")?.focus();

// Rendered ahead, whichever way the answer goes; one after the other, after this page itself.
addEventListener("load", async () => {
  for (const url of main.dataset.ahead.split(" ").filter(Boolean))
    await fetch(url, { priority: "low" }).catch(() => null);
});

// The library: search as you type, parts that come when they are scrolled to, and the bar for what
// is selected.
import { urls } from "./page.js";

const found = document.getElementById("shelf");
const form = document.getElementById("search");
const text = document.getElementById("q");
const picked = document.getElementById("picked");
const kept = new Set(); // selected ids, also of cards that a search has put away

const columns = (grid) => getComputedStyle(grid).gridTemplateColumns.split(" ").length;

function reserve() {
  // Cards are of one height, so what has not come yet takes the room that it will need.
  const grid = found.querySelector(".shelf:not(.waits)");
  const card = grid?.firstElementChild;
  if (!card) return;
  const gap = parseFloat(getComputedStyle(grid).rowGap);
  for (const part of found.querySelectorAll(".waits")) {
    const rows = Math.ceil(part.dataset.count / columns(grid));
    part.style.height = `${rows * (card.getBoundingClientRect().height + gap) - gap}px`;
  }
}

const near = new IntersectionObserver(
  async (entries) => {
    for (const { isIntersecting, target } of entries) {
      if (!isIntersecting || !target.classList.contains("waits") || target.dataset.asked) continue;
      target.dataset.asked = "1";
      const answer = await fetch(target.dataset.part).catch(() => null);
      if (answer?.ok && target.isConnected) {
        target.innerHTML = await answer.text();
        target.classList.remove("waits");
        target.style.height = "";
        mark();
      } else delete target.dataset.asked;
    }
  },
  { rootMargin: "1200px" },
);

function watch() {
  reserve();
  for (const part of found.querySelectorAll(".waits")) near.observe(part);
  mark();
}

function mark() {
  for (const box of found.querySelectorAll('input[name="id"]')) box.checked = kept.has(box.value);
  tell();
}

function tell() {
  const all = picked.elements.all.checked;
  picked.classList.toggle("some", kept.size > 0 || all);
  document.getElementById("picked-count").textContent = all ? "All found" : `${kept.size} selected`;
  for (const old of picked.querySelectorAll("input[data-away]")) old.remove();
  const here = new Set([...found.querySelectorAll('input[name="id"]')].map((box) => box.value));
  for (const id of kept)
    if (!here.has(id))
      picked.append(
        Object.assign(document.createElement("input"), { type: "hidden", name: "id", value: id }),
      );
  for (const extra of picked.querySelectorAll(':scope > input[type="hidden"][name="id"]'))
    extra.dataset.away = "1";
}

found.addEventListener("change", (event) => {
  if (event.target.name !== "id") return;
  if (event.target.checked) kept.add(event.target.value);
  else kept.delete(event.target.value);
  tell();
});
picked.elements.all.addEventListener("change", tell);
document.getElementById("picked-none").addEventListener("click", () => {
  kept.clear();
  picked.elements.all.checked = false;
  mark();
});

let asked = 0;
async function search() {
  const mine = ++asked;
  const args = new URLSearchParams(new FormData(form));
  if (!args.get("q")) args.delete("q");
  const answer = await fetch(`${urls.slips}?${args}&part=found`).catch(() => null);
  if (mine !== asked || !answer?.ok) return;
  found.innerHTML = await answer.text();
  picked.elements.q.value = args.get("q") ?? "";
  history.replaceState(null, "", `${urls.slips}?${args}`);
  watch();
}
let soon = 0;
text.addEventListener("input", () => {
  clearTimeout(soon);
  soon = setTimeout(search, 90);
});
form.addEventListener("submit", (event) => {
  event.preventDefault();
  search();
});
addEventListener("resize", reserve);
// What was selected before this script ran, or before the page was left, is selected.
for (const box of found.querySelectorAll('input[name="id"]:checked')) kept.add(box.value);
watch();
if (text.value !== text.defaultValue) search(); // typed before this script ran

// The cameras: slips are dragged onto slots, and what a difference looks like is told when it is
// known.
import { told } from "./work.js";

for (const slip of document.querySelectorAll("[data-slip]"))
  slip.addEventListener("dragstart", (event) => {
    event.dataTransfer.setData("text/x-plum-slip", slip.dataset.slip);
    event.dataTransfer.effectAllowed = "copy";
  });
for (const slot of document.querySelectorAll("[data-put]")) {
  const ours = (event) => event.dataTransfer.types.includes("text/x-plum-slip");
  slot.addEventListener("dragover", (event) => {
    if (!ours(event)) return;
    event.preventDefault();
    event.stopPropagation();
    slot.classList.add("over");
  });
  slot.addEventListener("dragleave", () => slot.classList.remove("over"));
  slot.addEventListener("drop", async (event) => {
    if (!ours(event)) return;
    event.preventDefault();
    event.stopPropagation();
    const form = new FormData();
    form.set("slip", event.dataTransfer.getData("text/x-plum-slip"));
    const answer = await told(slot.dataset.put, "Putting it there", form);
    if (answer) location.assign(answer.to);
  });
}
// Up, down, left and right go from slot to slot.
const slots = [...document.querySelectorAll(".slots .slot > a")];
document.querySelector(".kit-main")?.addEventListener("keydown", (event) => {
  const at = slots.indexOf(document.activeElement);
  const row = slots.filter((s) => s.offsetTop === slots[0].offsetTop).length;
  const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: row, ArrowUp: -row }[event.key];
  if (at < 0 || !step || !slots[at + step]) return;
  event.preventDefault();
  slots[at + step].focus();
});
const words = document.querySelector(".in-hand [data-words]");
if (words)
  fetch(words.dataset.words, { headers: { Accept: "application/json" } })
    .then((answer) => (answer.ok ? answer.json() : { words: "" }))
    .then((said) => (words.textContent = said.words));

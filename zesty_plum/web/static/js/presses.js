// Presses that are ticked off stay ticked while the list is the same.
const boxes = [...document.querySelectorAll("[data-tick]")];
const key = `plum-presses ${location.pathname} ${document.querySelector("main").innerText.length}`;
const done = new Set(JSON.parse(localStorage.getItem(key) ?? "[]"));
function keep() {
  const ticked = boxes.filter((box) => box.checked).map((box) => box.dataset.tick);
  localStorage.setItem(key, JSON.stringify(ticked));
}
for (const box of boxes) {
  box.checked ||= done.has(box.dataset.tick); // one may be ticked already
  box.addEventListener("change", keep);
}
keep();
for (const button of document.querySelectorAll("[data-print]"))
  button.addEventListener("click", () => print());

// Presses that are ticked off stay ticked while the list is the same.
const boxes = [...document.querySelectorAll("[data-tick]")];
const key = `plum-presses ${location.pathname} ${document.querySelector("main").innerText.length}`;
const done = new Set(JSON.parse(localStorage.getItem(key) ?? "[]"));
for (const box of boxes) {
  box.checked = done.has(box.dataset.tick);
  box.addEventListener("change", () => {
    if (box.checked) done.add(box.dataset.tick);
    else done.delete(box.dataset.tick);
    localStorage.setItem(key, JSON.stringify([...done]));
  });
}
for (const button of document.querySelectorAll("[data-print]"))
  button.addEventListener("click", () => print());

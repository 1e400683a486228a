// Pointing at the four corner patches of a chart.
const box = document.getElementById("pointing");
const field = document.getElementById("at");
const asks = document.getElementById("asks");
const WORDS = [
  asks.textContent,
  "Now the last patch of that row.",
  "Now the last patch of all, in the corner across.",
  "Now the first patch of the last row.",
  "Teach, or point again.",
];
let places = [];

function show() {
  for (const old of box.querySelectorAll("i")) old.remove();
  places.forEach(([x, y], k) => {
    const mark = document.createElement("i");
    mark.textContent = k + 1;
    mark.style.left = `${100 * x}%`;
    mark.style.top = `${100 * y}%`;
    box.append(mark);
  });
  field.value = places.map((place) => place.map((v) => v.toFixed(4)).join(" ")).join("  ");
  asks.textContent = WORDS[places.length];
}

box.addEventListener("click", (event) => {
  if (places.length === 4) return;
  const lies = box.getBoundingClientRect();
  places.push([(event.clientX - lies.left) / lies.width, (event.clientY - lies.top) / lies.height]);
  show();
});
document.getElementById("again").addEventListener("click", () => {
  places = [];
  show();
});

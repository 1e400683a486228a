// A list that is ticked off: what was ticked stays so on this machine, as long as it says the same.
const words = (box) => box.closest("label").textContent.replace(/\s+/g, " ").trim();

export default (name) => ({
  boxes: [],
  init() {
    this.boxes = [...this.$root.querySelectorAll("input[type=checkbox]")];
    const kept = JSON.parse(localStorage.getItem(name) ?? "[]");
    for (const box of this.boxes) box.checked ||= kept.includes(words(box)); // one may be already
    this.keep();
  },
  keep() {
    const ticked = this.boxes.filter((box) => box.checked).map(words);
    localStorage.setItem(name, JSON.stringify(ticked));
  },
});

// Where is it wrong: a mark by click, or by arrow keys and Enter.
const within = (v) => Math.min(1, Math.max(0, v));
const FAR = 0.025; // of the frame, by an arrow key
const NEAR = 0.005; // with Shift

export default () => ({
  x: 0.5,
  y: 0.5,
  moved: false,
  set({ detail, clientX, clientY }) {
    // A click; Enter or space on it has no place of its own.
    if (detail) {
      const box = this.$root.querySelector("img").getBoundingClientRect();
      this.x = (clientX - box.left) / box.width;
      this.y = (clientY - box.top) / box.height;
    }
    const said = document.getElementById("said");
    said.value = `${this.x.toFixed(4)},${this.y.toFixed(4)}`;
    said.form.requestSubmit();
  },
  move({ shiftKey }, across, down) {
    const far = shiftKey ? NEAR : FAR;
    this.moved = true;
    this.x = within(this.x + across * far);
    this.y = within(this.y + down * far);
  },
});

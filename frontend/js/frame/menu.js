// A menu: one is open at a time; a click elsewhere or Escape closes it.
export default () => ({
  shut() {
    this.$root.open = false;
  },
  escape() {
    if (this.$root.open) this.$root.querySelector("summary").focus();
    this.shut();
  },
  // Moved sideways until all of it is inside the window, before it is painted.
  place() {
    const panel = this.$root.querySelector("summary").nextElementSibling;
    requestAnimationFrame(() => {
      panel.style.translate = "";
      const { left, right } = panel.getBoundingClientRect();
      const over = Math.min(0, document.documentElement.clientWidth - 8 - right);
      panel.style.translate = `${left < 8 ? 8 - left : over}px`;
    });
  },
});

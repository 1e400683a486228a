// The notes that came with the page; one that can be undone stays longer.
export default () => ({
  init() {
    for (const note of this.$root.querySelectorAll("[data-say]"))
      setTimeout(() => note.remove(), note.querySelector("form") ? 30000 : 6000);
  },
});

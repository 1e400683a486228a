// A slip's page: its name, and in which scenes it does what it is for.
import { each } from "../frame/each.js";
import { ask } from "../frame/page.js";

export default () => ({
  renames: false,
  says: {}, // by the id of a scene
  fails: {},
  told: "",
  async init() {
    const cells = [...this.$root.querySelectorAll("[data-failing]")].map(({ dataset }) => dataset);
    await each(cells, async ({ failing, scene }) => {
      this.told = `Looked at ${Object.keys(this.says).length} of ${cells.length} scenes …`;
      const said = await ask(failing);
      this.says[scene] = said ? said.sentence : "This scene could not be looked at.";
      this.fails[scene] = Boolean(said?.fails);
    });
    const named = (falls) => cells.filter(({ scene }) => this.fails[scene] === falls);
    const [good, short] = [false, true].map((falls) => named(falls).map(({ title }) => title));
    if (!short.length) this.told = "It does what it is for in every scene.";
    else if (!good.length) this.told = "It falls short of what it is for in every scene.";
    else this.told = `Good for ${good.join(", ")}. Falls short in ${short.join(", ")}.`;
  },
  rename() {
    this.renames = !this.renames;
    if (this.renames) this.$nextTick(() => this.$refs.name.select());
  },
});

// A slip's page: its name, what its versions look like beside each other, and in which scenes it
// does what it is for.
import { ask } from "../frame/page.js";

export default () => ({
  renames: false,
  words: {}, // by the number of a version
  says: {}, // by the id of a scene
  fails: {},
  told: "",
  async init() {
    for (const { dataset } of this.$root.querySelectorAll("[data-words]")) {
      const said = await ask(dataset.words);
      const some = said?.words.slice(0, 4).join(", ");
      if (said)
        this.words[dataset.version] = some
          ? `${some}.`
          : "Nobody would see the difference in this scene.";
    }
    await this.judge();
  },
  async judge() {
    const cells = [...this.$root.querySelectorAll("[data-failing]")].map(({ dataset }) => dataset);
    for (const [k, { failing, scene }] of cells.entries()) {
      this.told = `Looked at ${k} of ${cells.length} scenes …`;
      const said = await ask(failing);
      this.says[scene] = said ? said.sentence : "This scene could not be looked at.";
      this.fails[scene] = Boolean(said?.fails);
    }
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

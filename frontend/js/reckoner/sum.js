// A sum follows what is typed; the page at hand takes its result.
import { goTo } from "../frame/page.js";

const headers = { Accept: "application/json" };
// Dials that take what a sum gives.
const DIALS = { kelvin: "kelvin", iso: "iso_least", time: "slowest", aperture: "aperture" };
DIALS.guard = "guard";

function taker(name) {
  const field = document.querySelector(`form[data-takes] [name="${name}"]`);
  if (field) return { words: "Put it into the shoot", put: (value) => intoShoot(field, value) };
  const dial = DIALS[name];
  if (!dial || !document.querySelector(`#lines [data-dial="${dial}"]`)) return null;
  return { words: "Put it into the recipe", put: (value) => goTo("value", dial, value) };
}

function intoShoot(field, value) {
  field.closest("details")?.setAttribute("open", "");
  field.value = Number(value.toPrecision(4));
  field.scrollIntoView({ block: "center" });
  field.focus();
}

// `gives` are the fields that the sum can work out, of which one is always left open.
export default (url, gives) => ({
  rows: null,
  shown: {},
  values: {},
  typed: [], // names of fields, the latest last
  hint(name, before) {
    return this.rows ? (this.shown[name] ?? "") : before;
  },
  follow({ target: { name } }) {
    this.typed = [...this.typed.filter((other) => other !== name), name];
    this.makeRoom(name);
    return this.ask();
  },
  async ask() {
    const filled = new URLSearchParams(new FormData(this.$refs.form));
    const answer = await fetch(`${url}?${filled}`, { headers }).catch(() => null);
    const said = await answer?.json().catch(() => null); // also what is wrong with what was typed
    [this.shown, this.values] = [said?.shown ?? {}, said?.values ?? {}];
    const fault = !said?.rows;
    const rows = said?.rows ?? [["", said?.error ?? "It did not answer."]];
    this.rows = rows.map(([label, words]) => ({ label, words, fault }));
  },
  // More than a sum takes: what was typed longest ago makes room, and follows.
  makeRoom(mine) {
    const inputs = [...this.$refs.form.querySelectorAll("input:not([type=hidden])")];
    const filled = inputs.filter((input) => input.value.trim());
    const given = filled.filter(({ name }) => gives.includes(name));
    if (!given.length || filled.length <= inputs.length - gives.length) return;
    const order = (gives.includes(mine) ? filled : given).filter(({ name }) => name !== mine);
    order.sort((a, b) => this.typed.indexOf(a.name) - this.typed.indexOf(b.name));
    if (order.length) order[0].value = "";
  },
  // Words of what can be done with a value, in the drawer over a page that takes it.
  offer(puts) {
    return this.$root.closest("dialog") ? (taker(puts)?.words ?? "") : "";
  },
  async put(name, puts) {
    if (!this.values[name]) await this.ask();
    if (!this.values[name]) return;
    this.$root.closest("dialog").close();
    taker(puts).put(Number(this.values[name]));
  },
});

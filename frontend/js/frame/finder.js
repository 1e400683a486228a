// Finds places, dials, scenes and commands at once, and slips, days and shoots as the server knows
// them.
import { ask, goTo, page, urls } from "./page.js";

const MOST = 12;

function entries() {
  const leads = ({ name, url }) => ({ name, kind: "place", go: () => location.assign(url) });
  const places = page.screens.map(leads);
  const holder = document.getElementById("bench-data");
  if (!holder) return places;
  const data = JSON.parse(holder.textContent);
  const entry = (name, kind, what, id) => ({ name, kind, go: () => goTo(what, id) });
  return [
    ...places,
    ...data.dials.map((dial) => entry(dial.label, "dial", "dial", dial.id)),
    ...data.scenes.map((scene) => entry(scene.title, "scene", "scene", scene.id)),
    ...page.keys
      .filter(({ name }) => name)
      .map(({ name, shown, act }) => entry(name, `command, ${shown}`, "act", act)),
  ];
}

// Slips, days and shoots by their names.
async function keptLike(words) {
  const found = async (url, q) => (await ask(`${url}?${new URLSearchParams({ q })}`)) ?? [];
  const [slips, days] = await Promise.all([
    found(urls.found, `name:"${words.replaceAll('"', " ")}"`),
    found(urls.days, words),
  ]);
  const entry = (name, kind, to) => ({ name, kind, go: () => location.assign(to) });
  return [
    ...slips.map((slip) => entry(slip.name, "slip", `${urls.bench}?slip=${slip.id}`)),
    ...days.map((day) => entry(day.name, "outing", day.url)),
  ];
}

export default () => ({
  text: "",
  at: 0,
  closed: true,
  all: [],
  kept: [],
  init() {
    this.all = entries();
    this.$watch("text", async () => {
      const words = this.text.trim();
      const kept = words ? await keptLike(words) : [];
      if (words === this.text.trim()) this.kept = kept;
    });
  },
  open() {
    return !this.closed && this.text.trim() !== "";
  },
  found() {
    const words = this.text.trim().toLowerCase();
    if (!words) return [];
    const here = this.all.filter((entry) => entry.name.toLowerCase().includes(words));
    return [...here, ...this.kept].slice(0, MOST);
  },
  look() {
    [this.closed, this.at] = [false, 0];
  },
  step(by) {
    const count = this.found().length;
    if (count) this.at = (this.at + count + by) % count;
  },
  takeAt() {
    const found = this.found();
    if (found.length) this.take(found[Math.min(this.at, found.length - 1)]);
  },
  take(entry) {
    this.text = "";
    document.getElementById("find").blur();
    entry.go();
  },
});

// What every page has: finder, key list, notes, dropping files. Alpine holds the small states.
import Alpine from "../vendor/alpine-csp.esm.min.js";
import { page, urls } from "./page.js";
import { say, told } from "./work.js";

export const csrf = () => document.querySelector('meta[name="csrf-token"]').content;

export async function post(url, body) {
  const answer = await fetch(url, {
    method: "POST",
    body,
    headers: { Accept: "application/json", "X-CSRFToken": csrf() },
  });
  const data = await answer
    .json()
    .catch(() => ({ error: "The application did not answer. Is it still running?" }));
  if (!answer.ok) throw new Error(data.error);
  return data;
}

const tooLarge = (files) => {
  const total = [...files].reduce((sum, file) => sum + file.size, 0);
  const most = page.limits.file;
  if (total <= most) return false;
  const what = files.length === 1 ? `${files[0].name} is` : "These files are together";
  say(`${what} over ${Math.round(most / 1e6)} MB. Take smaller ones, or fewer at once.`, "fault");
  return true;
};

async function takeIn(file, onScene) {
  if (tooLarge([file])) return;
  const form = new FormData();
  form.append("file", file);
  try {
    const done = await told(urls.takeIn, `Taking in ${file.name}`, form);
    if (done?.scene && onScene) onScene(done.scene);
    else if (done) location.assign(done.to);
  } catch (error) {
    say(error.message, "fault");
  }
}

// Pictures are taken in one after the other; what cannot be is told of and keeps none out.
async function takeInAll(files, onScene) {
  let last = null;
  for (const [k, file] of files.entries()) {
    if (tooLarge([file])) continue;
    const form = new FormData();
    form.append("file", file);
    const words = `Taking in ${file.name}, ${k + 1} of ${files.length}`;
    try {
      const done = await told(urls.takeIn, words, form);
      if (!done) break;
      last = done.scene ?? last;
    } catch (error) {
      say(`${file.name}: ${error.message}`, "fault");
    }
  }
  if (last) onScene(last);
}
const isPicture = (file) =>
  /^image\//.test(file.type) || /\.(dng|tiff?|heic|heif|webp)$/i.test(file.name);

// The files that were dropped, also those in folders.
async function dropped(transfer) {
  const entries = [...transfer.items].map((item) => item.webkitGetAsEntry?.()).filter(Boolean);
  if (!entries.some((entry) => entry.isDirectory)) return [...transfer.files];
  const within = async (entry) => {
    if (entry.isFile) return [await new Promise((good, bad) => entry.file(good, bad))];
    const reader = entry.createReader();
    const found = [];
    for (;;) {
      const some = await new Promise((good, bad) => reader.readEntries(good, bad));
      if (!some.length) return found;
      for (const each of some) found.push(...(await within(each)));
    }
  };
  return (await Promise.all(entries.map(within))).flat();
}

// Several files, or one that holds several recipes, are looked at first.
async function bring(files) {
  if (tooLarge(files)) return;
  const form = new FormData();
  for (const file of files) form.append("file", file);
  const what = files.length === 1 ? files[0].name : `${files.length} files`;
  try {
    const done = await told(urls.bring, `Reading ${what}`, form);
    if (done) location.assign(done.to);
  } catch (error) {
    say(error.message, "fault");
  }
}
const holdsMany = (files) =>
  files.length > 1 ||
  /\.(zip|txt)$/i.test(files[0].name) ||
  document.querySelector("main.library") !== null;

export const isTyping = (target) =>
  target.closest("input:not([type=range]), textarea, select, dialog[open]") !== null;

function entries() {
  const list = page.screens.map(({ name, url }) => ({
    name,
    kind: "place",
    go: () => location.assign(url),
  }));
  const holder = document.getElementById("bench-data");
  if (holder) {
    const data = JSON.parse(holder.textContent);
    const entry = (name, kind, what, id) => ({ name, kind, go: () => goTo(what, id) });
    for (const dial of data.dials) list.push(entry(dial.label, "dial", "dial", dial.id));
    for (const scene of data.scenes) list.push(entry(scene.title, "scene", "scene", scene.id));
    for (const { name, shown, act } of page.keys)
      if (name) list.push(entry(name, `command, ${shown}`, "act", act));
  }
  return list;
}

// Asks the Bench to go to a dial or a scene, or to do what a key does.
const goTo = (what, id) =>
  document.dispatchEvent(new CustomEvent("plum:go", { detail: { what, id } }));

async function asked(url, q) {
  const answer = await fetch(`${url}?${new URLSearchParams({ q })}`).catch(() => null);
  return answer?.ok ? answer.json() : [];
}

// Slips, days and shoots by their names.
async function keptLike(words) {
  const [slips, days] = await Promise.all([
    asked(urls.found, `name:"${words.replaceAll('"', " ")}"`),
    asked(urls.days, words),
  ]);
  const entry = (name, kind, to) => ({ name, kind, go: () => location.assign(to) });
  return [
    ...slips.map((slip) => entry(slip.name, "slip", `${urls.bench}?slip=${slip.id}`)),
    ...days.map((day) => entry(day.name, "outing", day.url)),
  ];
}

Alpine.data("top", () => ({
  text: "",
  at: 0,
  closed: true,
  all: [],
  kept: [],
  init() {
    this.all = entries();
    this.$watch("text", (text) => this.ask(text.trim()));
  },
  async ask(words) {
    const kept = words ? await keptLike(words) : [];
    if (words === this.text.trim()) this.kept = kept;
  },
  get open() {
    return !this.closed && this.text.trim() !== "";
  },
  get none() {
    return this.found.length === 0;
  },
  get found() {
    const words = this.text.trim().toLowerCase();
    if (!words) return [];
    const hits = [
      ...this.all.filter((e) => e.name.toLowerCase().includes(words)),
      ...this.kept,
    ].slice(0, 12);
    return hits.map((e, k) => ({ ...e, key: `${e.kind}-${e.name}-${k}`, at: k === this.at }));
  },
  look() {
    this.closed = false;
    this.at = 0;
  },
  leave() {
    this.closed = true;
  },
  key(event) {
    const count = this.found.length;
    if (event.key === "ArrowDown" && count) this.at = (this.at + 1) % count;
    else if (event.key === "ArrowUp" && count) this.at = (this.at + count - 1) % count;
    else if (event.key === "Enter" && count) this.take(this.found[Math.min(this.at, count - 1)]);
    else if (event.key === "Escape") event.target.blur();
    else {
      this.closed = false;
      this.at = 0;
      return;
    }
    event.preventDefault();
  },
  take(item) {
    this.text = "";
    document.getElementById("find").blur();
    item.go();
  },
  help() {
    document.getElementById("keys").showModal();
  },
}));

Alpine.data("renamer", () => ({
  open: false,
  turn() {
    this.open = !this.open;
    if (this.open) this.$nextTick(() => this.$root.querySelector('input[name="name"]').select());
  },
}));

Alpine.start();

document.addEventListener("keydown", (event) => {
  if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === "/") document.getElementById("find").focus();
  else if (event.key === "?") document.getElementById("keys").showModal();
  else if (event.key === "r") import("./reckoner.js").then((sums) => sums.openReckoner());
  else return;
  event.preventDefault();
});

// One menu is open at a time; a click elsewhere closes it, and Escape, which gives back the focus.
addEventListener("click", (event) => {
  for (const menu of document.querySelectorAll("details.menu[open]"))
    if (!menu.contains(event.target)) menu.open = false;
});
addEventListener("keydown", (event) => {
  const open = event.key === "Escape" && document.querySelector("details.menu[open]");
  if (!open) return;
  open.open = false;
  open.querySelector("summary").focus();
});

// A menu that opens is moved sideways until all of it is inside the window, before it is painted.
document.addEventListener("click", (event) => {
  const panel = event.target.closest?.("details.menu > summary")?.nextElementSibling;
  if (!panel) return;
  requestAnimationFrame(() => {
    panel.style.translate = "";
    const box = panel.getBoundingClientRect();
    const right = Math.min(0, document.documentElement.clientWidth - 8 - box.right);
    panel.style.translate = `${box.left < 8 ? 8 - box.left : right}px`;
  });
});

// What was chosen before this script ran counts; what the browser put back there after a reload, or
// on the way back, was not chosen now.
const isNew = performance.getEntriesByType("navigation")[0]?.type === "navigate";
function chosenAlready(chooser) {
  if (chooser.type === "file") return chooser.files.length > 0;
  if (["radio", "checkbox"].includes(chooser.type))
    return chooser.checked !== chooser.defaultChecked;
  if (!chooser.options) return false;
  const options = [...chooser.options];
  const stated = options.findLastIndex((option) => option.defaultSelected);
  const first = stated >= 0 ? stated : options.findIndex((option) => !option.disabled);
  return chooser.selectedIndex !== first;
}
const choosers = [...document.querySelectorAll("[data-submits]")];
for (const chooser of choosers)
  chooser.addEventListener("change", () => chooser.form.requestSubmit());
if (isNew) choosers.find(chosenAlready)?.form.requestSubmit();
for (const note of document.querySelectorAll("[data-say]"))
  setTimeout(() => note.remove(), note.querySelector("form") ? 30000 : 6000);

const toScene = (scene) => {
  if (document.getElementById("bench")) goTo("new-scene", scene);
  else location.assign(`${urls.bench}?${new URLSearchParams({ scene })}`);
};
function takeFiles(files) {
  if (files.length === 0) return;
  if (files.length > 1 && files.every(isPicture)) takeInAll(files, toScene);
  else if (holdsMany(files)) bring(files);
  else takeIn(files[0], toScene);
}
const own = document.querySelector("input#own");
function takeChosen() {
  const files = [...own.files];
  if (files.length > 1) takeFiles(files);
  else if (files.length) takeIn(files[0], toScene);
}
own?.addEventListener("change", takeChosen);
if (isNew && own) takeChosen();

const drop = document.getElementById("drop");
let over = 0;
const carriesFile = (event) =>
  event.dataTransfer && [...event.dataTransfer.types].includes("Files");
addEventListener("dragenter", (event) => {
  if (!carriesFile(event)) return;
  over += 1;
  drop.hidden = false;
});
addEventListener("dragleave", (event) => {
  if (!carriesFile(event)) return;
  over = Math.max(0, over - 1);
  drop.hidden = over === 0;
});
addEventListener("dragover", (event) => carriesFile(event) && event.preventDefault());
addEventListener("drop", async (event) => {
  if (!carriesFile(event)) return;
  event.preventDefault();
  over = 0;
  drop.hidden = true;
  takeFiles(await dropped(event.dataTransfer));
});

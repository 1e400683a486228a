// Work that takes longer than a moment: how far it is, and a way to stop it.
import { page, urls } from "./page.js";

const SOON = 600; // milliseconds after which it is told of
const AGAIN = 500; // between two looks at how far it is
const SILENT = "The application did not answer. Is it still running?";
const token = () => document.querySelector('meta[name="csrf-token"]').content;

export function say(message, kind = "") {
  const note = document.createElement("div");
  note.className = `say ${kind}`;
  note.textContent = message;
  document.getElementById("says").append(note);
  setTimeout(() => note.remove(), kind === "fault" ? 12000 : 5000);
}

function progressNote(words, stop) {
  const note = Object.assign(document.createElement("div"), { className: "say works" });
  const says = Object.assign(document.createElement("span"), { textContent: `${words} …` });
  const bar = document.createElement("progress");
  bar.setAttribute("aria-label", words);
  const button = Object.assign(document.createElement("button"), {
    type: "button",
    textContent: "Stop",
  });
  button.addEventListener("click", stop);
  note.append(says, bar, button);
  document.getElementById("says").append(note);
  return {
    tell({ words: now, done, of, waits }) {
      says.textContent = waits ? "Waiting: other work goes first …" : `${now} …`;
      if (waits || !of) bar.removeAttribute("value");
      else Object.assign(bar, { max: of, value: done });
    },
    end: () => note.remove(),
  };
}

// Asks for something that may take long; the answer, or null when the person stopped it.
export async function asked(url, words, options = {}) {
  const name = Array.from(crypto.getRandomValues(new Uint8Array(12)), (n) => (n % 36).toString(36));
  const stopped = new AbortController();
  const headers = { Accept: "application/json", "Plum-Work": name.join(""), ...options.headers };
  if (options.body) headers["X-CSRFToken"] = token();
  let note = null;
  let over = false;
  const look = async () => {
    if (over) return;
    note ??= progressNote(words, () => stopped.abort());
    const where = urls.work.replace(page.work, name.join(""));
    const far = await fetch(where).catch(() => null);
    const said = far?.ok ? await far.json() : {};
    if (!over && said.words) note.tell(said);
    setTimeout(look, AGAIN);
  };
  setTimeout(look, SOON);
  try {
    const answer = await fetch(url, { ...options, headers, signal: stopped.signal });
    if (answer.ok) return { answer, body: await answer.blob() };
    const fault = await answer.json().catch(() => ({}));
    throw new Error(fault.error ?? SILENT);
  } catch (error) {
    if (error instanceof TypeError) throw new Error(SILENT); // no answer at all
    if (error.name !== "AbortError") throw error;
    say("Stopped.");
    return null;
  } finally {
    over = true;
    note?.end();
  }
}

// The same for what is answered in JSON.
export async function told(url, words, body) {
  const got = await asked(url, words, { method: "POST", body });
  return got && JSON.parse(await got.body.text());
}

const DISPOSED = "Content-Disposition";
function fileName(answer) {
  const said = answer.headers.get(DISPOSED) ?? "";
  const whole = /filename\*=UTF-8''([^;]+)/.exec(said);
  return whole ? decodeURIComponent(whole[1]) : (/filename="([^"]+)"/.exec(said)?.[1] ?? "file");
}

// A file is saved; an address that was told in JSON is gone to.
async function take(url, words, options) {
  try {
    const got = await asked(url, words, options);
    if (!got) return;
    if (got.body.type.startsWith("application/json") && !got.answer.headers.has(DISPOSED))
      return location.assign(JSON.parse(await got.body.text()).to);
    const link = document.createElement("a");
    link.href = URL.createObjectURL(got.body);
    link.download = fileName(got.answer);
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 60000);
  } catch (error) {
    say(error.message, "fault");
  }
}
// The menu or dialog that something was chosen from, so that what is told of it is seen.
function putAway(element) {
  element.closest("details.menu")?.removeAttribute("open");
  element.closest("dialog")?.close();
}

// Links and buttons that say what they do meanwhile in `data-works`; without scripts they are plain
// links and buttons.
document.addEventListener("click", (event) => {
  const link = event.target.closest?.("a[data-works]");
  if (!link || event.ctrlKey || event.metaKey || event.shiftKey) return;
  event.preventDefault();
  putAway(link);
  take(link.href, link.dataset.works);
});
document.addEventListener("submit", (event) => {
  const by = event.submitter;
  const words = by?.dataset.works ?? event.target.dataset.works;
  if (!words || event.defaultPrevented) return;
  event.preventDefault();
  const form = new FormData(event.target, by);
  putAway(event.target);
  const url = by?.getAttribute("formaction") ?? event.target.action;
  if (event.target.method === "post") take(url, words, { method: "POST", body: form });
  else take(`${url}?${new URLSearchParams(form)}`, words);
});

// What the server tells every page, and asking it for more.
export const page = JSON.parse(document.getElementById("page-data").textContent);
export const { urls } = page;
export const csrf = () => document.querySelector('meta[name="csrf-token"]').content;
export const SILENT = "The application did not answer. Is it still running?";

// Whether the page was gone to: what a browser puts back after a reload, or on the way back, was
// not chosen now.
export const isNew = performance.getEntriesByType("navigation")[0]?.type === "navigate";
export const isModified = (event) => event.ctrlKey || event.metaKey || event.altKey;
export const isTyping = (target) =>
  target.closest("input:not([type=range]), textarea, select, dialog[open]") !== null;

// What the server answers in JSON, or null.
export async function ask(url, options = {}) {
  const asked = { headers: { Accept: "application/json" }, ...options };
  const answer = await fetch(url, asked).catch((error) => {
    if (error.name === "AbortError") throw error;
    return null;
  });
  return answer?.status === 200 ? answer.json() : null;
}

export async function post(url, body) {
  const headers = { Accept: "application/json", "X-CSRFToken": csrf() };
  const answer = await fetch(url, { method: "POST", body, headers }).catch(() => null);
  const said = await answer?.json().catch(() => null);
  if (!answer?.ok) throw new Error(said?.error ?? SILENT);
  return said;
}

// A piece of a page that came later, ready to be put into it.
export function piece(html) {
  const holder = document.createElement("template");
  holder.innerHTML = html;
  return holder.content;
}

// Asks the Bench to go to a dial or a scene, or to do what a key does.
export const goTo = (what, id, value) =>
  dispatchEvent(new CustomEvent("plum-go", { detail: { what, id, value } }));

// Work that takes longer than a moment: how far it is, and a way to stop it.
import { progress, say } from "./notes.js";
import { ask, csrf, page, SILENT, urls } from "./page.js";

const SOON = 600; // milliseconds after which it is told of
const AGAIN = 500; // between two looks at how far it is

// Asks for something that may take long; the answer, or null when the person stopped it.
async function asked(url, words, options = {}) {
  const name = crypto.randomUUID().replaceAll("-", "").slice(0, 12);
  const stopped = new AbortController();
  const headers = { Accept: "application/json", "Plum-Work": name };
  if (options.body) headers["X-CSRFToken"] = csrf();
  let note = null;
  let over = false;
  const look = async () => {
    if (over) return;
    note ??= progress(words, () => stopped.abort());
    const far = await ask(urls.work.replace(page.work, name));
    if (!over && far?.words) note.tell(far);
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

function fileName(said) {
  const whole = /filename\*=UTF-8''([^;]+)/.exec(said);
  return whole ? decodeURIComponent(whole[1]) : (/filename="?([^";]+)"?/.exec(said)?.[1] ?? "file");
}

// A file is saved; an address that was told in JSON is gone to.
export async function take(url, words, options) {
  try {
    const got = await asked(url, words, options);
    if (!got) return;
    const disposed = got.answer.headers.get("Content-Disposition");
    if (got.body.type.startsWith("application/json") && !disposed)
      return location.assign(JSON.parse(await got.body.text()).to);
    const link = document.createElement("a");
    link.href = URL.createObjectURL(got.body);
    link.download = fileName(disposed ?? "");
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 60000);
  } catch (error) {
    say(error.message, "fault");
  }
}

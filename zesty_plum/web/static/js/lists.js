// A written list as it was read: a correction reads it again in place.
import { csrf } from "./app.js";
import { say } from "./work.js";

const LOST = "The application did not answer. Is it still running?";

// Reads a form's list into `into`, which shows it piece by piece.
async function read(form, into) {
  const asked = new FormData(form);
  asked.append("part", "1");
  const headers = { "X-CSRFToken": csrf() };
  const answer = await fetch(form.action, { method: "POST", body: asked, headers }).catch(
    () => null,
  );
  if (answer?.redirected) return location.assign(answer.url);
  if (!answer?.ok) return say((await answer?.json?.().catch(() => null))?.error ?? LOST, "fault");
  const named = document.activeElement?.name;
  into.innerHTML = await answer.text();
  // The hand stays where it was.
  if (named && into.contains(document.activeElement) === false)
    into.querySelector(`[name="${CSS.escape(named)}"]`)?.focus();
}

document.addEventListener("change", (event) => {
  const box = event.target.closest("[data-protocol]");
  const form = box && event.target.closest("form");
  if (!form) return;
  const { name } = event.target;
  // Another dial takes no place along; another body is read afresh.
  if (/^c\d/.test(name)) form.elements[name.replace("c", "v")]?.remove();
  if (name === "body")
    for (const old of form.querySelectorAll('select[name^="c"], select[name^="v"]')) old.remove();
  read(form, box.parentElement);
});
document.addEventListener("submit", (event) => {
  const into = document.getElementById(event.target.dataset.readsInto ?? "");
  if (!into) return;
  event.preventDefault();
  read(event.target, into);
});
document.addEventListener("click", (event) => {
  const back = event.target.closest("[data-reads-back]");
  back?.closest("[data-protocol]").remove();
});

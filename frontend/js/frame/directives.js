// Two words of our own for templates: x-submits, choosing sends the form; x-works="Drawing a card",
// what is said while what a link or form asks for is worked out.
import { isNew } from "./page.js";
import { take } from "./work.js";

// What was chosen before scripts ran counts.
function chosenAlready(chooser) {
  if (chooser.type === "file") return chooser.files.length > 0;
  if (chooser.type === "radio" || chooser.type === "checkbox")
    return chooser.checked !== chooser.defaultChecked;
  const options = [...chooser.options];
  const stated = options.findLastIndex((option) => option.defaultSelected);
  const first = stated >= 0 ? stated : options.findIndex((option) => !option.disabled);
  return chooser.selectedIndex !== first;
}

let sent = false;
export function submits(chooser) {
  const submit = () => chooser.form.requestSubmit();
  chooser.addEventListener("change", submit);
  if (!isNew || sent || !chosenAlready(chooser)) return;
  sent = true;
  queueMicrotask(submit);
}

// The menu or dialog that something was chosen from goes, so that what is told of it is seen.
function putAway(element) {
  element.closest("details[x-data=menu]")?.removeAttribute("open");
  element.closest("dialog")?.close();
}

export function works(element, { expression: words }) {
  if (element.matches("a"))
    return element.addEventListener("click", (event) => {
      if (event.ctrlKey || event.metaKey || event.shiftKey) return;
      event.preventDefault();
      putAway(element);
      take(element.href, words);
    });
  const form = element.form ?? element;
  form.addEventListener("submit", (event) => {
    const by = event.submitter;
    if (event.defaultPrevented || (element !== form && element !== by)) return;
    event.preventDefault();
    const body = new FormData(form, by);
    putAway(form);
    const url = by?.getAttribute("formaction") ?? form.action;
    if (form.method === "post") take(url, words, { method: "POST", body });
    else take(`${url}?${new URLSearchParams(body)}`, words);
  });
}

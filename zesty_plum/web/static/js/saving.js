// Saving a slip, and taking the recipe away.
import { dialPairs } from "./address.js";
import { post } from "./app.js";
import { askQuery } from "./judgement.js";
import { bench, byId, data } from "./store.js";
import { say } from "./work.js";

const dialog = byId("save-dialog");
let saveAs = "version";

export function openSave(as) {
  saveAs = as;
  byId("save-title").textContent =
    as === "new" && data.slip
      ? "Save as a variant"
      : data.slip
        ? `Save version ${data.newest + 1}`
        : "Save as a slip";
  byId("save-intent").value = bench.state.intent;
  byId("save-name").value = as === "new" && data.slip ? `${data.name}, variant` : data.name;
  dialog.showModal();
  byId("save-name").select();
  suggestName();
}

// A name from what the recipe looks like, offered and never forced.
async function suggestName() {
  byId("suggested").hidden = true;
  const answer = await fetch(`${data.urls.name}?${askQuery()}`, {
    headers: { Accept: "application/json" },
  }).catch(() => null);
  if (!answer?.ok) return;
  const { name } = await answer.json();
  byId("suggested").textContent = `Call it ${name}`;
  byId("suggested").dataset.name = name;
  byId("suggested").hidden = false;
  if (byId("save-name").value) return;
  byId("save-name").value = name;
  byId("save-name").select(); // who begins to type just now writes over it
}
byId("suggested").addEventListener("click", () => {
  byId("save-name").value = byId("suggested").dataset.name;
  byId("save-name").focus();
});

byId("save-form").addEventListener("submit", async (event) => {
  event.preventDefault();
  const form = new FormData(byId("save-form"));
  for (const [id, value] of dialPairs(data, bench.state.positions)) form.set(id, value);
  form.set("body", data.body);
  form.set("scene", bench.state.scene);
  form.set("line", bench.state.line);
  form.set("as", saveAs);
  if (data.came) form.set("came", data.came.code);
  if (data.slip) {
    form.set("slip", data.slip);
    form.set("version", data.version);
    form.set("offered", data.newest + 1);
  }
  byId("save-go").disabled = true;
  try {
    location.assign((await post(data.urls.save, form)).to);
  } catch (error) {
    say(error.message, "fault");
    byId("save-go").disabled = false;
  }
});
byId("save-no").addEventListener("click", () => dialog.close());
byId("save").addEventListener("click", () => openSave("version"));
byId("vary").addEventListener("click", () => openSave("new"));

function takeQuery() {
  const query = new URLSearchParams({
    name: data.name || "New slip",
    scene: bench.state.scene,
    body: data.body,
  });
  for (const key of ["note", "author"]) if (data[key]) query.set(key, data[key]);
  if (data.came) query.set("came", data.came.code);
  query.set("intent", bench.state.intent);
  for (const [id, value] of dialPairs(data, bench.state.positions)) query.set(id, value);
  return query;
}
// Kept true at every change, so that a link can be taken at any time.
export function showTake() {
  for (const link of document.querySelectorAll("[data-take]"))
    link.href = `${link.dataset.take}?${takeQuery()}`;
  const now = [
    data.name || "On the Bench",
    data.body,
    ...dialPairs(data, bench.state.positions).map((p) => p.join("=")),
  ].join("~");
  const wall = new URLSearchParams([
    ["scene", bench.state.scene],
    ...(data.slip
      ? [["r", `slip-${data.slip}.${data.version}`]]
      : [["r", `As shipped~${data.body}`]]),
    ["r", now],
  ]);
  byId("to-wall").href = `${data.urls.wall}?${wall}`;
}
byId("copy").addEventListener("click", async () => {
  byId("take").open = false;
  try {
    await navigator.clipboard.writeText(location.href);
    say("The link is copied.");
  } catch {
    say("The browser does not let us copy; take the link from the address bar.", "fault");
  }
});

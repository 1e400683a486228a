// A slip's page: in which scenes it does what it is for, and what its versions look like beside
// each other.
async function told(url) {
  const answer = await fetch(url, { headers: { Accept: "application/json" } }).catch(() => null);
  return answer?.ok ? answer.json() : null;
}

async function fits() {
  const state = document.getElementById("fits");
  const cells = [...document.querySelectorAll("[data-failing]")];
  const short = [];
  for (const [k, cell] of cells.entries()) {
    state.textContent = `Looked at ${k} of ${cells.length} scenes …`;
    const said = await told(cell.dataset.failing);
    cell.querySelector("span").textContent = said
      ? said.sentence
      : "This scene could not be looked at.";
    cell.classList.toggle("fails", Boolean(said?.fails));
    if (said?.fails) short.push(cell.dataset.title);
  }
  const good = cells
    .filter((cell) => !cell.classList.contains("fails"))
    .map((cell) => cell.dataset.title);
  state.textContent =
    short.length === 0
      ? "It does what it is for in every scene."
      : good.length === 0
        ? "It falls short of what it is for in every scene."
        : `Good for ${good.join(", ")}. Falls short in ${short.join(", ")}.`;
}

async function words() {
  for (const place of document.querySelectorAll("[data-words]")) {
    const said = await told(place.dataset.words);
    if (said)
      place.textContent = said.words.length
        ? `${said.words.slice(0, 4).join(", ")}.`
        : "Nobody would see the difference in this scene.";
  }
}

words().then(fits);

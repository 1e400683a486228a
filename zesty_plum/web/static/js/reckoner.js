// Sums follow what is typed; key R opens them in a drawer on any page.
import { urls } from "./page.js";

async function follow(form) {
  const url = `${form.dataset.sum}?${new URLSearchParams(new FormData(form))}`;
  const answer = await fetch(url, { headers: { Accept: "application/json" } });
  const said = await answer.json().catch(() => ({ error: "It did not answer." }));
  const rows = answer.ok ? said.answers : [["", said.error]];
  form.parentElement.querySelector("dl").replaceChildren(
    ...rows.map(([label, value]) => {
      const row = document.createElement("div");
      const [name, told] = [document.createElement("dt"), document.createElement("dd")];
      [name.textContent, told.textContent] = [label, value];
      row.append(name, told);
      return row;
    }),
  );
}

document.addEventListener("input", (event) => {
  const form = event.target.closest?.("[data-sum]");
  if (form) follow(form);
});
document.addEventListener("submit", (event) => {
  if (!event.target.matches?.("[data-sum]")) return;
  event.preventDefault();
  follow(event.target);
});

export async function openReckoner() {
  let drawer = document.getElementById("reckoner");
  if (!drawer) {
    drawer = Object.assign(document.createElement("dialog"), { id: "reckoner" });
    drawer.setAttribute("aria-label", "Reckoner");
    const close = Object.assign(document.createElement("button"), {
      className: "btn",
      textContent: "Close",
    });
    close.addEventListener("click", () => drawer.close());
    const sums = document.createElement("div");
    sums.innerHTML = await (await fetch(`${urls.reckoner}?part=1`)).text();
    drawer.append(close, sums);
    document.body.append(drawer);
  }
  drawer.showModal();
}

// Sums follow what is typed, whichever fields that is; key R opens them in a drawer on any page,
// and what a page can take is put into its shoot or recipe.
import { urls } from "./page.js";

const shows = (input, text) => {
  input.placeholder = text ?? "";
};

async function follow(form) {
  const url = `${form.dataset.sum}?${new URLSearchParams(new FormData(form))}`;
  const answer = await fetch(url, { headers: { Accept: "application/json" } }).catch(() => null);
  const said = (await answer?.json().catch(() => null)) ?? { error: "It did not answer." };
  const rows = said.rows ?? [["", said.error]];
  for (const input of form.querySelectorAll("[data-puts]")) {
    shows(input, said.shown?.[input.name]);
    input.dataset.value = said.values?.[input.name] ?? "";
  }
  form.parentElement.querySelector("dl").replaceChildren(
    ...rows.map(([label, value]) => {
      const row = document.createElement("div");
      row.classList.toggle("fault", !said.rows);
      const [name, told] = [document.createElement("dt"), document.createElement("dd")];
      [name.textContent, told.textContent] = [label, value];
      row.append(name, told);
      return row;
    }),
  );
}

// More than a sum takes: what was typed longest ago makes room, and follows.
const typed = new WeakMap();
let many = 0;
function makeRoom(form, mine) {
  const inputs = [...form.querySelectorAll("[data-puts]")];
  const asks = inputs.filter((input) => !input.closest(".gives")).length;
  const filled = inputs.filter((input) => input.value.trim());
  const given = filled.filter((input) => input.closest(".gives"));
  if (!given.length || filled.length <= asks) return;
  const order = mine.closest(".gives")
    ? filled.filter((input) => input !== mine)
    : given.filter((input) => input !== mine);
  order.sort((a, b) => (typed.get(a) ?? 0) - (typed.get(b) ?? 0));
  if (order.length) order[0].value = "";
}

document.addEventListener("input", (event) => {
  const form = event.target.closest?.("[data-sum]");
  if (!form) return;
  typed.set(event.target, (many += 1));
  makeRoom(form, event.target);
  follow(form);
});
document.addEventListener("submit", (event) => {
  if (!event.target.matches?.("[data-sum]")) return;
  event.preventDefault();
  follow(event.target);
});

// What the page at hand takes: fields of its shoot, or dials of its recipe.
const DIALS = { kelvin: "kelvin", iso: "iso_least", time: "slowest", aperture: "aperture" };
DIALS.guard = "guard";
function taker(name) {
  const field = document.querySelector(`form[data-takes] [name="${name}"]`);
  if (field) return { words: "Put it into the shoot", put: (value) => intoShoot(field, value) };
  const dial = DIALS[name];
  if (!dial || !document.querySelector(`.line[data-dial="${dial}"]`)) return null;
  const detail = (value) => ({ detail: { what: "value", id: dial, value } });
  return {
    words: "Put it into the recipe",
    put: (value) => document.dispatchEvent(new CustomEvent("plum:go", detail(value))),
  };
}

function intoShoot(field, value) {
  field.closest("details")?.setAttribute("open", "");
  field.value = Number(Number(value).toPrecision(4));
  field.scrollIntoView({ block: "center" });
  field.focus();
}

function offer(sums, close) {
  for (const input of sums.querySelectorAll("[data-puts]")) {
    const to = taker(input.dataset.puts);
    if (!to) continue;
    const button = document.createElement("button");
    Object.assign(button, {
      type: "button",
      className: "put",
      title: to.words,
      textContent: "put",
    });
    button.setAttribute("aria-label", `${to.words}: ${input.previousElementSibling.textContent}`);
    button.addEventListener("click", async () => {
      if (!input.dataset.value) await follow(input.form);
      if (!input.dataset.value) return;
      close();
      to.put(Number(input.dataset.value));
    });
    input.closest("label").after(button);
  }
}

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
    offer(sums, () => drawer.close());
    drawer.append(close, sums);
    document.body.append(drawer);
  }
  drawer.showModal();
}

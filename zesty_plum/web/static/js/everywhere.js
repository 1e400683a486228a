// The recipe on the slip in every scene at once, or in a chosen few, with the scenes in which it
// fails its intent marked.
const LEFT_OUT = "plum-scenes-left-out";
const leftOut = () => new Set((localStorage.getItem(LEFT_OUT) ?? "").split(",").filter(Boolean));

export function drawChoice(holder, scenes, redraw) {
  const boxes = scenes.map((scene) => {
    const label = document.createElement("label");
    const box = Object.assign(document.createElement("input"), {
      type: "checkbox",
      checked: !leftOut().has(scene.id),
    });
    box.addEventListener("change", () => {
      const without = leftOut();
      if (box.checked) without.delete(scene.id);
      else without.add(scene.id);
      localStorage.setItem(LEFT_OUT, [...without].join(","));
      redraw();
    });
    label.append(box, scene.title);
    return label;
  });
  holder.replaceChildren(...boxes);
}

export async function drawEverywhere({ scenes: every, holder, state, render, failing, go }) {
  const without = leftOut();
  const scenes = every.filter((scene) => !without.has(scene.id));
  const cells = scenes.map((scene) => {
    const cell = document.createElement("button");
    cell.type = "button";
    const image = Object.assign(new Image(), { alt: "", src: render(scene.id), loading: "lazy" });
    const name = Object.assign(document.createElement("b"), { textContent: scene.title });
    const says = Object.assign(document.createElement("span"), { textContent: "" });
    cell.append(image, name, says);
    cell.addEventListener("click", () => go(scene.id));
    return { cell, says, scene };
  });
  holder.replaceChildren(...cells.map((c) => c.cell));
  let failed = 0;
  let looked = 0;
  const tell = () => {
    state.textContent =
      looked < cells.length
        ? `Looked at ${looked} of ${cells.length} …`
        : failed
          ? `It falls short in ${failed} of ${cells.length} scenes.`
          : cells.length
            ? `It does what it is for in all ${cells.length} scenes.`
            : "No scene is chosen.";
  };
  tell();
  // Two at a time, as the machine has hands.
  const queue = [...cells];
  const worker = async () => {
    for (let next = queue.shift(); next && next.cell.isConnected; next = queue.shift()) {
      const answer = await fetch(failing(next.scene.id), {
        headers: { Accept: "application/json" },
      }).catch(() => null);
      if (!next.cell.isConnected) return;
      const said = answer?.ok ? await answer.json() : { sentence: "", more: 0, fails: false };
      looked += 1;
      failed += said.fails ? 1 : 0;
      next.says.textContent = said.sentence + (said.more ? ` And ${said.more} more.` : "");
      next.cell.classList.toggle("fails", said.fails);
      tell();
    }
  };
  await Promise.all([worker(), worker()]);
}

// Shoots are dragged along the line of time, in steps of five minutes.
import { told } from "./work.js";

const STEP = 5;
const sky = document.querySelector(".sky");
const wide = sky?.viewBox.baseVal.width;

for (const bar of document.querySelectorAll("[data-move]"))
  bar.addEventListener("pointerdown", (down) => {
    const minute = (sky.getBoundingClientRect().width / wide) * (wide / sky.dataset.minutes);
    const from = Number(bar.getAttribute("x"));
    let by = 0;
    const moved = (event) => {
      by = Math.round((event.clientX - down.clientX) / minute / STEP) * STEP;
      bar.setAttribute("x", from + (by * wide) / sky.dataset.minutes);
    };
    bar.setPointerCapture(down.pointerId);
    bar.addEventListener("pointermove", moved);
    bar.addEventListener(
      "pointerup",
      async () => {
        bar.removeEventListener("pointermove", moved);
        if (!by) return;
        const form = new FormData();
        form.set("by", by);
        const answer = await told(bar.dataset.move, "Moving it", form);
        if (answer) location.assign(answer.to);
      },
      { once: true },
    );
  });

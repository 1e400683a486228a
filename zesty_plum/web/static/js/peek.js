// Shows another picture over the present one for as long as somebody looks at what leads to it.
export class Peek {
  constructor(image, badge, rest) {
    this.image = image;
    this.badge = badge;
    this.rest = rest; // puts the badge back
    this.asked = 0;
  }

  async show(url, words) {
    const mine = (this.asked += 1);
    const fresh = new Image();
    fresh.src = url;
    try {
      await fresh.decode();
    } catch {
      return; // the present picture stays
    }
    if (mine !== this.asked) return;
    this.image.src = url;
    this.image.hidden = false;
    this.badge.textContent = words;
    this.badge.hidden = false;
  }

  hide() {
    this.asked += 1;
    if (this.image.hidden) return;
    this.image.hidden = true;
    this.rest();
  }
}

// Peeks while the mouse is over, or the keyboard on, one of `holder`'s elements that `find` knows.
export function peeksOver(holder, find, peek) {
  const look = (event) => {
    const what = find(event.target);
    if (what) peek.show(what.url, what.words);
  };
  holder.addEventListener("pointerover", (event) => event.pointerType !== "touch" && look(event));
  holder.addEventListener(
    "focusin",
    (event) => event.target.matches(":focus-visible") && look(event),
  );
  holder.addEventListener("pointerleave", () => peek.hide());
  holder.addEventListener("focusout", () => peek.hide());
}

// Verdicts beside the picture: at most three, and no more than fit whole; the rest on demand. Each
// shows its place, and offers its mend.
const FIRST = 3;

export class Margin {
  constructor({ list, more, spot, peek, urlWith, take }) {
    Object.assign(this, { list, more, spot, peek, urlWith, take });
    this.asked = null;
    this.all = false;
    this.found = [];
    more.addEventListener("click", () => {
      this.all = !this.all;
      this.draw();
    });
    list.addEventListener("pointerleave", () => this.rest());
    list.addEventListener("focusout", () => this.rest());
  }

  // What is said at once; what could be done about it, which is tried on the picture, follows.
  async ask(said, mended) {
    this.asked?.abort();
    this.asked = new AbortController();
    this.list.setAttribute("aria-busy", "true");
    const got = { signal: this.asked.signal, headers: { Accept: "application/json" } };
    try {
      for (const url of [said, mended]) {
        const answer = await fetch(url(), got);
        if (answer.status !== 200) return;
        this.found = await answer.json();
        this.draw();
        if (!this.found.length) break;
      }
      this.list.setAttribute("aria-busy", "false");
    } catch (error) {
      if (error.name !== "AbortError") throw error;
    }
  }

  rest() {
    this.spot.hidden = true;
    this.peek.hide();
  }

  point(verdict) {
    this.spot.hidden = !verdict.at;
    if (!verdict.at) return;
    this.spot.style.left = `${verdict.at[0] * 100}%`;
    this.spot.style.top = `${verdict.at[1] * 100}%`;
  }

  draw() {
    this.rest();
    const panel = this.list.closest(".gauges");
    const overflows = () => panel.scrollHeight > panel.clientHeight + 1;
    const place = (many) => {
      this.list.replaceChildren(...this.found.slice(0, many).map((verdict) => this.item(verdict)));
      const rest = this.found.length - many;
      this.more.hidden = this.found.length <= (this.all ? FIRST : many);
      this.more.textContent = this.all ? "Only the weightiest" : `${rest} more`;
    };
    panel.classList.remove("tight", "tighter");
    let many = this.all ? this.found.length : Math.min(FIRST, this.found.length);
    place(many);
    if (this.all) return;
    // Room comes first from what is said of the dial in general, then from the curve's height, then
    // from the last verdict.
    for (const step of ["tight", "tighter"]) panel.classList.toggle(step, many > 0 && overflows());
    while (many > 1 && overflows()) place((many -= 1));
    for (const step of ["tighter", "tight"]) {
      if (!panel.classList.contains(step)) continue;
      panel.classList.remove(step);
      if (overflows()) return panel.classList.add(step);
    }
  }

  item(verdict) {
    const item = document.createElement("li");
    const says = document.createElement("button");
    says.type = "button";
    says.className = "says-it";
    says.textContent = verdict.sentence;
    says.title = verdict.reason;
    says.setAttribute("aria-description", verdict.reason);
    for (const event of ["pointerenter", "focus"])
      says.addEventListener(event, () => this.point(verdict));
    item.append(says);
    if (verdict.mend) {
      const mend = document.createElement("button");
      mend.type = "button";
      mend.className = "mend";
      const dial = document.createElement("b");
      dial.textContent = `${verdict.mend.label} ${verdict.mend.printed}`;
      mend.append(dial, verdict.mend.sentence.slice(dial.textContent.length));
      const look = () => {
        this.point(verdict);
        this.peek.show(
          this.urlWith(verdict.mend.dial, verdict.mend.place),
          `Would be: ${dial.textContent}`,
        );
      };
      mend.addEventListener("pointerenter", (event) => event.pointerType !== "touch" && look());
      mend.addEventListener("focus", look);
      mend.addEventListener("click", () => this.take(verdict.mend.dial, verdict.mend.place));
      item.append(mend);
    }
    return item;
  }
}

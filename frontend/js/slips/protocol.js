// A written list as it was read, piece by piece: a correction reads it again in place.
import { say } from "../frame/notes.js";
import { csrf, piece, SILENT } from "../frame/page.js";

export default () => ({
  reads: false, // while a list is read, other ways to begin make room
  // Reads a form's list into the place for it.
  async read(form) {
    const body = new FormData(form);
    body.append("part", "1");
    const headers = { "X-CSRFToken": csrf() };
    const answer = await fetch(form.action, { method: "POST", body, headers }).catch(() => null);
    if (answer?.redirected) return location.assign(answer.url);
    if (!answer?.ok) {
      const told = await answer?.json().catch(() => null);
      return say(told?.error ?? SILENT, "fault");
    }
    const { said } = this.$refs;
    const named = document.activeElement?.name;
    said.replaceChildren(piece(await answer.text()));
    this.reads = true;
    // The hand stays where it was.
    if (named && !said.contains(document.activeElement))
      said.querySelector(`[name="${CSS.escape(named)}"]`)?.focus();
  },
  back() {
    this.$refs.said.replaceChildren();
    this.reads = false;
  },
});

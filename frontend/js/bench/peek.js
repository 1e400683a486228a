// Another picture over the present one, for as long as somebody looks at what leads to it.
import { withDials } from "./picture.js";
import { bench } from "./store.js";

let asked = 0;

// What only passes by on a touch screen, or got the focus by a click, is not looked at.
export async function peek(event, dialId, place, words) {
  const isFocus = event.type === "focus";
  if (isFocus ? !event.target.matches(":focus-visible") : event.pointerType === "touch") return;
  const mine = (asked += 1);
  const fresh = Object.assign(new Image(), { src: withDials({ [dialId]: place }) });
  const came = await fresh.decode().then(
    () => true,
    () => false, // the present picture stays
  );
  if (!came || mine !== asked) return;
  bench.over.peek = fresh.src;
  bench.peekWords = `Would be: ${words}`;
}

export function unpeek() {
  asked += 1;
  bench.over.peek = null;
  bench.peekWords = "";
}

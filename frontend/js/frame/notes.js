// Notes at the foot of the page: what was done, what went wrong, how far long work is.
import Alpine from "@alpinejs/csp";

let many = 0;
Alpine.store("notes", []);
const list = Alpine.store("notes");

function put(note) {
  list.push({ id: (many += 1), fault: false, works: false, done: null, of: null, ...note });
  return list.at(-1);
}

function drop({ id }) {
  const at = list.findIndex((note) => note.id === id);
  if (at >= 0) list.splice(at, 1);
}

export function say(words, kind = "") {
  const note = put({ words, fault: kind === "fault" });
  setTimeout(() => drop(note), note.fault ? 12000 : 5000);
}

// A note of work that goes on, with a way to stop it.
export function progress(words, stop) {
  const note = put({ words: `${words} …`, about: words, works: true, stop });
  return {
    tell({ words: now, done, of, waits }) {
      note.words = waits ? "Waiting: other work goes first …" : `${now} …`;
      [note.done, note.of] = of && !waits ? [done, of] : [null, null];
    },
    end: () => drop(note),
  };
}

// The Bench's state in the address: short, and the same bench for the same address.

// What is on or off, and what is chosen by a word, of the ways to look.
const FLAGS = ["clip", "loupe", "wipe", "apart", "guess", "written", "ends"];
const WORDS = ["view", "stripes", "than", "size", "spot", "place"];

export function dialPairs(data, positions) {
  const pairs = [];
  data.dials.forEach((dial, k) => {
    if (positions[k] !== dial.shipped) pairs.push([dial.id, dial.values[positions[k]]]);
  });
  return pairs;
}

// Dials that differ from the slip they stand on, so that "as shipped" can be said over a slip too.
function changedPairs(data, positions) {
  const base = data.slip ? data.reference : data.dials.map((d) => d.shipped);
  return data.dials
    .map((dial, k) => [dial.id, dial.values[positions[k]], base[k] !== positions[k]])
    .filter((p) => p[2]);
}

export function benchQuery(data, state) {
  const query = new URLSearchParams();
  if (state.scene !== data.firstScene) query.set("scene", state.scene);
  if (data.body !== data.firstBody) query.set("body", data.body);
  if (data.slip) {
    // With its version: a copied link shows what was seen, whatever is saved later.
    query.set("slip", data.slip);
    query.set("version", data.version);
  }
  for (const [id, value] of changedPairs(data, state.positions)) query.set(id, value);
  if (state.intent !== data.savedIntent) query.set("intent", state.intent);
  // What came along from another body or a list, until it is saved.
  if (!data.slip)
    for (const word of ["name", "note", "author", "left"])
      if (data[word]) query.set(word, data[word]);
  if (data.came) query.set("came", data.came.code);
  query.set("line", state.line);
  for (const flag of FLAGS) if (state[flag]) query.set(flag, "1");
  for (const word of WORDS) if (state[word]) query.set(word, state[word]);
  if (state.surround !== "mid") query.set("surround", state.surround);
  return query;
}

export function readQuery(data, text) {
  const query = new URLSearchParams(text);
  const base = data.slip ? data.reference : data.dials.map((d) => d.shipped);
  return {
    scene: query.get("scene") || data.firstScene,
    positions: data.dials.map((dial, k) => {
      const at = query.has(dial.id)
        ? dial.values.findIndex(
            (v) => v === query.get(dial.id) || Number(v) === Number(query.get(dial.id)),
          )
        : base[k];
      return at < 0 ? base[k] : at;
    }),
    line: query.get("line") || data.line,
    intent: query.get("intent") || data.savedIntent,
    ...Object.fromEntries(FLAGS.map((flag) => [flag, query.get(flag) === "1"])),
    ...Object.fromEntries(WORDS.map((word) => [word, query.get(word) ?? ""])),
    surround: query.get("surround") || "mid",
  };
}

// The address of a render, or with `kind` of what is laid over one; `ways` of looking that are off
// are left out.
export function renderUrl(data, scene, positions, width, { kind = "picture", ...ways } = {}) {
  const { detail, place, written, more = {}, ...rest } = ways;
  const query = new URLSearchParams();
  if (data.body !== data.firstBody) query.set("body", data.body);
  for (const [id, value] of dialPairs(data, positions)) query.set(id, value);
  const said = { width, detail: detail && 1, place: detail && place, written: written && 1 };
  for (const [key, value] of Object.entries({ ...said, ...rest, ...more }))
    if (value) query.set(key, value);
  query.set("v", data.engine);
  return `${filled(data.urls.render[kind], scene)}?${query}`;
}

// An address whose place for a scene is filled in.
export const filled = (url, scene) => url.replace("SCENE", encodeURIComponent(scene));

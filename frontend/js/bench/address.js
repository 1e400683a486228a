// The Bench's state in the address: short, and the same bench for the same address.

const shipped = (data) => data.dials.map((dial) => dial.shipped);
// Where the recipe began: a slip, over which "as shipped" can be said too.
const began = (data) => (data.slip ? data.reference : shipped(data));

// Dials with their values that stand elsewhere than at `base`.
export const dialPairs = (data, positions, base = shipped(data)) =>
  data.dials.flatMap(({ id, values }, k) =>
    positions[k] === base[k] ? [] : [[id, values[positions[k]]]],
  );

// For which edition of its body dials are said; a body of one's own says it in its file.
export const editioned = (data, query, pairs) => {
  if (data.edition && pairs.length) query.set("body_edition", data.edition);
  for (const [id, value] of pairs) query.set(id, value);
  return query;
};

export function benchQuery(data, state) {
  const query = new URLSearchParams();
  const say = (word, said, usual = "") => said && said !== usual && query.set(word, said);
  say("scene", state.scene, data.firstScene);
  say("body", data.body, data.firstBody);
  // With its version: a copied link shows what was seen, whatever is saved later.
  say("slip", data.slip);
  say("version", data.slip && data.version);
  editioned(data, query, dialPairs(data, state.positions, began(data)));
  say("intent", state.intent, data.savedIntent);
  // What came along from another body or a list, until it is saved.
  for (const word of ["name", "note", "author", "left"]) say(word, !data.slip && data[word]);
  say("came", data.came?.code);
  say("line", state.line);
  for (const way of data.ways) say(way, state[way] === true ? "1" : state[way]);
  say("surround", state.surround, "mid");
  return query;
}

// The address of a render, or with `kind` of what is laid over one; `ways` of looking that are off
// are left out.
export function renderUrl(data, scene, positions, width, { kind = "picture", ...ways } = {}) {
  const { detail, place, written, more = {}, ...rest } = ways;
  const query = new URLSearchParams();
  if (data.body !== data.firstBody) query.set("body", data.body);
  editioned(data, query, dialPairs(data, positions));
  const said = { width, detail: detail && 1, place: detail && place, written: written && 1 };
  for (const [key, value] of Object.entries({ ...said, ...rest, ...more }))
    if (value) query.set(key, value);
  query.set("v", data.engine);
  return `${filled(data.urls.render[kind], scene)}?${query}`;
}

// An address whose place for a scene is filled in.
export const filled = (url, scene) => url.replace("SCENE", encodeURIComponent(scene));

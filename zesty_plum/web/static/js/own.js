// A picture of one's own under the print: its name, its light, and taking it out of the row.
import { benchQuery, filled } from "./address.js";
import { bench, byId, data } from "./store.js";

// The page came with what is said of its picture; what was typed before this script ran stays.
let said = data.scene;

export function showOwn(scene) {
  byId("own-tools").hidden = !scene?.own;
  if (!scene?.own) return;
  byId("remove").action = filled(data.urls.remove, scene.id);
  byId("name-picture").action = filled(data.urls.namePicture, scene.id);
  if (scene.id === said) return;
  byId("picture-title").value = scene.title;
  byId("picture-light").value = scene.light;
  said = scene.id;
}

// The look in hand stays when its picture goes or is named.
for (const form of [byId("remove"), byId("name-picture")])
  form.addEventListener("submit", () => {
    form.elements.query.value = benchQuery(data, { ...bench.state, scene: data.firstScene });
  });

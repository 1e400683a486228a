// Taking files in: pictures one after the other, recipes to be looked at first.
import { say } from "./notes.js";
import { goTo, page, urls } from "./page.js";
import { told } from "./work.js";

// Sends files; what the server says of them, or nothing when it went wrong, which is told.
async function sent(url, words, files, about = "") {
  const most = page.limits.file;
  if (files.reduce((sum, file) => sum + file.size, 0) > most) {
    const what = files.length === 1 ? `${files[0].name} is` : "These files are together";
    say(`${what} over ${Math.round(most / 1e6)} MB. Take smaller ones, or fewer at once.`, "fault");
    return undefined;
  }
  const form = new FormData();
  for (const file of files) form.append("file", file);
  return told(url, words, form).catch((error) => void say(about + error.message, "fault"));
}

function toScene(scene) {
  if (document.getElementById("bench")) goTo("new-scene", scene);
  else location.assign(`${urls.bench}?${new URLSearchParams({ scene })}`);
}

// One after the other. What cannot be taken in is told of and keeps none out; stopping one stops
// the rest.
export async function takeEach(files) {
  const many = files.length > 1;
  let last = null;
  for (const [k, file] of files.entries()) {
    const words = `Taking in ${file.name}${many ? `, ${k + 1} of ${files.length}` : ""}`;
    const done = await sent(urls.takeIn, words, [file], many ? `${file.name}: ` : "");
    if (done === null) break;
    last = done ?? last;
  }
  if (last?.scene) toScene(last.scene);
  else if (last) location.assign(last.to);
}

// Several files, or one that holds several recipes, are looked at first.
async function bring(files) {
  const what = files.length === 1 ? files[0].name : `${files.length} files`;
  const done = await sent(urls.bring, `Reading ${what}`, files);
  if (done) location.assign(done.to);
}

const isPicture = (file) =>
  /^image\//.test(file.type) || /\.(dng|tiff?|heic|heif|webp)$/i.test(file.name);

export function takeFiles(files) {
  if (!files.length) return;
  const holds = /\.(zip|txt)$/i.test(files[0].name) || document.getElementById("library");
  const pictures = files.length > 1 && files.every(isPicture);
  if (pictures || (files.length === 1 && !holds)) takeEach(files);
  else bring(files);
}

// The files that were dropped, also those in folders.
export async function within(transfer) {
  const entries = [...transfer.items].map((item) => item.webkitGetAsEntry?.()).filter(Boolean);
  if (!entries.some((entry) => entry.isDirectory)) return [...transfer.files];
  const opened = async (entry) => {
    if (entry.isFile) return [await new Promise((good, bad) => entry.file(good, bad))];
    const reader = entry.createReader();
    const found = [];
    for (;;) {
      const some = await new Promise((good, bad) => reader.readEntries(good, bad));
      if (!some.length) return found;
      for (const each of some) found.push(...(await opened(each)));
    }
  };
  return (await Promise.all(entries.map(opened))).flat();
}

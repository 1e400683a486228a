// Orders the classes in templates as Prettier's Tailwind plugin orders them, and breaks long lists;
// with --check names the templates that are not so. Prettier itself cannot read Jinja.
import { readFileSync, writeFileSync } from "node:fs";
import { execFileSync } from "node:child_process";
import { createSorter } from "prettier-plugin-tailwindcss/sorter";

const WIDE = 100;
const WORD = /(?:\{\{[\s\S]*?\}\}|\{%[\s\S]*?%\}|[^\s{])+/g;
const CLASS = /(\s+)class="((?:\{\{[\s\S]*?\}\}|\{%[\s\S]*?%\}|[^"{])*)"/g;

const sorter = await createSorter({ stylesheetPath: "frontend/plum.css" });

// Runs of plain classes, each in order; what Jinja puts between or into them stays where it is.
function ordered(list) {
  const out = [];
  let plain = [];
  const put = () => {
    out.push(...sorter.sortClassLists([plain])[0].filter(Boolean));
    plain = [];
  };
  for (const [word] of list.matchAll(WORD)) {
    if (!word.includes("{")) plain.push(word);
    else {
      put();
      out.push(word.replace(/\s+/g, " "));
    }
  }
  put();
  return out;
}

// An expression, at its spaces; a short string, which may be a name, stays whole.
const STRING = /"[^"]{0,40}"|'[^']{0,40}'/g;
const GAP = "\u0000";
const parted = (said) =>
  said
    .replace(STRING, (words) => words.replaceAll(" ", GAP))
    .split(" ")
    .map((part) => part.replaceAll(GAP, " "));

// A list as it stands in a template: on one line where there is room, else broken between classes.
// `after` is how much cannot be parted from its end.
function written(words, column, indent, after) {
  const lines = [];
  let line = "";
  let room = WIDE - column;
  const parts = words.flatMap((word) => (word.includes("{") ? parted(word) : [word]));
  for (const [k, word] of parts.entries()) {
    const end = k === parts.length - 1 ? after : 0;
    if (line && line.length + 1 + word.length + end > room) {
      lines.push(line);
      line = "";
      room = WIDE - indent.length - 1;
    }
    line = line ? `${line} ${word}` : word;
  }
  return [...lines, line].join(`\n${indent}`);
}

function arranged(text) {
  let out = "";
  let from = 0;
  for (const found of text.matchAll(CLASS)) {
    out += text.slice(from, found.index);
    from = found.index + found[0].length;
    const words = ordered(found[2]);
    if (!words.length) continue;
    const start = out.lastIndexOf("\n") + 1;
    // On a line of its own it stays there, else it gets one when it does not fit.
    const own = found[1].includes("\n");
    const indent = own ? /[^\n]*$/.exec(found[1])[0] : `${/^ */.exec(out.slice(start))[0]}  `;
    const rest = /^[^\n]*/.exec(text.slice(from))[0];
    const after = 1 + /^\S*/.exec(rest)[0].length;
    const column = out.length - start + ' class="'.length;
    const breaks = own || column + words.join(" ").length + after > WIDE;
    const lead = breaks ? `\n${indent}` : " ";
    const list = written(words, breaks ? indent.length + 7 : column, indent, after);
    out += `${lead}class="${list}"`;
    // What follows on the line begins a new one where it would stand past the edge.
    const at = out.length - out.lastIndexOf("\n") - 1;
    if (at + rest.length > WIDE && /^ \S/.test(rest)) {
      out += `\n${indent}`;
      from += 1;
    }
  }
  return out + text.slice(from);
}

const check = process.argv.includes("--check");
const listed = execFileSync("git", ["ls-files", "zesty_plum/web/*.html"], { encoding: "utf8" });
const wrong = [];
for (const path of listed.split("\n").filter(Boolean)) {
  const text = readFileSync(path, "utf8");
  const fresh = arranged(text);
  if (fresh === text) continue;
  wrong.push(path);
  if (!check) writeFileSync(path, fresh);
}
if (check && wrong.length) {
  console.error(`Classes are not in order: run 'make front'.\n${wrong.join("\n")}`);
  process.exit(1);
}

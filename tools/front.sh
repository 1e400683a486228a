#!/usr/bin/env bash
# Builds the stylesheets and the scripts; with --check fails when the committed ones are not what the
# build gives, or when a style, script or class is not as the formatters leave it.
set -eu
cd "$(dirname "$0")/.."
static=zesty_plum/web/static
bin=node_modules/.bin
command -v npm >/dev/null || {
  echo "Building the front end needs Node.js and npm. Install them, or leave frontend/ as it is." >&2
  exit 1
}
[ -x $bin/esbuild ] || npm ci --silent --no-audit --no-fund
style() { $bin/tailwindcss -i "frontend/$1.css" -o "$2" --minify >/dev/null 2>&1; }
script() { $bin/esbuild frontend/js/app.js --bundle --format=esm --target=es2023 --minify --log-level=warning --outfile="$1"; }
formatted() { $bin/prettier --log-level warn "$1" "frontend/**/*.css" "frontend/js/**/*.js" "tests/js/*.js"; }
if [ "${1:-}" = --check ]; then
  formatted --check
  node tools/classes.mjs --check
  fresh=$(mktemp -d)
  trap 'rm -rf "$fresh"' EXIT
  style plum "$fresh/plum.css"
  style sent "$fresh/sent.css"
  script "$fresh/app.js"
  for file in plum.css sent.css app.js; do
    cmp -s "$fresh/$file" "$static/$file" || {
      echo "$static/$file is stale: run 'make front' and commit it." >&2
      exit 1
    }
  done
  echo "Styles and scripts are what the build gives."
else
  formatted --write
  node tools/classes.mjs
  style plum "$static/plum.css"
  style sent "$static/sent.css"
  script "$static/app.js"
fi

#!/usr/bin/env bash
# Builds the stylesheet; with --check fails when the committed one is not what the build gives.
set -eu
cd "$(dirname "$0")/.."
built=zesty_plum/web/static/plum.css
command -v npm >/dev/null || { echo "Building the stylesheet needs Node.js and npm. Install them, or leave frontend/ as it is." >&2; exit 1; }
[ -x node_modules/.bin/tailwindcss ] || npm ci --silent --no-audit --no-fund
if [ "${1:-}" = --check ]; then
  fresh=$(mktemp); trap 'rm -f "$fresh"' EXIT
  node_modules/.bin/tailwindcss -i frontend/plum.css -o "$fresh" --minify >/dev/null 2>&1
  cmp -s "$fresh" "$built" || { echo "The stylesheet is stale: run 'make css' and commit $built." >&2; exit 1; }
  for f in alpine-csp.esm.min.js; do
    cmp -s node_modules/@alpinejs/csp/dist/module.esm.min.js "zesty_plum/web/static/vendor/$f" || { echo "The vendored $f is not the one in package-lock.json: copy it anew." >&2; exit 1; }
  done
  echo "The stylesheet is what the build gives."
else
  node_modules/.bin/tailwindcss -i frontend/plum.css -o "$built" --minify
  cp node_modules/@alpinejs/csp/dist/module.esm.min.js zesty_plum/web/static/vendor/alpine-csp.esm.min.js
fi

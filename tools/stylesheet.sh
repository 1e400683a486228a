#!/usr/bin/env bash
# Builds the stylesheets; with --check fails when the committed ones are not what the build gives,
# or when a style or script is not as the formatter leaves it.
set -eu
cd "$(dirname "$0")/.."
static=zesty_plum/web/static
command -v npm >/dev/null || {
  echo "Building the stylesheets needs Node.js and npm. Install them, or leave frontend/ as it is." >&2
  exit 1
}
[ -x node_modules/.bin/prettier ] || npm ci --silent --no-audit --no-fund
build() { node_modules/.bin/tailwindcss -i "frontend/$1.css" -o "$2" --minify >/dev/null 2>&1; }
vendored=node_modules/@alpinejs/csp/dist/module.esm.min.js
if [ "${1:-}" = --check ]; then
  node_modules/.bin/prettier --log-level warn --no-error-on-unmatched-pattern --check "frontend/*.css" "$static/js/**/*.js" "tests/js/*.js"
  fresh=$(mktemp)
  trap 'rm -f "$fresh"' EXIT
  for sheet in plum sent; do
    build "$sheet" "$fresh"
    cmp -s "$fresh" "$static/$sheet.css" || {
      echo "$static/$sheet.css is stale: run 'make css' and commit it." >&2
      exit 1
    }
  done
  cmp -s "$vendored" "$static/vendor/alpine-csp.esm.min.js" || {
    echo "The vendored Alpine is not the one in package-lock.json: run 'make css'." >&2
    exit 1
  }
  echo "The stylesheets are what the build gives."
else
  for sheet in plum sent; do build "$sheet" "$static/$sheet.css"; done
  cp "$vendored" "$static/vendor/alpine-csp.esm.min.js"
  node_modules/.bin/prettier --log-level warn --no-error-on-unmatched-pattern --write "frontend/*.css" "$static/js/**/*.js" "tests/js/*.js"
fi

#!/usr/bin/env bash
# Makes sure of Debian's Chromium for the browser tests, or says plainly what is missing.
set -u
[ -x /usr/bin/chromium ] && exit 0
echo "The browser tests need Debian's chromium; installing it."
run=""
[ "$(id -u)" = 0 ] || run="sudo -n"
if command -v apt-get >/dev/null && $run apt-get update -qq && $run apt-get install -y -qq chromium >/dev/null && [ -x /usr/bin/chromium ]; then
  exit 0
fi
echo "Chromium could not be installed here. Install the package 'chromium' so that /usr/bin/chromium exists, then run this again." >&2
exit 1

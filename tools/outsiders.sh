#!/usr/bin/env bash
# Makes sure of the programs of others that the tests work with: Debian's Chromium for the interface, and readers of our files.
set -u
declare -A needed=([chromium]=chromium [ffmpeg]=ffmpeg [exiftool]=libimage-exiftool-perl [pdftotext]=poppler-utils [openssl]=openssl)
missing=()
for program in "${!needed[@]}"; do
  [ -x "/usr/bin/$program" ] || missing+=("${needed[$program]}")
done
[ ${#missing[@]} = 0 ] && exit 0
echo "The tests work with other programs; installing ${missing[*]}."
run=""
[ "$(id -u)" = 0 ] || run="sudo -n"
if command -v apt-get >/dev/null && $run apt-get update -qq; then
  $run apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
fi
[ -x /usr/bin/chromium ] || { echo "Chromium could not be installed here. Install the package 'chromium' so that /usr/bin/chromium exists, then run this again." >&2; exit 1; }
for program in "${!needed[@]}"; do
  [ -x "/usr/bin/$program" ] || echo "$program is not to be had here; the tests that read our files with it are skipped." >&2
done
exit 0

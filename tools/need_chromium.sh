#!/usr/bin/env bash
# The browser tests drive Debian's Chromium; install it where that is possible.
set -eu
for name in chromium chromium-browser; do command -v "$name" >/dev/null && exit 0; done
say="The browser tests need Chromium. Please install it (Debian: apt-get install chromium) and run make test again."
command -v apt-get >/dev/null || { echo "$say" >&2; exit 1; }
run=""
if [ "$(id -u)" -ne 0 ]; then
  command -v sudo >/dev/null && sudo -n true 2>/dev/null || { echo "$say" >&2; exit 1; }
  run="sudo"
fi
echo "Installing Chromium for the browser tests…"
$run apt-get update -qq && $run apt-get install -y -qq --no-install-recommends chromium >/dev/null ||
  { echo "$say" >&2; exit 1; }

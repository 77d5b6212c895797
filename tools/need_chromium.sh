#!/usr/bin/env bash
# The browser tests drive Debian's Chromium (its shell without windows where there is one: it is faster), and put a
# root into its trust store with certutil; install both where that is possible.
set -eu
has_chromium() {
  command -v chromium-headless-shell >/dev/null || command -v chromium >/dev/null || command -v chromium-browser >/dev/null
}
has_chromium && command -v certutil >/dev/null && exit 0
say="The browser tests need Chromium and certutil. Please install them (Debian: apt-get install chromium libnss3-tools) and run make test again."
command -v apt-get >/dev/null || { echo "$say" >&2; exit 1; }
run=""
if [ "$(id -u)" -ne 0 ]; then
  command -v sudo >/dev/null && sudo -n true 2>/dev/null || { echo "$say" >&2; exit 1; }
  run="sudo"
fi
echo "Installing Chromium for the browser tests…"
install() { $run apt-get install -y -qq --no-install-recommends "$@" libnss3-tools >/dev/null; }
$run apt-get update -qq && { install chromium-headless-shell 2>/dev/null || install chromium; } ||
  { echo "$say" >&2; exit 1; }

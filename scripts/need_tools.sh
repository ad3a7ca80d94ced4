#!/usr/bin/env bash
# The browser tests drive Debian's Chromium, those of program texts compile with Debian's g++;
# both are installed where they are missing.
set -euo pipefail
missing=""
command -v chromium >/dev/null || missing="chromium"
command -v g++ >/dev/null || missing="$missing g++"
[ -n "$missing" ] || exit 0
echo "Missing: $missing; installing Debian's packages."
as_root=""
if [ "$(id -u)" != 0 ]; then
  command -v sudo >/dev/null || { echo "Install by hand: apt-get install $missing"; exit 1; }
  as_root=sudo
fi
$as_root apt-get update -qq
# shellcheck disable=SC2086
DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq $missing >/dev/null
command -v chromium >/dev/null && command -v g++ >/dev/null

#!/usr/bin/env bash
# The browser tests drive Debian's Chromium; install it where it is missing.
set -euo pipefail
command -v chromium >/dev/null && exit 0
echo "Chromium is missing; installing Debian's package."
as_root=""
if [ "$(id -u)" != 0 ]; then
  command -v sudo >/dev/null || { echo "Install it by hand: apt-get install chromium"; exit 1; }
  as_root=sudo
fi
$as_root apt-get update -qq
DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq chromium >/dev/null
command -v chromium >/dev/null

#!/usr/bin/env bash
# The browser and the PDF tools that the tests drive: Debian's own, installed when they are missing.
set -euo pipefail
missing=()
[ -x "${CHROMIUM:-/usr/bin/chromium}" ] || missing+=(chromium)
command -v pdftoppm >/dev/null || missing+=(poppler-utils)
[ ${#missing[@]} -eq 0 ] && exit 0
if [ "$(id -u)" -eq 0 ]; then as_root=(); elif sudo -n true 2>/dev/null; then as_root=(sudo -n); else
  echo "The tests need ${missing[*]} and you may not install packages here." >&2
  echo "Ask for: apt-get install --no-install-recommends ${missing[*]}" >&2
  exit 1
fi
"${as_root[@]}" apt-get update -qq
"${as_root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null

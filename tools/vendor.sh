#!/usr/bin/env bash
# Fetch the front-end files that ship with the application, at the versions pinned here, and turn
# the type into TrueType for the PDF. The results are committed; this is only run to renew them.
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
out=$here/cross_staff/web/static
python=$here/.venv/bin/python
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
cd "$work"
npm init -y >/dev/null
npm install --ignore-scripts --no-package-lock --silent --no-fund --no-audit \
  htmx.org@2.0.11 bulma@1.0.4 sass@1.108.0 axe-core@4.14.1 \
  @fontsource/barlow@5.3.0 @fontsource/barlow-semi-condensed@5.3.0
mkdir -p "$out/vendor" "$out/fonts" "$here/tests/vendor"
cp node_modules/htmx.org/dist/htmx.min.js "$out/vendor/"
cp node_modules/htmx.org/LICENSE "$out/vendor/LICENSE.htmx"
npx sass --quiet --load-path=node_modules --style=compressed --no-source-map "$here/tools/bulma-parts.scss" \
  "$out/vendor/bulma-parts.min.css"
cp node_modules/bulma/LICENSE "$out/vendor/LICENSE.bulma"
cp node_modules/axe-core/axe.min.js "$here/tests/vendor/"
cp node_modules/axe-core/LICENSE "$here/tests/vendor/LICENSE.axe-core"
for family in barlow barlow-semi-condensed; do
  cp "node_modules/@fontsource/$family/LICENSE" "$out/fonts/LICENSE.$family"
  for weight in 400 500 600; do
    cp "node_modules/@fontsource/$family/files/$family-latin-$weight-normal.woff2" "$out/fonts/"
  done
done
"$python" - "$out/fonts" <<'PY'
import sys
from pathlib import Path
from fontTools.ttLib import TTFont

for weight in (400, 600):
    name = f"barlow-semi-condensed-latin-{weight}-normal"
    font = TTFont(Path(sys.argv[1]) / f"{name}.woff2")
    font.flavor = None
    font.save(Path(sys.argv[1]) / f"{name}.ttf")
PY

#!/usr/bin/env bash
# Brings the front-end files listed below from their registry packages into the application, with their licences.
set -euo pipefail
root=$(cd "$(dirname "$0")/.." && pwd)
out="$root/workbench/static/vendor"
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
cd "$work"
npm init -y >/dev/null
npm install --silent --no-audit --no-fund bootstrap@5.3.9 htmx.org@2.0.11 idiomorph@0.8.0 \
  @fontsource/barlow-semi-condensed@5.3.0 @fontsource/spline-sans-mono@5.3.0
mkdir -p "$out"
take() { cp "node_modules/$1" "$out/$2"; }
take bootstrap/dist/css/bootstrap.min.css bootstrap.min.css
take bootstrap/LICENSE bootstrap.LICENSE
take htmx.org/dist/htmx.min.js htmx.min.js
take htmx.org/LICENSE htmx.LICENSE
take idiomorph/dist/idiomorph-ext.min.js idiomorph-ext.min.js
take idiomorph/LICENSE idiomorph.LICENSE
for weight in 400 600; do
  for set in latin latin-ext; do
    take "@fontsource/barlow-semi-condensed/files/barlow-semi-condensed-$set-$weight-normal.woff2" "barlow-semi-condensed-$set-$weight.woff2"
  done
done
take @fontsource/barlow-semi-condensed/LICENSE barlow-semi-condensed.LICENSE
for set in latin latin-ext; do
  take "@fontsource/spline-sans-mono/files/spline-sans-mono-$set-400-normal.woff2" "spline-sans-mono-$set-400.woff2"
done
take @fontsource/spline-sans-mono/LICENSE spline-sans-mono.LICENSE
# The style sheet names a source map that is not shipped.
sed -i 's|/\*# sourceMappingURL=.*\*/||' "$out/bootstrap.min.css"

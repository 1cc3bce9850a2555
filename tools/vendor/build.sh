#!/usr/bin/env bash
# Rebuilds the vendored scripts, styles and fonts from the versions in package.json.
set -euo pipefail
cd "$(dirname "$0")"
static=../../src/footing/web/static
npm install --no-audit --no-fund --omit-lockfile-registry-resolved
npx esbuild vega-entry.js --bundle --minify --format=esm --legal-comments=none --banner:js="// @ts-nocheck" \
  --outfile="$static/vendor/vega.js"
cp node_modules/bulma/css/bulma.min.css "$static/vendor/bulma.min.css"
sed 's|/\*# sourceMappingURL=.*||' node_modules/slickgrid/dist/styles/css/slick.grid.css >"$static/vendor/grid.css"
npx esbuild grid-entry.js --bundle --minify --format=esm --legal-comments=none --banner:js="// @ts-nocheck" \
  --outfile="$static/vendor/grid.js"
npx esbuild drawing-entry.js --bundle --minify --format=esm --legal-comments=none --banner:js="// @ts-nocheck" \
  --outfile="$static/vendor/drawing.js"
cp node_modules/htmx.org/dist/htmx.min.js "$static/vendor/htmx.min.js"
cp node_modules/idiomorph/dist/idiomorph-ext.min.js "$static/vendor/idiomorph-ext.min.js"
sed 's|//# sourceMappingURL=.*||' node_modules/tus-js-client/dist/tus.min.js >"$static/vendor/tus.min.js"
for weight in 400 600 700; do
  cp "node_modules/@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-$weight-normal.woff2" "$static/fonts/"
done
cp node_modules/@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-italic.woff2 "$static/fonts/"
for weight in 400 600; do
  cp "node_modules/@fontsource/ibm-plex-mono/files/ibm-plex-mono-latin-$weight-normal.woff2" "$static/fonts/"
done

# the same fonts for graphs that the server draws, whose renderer reads no web fonts
python3 -m venv node_modules/.fonts
node_modules/.fonts/bin/pip install --quiet fonttools==4.68.0 brotli==1.2.1
for font in atkinson-hyperlegible-next-latin-{400,600,700}-normal ibm-plex-mono-latin-400-normal; do
  node_modules/.fonts/bin/python -m fontTools.ttLib.woff2 decompress \
    -o "../../src/footing/studies/fonts/$font.ttf" "$static/fonts/$font.woff2"
done

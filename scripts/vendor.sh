#!/usr/bin/env bash
# Copy the scripts, styles and fonts that ship with Elder out of npm's folder: `make vendor`.
# Run after changing a version in package.json; commit what it writes.
set -euo pipefail
cd "$(dirname "$0")/.."
to=elder/web/ui/static/vendor
npm ci --silent
rm -rf "$to" && mkdir -p "$to"/{bootstrap,alpine,alpine-ajax,bitter,atkinson}
cp node_modules/bootstrap/LICENSE "$to/bootstrap/"
cp node_modules/@alpinejs/csp/dist/cdn.min.js "$to/alpine/alpine-csp.min.js"
cp node_modules/@imacrayon/alpine-ajax/dist/cdn.min.js "$to/alpine-ajax/alpine-ajax.min.js"
for family in bitter:bitter atkinson-hyperlegible-next:atkinson; do
  from=node_modules/@fontsource-variable/${family%%:*}
  cp "$from"/files/*-latin-wght-*.woff2 "$from"/files/*-latin-ext-wght-*.woff2 "$from/LICENSE" "$to/${family##*:}/"
done
rm -f "$to"/bitter/*cyrillic* "$to"/bitter/*vietnamese*
for package in @alpinejs/csp:alpine @imacrayon/alpine-ajax:alpine-ajax; do
  from=node_modules/${package%%:*}
  licence=$(find "$from" -maxdepth 1 -iname 'licen[cs]e*' | head -n 1)
  if [ -n "$licence" ]; then cp "$licence" "$to/${package##*:}/LICENSE"
  else node -p "const p=require('./$from/package.json'); p.name+' '+p.version+', '+p.license+' licence, by '+(p.author&&p.author.name||p.author||'its authors')" > "$to/${package##*:}/LICENSE"; fi
done
.venv/bin/python scripts/fonts.py "$to"
# Of Bootstrap's styles those that some page, form or script of ours names; the whole is kept for the test of it.
npx purgecss --css node_modules/bootstrap/dist/css/bootstrap.min.css --output "$to/bootstrap/bootstrap.used.css" \
  --content 'elder/web/**/*.html' 'elder/web/**/*.py' 'elder/web/ui/static/elder/js/**/*.js' \
  '.venv/lib/python3*/site-packages/crispy_bootstrap5/templates/**/*.html'
mkdir -p tests/vendor
cp node_modules/bootstrap/dist/css/bootstrap.min.css tests/vendor/
cp node_modules/axe-core/axe.min.js node_modules/axe-core/LICENSE tests/vendor/
node -p "JSON.stringify(require('./package.json').dependencies, null, 2)" > "$to/versions.json"

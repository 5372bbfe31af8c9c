#!/bin/sh
# Builds the Debian package and checks what describes it. usage: package.sh BUILD
set -eu
cd "$(dirname "$0")/.."
build="$1"
appstreamcli validate --no-net packaging/desktop/hidden-seam.metainfo.xml
desktop-file-validate packaging/desktop/hidden-seam.desktop
xmllint --noout packaging/desktop/hidden-seam.xml
for page in packaging/man/*.1; do
    LC_ALL=C.UTF-8 man --warnings -E UTF-8 -l -Tutf8 -Z "$page" 2>&1 >/dev/null | (! grep .) || { echo "$page has warnings"; exit 1; }
done
(cd "$build" && rm -f hidden-seam_*.deb && cpack -G DEB >/dev/null)
ls "$build"/hidden-seam_*.deb

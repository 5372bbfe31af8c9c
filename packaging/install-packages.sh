#!/bin/sh
# Installs the packages of the named sections of debian-packages.txt that are missing; as root, or through sudo.
# usage: install-packages.sh SECTION...
set -eu
list="$(dirname "$0")/debian-packages.txt"
wanted=""
for section in "$@"; do
    wanted="$wanted $(awk -v s="[$section]" '/^\[/ {on = ($0 == s); next} on && NF && !/^#/ {print $1}' "$list" | tr '\n' ' ')"
done
missing=""
for package in $wanted; do
    state=$(dpkg-query -W -f '${Status}' "$package" 2>/dev/null || true)
    [ "$state" = "install ok installed" ] || missing="$missing $package"
done
[ -n "$missing" ] || exit 0

if [ "$(id -u)" = 0 ]; then
    as_root=""
elif command -v sudo >/dev/null 2>&1; then
    as_root="sudo"
else
    echo "These Debian packages are missing, and installing them needs root or sudo:" >&2
    echo "   $missing" >&2
    echo "Ask an administrator for:  apt-get install --no-install-recommends$missing" >&2
    exit 1
fi
echo "Installing from Debian:$missing"
$as_root env DEBIAN_FRONTEND=noninteractive apt-get -qq update
# shellcheck disable=SC2086 # the list is meant to be split
$as_root env DEBIAN_FRONTEND=noninteractive apt-get -qq install -y --no-install-recommends $missing >/dev/null

#!/bin/sh
# How long the three things take that everybody waits for, in a checkout of its own and without a compiler cache. Packages are there.
set -eu
cd "$(dirname "$0")/.."
place=build/times
rm -rf "$place"
git clone -q . "$place"
cd "$place"
export CCACHE_DISABLE=1
took() {
    name="$1"
    shift
    from=$(date +%s)
    "$@" >log 2>&1 || { tail -40 log; exit 1; }
    echo "$name: $(( ($(date +%s) - from + 30) / 60 )) min ($(( $(date +%s) - from )) s) on $(nproc) cores"
}
took "make demo, up to the window" make build
took "make test, the rest of it" make test
took "make lint" make lint

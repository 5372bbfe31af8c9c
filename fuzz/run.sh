#!/bin/sh
# Fuzzes every reader in turn. usage: run.sh BUILD_FOLDER SECONDS_EACH; finds are left in BUILD_FOLDER/finds.
set -eu
cd "$(dirname "$0")/.."
mkdir -p "$1/finds"
for reader in description svg_path open_raster project metadata picture; do
    mkdir -p "$1/corpus/$reader"
    echo "== $reader, $2 s"
    ASAN_OPTIONS=detect_leaks=0:allocator_may_return_null=1 "$1/bin/fuzz_$reader" -max_total_time="$2" -rss_limit_mb=3000 -max_len=262144 -timeout=25 \
        -artifact_prefix="$1/finds/$reader-" -print_final_stats=1 "$1/corpus/$reader" "fuzz/corpus/$reader" 2>&1 | tail -12
done
ls "$1/finds"

#!/bin/sh
# clang-tidy over the core (the interface is left out: one file that includes QtWidgets takes half a minute).
# usage: tidy.sh --changed | --all
# --changed: the files that differ from the commit in packaging/last-linted, the newest that passed as a whole, and those that include a
# header that does. Everything if that commit is not at hand.
set -eu
cd "$(dirname "$0")/.."
cmake --preset clang-tidy >/dev/null
all=$(git ls-files 'src/core/*.cpp')
files="$all"
base=$(cat packaging/last-linted 2>/dev/null || true)
if [ "${1:-}" = "--changed" ] && git cat-file -e "$base^{commit}" 2>/dev/null; then
    changed=$(git diff --name-only "$base" -- src/core .clang-tidy; git ls-files --others --exclude-standard src/core)
    if ! echo "$changed" | grep -q clang-tidy; then
        headers=$(echo "$changed" | grep '\.h$' | sed 's,^src/,,' || true)
        files=$(for f in $all; do
            if echo "$changed" | grep -qx "$f"; then echo "$f"; continue; fi
            for h in $headers; do if grep -qF "#include \"$h\"" "$f"; then echo "$f"; break; fi; done
        done)
    fi
fi
count=$(echo "$files" | grep -c . || true)
echo "clang-tidy over $count of $(echo "$all" | wc -l) files"
[ "$count" -gt 0 ] || exit 0
# What clang-tidy says on the side (how many warnings it left out) is dropped; its complaints come on the output.
echo "$files" | xargs -P "$(nproc)" -n 4 clang-tidy --quiet -p build/clang-tidy 2>build/clang-tidy/said || {
    grep -v 'warnings generated\|Suppressed\|Use -header-filter' build/clang-tidy/said >&2 || true
    exit 1
}

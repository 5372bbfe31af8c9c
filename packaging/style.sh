#!/bin/sh
# --check: fails where a source is not in the project's style; --rewrite: puts it in style.
set -eu
cd "$(dirname "$0")/.."
files=$(git ls-files 'src/*.cpp' 'src/*.h' 'tests/*.cpp' 'tests/*.h' 'bench/*.cpp' 'bench/*.h' 'fuzz/*.cpp' 'fuzz/*.h')
[ -n "$files" ] || exit 0
if [ "${1:-}" = "--rewrite" ]; then
    echo "$files" | xargs clang-format -i
else
    echo "$files" | xargs -P "$(nproc)" -n 40 clang-format --dry-run -Werror
    packaging/unity-names.py
fi

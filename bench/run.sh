#!/bin/sh
# Prints every measured figure. usage: run.sh BUILD_FOLDER
set -eu
bin="$1/bin"
echo "== cut: errors in the undecided pixels, and seconds a megapixel"
"$bin/matte_bench" demo/pictures
echo "== cut: whole pictures"
"$bin/matte_bench" demo/pictures --large
"$bin/matte_bench" demo/pictures --bands
"$bin/matte_bench" demo/pictures --stretch
if [ -n "${HSEAM_PHOTOS:-}" ]; then
    echo "== cut: on pictures that others made"
    cases=$(mktemp -d)
    python3 "$HSEAM_PHOTOS/make_cases.py" "$cases" --seed 1
    "$bin/foreign_bench" "$HSEAM_PHOTOS" "$cases"
    rm -r "$cases"
    echo "== findings: on pictures that others made"
    "$bin/judge_bench" "$HSEAM_PHOTOS"
    echo "== made to belong: photographs of others, graded in part"
    "$bin/belong_bench" "$HSEAM_PHOTOS"
    echo "== frames of one place, and holes: on photographs of others"
    python3 bench/frames.py "$HSEAM_PHOTOS" "$bin/hseam"
else
    echo "== cut: on pictures that others made: skipped, HSEAM_PHOTOS is not set"
fi
echo "== made to belong: against the same subjects rendered where they stand"
"$bin/standing_bench" tests/truth/standing
echo "== rendering"
"$bin/render_bench" --benchmark_min_time=1
echo "== adjustments and effects"
"$bin/adjust_bench" --benchmark_min_time=0.5
echo "== keeping a stroke at 24 megapixels"
"$bin/keep_bench"
echo "== the window at 24 megapixels x 10 layers"
QT_QPA_PLATFORM=offscreen "$bin/window_bench"
echo "== readings against the truth (plots in docs/measures)"
"$bin/reading_curves" docs/measures
echo "== opening a project of 24 megapixels x 10 layers with 5,000 strokes"
place=$(mktemp -d)
"$bin/open_bench" make "$place/long.hseam"
"$bin/open_bench" open "$place/long.hseam"
rm -r "$place"

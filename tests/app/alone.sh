#!/usr/bin/env bash
# The program by itself, without a display: a report of the demo job, and a clear error where a job is not there.
set -eu
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
unset DISPLAY WAYLAND_DISPLAY
export XDG_RUNTIME_DIR=$work HOME=$work
"$1" --demo --report job --into "$work/job.pdf"
[ "$(head -c 5 "$work/job.pdf")" = "%PDF-" ]
code=0
"$1" --job "$work/none.dervish" --shots "$work/other" 2>"$work/err" || code=$?
[ $code = 2 ] && grep -q "no such file" "$work/err"

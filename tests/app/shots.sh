#!/usr/bin/env bash
# Pictures of every station without a display: those that docs/screenshots keeps, right size, not blank, and a clear error where they cannot be written.
set -eu
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
unset DISPLAY WAYLAND_DISPLAY
export XDG_RUNTIME_DIR=$work HOME=$work
"$1" --demo --shots "$work/shots"
python3 - "$work/shots" "$(dirname "$0")/../../docs/screenshots" <<'P'
import pathlib, struct, sys
shots = sorted(pathlib.Path(sys.argv[1]).glob("*.png"))
kept = sorted(s.name for s in pathlib.Path(sys.argv[2]).glob("*.png"))
assert len(kept) > 10 and [s.name for s in shots] == kept, (shots, kept)
for s in shots:
    data = s.read_bytes()
    assert struct.unpack(">II", data[16:24]) == (1280, 800), s
    assert len(data) > 30000, (s, len(data))  # a blank or half-drawn window packs far smaller
P
code=0
"$1" --job "$work/none.dervish" --shots "$work/other" 2>"$work/err" || code=$?
[ $code = 2 ] && grep -q "no such file" "$work/err"

#!/usr/bin/env bash
# Pictures of every station without a display: right size, not blank, and a clear error where they cannot be written.
set -eu
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
unset DISPLAY WAYLAND_DISPLAY
export XDG_RUNTIME_DIR=$work HOME=$work
"$1" --demo --shots "$work/shots"
python3 - "$work/shots" <<'P'
import pathlib, struct, sys
shots = sorted(pathlib.Path(sys.argv[1]).glob("*.png"))
assert [s.name for s in shots] == ["01-car.png", "02-bar-choices.png", "02-bar-rig.png", "02-bar-travel.png", "02-bar.png", "03-link-length.png", "03-link-limits.png", "03-link-set-up.png", "03-link.png", "04-balance-bars.png", "04-balance-manoeuvre.png", "04-balance-means.png", "04-balance.png", "05-flex.png", "06-prove.png"], shots
for s in shots:
    data = s.read_bytes()
    assert struct.unpack(">II", data[16:24]) == (1280, 800), s
    assert len(data) > 30000, (s, len(data))  # a blank or half-drawn window packs far smaller
P
code=0
"$1" --job "$work/none.dervish" --shots "$work/other" 2>"$work/err" || code=$?
[ $code = 2 ] && grep -q "no such file" "$work/err"

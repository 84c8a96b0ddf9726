#!/usr/bin/env bash
# dervish-calc as a shell uses it: what it prints, and the code it ends with.
set -u
calc=$1 root=$2
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
failed=0
expect() { # description, wanted exit code, command...
  local what=$1 code=$2
  shift 2
  "$@" >"$work/out" 2>"$work/err"
  local got=$?
  [ $got = "$code" ] || { echo "FAILED: $what: exit $got instead of $code"; cat "$work/err"; failed=1; }
}
holds() { python3 -c "import json,sys; d=json.load(open('$work/out')); sys.exit(0 if ($1) else 1)" || { echo "FAILED: $1"; failed=1; }; }
says() { grep -q "$1" "$work/$2" || { echo "FAILED: $2 does not say $1"; cat "$work/$2"; failed=1; }; }
demo=$root/demo/hut-van.dervish

expect "bars within tolerance" 0 "$calc" check "$root/tests/data/bars-linear.json"; says ", 0 outside" out
expect "large travel within tolerance" 0 "$calc" check "$root/tests/data/bars-large.json"; says ", 0 outside" out
expect "links within tolerance" 0 "$calc" check "$root/tests/data/bars-links.json"; says ", 0 outside" out
expect "rides within tolerance" 0 "$calc" check "$root/tests/data/ride.json"; says ", 0 outside" out
expect "what differs" 0 "$calc" differs "$demo" --from fitted --setup trial --draws 200; says "Front bar" out; says '"surely"' out; says sudden_share_of_drawn_cars out
# How far it is, on a terminal alone.
script -qec "$calc bands '$demo' --draws 4000" /dev/null >"$work/out" </dev/null; says "0 %, Ctrl+C stops" out
expect "bands" 0 "$calc" bands "$demo" --draws 400; [ -s "$work/err" ] && { echo "FAILED: progress into a file"; failed=1; }
expect "a setup that is none" 2 "$calc" differs "$demo" --from nowhere; says "nowhere" err
expect "ride" 0 "$calc" ride "$demo" --ground gravel --speed 60
holds 'd["speed_km_per_h"] == 60 and 0.3 < d["seat_weighted_m_per_s2"] < 3 and len(d["free_motions"]) == 8'
expect "a ground that is none" 2 "$calc" ride "$demo" --ground sand; says "washboard" err
expect "cars within tolerance" 0 "$calc" check "$root/tests/data/car.json"; says ", 0 outside" out
sed 's/"antiphase_rate_N_per_mm": 70.61459/"antiphase_rate_N_per_mm": 71/' "$root/tests/data/bars-linear.json" >"$work/off.json"
expect "a wrong figure is found" 1 "$calc" check "$work/off.json"; says "OUTSIDE" out
odd() { # path of keys in the job, wrong value, the field and words it is told by
  python3 - "$demo" "$work/odd.json" "$1" "$2" <<'P'
import json, sys, zipfile
job = json.loads(zipfile.ZipFile(sys.argv[1]).read("job.json"))
at = job
for key in sys.argv[3].split("/"):
    at = at[key]
    kind = key if isinstance(at, str) else None
    if kind: at = job["parts"][kind][at]
at["value"] = float(sys.argv[4])
json.dump(job, open(sys.argv[2], "w"))
P
  expect "$1 = $2" 2 "$calc" tally "$work/odd.json"; says "$3.*$4.* to " err
}
odd vehicle/wheelbase_mm -2902 vehicle/wheelbase "-2902 mm cannot be; give 100 mm"
odd fitted/front/springs/rate_N_per_mm -37 fitted/front/springs/rate "-37 N/mm cannot be; give 0.001 N/mm"
odd trial/front/mounts/vertical_N_per_mm -500 front/mounts/vertical "-500 N/mm cannot be; give 0.01 N/mm"
odd vehicle/front/motion_ratio 3 vehicle/front/motion_ratio "3 cannot be; give 0.05"
printf '%200000s' | tr ' ' '[' >"$work/deep.json"
expect "a deep file" 2 "$calc" check "$work/deep.json"; says "nested too deep" err
# Small in meaning, 60 MB on disk: refused within the memory of a small machine (which the sanitizers' own shadow is not).
memory() { grep -q __asan_init "$calc" || ulimit -v 500000; "$@"; }
for hostile in '"{" + ",".join(f"\"k{i}\":1" for i in range(4_500_000)) + "}"' '"{\"name\":\"" + "x" * 60_000_000 + "\"}"' \
    '"{\"a\":[" + ",".join(["{}"] * 20_000_000) + "]}"' '"[" * 60_000_000'; do
  python3 -c "open('$work/hostile.json', 'w').write($hostile)"
  expect "60 MB of $hostile" 2 memory "$calc" check "$work/hostile.json"
done
rm "$work/hostile.json"
mkfifo "$work/pipe.json"
expect "a pipe" 2 timeout 5 "$calc" check "$work/pipe.json"; says "not a file" err
python3 - "$root/tests/data/bars-linear.json" "$work/long.json" <<'P'
import json, sys
cases = json.load(open(sys.argv[1]))
cases["cases"][0]["points_mm"][0][1] = -1e9
json.dump(cases, open(sys.argv[2], "w"))
P
expect "a bar without end" 2 timeout 20 "$calc" check "$work/long.json"
expect "no such file" 2 "$calc" check "$work/none.json"; says "no such file" err

expect "tally" 0 "$calc" tally "$demo" --setup fitted
holds "4 < d['roll_gradient_deg_per_g']['value'] < 14 and d['roll_gradient_deg_per_g']['band_90'] > 0 and d['lifts']"
expect "bar" 0 "$calc" bar "$demo" --axle front --setup trial
holds "abs(sum(v if isinstance(v, float) else sum(v) for v in d['ledger'].values()) - 1) < 1e-9 and d['rate_at_link_ends_N_per_mm'] < d['rate_at_eye_without_links_N_per_mm']['value'] < d['textbook_N_per_mm'] < d['twist_only_N_per_mm']"
holds "abs(sum((d['stiffness_matrix_at_link_ends_N_per_mm'][i][j] * (1 if i == j else -1) for i in (0, 1) for j in (0, 1))) / 2 - d['rate_at_link_ends_N_per_mm']) < 1e-6"
holds "d['times_standard_at_wheel'] > 2 and len(d['large_travel']['points']) == 21 and d['choices']['equal_rate_tubes'] and d['why_the_sums_differ'].startswith('Twist only')"
expect "links" 0 "$calc" links "$demo" --axle front
holds "all(len(d['links'][s][m]) == 41 for s in ('left', 'right') for m in ('opposite', 'together', 'one_wheel'))"
holds "d['links']['left']['angles'][0]['left_deg'] <= d['links']['left']['angles'][1]['left_deg'] and len(d['set_up']) == 9 and d['at_rest']['right_link_longer_takes_it_out_mm'] is not None"
holds "any('hose' in m['what'] for m in d['links']['left']['distances']) and 'energy' in d['caution']"
expect "balance" 0 "$calc" balance "$demo" --surface wet --draws 20
holds "d['phases']['middle']['gives_first'] in ('front', 'rear') and len(d['handling_curve']) == 40 and len(d['front_bar']) == 11"
holds "abs(sum(v for k, v in d['understeer_deg_per_g'].items() if k != 'whole') - d['understeer_deg_per_g']['whole']) < 1e-6"
holds "d['conditions']['dry']['as now']['lateral_g'] > d['phases']['middle']['lateral_g'] and 'closed ground' in d['caution']"
expect "the sprint's balance" 0 "$calc" balance "$root/demo/hill-sprint.dervish" --setup fitted --surface wet --draws 20
holds "d['phases']['middle']['gives_first'] == 'front'"
expect "unknown surface" 2 "$calc" balance "$demo" --surface ice
expect "no such way" 2 "$calc" cures "$demo" --aim lean --wanted 7.5 --put 99 --to "$work/none.dervish"; says "from 1" err
python3 - "$calc" "$demo" "$work/cured.dervish" <<'P' || { echo "FAILED: a cure put on Trial does not do what was told of it"; failed=1; }
import json, subprocess, sys
calc, demo, cured = sys.argv[1:]
def run(*args):
    return json.loads(subprocess.run([calc, *args], capture_output=True, text=True, check=True).stdout)
for aim, wanted, kinds in (("lean", "7.2", ("springs", "Lower the car", "front bar", "Without Roof box")),
                           ("heads", "0.115", ("dampers",)), ("limit", "-11", ("rear pressure", "rear bar"))):
    found = run("cures", demo, "--aim", aim, "--wanted", wanted)
    for kind in kinds:
        at, way = next((i, w) for i, w in enumerate(found["ways"], 1) if kind in w["what"] and w["does"])
        run("cures", demo, "--aim", aim, "--wanted", wanted, "--put", str(at), "--to", cured, "--force")
        now = run("tally", cured)["roll_gradient_deg_per_g"]["value"] if aim == "lean" else \
            run("cures", cured, "--aim", aim, "--wanted", wanted)["now"]
        done = (now - found["now"]) / (float(wanted) - found["now"])
        if abs(done - way["does"]) > 0.01: sys.exit(f"{aim} by {way['what']}: {done} done, {way['does']} told")
        if kind != "Without Roof box" and abs(done - 1) > 0.01: sys.exit(f"{aim} by {way['what']}: not whole, {done}")
P
expect "bands" 0 "$calc" bands "$demo" --draws 300
holds "d['draws'] == 300 and all(f['drawn_5_percent'] <= f['drawn_median'] <= f['drawn_95_percent'] for f in d['figures']) and len(d['figures']) == 18"
expect "too few draws" 2 "$calc" bands "$demo" --draws 3
expect "flex" 0 "$calc" flex "$demo" --protocol diagonal --setup "front bar off"
holds "len(d['states']) == 1 and len(d['states'][0]['wheels']) == 4 and d['states'][0]['lift_height_mm'] > 300"
expect "flex, all states" 0 "$calc" flex "$demo" --states all --against "$root/demo/hill-sprint.dervish" --track 1
holds "len(d['states']) == 12 and d['ranking'][0] == 'both off' and 'sets the twist' in d['why'][0]"
for protocol in holes ramp lift slope; do
  expect "flex, $protocol" 0 "$calc" flex "$demo" --protocol $protocol --wheel "rear right"
  holds "d['states'][0]['lifts'] and len(d['why']) >= 3"
done
expect "short ramps" 0 "$calc" flex "$demo" --highest 100
holds "not d['states'][0]['lifts'] and d['states'][0]['more_than_mm'] == 100"
expect "prove" 0 "$calc" prove "$demo"
holds "len({t['protocol'] for t in d['tests']}) >= 6 and {'agrees', 'disagrees'} <= {t['verdict'] for t in d['tests']}"
holds "any('idle' in w['what'] for t in d['tests'] for s in t.get('states', []) for w in s.get('would_explain', []))"
holds "any(x['verdict'] == 'cannot tell' for t in d['tests'] for x in t.get('differences', [])) and any('Marit' in e for e in d['eyes'])"
expect "no such test" 2 "$calc" prove "$demo" --test 99; says "1 to" err
expect "plan" 0 "$calc" plan "$demo" --against "front bar off" --protocol sill_lean --order ABABABA --question "does it?"
holds "len(d['tests']) == 1 and 0 <= d['tests'][0]['chance_to_tell'] <= 1 and d['tests'][0]['predicted'] > 0"
expect "an order of one" 2 "$calc" plan "$demo" --order AAA
expect "an unknown kind" 2 "$calc" plan "$demo" --protocol jump; says "sill_lean" err
expect "book" 0 "$calc" book "$demo" --csv "$work/book.csv" --calendar "$work/due.ics" --today 2032-10-01
holds "len(d['fitted']) == 6 and any('without the rear bar' in g['words'] for g in d['gaps']) and any(x['is_due'] for x in d['due'])"
grep -q "^2031-06-08,43600.0,fitted," "$work/book.csv" && grep -q "^END:VCALENDAR" "$work/due.ics" || { echo "FAILED: the book's files"; failed=1; }
expect "a day that is none" 2 "$calc" book "$demo" --today 2032-13-01; says "2031-05-11" err
expect "sheet" 0 "$calc" sheet "$demo" --html "$work/sheet.html"
holds "d['steps'][0]['key'] == 'stands' and any('measure' in s for s in d['steps']) and d['to_go_back']"
expect "report" 0 "$calc" report "$demo" --of rules --html "$work/report.html"; grep -q "scrutineers\|standard" "$work/report.html" || { echo "FAILED: report"; failed=1; }
expect "a test that is none" 2 "$calc" report "$demo" --of test --test 99
if [ -x "$(dirname "$calc")/../app/dervish" ]; then
    expect "report as PDF" 0 "$calc" report "$demo" --of bar --today 2032-09-01 --pdf "$work/report.pdf"
    head -c 4 "$work/report.pdf" | grep -q "%PDF" || { echo "FAILED: report as PDF is none"; failed=1; }
else
    expect "report as PDF without the window" 2 "$calc" report "$demo" --pdf "$work/report.pdf"; says "build it too" err
fi
expect "report with its drawing" 0 "$calc" report "$demo" --of bar; says "data:image/svg+xml;base64," out
expect "links to make" 0 "$calc" build "$demo" --axle front --of links --head 20 --svg "$work/link.svg" --dxf "$work/link.dxf"; says "cut_mm" out
expect "a joint longer than its link" 2 "$calc" build "$demo" --axle front --of links --head 400
expect "plan for an unknown" 0 "$calc" plan "$demo" --asks unknown --unknown vehicle/front/roll_centre_height --order ABA --protocol sill_lean; says "share_that_stays" out
expect "plan for no unknown" 2 "$calc" plan "$demo" --asks unknown --unknown vehicle/name
expect "build" 0 "$calc" build "$demo" --axle front --svg "$work/bar.svg" --dxf "$work/bar.dxf"; says "straight_mm" out
grep -q "</svg>" "$work/bar.svg" && grep -q "^EOF" "$work/bar.dxf" || { echo "FAILED: the bar's drawings"; failed=1; }
# What is written never takes the place of the job, nor of any other file unasked; what cannot be written is told.
cp "$demo" "$work/own.dervish"
chmod u+w "$work/own.dervish"
echo mine >"$work/mine.txt"
writers() { # job, the file that is written into
  echo "book $1 --csv $2" "|book $1 --calendar $2" "|sheet $1 --html $2" "|report $1 --of rules --html $2" \
    "|build $1 --axle front --svg $2" "|build $1 --axle front --dxf $2" "|build $1 --axle front --of links --svg $2" \
    "|cures $1 --aim lean --wanted 7.2 --put 1 --to $2"
  [ -x "$(dirname "$calc")/../app/dervish" ] && echo "|report $1 --of rules --pdf $2"
}
ln -s own.dervish "$work/link.dervish"
for target in own.dervish mine.txt link.dervish; do
  before=$(md5sum <"$work/$target")
  while IFS= read -r -d '|' line; do
    expect "$line" 2 "$calc" $line; says "made from\|is there already" err
    [ "$target" = mine.txt ] || { expect "$line --force" 2 "$calc" $line --force; says "made from" err; }
  done <<<"$(writers "$work/own.dervish" "$work/$target" | tr -d '\n')|"
  [ "$before" = "$(md5sum <"$work/$target")" ] || { echo "FAILED: $target was written over"; failed=1; }
done
cd "$work" && expect "by a relative path" 2 "$calc" book own.dervish --csv ./own.dervish --force; cd - >/dev/null
expect "asked for" 0 "$calc" book "$work/own.dervish" --csv "$work/mine.txt" --force; grep -q "^date,km" "$work/mine.txt" || { echo "FAILED: --force"; failed=1; }
full() { "$@" >/dev/full; }
closed() { "$@" >&-; }
for line in "tally $demo" "schema" "report $demo --of rules" "build $demo --axle front" "check $root/tests/data/bars-linear.json"; do
  expect "$line on a full disk" 2 full "$calc" $line; says "standard output" err
  expect "$line on a closed output" 2 closed "$calc" $line; says "standard output" err
done
# A number is a number, within its range.
for line in "ride $demo --speed" "flex $demo --highest" "flex $demo --angle" "flex $demo --second" "flex $demo --obstacle" \
    "flex $demo --threshold" "flex $demo --track" "cures $demo --aim lean --wanted" "build $demo --axle front --of links --head"; do
  for number in nan inf -inf 1e300 five ""; do
    expect "$line $number" 2 "$calc" $line "$number"; says "give .* to \|1 required" err
  done
done
# A figure that cannot be is a sentence that says why, in JSON and on paper.
python3 - "$calc" "$demo" "$work/cannot.json" <<'P' || { echo "FAILED: a figure that cannot be is not told as such"; failed=1; }
import json, re, subprocess, sys, zipfile
calc, demo, made = sys.argv[1:]
def holes(at):
    if at is None: return 1
    return sum(map(holes, at.values() if isinstance(at, dict) else at if isinstance(at, list) else ()))
for what, value, why in (("wheelbase_mm", 100, "wheelbase"), ("wheelbase_mm", 400, "wheelbase"), ("wheelbase_mm", 800, "tips over"),
                         ("rate_N_per_mm", 2.55, "tyres")):
    job = json.loads(zipfile.ZipFile(demo).read("job.json"))
    for at in [job["vehicle"]] if what == "wheelbase_mm" else job["parts"]["tyres"].values(): at[what]["value"] = value
    json.dump(job, open(made, "w"))
    for line in (["tally"], ["balance", "--draws", "0"], ["ride"], ["flex", "--states", "all"], ["differs", "--draws", "0"], ["cures", "--aim", "limit", "--wanted", "1"],
                 ["bands", "--draws", "100"], ["report"]):
        done = subprocess.run([calc, line[0], made, *line[1:]], capture_output=True, text=True)
        if done.returncode: sys.exit(f"{what} {value} {line}: {done.stderr}")
        if line[0] == "report":
            words = re.sub("base64,[A-Za-z0-9+/=]*", "", done.stdout)
            if re.search(r"\b(nan|inf)\b", words) or why not in words: sys.exit(f"{what} {value}: the report")
        elif holes(json.loads(done.stdout)) or "nan" in re.findall(r"\w+", done.stdout): sys.exit(f"{what} {value} {line}: {done.stdout[:300]}")
        if line[0] == "tally" and why not in done.stdout: sys.exit(f"{what} {value}: not said why")
P
expect "a test that is no number" 2 "$calc" prove "$demo" --test -3
expect "unknown setup" 2 "$calc" tally "$demo" --setup nobody; says "front bar off" err
[ -s "$work/out" ] && { echo "FAILED: an error wrote to standard output"; failed=1; }
expect "unknown axle" 2 "$calc" bar "$demo" --axle middle
expect "foreign file" 2 "$calc" tally "$root/README.md"

"$calc" schema >"$work/schema.json"
unzip -p "$demo" job.json >"$work/job.json"
python3 - "$work" <<'P' || { echo "FAILED: the demo does not meet the schema, or the schema accepts anything"; failed=1; }
import json, sys, jsonschema
schema, job = (json.load(open(f"{sys.argv[1]}/{n}.json")) for n in ("schema", "job"))
try: jsonschema.validate(job, schema)
except (jsonschema.ValidationError, jsonschema.SchemaError) as e: sys.exit(e.message[:300])
job["vehicle"]["front"]["track_mm"]["value"] = -1
try: jsonschema.validate(job, schema)
except jsonschema.ValidationError: sys.exit(0)
sys.exit(1)
P
exit $failed

#!/usr/bin/env bash
# Every reader under the fuzzer for some seconds, two at a time: run.sh BUILD [SECONDS [SEED]]. Starts from the corpus in the
# tree; what is found new goes to BUILD/fuzz. Fails where a reader did, and leaves the bytes that did it there.
set -u
here=$(cd "$(dirname "${BASH_SOURCE[0]}")" && pwd)
build=$1 seconds=${2:-60} seed=${3:-0}
one() {
  local reader=$1 out=$build/fuzz/$1
  mkdir -p "$out"
  "$build/tests/fuzz/fuzz-$reader" -max_total_time="$seconds" -seed="$seed" -timeout=20 -rss_limit_mb=2048 -max_len=40000 -print_final_stats=1 \
    -artifact_prefix="$out-" "$out" "$here/corpus/$reader" >"$out.log" 2>&1
  local code=$?
  echo "$reader: $(grep -o 'stat::number_of_executed_units: *[0-9]*' "$out.log" | grep -o '[0-9]*$') executions, exit $code"
  [ $code = 0 ] || tail -30 "$out.log"
  return $code
}
export -f one
export here build seconds seed
printf '%s\n' job archive csv stock entry reference | xargs -P 2 -I{} bash -c 'one {}'

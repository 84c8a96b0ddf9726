#!/usr/bin/env python3
"""One operator of the core changed at random, rebuilt, the core's and the store's tests run: which changes does no test
notice? tests/hunt/mutants.py [MUTANTS [SEED [MINUTES [TREE]]]]: no new one is begun after so many minutes of them. Works in
build/mutants/tree-SEED on a copy of the last commit; or in TREE, a checkout whose build/release has passed every test
(every file it changes is put back). A change that is truly alike stands with its reason in
tests/hunt/mutants-alike.txt (FILE: line's text -> changed text: why). Exit code 1 where under 90 % of the others were
noticed; of fewer than fifty, where so few would be noticed once in fifty if it were 90 %."""
import math
import pathlib
import random
import re
import subprocess
import sys
import time

HERE = pathlib.Path(__file__).resolve().parents[2]
SEED = int(sys.argv[2]) if len(sys.argv) > 2 else 1
MINUTES = float(sys.argv[3]) if len(sys.argv) > 3 else math.inf
TREE = (pathlib.Path(sys.argv[4]).resolve() if len(sys.argv) > 4 else
        HERE / "build" / "mutants" / f"tree-{SEED}")  # one a seed, so that two can run at once
SWAPS = [(" + ", " - "), (" - ", " + "), (" * ", " / "), (" / ", " * "), (" < ", " >= "), (" > ", " <= "), (" <= ", " > "),
         (" >= ", " < "), (" && ", " || "), (" || ", " && "), (" += ", " -= "), (" -= ", " += "), ("std::sin(", "std::cos("),
         ("std::cos(", "std::sin("), ("std::min(", "std::max("), ("std::max(", "std::min("), (" == ", " != "), (" != ", " == ")]


def code(line):
    """The line with comments and texts blanked, so that only operators are found in it."""
    line = re.sub(r'"(\\.|[^"\\])*"', lambda m: "_" * len(m.group()), line)
    at = line.find("//")
    return line if at < 0 else line[:at]


def places():
    out = []
    for file in sorted((TREE / "src" / "core").rglob("*.cpp")):
        for number, line in enumerate(file.read_text().splitlines()):
            seen = code(line)
            if "template" in seen or seen.lstrip().startswith(("#", "for (", "*", "///")):
                continue
            for old, new in SWAPS:
                at = seen.find(old)
                while at >= 0:
                    out.append((file, number, at, old, new))
                    at = seen.find(old, at + 1)
    return out


def run(*command, seconds):
    try:
        return subprocess.run(command, cwd=TREE, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
                              timeout=seconds).returncode
    except subprocess.TimeoutExpired:
        return -1


def noticed():
    """How: "" where no test did."""
    if run("cmake", "--build", "build/release", "--target", "core-tests", "store-tests", seconds=3600) != 0:
        return "does not build"
    for tests, which in (("store-tests", "[answers]"), ("core-tests", "~[slow]"), ("store-tests", "~[slow]~[answers]")):
        if (result := run(f"build/release/tests/{tests}", "-a", which, seconds=240)) != 0:
            return tests + (" never ended" if result == -1 else "")
    return ""


def too_many(lived, tried):
    if tried >= 50:
        return lived > 0.1 * tried
    return sum(math.comb(tried, k) * 0.1**k * 0.9 ** (tried - k) for k in range(lived, tried + 1)) < 0.02


def copy_of_last_commit():
    TREE.parent.mkdir(parents=True, exist_ok=True)
    if not TREE.exists():
        subprocess.run(["git", "clone", "-q", str(HERE), str(TREE)], check=True)
    subprocess.run("git checkout -q -- . && git pull -q && cmake --preset release -DDERVISH_APP=OFF -DDERVISH_AS_ONE=OFF "
                   "'-DCMAKE_CXX_FLAGS_RELEASE=-O1 -DNDEBUG'", shell=True, cwd=TREE,
                   check=True, stdout=subprocess.DEVNULL)
    if sound := noticed():
        sys.exit(f"without any change: {sound}")


def main():
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 150
    if len(sys.argv) <= 4:
        copy_of_last_commit()
    alike = (HERE / "tests" / "hunt" / "mutants-alike.txt").read_text()
    drawn = random.Random(SEED).sample(places(), count)
    lived = same = broken = 0
    begun = time.monotonic()
    for place, (file, number, at, old, new) in enumerate(drawn):
        if time.monotonic() - begun > 60 * MINUTES:
            count = place
            break
        lines = file.read_text().splitlines(keepends=True)
        before = lines[number]
        lines[number] = before[:at] + new + before[at + len(old):]
        told = f"{file.relative_to(TREE)}: {before.strip()} -> {lines[number].strip()}"
        if told in alike:
            same += 1
            continue
        original = file.read_text()
        file.write_text("".join(lines))
        try:
            how = noticed()
        finally:
            file.write_text(original)
        if how == "does not build":
            broken += 1
        elif not how:
            lived += 1
            print(f"LIVED {told}", flush=True)
    tried = count - same - broken
    print(f"seed {SEED}: {count} changes, {broken} do not build, {same} known to be alike; of {tried} others {tried - lived} "
          f"were noticed, {lived} lived")
    sys.exit(1 if too_many(lived, tried) else 0)


main()

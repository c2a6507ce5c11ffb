#!/usr/bin/env bash
# Intake against decoding each file once with OpenImageIO on both cores: 60 surfaces x 5 maps at 1K, alternating, best of three of each;
# then a library of 300 surfaces x 7 files: files per second and peak memory. Prints one line each.
set -euo pipefail
root="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)"
work="${1:-$(mktemp -d)}"
kiln() { "$root/kiln" "$@"; }
kiln --help >/dev/null
[ -d "$work/sixty" ] || kiln demo "$work/sixty" --library 60 --size 1024
[ -d "$work/whole" ] || kiln demo "$work/whole" --library 300 --size 256 --maps 7
seconds() { local from; from=$(date +%s.%N); "$@" >/dev/null; echo "$(date +%s.%N) - $from" | bc; }
reference() { find "$work/sixty" -name '*.png' -print0 | xargs -0 -P 2 -n 150 oiiotool --threads 1 --stats; }
ours=() theirs=()
for _ in 1 2 3; do
  ours+=("$(seconds kiln intake "$work/sixty" --json)")
  theirs+=("$(seconds reference)")
done
single="$(seconds bash -c "find '$work/sixty' -name '*.png' -print0 | xargs -0 -P 2 -n 1 oiiotool --threads 1 --stats")"
best() { printf '%s\n' "$@" | sort -n | head -1; }
o=$(best "${ours[@]}") t=$(best "${theirs[@]}")
echo "300 maps at 1K: intake $o s (of ${ours[*]}), oiiotool --stats in two processes $t s (of ${theirs[*]}), ratio $(echo "scale=2; $o / $t" | bc); oiiotool called once a file $single s, ratio $(echo "scale=2; $o / $single" | bc)"
/usr/bin/time -f '%e %M' -o "$work/whole.time" "$root/kiln" intake "$work/whole" --json > "$work/whole.json"
read -r elapsed peak < "$work/whole.time"
files=$(find "$work/whole" -type f | wc -l)
echo "$files files: $elapsed s, $(echo "scale=1; $files / $elapsed" | bc) files/s, peak $((peak / 1024)) MB (largest process)"

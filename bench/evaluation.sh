#!/usr/bin/env bash
# A 4K chain of steps against the same chain in oiiotool, each reading and writing the same files, alternating in one run; the smaller the better.
set -euo pipefail
here="$(cd "$(dirname "${BASH_SOURCE[0]}")" && pwd)"
work="$(mktemp -d)"; trap 'rm -rf "$work"' EXIT
oiiotool --pattern noise:type=uniform:min=0:max=1:seed=1 512x512 3 --resize 4096x4096 -d uint16 -o "$work/a.png" 2>/dev/null
oiiotool --pattern noise:type=uniform:min=0:max=1:seed=2 512x512 3 --resize 4096x4096 -d uint16 -o "$work/b.png" 2>/dev/null
dotnet publish -c Release -v q --nologo -p:PublishAot=false -o "$work/ours" "$here/evaluation.cs" >/dev/null
seconds() { local from; from=$(date +%s.%N); "$@" >/dev/null; echo "$(date +%s.%N) - $from" | bc; }
# The curve has no single operation there: its cubic pieces are the polynomial 3x² − 2x³ of nearly the same shape, built of three products.
theirs() {
  oiiotool "$work/a.png" --subc 0.1 --divc 0.8 --clamp:min=0,0,0:max=1,1,1 --dup --dup --mul --swap --mulc -2 --addc 3 --mul \
    --mulc 0.65 "$work/b.png" --mulc 0.35 --add --mulc 0.9 --subc 0.5 --mulc 1.2 --addc 0.5 -d half --compression zip -o "$work/theirs.exr"
}
a=() b=()
for _ in 1 2 3; do
  a+=("$(seconds dotnet "$work/ours/evaluation.dll" "$work/a.png" "$work/b.png" "$work/ours.exr")")
  b+=("$(seconds theirs)")
done
median() { printf '%s\n' "$@" | sort -n | sed -n 2p; }
o=$(median "${a[@]}") t=$(median "${b[@]}")
echo "4096 x 4096, read, remap, curve, mix with a second map, grade, written: ours $o s (of ${a[*]}), oiiotool $t s (of ${b[*]}), ratio $(echo "scale=2; $o / $t" | bc)"
oiiotool "$work/ours.exr" "$work/theirs.exr" --diff --fail 0.03 2>&1 | grep -iE "mean|max" || true

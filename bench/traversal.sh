#!/usr/bin/env bash
# Rays a second through a form's triangles against Embree 3, one thread each, on the same mesh and the same rays, alternating in one run; the greater the better.
# Needs g++ and libembree-dev.
set -euo pipefail
here="$(cd "$(dirname "${BASH_SOURCE[0]}")" && pwd)"
work="$(mktemp -d)"; trap 'rm -rf "$work"' EXIT
dotnet publish -c Release -v q --nologo -p:PublishAot=false -o "$work/ours" "$here/traversal.cs" >/dev/null
g++ -O3 -march=native -o "$work/theirs" "$here/traversal.cpp" -lembree3
for form in ${*:-sphere vessel tile}; do
  ours=() theirs=()
  for _ in 1 2 3; do
    read -r o met distance triangles < <(taskset -c 0 dotnet "$work/ours/traversal.dll" "$form" "$work/rays" 3)
    read -r t tmet tdistance < <(taskset -c 0 "$work/theirs" "$work/rays" 2)
    ours+=("$o") theirs+=("$t")
  done
  median() { printf '%s\n' "$@" | sort -n | sed -n 2p; }
  o=$(median "${ours[@]}") t=$(median "${theirs[@]}")
  echo "$form, $triangles triangles: ours $o M rays/s (of ${ours[*]}), Embree $t (of ${theirs[*]}), ratio $(echo "scale=3; $o / $t" | bc); met $met and $tmet, mean distance $distance and $tdistance"
done

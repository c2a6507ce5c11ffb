#!/usr/bin/env bash
# Rays a second of a proof (vessel, six 2K maps, 512 x 512, two threads) against a bare tracer in C++ with Embree 3 that follows as many rays
# over the same triangles and looks up the same maps, alternating in one run; the greater the better. Needs g++ and libembree-dev.
set -euo pipefail
here="$(cd "$(dirname "${BASH_SOURCE[0]}")" && pwd)"
work="${BENCH_MAPS:-$(mktemp -d)}"
BENCH_MAPS="$work" bash "$here/proof-maps.sh" 2048
dotnet publish -c Release -v q --nologo -p:PublishAot=false -o "$work/bare" "$here/bare.cs" >/dev/null
cp -r "$here/../profiles" "$work/bare/" 2>/dev/null || true
g++ -O3 -march=native -o "$work/bare-theirs" "$here/bare.cpp" -lembree3 -lpthread
ours=() theirs=()
for _ in 1 2 3; do
  read -r o rays < <(cd "$work/bare" && dotnet bare.dll "$work" "$work/bare-mesh" 8)
  read -r t trays lookups < <("$work/bare-theirs" "$work/bare-mesh" 5)
  ours+=("$o") theirs+=("$t")
done
median() { printf '%s\n' "$@" | sort -n | sed -n 2p; }
o=$(median "${ours[@]}") t=$(median "${theirs[@]}")
echo "vessel, six 2K maps: proof $o M rays/s (of ${ours[*]}), $rays a sample; bare tracer $t (of ${theirs[*]}), $trays a sample, $lookups lookups a ray; ratio $(echo "scale=3; $o / $t" | bc)"

#!/usr/bin/env bash
# A look of six 4K maps written for a packed dialect and for glTF, against the same pictures made by oiiotool, alternating in one run; the smaller the better.
set -euo pipefail
here="$(cd "$(dirname "${BASH_SOURCE[0]}")" && pwd)"
work="$(mktemp -d)"; trap 'rm -rf "$work"' EXIT
map() { oiiotool --pattern noise:type=uniform:min="$2":max="$3":seed="$4" 512x512 "$5" --resize 4096x4096 -d uint8 -o "$work/$1.png" 2>/dev/null; }
map colour 0.1 0.9 1 3; map metal 0 1 2 1; map gloss 0.2 0.8 3 1; map occlusion 0.4 1 4 1; map glow 0 0.5 5 3
oiiotool --pattern noise:type=uniform:min=0.42:max=0.58:seed=6 512x512 2 --pattern constant:color=0.98 512x512 1 --chappend --resize 4096x4096 -d uint8 -o "$work/normal.png" 2>/dev/null
dotnet publish -c Release -v q --nologo -p:PublishAot=false -o "$work/ours" "$here/baking.cs" >/dev/null
cp -r "$here/../profiles" "$work/ours/"
seconds() { local from; from=$(date +%s.%N); "$@" >/dev/null 2>>"$work/said"; echo "$(date +%s.%N) - $from" | bc; }
ours() { rm -rf "$work/out"; dotnet "$work/ours/baking.dll" "$work" "$1" "$work/out"; }
cd "$work" && mkdir theirs
# What needs no change is copied by either: colour, occlusion and glow as they are; roughness from gloss, packed with metalness; green turned over.
gltf() {
  cp colour.png occlusion.png glow.png theirs/
  oiiotool --pattern constant:color=1 4096x4096 1 gloss.png --subc 1 --mulc -1 --chappend metal.png --chappend -d uint8 -o theirs/mr.png
  oiiotool normal.png --mulc 1,-1,1 --addc 0,1,0 -d uint8 -o theirs/normal.png
}
# Sheets of at most 2048: colours made smaller in linear light.
saggar() {
  for c in colour glow; do oiiotool $c.png --colorconvert sRGB linear --resize 2048x2048 --colorconvert linear sRGB -d uint8 -o theirs/$c.png; done
  oiiotool gloss.png --subc 1 --mulc -1 metal.png --chappend occlusion.png --chappend --resize 2048x2048 -d uint8 -o theirs/body.png
  oiiotool normal.png --mulc 1,-1,1 --addc 0,1,0 --resize 2048x2048 -d uint8 -o theirs/lean.png
}
median() { printf '%s\n' "$@" | sort -n | sed -n 2p; }
for dialect in saggar gltf; do
  a=() b=()
  for _ in 1 2 3; do a+=("$(seconds ours $dialect)"); b+=("$(seconds $dialect)"); done
  o=$(median "${a[@]}") t=$(median "${b[@]}")
  echo "six 4K maps to $dialect: ours $o s (of ${a[*]}), oiiotool $t s (of ${b[*]}), ratio $(echo "scale=2; $o / $t" | bc)"
  if [ $dialect = saggar ]; then
    sheet=$(ls out/textures/*body* | head -1)
    oiiotool "$sheet" --ch 0,1,2 theirs/body.png --diff --fail 0.02 2>&1 | grep -iE "mean|max" || true
  fi
done
sort -u "$work/said" | grep memory || true

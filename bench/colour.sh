#!/usr/bin/env bash
# Colour against OpenColorIO and oiiotool, each as a ratio in the same run.
set -euo pipefail
here="$(cd "$(dirname "${BASH_SOURCE[0]}")" && pwd)"
(cd "$here" && dotnet run -c Release colour.cs)
work="$(mktemp -d)"; trap 'rm -rf "$work"' EXIT
oiiotool --pattern noise:type=uniform:min=0:max=1 4096x4096 3 -d uint16 -o "$work/in.png"
"$here/../kiln" --help >/dev/null
seconds() { local from; from=$(date +%s.%N); "$@" >/dev/null; echo "$(date +%s.%N) - $from" | bc; }
cat > "$work/config.ocio" <<'C'
ocio_profile_version: 2
roles: {default: raw, scene_linear: acescg}
colorspaces:
  - !<ColorSpace> {name: acescg}
  - !<ColorSpace> {name: raw, isdata: true}
  - !<ColorSpace>
    name: srgb
    to_scene_reference: !<GroupTransform>
      children:
        - !<ExponentWithLinearTransform> {gamma: 2.4, offset: 0.055}
        - !<BuiltinTransform> {style: UTILITY - ACES-AP1_to_LINEAR-REC709_BFD, direction: inverse}
C
ours=() theirs=()
for _ in 1 2 3; do
  ours+=("$(seconds "$here/../kiln" colour --from srgb_texture --to acescg --in "$work/in.png" --out "$work/ours.exr" --json)")
  theirs+=("$(seconds oiiotool "$work/in.png" --colorconfig "$work/config.ocio" --colorconvert srgb acescg -d half --compression zip -o "$work/theirs.exr")")
done
best() { printf '%s\n' "$@" | sort -n | head -1; }
o=$(best "${ours[@]}") t=$(best "${theirs[@]}")
echo "4096 x 4096 16-bit PNG to ACEScg half EXR: ours $o s (of ${ours[*]}), oiiotool $t s (of ${theirs[*]}), ratio $(echo "scale=2; $o / $t" | bc)"
oiiotool "$work/ours.exr" "$work/theirs.exr" --diff --fail 0.002 || true

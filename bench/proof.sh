#!/usr/bin/env bash
# Samples a second of proofs by form, maps and threads, and what a person waits for. With PROFILE=1 the time by method (needs perf).
set -euo pipefail
here="$(cd "$(dirname "${BASH_SOURCE[0]}")" && pwd)"
work="${BENCH_MAPS:-$(mktemp -d)}"
for size in 2048 4096; do
  for i in 0 1 2 3 4 5; do
    [ -f "$work/m$i-$size.png" ] && continue
    if [ $i = 3 ]; then
      # A normal map of gentle slopes around (0, 0, 1).
      oiiotool --pattern noise:type=uniform:min=0.42:max=0.58:seed=$i 256x256 2 --pattern constant:color=0.98 256x256 1 --chappend --resize ${size}x${size} -d uint8 -o "$work/m$i-$size.png" 2>/dev/null
    else
      oiiotool --pattern noise:type=uniform:min=0.1:max=0.8:seed=$i 256x256 $([ $i = 0 ] || [ $i = 5 ] && echo 3 || echo 1) --resize ${size}x${size} -d uint8 -o "$work/m$i-$size.png" 2>/dev/null
    fi
  done
done
dotnet publish -c Release -v q --nologo -p:PublishAot=false -o "$work/ours" "$here/proof.cs" >/dev/null
cp -r "$here/../profiles" "$work/ours/" 2>/dev/null || true
cd "$work/ours"
if [ -n "${PROFILE:-}" ]; then
  DOTNET_PerfMapEnabled=1 perf record -F 499 -o "$work/perf.data" dotnet proof.dll "$work" && perf report -i "$work/perf.data" --no-children --sort symbol 2>/dev/null | grep -v "^#" | head -40
else
  dotnet proof.dll "$work"
fi

#!/usr/bin/env bash
# Maps m0..m5 of the given sizes in the folder BENCH_MAPS, for bench/proof.sh and bench/bare.sh.
set -euo pipefail
work="$BENCH_MAPS"
for size in "$@"; do
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

#!/usr/bin/env bash
# Samples a second of proofs by form, maps and threads, and what a person waits for. With PROFILE=1 the time by method (needs perf).
set -euo pipefail
here="$(cd "$(dirname "${BASH_SOURCE[0]}")" && pwd)"
work="${BENCH_MAPS:-$(mktemp -d)}"
BENCH_MAPS="$work" bash "$here/proof-maps.sh" 2048 4096
dotnet publish -c Release -v q --nologo -p:PublishAot=false -o "$work/ours" "$here/proof.cs" >/dev/null
cp -r "$here/../profiles" "$work/ours/" 2>/dev/null || true
cd "$work/ours"
if [ -n "${PROFILE:-}" ]; then
  DOTNET_PerfMapEnabled=1 perf record -F 499 -o "$work/perf.data" dotnet proof.dll "$work" && perf report -i "$work/perf.data" --no-children --sort symbol 2>/dev/null | grep -v "^#" | head -40
else
  dotnet proof.dll "$work"
fi

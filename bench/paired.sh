#!/usr/bin/env bash
# Speed of the proof against an earlier commit: bench/paired.sh COMMIT. Slices of both by turns in one process.
set -euo pipefail
here="$(cd "$(dirname "${BASH_SOURCE[0]}")" && pwd)"
work="$(mktemp -d)"
trap 'git -C "$here" worktree remove --force "$work/before" 2>/dev/null || true; rm -rf "$work"' EXIT
git -C "$here" worktree add -q --force "$work/before" "$1"
cp "$here/slice.cs" "$work/before/bench/slice.cs"
build() { dotnet publish -c Release -v q --nologo -p:PublishAot=false -o "$2" "$1/bench/slice.cs" >/dev/null; cp -r "$1/profiles" "$2/"; }
build "$work/before" "$work/a"
build "$here/.." "$work/b"
dotnet run -c Release "$here/paired.cs" "$work/a" "$work/b"

#!/usr/bin/env bash
# Writes docs/openapi.json from a running build and the front end's types from that. Run after a change of routes or of what they take and answer.
set -euo pipefail
source "$(dirname "${BASH_SOURCE[0]}")/common.sh"
stamp_build src/Kiln.Server
folder="$(mktemp -d /tmp/kiln-openapi-XXXXXX)"; chmod 755 "$folder"
export KILN_FSYNC=off
database_up "$folder/pg"
port="$(free_port)"
cd "$ROOT/src/Kiln.Server"
Kiln__WarmsUp=false dotnet bin/Release/net10.0/Kiln.Server.dll --urls "http://127.0.0.1:$port" "--Kiln:Data=$folder/data" "--Kiln:Database=Host=127.0.0.1;Port=$PGPORT_OURS;Username=kiln;Database=kiln" >"$folder/log" 2>&1 &
server=$!
trap 'kill $server 2>/dev/null; wait $server 2>/dev/null || true; database_down "$folder/pg"; rm -rf "$folder"' EXIT
for _ in $(seq 300); do curl -fs "http://127.0.0.1:$port/healthz" >/dev/null 2>&1 && break; sleep 0.2; done
# First beside it: a server that did not start must not leave an empty document.
curl -fs "http://127.0.0.1:$port/openapi/v1.json" | sed "s|http://127.0.0.1:$port/|http://localhost:5210/|" >"$folder/openapi.json" || { cat "$folder/log" >&2; exit 1; }
cp "$folder/openapi.json" "$ROOT/docs/openapi.json"
(cd "$ROOT/web" && npm run --silent api)
say "docs/openapi.json and web/src/api/schema.ts are those of this build."

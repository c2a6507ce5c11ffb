#!/usr/bin/env bash
# scripts/restore.sh SOURCE DATA_FOLDER: what scripts/backup.sh kept, into an empty database (PGHOST, PGPORT, PGUSER, PGDATABASE) and an empty data folder. Afterwards: kiln verify.
set -euo pipefail
source="$1" data="$2"
bin="$(ls -d /usr/lib/postgresql/*/bin | sort -V | tail -1)"
if [ -d "$data/contents" ] && [ -n "$(ls -A "$data/contents")" ]; then echo "$data is not empty; nothing was restored." >&2; exit 2; fi
mkdir -p "$data"
"$bin/psql" -qAt -d postgres -c "create database \"$PGDATABASE\"" 2>/dev/null || true
if [ "$("$bin/psql" -qAt -c "select count(*) from information_schema.tables where table_schema = 'public'")" != 0 ]; then echo "The database $PGDATABASE is not empty; nothing was restored." >&2; exit 2; fi
"$bin/pg_restore" --no-owner --exit-on-error -d "$PGDATABASE" "$source/database.dump"
cp -a "$source/data/." "$data/"
echo "restored into $data"

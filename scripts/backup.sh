#!/usr/bin/env bash
# scripts/backup.sh DATA_FOLDER TARGET: the database (named by PGHOST, PGPORT, PGUSER, PGDATABASE) and the server's data as one folder. The server may go on running:
# the database is taken first, and stored files are only ever added.
set -euo pipefail
data="$1" target="$2"
bin="$(ls -d /usr/lib/postgresql/*/bin | sort -V | tail -1)"
mkdir -p "$target/data"
"$bin/pg_dump" -Fc -f "$target/database.dump"
for part in contents configs keys; do
  if [ -d "$data/$part" ]; then cp -a "$data/$part" "$target/data/"; fi
done
echo "kept in $target"

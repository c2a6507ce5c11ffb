#!/usr/bin/env bash
# scripts/backup.sh DATA_FOLDER TARGET: the database (named by PGHOST, PGPORT, PGUSER, PGDATABASE) and the server's data as one folder. The server may go on running:
# the database is taken first, and stored files are only ever added.
set -euo pipefail
# Keys and password hashes are in it: for its owner alone.
umask 077
data="$1" target="$2"
bin="$(ls -d /usr/lib/postgresql/*/bin | sort -V | tail -1)"
mkdir -p "$target/data"
chmod 700 "$target"
"$bin/pg_dump" -Fc -f "$target/database.dump"
for part in contents configs keys sheets batches proofs; do
  [ -d "$data/$part" ] || continue
  # A file that is being made may go while it is copied; then the folder is copied once more.
  for try in 1 2 3; do
    if cp -a "$data/$part" "$target/data/"; then break; fi
    if [ "$try" = 3 ]; then exit 1; fi
  done
done
echo "kept in $target"

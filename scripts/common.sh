# Shared by start, test and kiln: what a fresh machine needs, and a PostgreSQL cluster of our own. Sourced, not run.
ROOT="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)"
export DOTNET_CLI_TELEMETRY_OPTOUT=1 DOTNET_NOLOGO=1
say() { printf '%s\n' "$*" >&2; }

# need_packages COMMAND:PACKAGE… installs the Debian packages whose command or file is missing.
need_packages() {
  local missing=() pair probe
  for pair in "$@"; do
    probe="${pair%%:*}"
    case "$probe" in
      /*) compgen -G "$probe" >/dev/null || missing+=("${pair#*:}") ;;
      *) command -v "$probe" >/dev/null || missing+=("${pair#*:}") ;;
    esac
  done
  [ ${#missing[@]} -eq 0 ] && return 0
  say "Installing: ${missing[*]}"
  local as_root=""; [ "$(id -u)" -eq 0 ] || as_root="sudo"
  $as_root apt-get update -qq >/dev/null && DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
}
need_runtime() {
  need_packages "curl:curl" "/usr/lib/postgresql/*/bin/initdb:postgresql" "/usr/lib/*/libvips.so.42:libvips42" "/usr/lib/*/libOpenEXRCore-3_1.so.30:libopenexr-3-1-30" \
    "/usr/lib/*/libassimp.so.5:libassimp5"
}
need_front_end() {
  if [ ! -d "$ROOT/web/node_modules" ] || [ "$ROOT/web/package-lock.json" -nt "$ROOT/web/node_modules/.package-lock.json" ]; then
    say "Installing the front end's packages"
    (cd "$ROOT/web" && npm ci --no-fund --loglevel=error >&2)
  fi
  if [ ! -f "$ROOT/web/dist/index.html" ] || [ -n "$(find "$ROOT/web/src" "$ROOT/web/plugins" "$ROOT/docs/guide" "$ROOT/web/index.html" "$ROOT/web/vite.config.ts" -newer "$ROOT/web/dist/index.html" -print -quit)" ]; then
    say "Building the front end"
    (cd "$ROOT/web" && npm run --silent build >&2)
  fi
  mkdir -p "$ROOT/src/Kiln.Server/wwwroot"
  cp -r "$ROOT/web/dist/." "$ROOT/src/Kiln.Server/wwwroot/"
}
# sources_newer_than STAMP: whether a source file is newer than the stamp of the last build, or there is none.
sources_newer_than() {
  [ ! -f "$1" ] || [ -n "$(find "$ROOT/src" "$ROOT/profiles" "$ROOT"/Directory.*.props \( -name obj -o -name bin -o -name wwwroot \) -prune -o -type f -newer "$1" -print -quit)" ]
}
# stamp_build PROJECT… builds when a source file is newer than the last build.
stamp_build() {
  local stamp="$ROOT/var/build.$(basename "$1").stamp"
  mkdir -p "$ROOT/var"
  if sources_newer_than "$stamp"; then
    say "Building $(basename "$1")"
    dotnet build "$ROOT/$1" -c Release -v q --nologo >&2 || return 1
    touch "$stamp"
  fi
}
free_port() { python3 - 2>/dev/null <<'P' || shuf -i 20000-40000 -n 1
import socket
s=socket.socket(); s.bind(("127.0.0.1",0)); print(s.getsockname()[1])
P
}
# as_database_user COMMAND… PostgreSQL refuses to run as root.
as_database_user() {
  if [ "$(id -u)" -eq 0 ]; then
    id kiln-pg >/dev/null 2>&1 || useradd --system --no-create-home --shell /usr/sbin/nologin kiln-pg
    (cd / && setpriv --reuid kiln-pg --regid "$(id -g kiln-pg)" --clear-groups "$@")
  else
    (cd / && "$@")
  fi
}
# database_up FOLDER: makes the cluster when it is not there, starts it on a free loopback port, sets PGPORT_OURS.
database_up() {
  local folder="$1" bin
  bin="$(ls -d /usr/lib/postgresql/*/bin | sort -V | tail -1)"
  mkdir -p "$folder"
  # Every folder above must be passable for the database user.
  if [ "$(id -u)" -eq 0 ]; then id kiln-pg >/dev/null 2>&1 || useradd --system --no-create-home --shell /usr/sbin/nologin kiln-pg; chown kiln-pg "$folder"; fi
  chmod 700 "$folder"
  if [ ! -f "$folder/PG_VERSION" ]; then
    as_database_user "$bin/initdb" -D "$folder" -U kiln -A trust -E UTF8 --locale=C.UTF-8 >/dev/null || return 1
  fi
  # What a killed run left behind; a running one is never stopped here, its folder is held by a lock.
  as_database_user "$bin/pg_ctl" -D "$folder" -m fast stop >/dev/null 2>&1 || true
  PGPORT_OURS="$(free_port)"
  as_database_user "$bin/pg_ctl" -D "$folder" -w -t 60 -l "$folder/server.log" -o "-p $PGPORT_OURS -h 127.0.0.1 -k '' -c fsync=${KILN_FSYNC:-on}" start >/dev/null || { tail -5 "$folder/server.log" >&2; return 1; }
}
database_down() {
  local bin
  bin="$(ls -d /usr/lib/postgresql/*/bin | sort -V | tail -1)"
  as_database_user "$bin/pg_ctl" -D "$1" -m fast -w stop >/dev/null 2>&1 || true
}

# Shared by ./start and ./test: each step says in one line what it does, and does nothing when done before.
# shellcheck shell=bash
set -euo pipefail
ROOT="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)"
export PIP_DISABLE_PIP_VERSION_CHECK=1

say() { printf 'adze: %s\n' "$*"; }
die() { printf 'adze: %s\n' "$*" >&2; exit 1; }

as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"
  elif command -v sudo >/dev/null; then
    sudo -n true 2>/dev/null || say "asking for your password to install Debian packages"
    sudo "$@"
  else die "needs root to install Debian packages: run as root, or install sudo"; fi
}

# apt_need PACKAGE...: installs what is missing.
apt_need() {
  local missing=()
  for package in "$@"; do
    dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'install ok installed' || missing+=("$package")
  done
  [ ${#missing[@]} -eq 0 ] && return 0
  command -v apt-get >/dev/null || die "needs Debian's apt-get to install: ${missing[*]}"
  say "installing Debian packages: ${missing[*]}"
  local log; log="$(mktemp)"
  # Debian's own cluster is not wanted: its package would make and start one.
  local conf=/etc/postgresql-common/createcluster.conf
  if [[ " ${missing[*]} " == *" postgresql-"* || " ${missing[*]} " == *" postgresql "* ]] && [ ! -e "$conf" ]; then
    as_root mkdir -p "$(dirname "$conf")"
    echo 'create_main_cluster = false' | as_root tee "$conf" >/dev/null
  fi
  local apt=(as_root env DEBIAN_FRONTEND=noninteractive apt-get)
  "${apt[@]}" update -qq >"$log" 2>&1 \
    || { tail -3 "$log" >&2; die "apt-get update failed; is the network there?"; }
  "${apt[@]}" install -y -qq --no-install-recommends "${missing[@]}" >"$log" 2>&1 \
    || { tail -5 "$log" >&2; die "could not install: ${missing[*]}"; }
  rm -f "$log"
}

python_ok() {
  "$1" -c 'import sys, venv, ensurepip; sys.exit(sys.version_info[:2] < (3, 11))' 2>/dev/null && open_to_all "$1"
}

# open_to_all PYTHON: whether a user without rights can run it. Asked only of root, who hands the serving to one.
open_to_all() {
  [ "$(id -u)" = 0 ] || return 0
  local real; real="$("$1" -c 'import os, sys; print(os.path.realpath(sys.executable))')"
  # By a shell: setpriv itself still opens what root may open.
  setpriv --reuid=65534 --regid=65534 --clear-groups /bin/sh -c '"$0" -c ""' "$real" 2>/dev/null
}

# ensure_place ARGUMENT...: where root's checkout lies in a folder closed to others, a copy that is open to them
# takes over this call of ./start, so that nothing is ever served as root.
ensure_place() {
  [ "$(id -u)" = 0 ] || return 0
  ! setpriv --reuid=65534 --regid=65534 --clear-groups test -x "$ROOT" -a -r "$ROOT/start" || return 0
  local copy; copy="/var/lib/adze/app-$(printf '%s' "$ROOT" | sha256sum | cut -c1-12)"
  [ "$ROOT" != "$copy" ] || die "$ROOT is closed to users without rights: chmod -R o+rX $ROOT"
  say "others cannot enter $ROOT: Adze is served from a copy, $copy"
  mkdir -p "$copy"
  rm -rf "$copy/adze"
  tar -C "$ROOT" --exclude=./.venv --exclude=./.data --exclude=./.git --exclude=./node_modules -cf - . \
    | tar -C "$copy" --no-same-owner -xf -
  chmod -R o+rX "$copy"
  ADZE_DATA="${ADZE_DATA:-$ROOT/.data}" exec "$copy/start" "$@"
}

ensure_disk() {
  local free; free="$(df -Pk "$ROOT" | awk 'NR==2 {print $4}')"
  [ "$free" -ge 300000 ] \
    || die "only $((free / 1024)) MB free on the disk of $ROOT: 300 MB are needed; make room and start again"
}

# ensure_python [EXTRA]: the virtual environment with the pinned packages.
ensure_python() {
  local extra="${1:-}" python=python3 stamp want pins
  python_ok python3 || { apt_need python3 python3-venv; python=/usr/bin/python3; }
  python_ok "$python" || die "needs Python 3.11 or newer with venv"
  [ -x "$ROOT/.venv/bin/python" ] && python_ok "$ROOT/.venv/bin/python" || {
    say "making the virtual environment .venv"; rm -rf "$ROOT/.venv"; "$python" -m venv "$ROOT/.venv"; }
  pins="$ROOT/requirements${extra:+-$extra}.txt"
  want="$(sha256sum "$ROOT/pyproject.toml" "$ROOT"/requirements*.txt | sha256sum | cut -c1-16)$extra"
  stamp="$ROOT/.venv/.adze-installed"
  case "$(cat "$stamp" 2>/dev/null)" in "$want"|"${want}dev") return 0;; esac
  say "installing Python packages"
  { "$ROOT/.venv/bin/pip" install -q --require-hashes -r "$pins" \
    && "$ROOT/.venv/bin/pip" install -q --no-deps -e "$ROOT"; } 2>&1 | grep -v "WARNING\|DEPRECATION" || true
  "$ROOT/.venv/bin/python" -c 'import adze.cli' || die "the Python packages did not install; see the lines above"
  echo "$want" >"$stamp"
}

# ensure_assets: npm packages copied into the static folder, and what is assembled for it.
ensure_assets() {
  local vendor="$ROOT/adze/web/static/vendor" want wat modules="$ROOT/node_modules"
  wat="$ROOT/adze/web/static/js/trace/solver/peaks.wat"
  want="$(sha256sum "$ROOT/package-lock.json" "$ROOT/scripts/lib.sh" "$wat" | sha256sum | cut -c1-16)"
  [ "$(cat "$vendor/.stamp" 2>/dev/null)" = "$want" ] && [ -d "$modules/axe-core" ] \
    && [ -x "$modules/.bin/eslint" ] && [ -x "$modules/.bin/prettier" ] && return 0
  command -v npm >/dev/null || apt_need nodejs npm
  say "installing fonts, styles and scripts"
  (cd "$ROOT" && npm ci --silent --no-audit --no-fund >/dev/null 2>"$ROOT/.npm.log") \
    || { tail -3 "$ROOT/.npm.log" >&2; die "npm ci failed; is the network there?"; }
  rm -rf "$vendor" "$ROOT/.npm.log"; mkdir -p "$vendor/fonts" "$vendor/leaflet"
  cp "$modules/bootstrap/dist/css/bootstrap.min.css" "$vendor/"
  cp "$modules/leaflet/dist/leaflet-src.esm.js" "$modules/leaflet/dist/leaflet.css" "$vendor/leaflet/"
  # Its types, for the check of the scripts' own.
  echo 'export * from "leaflet";' >"$vendor/leaflet/leaflet-src.esm.d.ts"
  local text="$modules/@fontsource/atkinson-hyperlegible/files/atkinson-hyperlegible-latin"
  local head="$modules/@fontsource-variable/bricolage-grotesque/files/bricolage-grotesque-latin"
  # The inner loop of a search on a phone, assembled from its text.
  mkdir -p "$vendor/trace"
  "$modules/.bin/wat2wasm" "$wat" -o "$vendor/trace/peaks.wasm" || die "peaks.wat does not assemble"
  cp "$modules/@fontsource/atkinson-hyperlegible/LICENSE" "$vendor/fonts/atkinson-hyperlegible.LICENSE"
  cp "$modules/@fontsource-variable/bricolage-grotesque/LICENSE" "$vendor/fonts/bricolage-grotesque.LICENSE"
  cp "$modules/bootstrap/LICENSE" "$vendor/bootstrap.LICENSE"; cp "$modules/leaflet/LICENSE" "$vendor/leaflet/LICENSE"
  cp "$text"-{400,700}-normal.woff2 "$head-wght-normal.woff2" "$vendor/fonts/"
  echo "$want" >"$vendor/.stamp"
}

# Where PostgreSQL's programs lie, the newest version first.
pg_bin() { ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -Vr | head -1; }

ensure_postgres() { [ -n "$(pg_bin)" ] || apt_need postgresql; [ -n "$(pg_bin)" ] || die "PostgreSQL did not install"; }

# The database never runs as root: root hands it to the package's own user.
pg_run() { if [ "$(id -u)" = 0 ]; then runuser -u postgres -- "$@"; else "$@"; fi; }

# pg_folder WANTED: a folder that the database's user can enter; elsewhere when WANTED is not.
pg_folder() {
  local wanted="$1"
  mkdir -p "$wanted" 2>/dev/null || die "cannot make the data folder $wanted: give another with --data DIR"
  if [ "$(id -u)" = 0 ]; then
    chown postgres "$wanted"
    if ! runuser -u postgres -- test -w "$wanted"; then
      wanted="/var/lib/adze/$(printf '%s' "$wanted" | sha256sum | cut -c1-12)"
      mkdir -p "$wanted"; chown postgres "$wanted"
    fi
  fi
  printf '%s' "$wanted"
}

free_port() {
  "$ROOT/.venv/bin/python" -c \
    'import socket; s = socket.socket(); s.bind(("127.0.0.1", 0)); print(s.getsockname()[1])'
}

# pg_start FOLDER [PORT]: makes the cluster once, starts it on loopback, prints its address as a URL.
pg_start() {
  local folder="$1" bin have port="${2:-}" password data="$1/cluster"
  bin="$(pg_bin)"
  if [ -f "$data/PG_VERSION" ]; then
    have="$(cat "$data/PG_VERSION")"
    bin="/usr/lib/postgresql/$have/bin"
    [ -x "$bin/postgres" ] || die "the database folder $data was made by PostgreSQL $have, which is not installed" \
      "(installed: $(basename "$(dirname "$(pg_bin)")")); install postgresql-$have," \
      "or give another folder with --data DIR"
  else
    [ -z "$(ls -A "$data" 2>/dev/null)" ] \
      || die "the folder $data holds something that is not a database: move it, or give another with --data DIR"
    password="$(head -c 18 /dev/urandom | base64 | tr '+/' 'ab')"
    ( umask 077; printf '%s' "$password" >"$folder/password" )
    [ "$(id -u)" = 0 ] && chown postgres "$folder/password"
    pg_run "$bin/initdb" -D "$data" -U adze -A scram-sha-256 --pwfile="$folder/password" -E UTF8 --locale=C.UTF-8 \
      >"$folder/initdb.log" 2>&1 \
      || { rm -rf "$data"; tail -2 "$folder/initdb.log" >&2; die "could not make the database in $data"; }
  fi
  password="$(cat "$folder/password")"
  if pg_run "$bin/pg_ctl" -D "$data" status >/dev/null 2>&1; then
    port="$(sed -n 4p "$data/postmaster.pid")"
  else
    [ -n "$port" ] || port="$(free_port)"
    local how="-c listen_addresses=127.0.0.1 -p $port -c unix_socket_directories='' -c max_connections=60"
    pg_run "$bin/pg_ctl" -D "$data" -w -t 30 -l "$folder/postgres.log" -o "$how" start >/dev/null 2>&1 \
      || { tail -2 "$folder/postgres.log" >&2; die "the database in $data did not start; see $folder/postgres.log"; }
  fi
  printf 'postgresql://adze:%s@127.0.0.1:%s/postgres' "$password" "$port"
}

# pg_alive FOLDER: whether the cluster's first process is there.
pg_alive() {
  local first
  first="$(head -1 "$1/cluster/postmaster.pid" 2>/dev/null)" && [ -n "$first" ] && [ -d "/proc/$first" ]
}

# app_user CACHE: who serves when root starts it: a user without rights, if it can enter the checkout and keep what
# it has compiled in the folder CACHE. Prints nothing else.
app_user() {
  [ "$(id -u)" = 0 ] || return 0
  id adze >/dev/null 2>&1 || useradd --system --no-create-home --shell /usr/sbin/nologin adze 2>/dev/null || return 0
  mkdir -p "$1" && chown adze "$1"
  # As a child's child: the worker and the reader of pictures are that.
  local tried='import subprocess, sys; subprocess.run([sys.executable, "-c", "import adze.web.app"], check=True)'
  if NUMBA_CACHE_DIR="$1" setpriv --reuid=adze --regid=adze --clear-groups \
    "$ROOT/.venv/bin/python" -c "$tried" 2>/dev/null; then printf 'adze'; fi
}

pg_stop() {
  local data="$1/cluster"
  [ -f "$data/PG_VERSION" ] || return 0
  pg_run "/usr/lib/postgresql/$(cat "$data/PG_VERSION")/bin/pg_ctl" -D "$data" -m fast stop >/dev/null 2>&1 || true
}

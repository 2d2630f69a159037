# Shared by ./start and ./test: installs what is missing, builds what changed, runs the project's own PostgreSQL.
# To be sourced from the project's folder. Nothing here deletes data.

say() { printf '%s\n' "$*" >&2; }

fail() { say "Umbrastat: $*"; exit 1; }

as_root() { if [ "$(id -u)" = 0 ]; then "$@"; else sudo "$@"; fi; }

need_packages() { # names of Debian packages
  local missing=()
  for p in "$@"; do dpkg-query -W -f '${Status}' "$p" 2>/dev/null | grep -q 'install ok installed' || missing+=("$p"); done
  [ ${#missing[@]} = 0 ] && return
  say "Installing ${missing[*]} ..."
  if ! as_root env DEBIAN_FRONTEND=noninteractive apt-get -o DPkg::Lock::Timeout=120 install -y -qq --no-install-recommends "${missing[@]}" >"$CACHE/apt.log" 2>&1; then
    as_root apt-get update -qq >"$CACHE/apt.log" 2>&1 || true
    as_root env DEBIAN_FRONTEND=noninteractive apt-get -o DPkg::Lock::Timeout=120 install -y -qq --no-install-recommends "${missing[@]}" >>"$CACHE/apt.log" 2>&1 \
      || fail "could not install ${missing[*]}; see $CACHE/apt.log."
  fi
}

need_node() {
  command -v node >/dev/null || fail "Node.js 20 or newer is needed; install it and run this again."
  [ "$(node -p 'process.versions.node.split(".")[0]')" -ge 20 ] || fail "Node.js 20 or newer is needed; this is $(node -v)."
}

modules_stamp() { cat package.json package-lock.json | sha256sum | cut -d' ' -f1; }

# "npm install" keeps to the lock file; "npm ci" refuses locks without the other systems' binary packages.
need_modules() {
  [ -f node_modules/.umbrastat-stamp ] && [ "$(cat node_modules/.umbrastat-stamp)" = "$(modules_stamp)" ] && return
  say "Installing npm packages ..."
  npm ci --no-audit --no-fund --loglevel=error >"$CACHE/npm.log" 2>&1 || fail "npm ci failed; see $CACHE/npm.log."
  modules_stamp >node_modules/.umbrastat-stamp
}

build_web() {
  local stamp
  stamp=$( { find app ui api core public -type f 2>/dev/null | LC_ALL=C sort | xargs sha256sum; sha256sum package-lock.json app.json babel.config.js tsconfig.json; } | sha256sum | cut -d' ' -f1)
  [ -f dist/index.html ] && [ -f "$CACHE/web.stamp" ] && [ "$(cat "$CACHE/web.stamp")" = "$stamp" ] && return
  say "Building the app (about a minute) ..."
  EXPO_OFFLINE=1 EXPO_NO_TELEMETRY=1 CI=1 npx --no-install expo export -p web --output-dir dist >"$CACHE/web.log" 2>&1 || fail "the build failed; see $CACHE/web.log."
  printf '%s' "$stamp" >"$CACHE/web.stamp"
}

pg_bin() { ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -1; }

# PostgreSQL does not run as root; the package's own user runs it then.
as_pg() { if [ "$(id -u)" = 0 ]; then (cd / && runuser -u postgres -- "$@"); else "$@"; fi; }

port_free() { ! (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }

start_database() { # data folder
  local data=$1 bin
  bin=$(pg_bin)
  [ -n "$bin" ] || fail "PostgreSQL is not installed."
  mkdir -p "$data"
  PG_DATA="$data/postgres"
  if [ "$(id -u)" = 0 ]; then
    install -d -o postgres -g postgres -m 700 "$PG_DATA"
    if ! as_pg test -x "$PG_DATA"; then
      PG_DATA="/var/lib/umbrastat/$(printf '%s' "$data" | sha256sum | cut -c1-12)"
      say "The user postgres cannot reach $data; the database is kept in $PG_DATA."
      install -d -m 755 /var/lib/umbrastat
      install -d -o postgres -g postgres -m 700 "$PG_DATA"
    fi
  else
    install -d -m 700 "$PG_DATA"
  fi
  [ -f "$data/password" ] || (umask 077 && head -c 24 /dev/urandom | base64 | tr -d '/+=\n' >"$data/password")
  if ! as_pg test -f "$PG_DATA/PG_VERSION"; then
    say "Making the database ..."
    PG_WORD=$(mktemp)
    cat "$data/password" >"$PG_WORD"
    [ "$(id -u)" = 0 ] && chown postgres "$PG_WORD"
    as_pg "$bin/initdb" -D "$PG_DATA" -U umbrastat --auth=scram-sha-256 --pwfile="$PG_WORD" -E UTF8 --locale=C.UTF-8 \
      >"$CACHE/initdb.log" 2>&1 || fail "initdb failed; see $CACHE/initdb.log."
    rm -f "$PG_WORD"
  fi
  PG_STARTED=no
  run_database
  PG_ADDRESS="postgres://umbrastat:$(cat "$data/password")@127.0.0.1:$PG_PORT"
}

# The process that the database's folder names as its own; fails where it is gone, or its number is another's by now.
database_process() {
  local pid
  pid=$(as_pg head -1 "$PG_DATA/postmaster.pid" 2>/dev/null) || return 1
  [ -n "$pid" ] && tr '\0' ' ' <"/proc/$pid/cmdline" 2>/dev/null | grep -qF -- " $PG_DATA " && printf '%s' "$pid"
}

# Whether processes that work in the database's folder are left: its memory must not be taken from them.
database_helpers() {
  as_pg sh -c 'for d in /proc/[0-9]*; do [ "$(readlink "$d/cwd" 2>/dev/null)" = "$0" ] && exit 0; done; exit 1' "$PG_DATA"
}

# Waits for a database that is just starting or ending, and starts one where none is; gives its port in PG_PORT.
run_database() {
  local bin pid said='' tries=0 end=$((SECONDS + 60))
  bin=$(pg_bin)
  while true; do
    if database_process >/dev/null; then
      PG_PORT=$(as_pg sed -n 4p "$PG_DATA/postmaster.pid" 2>/dev/null) || true
      if [ -n "$PG_PORT" ] && "$bin/pg_isready" -q -h 127.0.0.1 -p "$PG_PORT"; then return 0; fi
      [ -n "$said" ] || say "The database is just starting, or ending; waiting for it ..."
      said=yes
    else
      pid=$(as_pg head -1 "$PG_DATA/postmaster.pid" 2>/dev/null) || pid=''
      if [ -n "$pid" ] && [ -d "/proc/$pid" ] && ! database_helpers; then
        say "The database broke off earlier; process $pid, which it names as its own, is another program. It is left alone."
        as_pg rm -f "$PG_DATA/postmaster.pid"
      fi
      PG_PORT=${UMBRASTAT_PG_PORT:-54329}
      while ! port_free "$PG_PORT"; do PG_PORT=$((PG_PORT + 1)); done
      if as_pg "$bin/pg_ctl" -D "$PG_DATA" -w -t 60 -l "$PG_DATA/server.log" \
        -o "-p $PG_PORT -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c max_connections=60 ${PG_MORE:-}" \
        start >"$CACHE/pg.log" 2>&1; then
        PG_STARTED=yes
        return 0
      fi
      # What was killed at once leaves helpers that hold its memory for some moments.
      tries=$((tries + 1))
      [ "$tries" -gt 1 ] || say "The database does not start yet; trying again ..."
    fi
    [ "$SECONDS" -lt "$end" ] || fail "the database did not start; see $PG_DATA/server.log."
    sleep 0.5
  done
}

stop_database() {
  # However far making the database came, its password is not left lying about.
  [ -z "${PG_WORD:-}" ] || rm -f "$PG_WORD"
  [ "${PG_STARTED:-no}" = yes ] || return 0
  # Its number may be another's by now.
  database_process >/dev/null || return 0
  as_pg "$(pg_bin)/pg_ctl" -D "$PG_DATA" -m fast -w -t 30 stop >/dev/null 2>&1 || true
}

make_database() { # name
  local url="$PG_ADDRESS/postgres"
  [ "$(psql -qtA "$url" -c "SELECT 1 FROM pg_database WHERE datname = '$1'")" = 1 ] || psql -q "$url" -c "CREATE DATABASE $1" >/dev/null
}

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
  npm install --no-audit --no-fund --loglevel=error >"$CACHE/npm.log" 2>&1 || fail "npm install failed; see $CACHE/npm.log."
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
  local data=$1 bin port
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
  if as_pg "$bin/pg_ctl" -D "$PG_DATA" status >/dev/null 2>&1; then
    port=$(as_pg sed -n 4p "$PG_DATA/postmaster.pid")
  else
    port=${UMBRASTAT_PG_PORT:-54329}
    while ! port_free "$port"; do port=$((port + 1)); done
    as_pg "$bin/pg_ctl" -D "$PG_DATA" -w -t 60 -l "$PG_DATA/server.log" \
      -o "-p $port -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c max_connections=60" start >"$CACHE/pg.log" 2>&1 \
      || fail "the database did not start; see $PG_DATA/server.log."
    PG_STARTED=yes
  fi
  PG_ADDRESS="postgres://umbrastat:$(cat "$data/password")@127.0.0.1:$port"
}

stop_database() {
  # However far making the database came, its password is not left lying about.
  [ -z "${PG_WORD:-}" ] || rm -f "$PG_WORD"
  [ "${PG_STARTED:-no}" = yes ] || return 0
  as_pg "$(pg_bin)/pg_ctl" -D "$PG_DATA" -m fast -w -t 30 stop >/dev/null 2>&1 || true
}

make_database() { # name
  local url="$PG_ADDRESS/postgres"
  [ "$(psql -qtA "$url" -c "SELECT 1 FROM pg_database WHERE datname = '$1'")" = 1 ] || psql -q "$url" -c "CREATE DATABASE $1" >/dev/null
}

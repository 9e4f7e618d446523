# A PostgreSQL server of our own on loopback. The server refuses root, so root runs it as user postgres.

postgres_bin() { { ls -d /usr/lib/postgresql/*/bin 2>/dev/null || true; } | sort -V | tail -n 1; }

as_postgres() {
  if [ "$(id -u)" = 0 ]; then setpriv --reuid postgres --regid postgres --init-groups -- "$@"; else "$@"; fi
}

# start_postgres FOLDER PORT: makes the cluster when it is not there yet.
start_postgres() {
  local folder=$1 port=$2 bin
  bin=$(postgres_bin)
  mkdir -p "$folder"
  [ "$(id -u)" != 0 ] || chown postgres: "$folder"
  chmod 700 "$folder"
  if [ ! -f "$folder/PG_VERSION" ]; then
    (cd "$folder" && as_postgres "$bin/initdb" -D "$folder" -U wiseloom --auth=trust -E UTF8 --locale=C.UTF-8 >/dev/null)
  fi
  if (cd "$folder" && as_postgres "$bin/pg_ctl" -D "$folder" status >/dev/null 2>&1); then
    fail "a PostgreSQL already runs on $folder: another wise-loom is started. Stop it first."
  fi
  # In a session of its own, so that Ctrl-C reaches the application first and the database last.
  (cd "$folder" && setsid -w bash -c '"$@"' _ $(postgres_prefix) "$bin/pg_ctl" -D "$folder" -l "$folder/server.log" -w -t 60 \
    -o "-c listen_addresses=127.0.0.1 -c port=$port -c unix_socket_directories='$folder'" start >/dev/null) \
    || fail "PostgreSQL did not start; see $folder/server.log"
}

postgres_prefix() { [ "$(id -u)" != 0 ] || echo setpriv --reuid postgres --regid postgres --init-groups --; }

stop_postgres() {
  local folder=$1
  [ -f "$folder/postmaster.pid" ] || return 0
  (cd "$folder" && as_postgres "$(postgres_bin)/pg_ctl" -D "$folder" -m fast -w stop >/dev/null 2>&1) || true
}

# open_throwaway_database: a server for one task, gone with it; WISELOOM_TEST_DB leads to it.
open_throwaway_database() {
  # Not local: the trap runs after every function has returned.
  work=$(mktemp -d)
  chmod 755 "$work"
  database=$work/postgres
  trap 'stop_postgres "$database"; rm -rf "$work"' EXIT
  port=$(free_port)
  start_postgres "$database" "$port"
  export WISELOOM_TEST_DB="Host=127.0.0.1;Port=$port;Username=wiseloom;Database=postgres"
}

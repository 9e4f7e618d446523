# A PostgreSQL server of our own on loopback. The server refuses root, so root runs it as user postgres.

postgres_bin() { { ls -d /usr/lib/postgresql/*/bin 2>/dev/null || true; } | sort -V | tail -n 1; }

as_postgres() {
  if [ "$(id -u)" = 0 ]; then setpriv --reuid postgres --regid postgres --init-groups -- "$@"; else "$@"; fi
}

# start_postgres FOLDER PORT: makes the cluster when it is not there yet. Its secrets lie beside it, in FOLDER.secrets, which only
# their owner reads; afterwards $schema_login and $app_login lead in, as parts of connection strings, and $cookie_secret seals the cookie keys.
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
  read_secrets "$folder.secrets"
  close_doors "$folder"
  launch_postgres "$folder" "$port" || fail "PostgreSQL did not start; see $folder/server.log"
  set_roles "$folder" "$port" || fail "the roles of the database could not be set; see $folder/server.log"
}

# launch_postgres FOLDER PORT: in a session of its own, so that Ctrl-C reaches the application first and the database last.
launch_postgres() {
  local folder=$1 port=$2 bin
  bin=$(postgres_bin)
  (cd "$folder" && setsid -w bash -c '"$@"' _ $(postgres_prefix) "$bin/pg_ctl" -D "$folder" -l "$folder/server.log" -w -t 60 \
    -o "${postgres_options:-} -c listen_addresses=127.0.0.1 -c port=$port -c max_connections=200 -c unix_socket_directories='$folder'" start >/dev/null)
}

# keep_postgres FOLDER PORT: starts the server again whenever it has ended. Its first process leaves a file with its number behind when it is killed.
keep_postgres() {
  local folder=$1 port=$2
  while sleep 1; do
    # Its number may be another program's by now.
    grep -q '^postgres$' "/proc/$(head -n 1 "$folder/postmaster.pid" 2>/dev/null)/comm" 2>/dev/null && continue
    say "The database ended, which it should not; it is started again."
    launch_postgres "$folder" "$port" || say "It did not start yet; trying again. See $folder/server.log"
  done
}

# read_secrets FILE: makes it when it is not there yet.
read_secrets() {
  local file=$1 name value schema='' app=''
  if [ ! -f "$file" ]; then
    (umask 077 && for name in schema app cookie; do printf '%s=%s\n' "$name" "$(od -An -tx1 -N32 /dev/urandom | tr -d ' \n')"; done >"$file.new" && mv "$file.new" "$file")
  fi
  while IFS== read -r name value; do
    case $name in schema) schema=$value ;; app) app=$value ;; cookie) cookie_secret=$value ;; esac
  done <"$file"
  schema_login="Username=wiseloom_schema;Password=$schema" app_login="Username=wiseloom_app;Password=$app"
}

# close_doors FOLDER: over the network with a password only; the server's own user comes in through the socket in its own folder.
close_doors() {
  local folder=$1 owner
  owner=$([ "$(id -u)" = 0 ] && echo postgres || id -un)
  write_as_postgres "$folder/pg_hba.conf" "local all wiseloom peer map=owner
host all wiseloom 127.0.0.1/32 reject
host all all 127.0.0.1/32 scram-sha-256"
  write_as_postgres "$folder/pg_ident.conf" "owner $owner wiseloom"
}

write_as_postgres() { as_postgres bash -c 'umask 077; cat >"$1.new" && mv "$1.new" "$1"' _ "$1" <<<"$2"; }

# set_roles FOLDER PORT: one role owns the tables and changes them, the application's reads and writes their rows. A database from
# before there were roles is handed over.
set_roles() {
  local folder=$1 port=$2 database
  as_owner() { (cd "$folder" && as_postgres "$(postgres_bin)/psql" -h "$folder" -p "$port" -U wiseloom -v ON_ERROR_STOP=1 -qAtX "$@"); }
  as_owner -d postgres <<SQL || return 1
do \$\$ begin
  if not exists (select from pg_roles where rolname = 'wiseloom_schema') then create role wiseloom_schema; end if;
  if not exists (select from pg_roles where rolname = 'wiseloom_app') then create role wiseloom_app; end if;
end \$\$;
alter role wiseloom_schema login createdb password '${schema_login##*Password=}';
alter role wiseloom_app login password '${app_login##*Password=}';
SQL
  for database in $(as_owner -d postgres -c "select datname from pg_database where datname not in ('postgres', 'template0', 'template1')"); do
    as_owner -d "$database" <<'SQL' || return 1
do $$ declare it record; begin
  for it in select format('alter table %s owner to wiseloom_schema', oid::regclass) as say from pg_class
            where relowner = 'wiseloom'::regrole and relnamespace = 'public'::regnamespace and relkind in ('r', 'v') loop execute it.say; end loop;
  -- Those of columns have gone with their tables.
  for it in select format('alter sequence %s owner to wiseloom_schema', oid::regclass) as say from pg_class
            where relowner = 'wiseloom'::regrole and relnamespace = 'public'::regnamespace and relkind = 'S' loop execute it.say; end loop;
  for it in select format('alter function %s owner to wiseloom_schema', oid::regprocedure) as say from pg_proc
            where proowner = 'wiseloom'::regrole and pronamespace = 'public'::regnamespace loop execute it.say; end loop;
  execute format('alter database %I owner to wiseloom_schema', current_database());
end $$;
alter schema public owner to wiseloom_schema;
SQL
  done
}

postgres_prefix() { [ "$(id -u)" != 0 ] || echo setpriv --reuid postgres --regid postgres --init-groups --; }

stop_postgres() {
  local folder=$1
  [ -f "$folder/postmaster.pid" ] || return 0
  (cd "$folder" && as_postgres "$(postgres_bin)/pg_ctl" -D "$folder" -m fast -w stop >/dev/null 2>&1) || true
}

# open_throwaway_database: a server for one task, gone with it. WISELOOM_TEST_DB leads to it as the owner of what is made there,
# WISELOOM_TEST_APP_DB as an application that owns nothing.
open_throwaway_database() {
  # Not local: the trap runs after every function has returned.
  work=$(mktemp -d)
  chmod 755 "$work"
  database=$work/postgres
  trap 'stop_postgres "$database"; rm -rf "$work"' EXIT
  port=$(free_port)
  # Nothing of it is needed after a power cut: it does not wait for the disk.
  postgres_options='-c fsync=off -c full_page_writes=off' start_postgres "$database" "$port"
  export WISELOOM_TEST_DB="Host=127.0.0.1;Port=$port;$schema_login;Database=postgres"
  export WISELOOM_TEST_APP_DB="Host=127.0.0.1;Port=$port;$app_login;Database=postgres"
}

# make_example: the example shop once, in a database that tests copy: WISELOOM_TEST_TEMPLATE names it.
make_example() {
  say "Making the example shop that the tests copy …"
  local log=$work/example.log app
  : >"$log"
  WISELOOM_DB=${WISELOOM_TEST_APP_DB/Database=postgres/Database=example} WISELOOM_MIGRATIONS_DB=${WISELOOM_TEST_DB/Database=postgres/Database=example} \
    WISELOOM_SECRET=$(printf '7%.0s' {1..64}) WISELOOM_DEMO=$root/demo ASPNETCORE_URLS=http://127.0.0.1:$(free_port) dotnet "$web" >"$log" 2>&1 &
  app=$!
  until grep -q 'Application started' "$log"; do
    kill -0 "$app" 2>/dev/null || { cat "$log" >&2; fail "the example shop could not be made."; }
    sleep 0.2
  done
  kill -9 "$app"
  wait "$app" 2>/dev/null || true
  export WISELOOM_TEST_TEMPLATE=example
}

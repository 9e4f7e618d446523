# Starts database, stand-ins and application; Ctrl-C stops what was started.
practice_port=7160

# The practice shop: its own database, addresses and stand-ins, whatever the shop beside it is set to.
practice() {
  local first=${WISELOOM_PRACTICE_PORT:-$practice_port}
  unset WISELOOM_DB WISELOOM_MIGRATIONS_DB WISELOOM_SECRET WISELOOM_DEMO
  WISELOOM_PORT=$first WISELOOM_STANDINS=$((first + 1)) WISELOOM_DB_PORT=$((first + 5))
  # Browsers keep cookies by host, whatever the port: this shop signs nobody out of the other.
  export WISELOOM_COOKIES=wise-loom-practice
  data=$data/practice
  start
}

start() {
  local port=${WISELOOM_PORT:-7150} standins=${WISELOOM_STANDINS:-7151}
  # Not local: the trap may run after this function has returned.
  own_database='' pids=() server='' log=''
  must_be_free "$port" WISELOOM_PORT
  [ -z "${WISELOOM_DEMO-demo}" ] || { must_be_free "$standins" WISELOOM_STANDINS; must_be_free $((standins + 1)) WISELOOM_STANDINS; must_be_free $((standins + 2)) WISELOOM_STANDINS; must_be_free $((standins + 3)) WISELOOM_STANDINS; }
  need_tools
  build_cli
  build_web
  build_pages
  stop_all() {
    trap - INT TERM EXIT
    kill "${pids[@]}" $server 2>/dev/null || true
    wait "${pids[@]}" $server 2>/dev/null || true
    [ -z "$own_database" ] || stop_postgres "$own_database"
  }
  trap 'stop_all; exit 0' INT TERM
  trap stop_all EXIT
  if [ -z "${WISELOOM_DB:-}" ]; then
    local database_port=${WISELOOM_DB_PORT:-7149}
    own_database=$data/postgres
    start_postgres "$own_database" "$database_port"
    keep_postgres "$own_database" "$database_port" & pids+=($!)
    export WISELOOM_DB="Host=127.0.0.1;Port=$database_port;$app_login;Database=wiseloom"
    export WISELOOM_MIGRATIONS_DB="Host=127.0.0.1;Port=$database_port;$schema_login;Database=wiseloom" WISELOOM_SECRET=${WISELOOM_SECRET:-$cookie_secret}
  fi
  export WISELOOM_DEMO=${WISELOOM_DEMO-$root/demo} WISELOOM_PAGES=$root/web/dist WISELOOM_STANDINS=$standins
  # Where a person at this machine finds the practice shop.
  [ -n "$WISELOOM_DEMO" ] || export WISELOOM_PRACTICE=${WISELOOM_PRACTICE:-http://127.0.0.1:${WISELOOM_PRACTICE_PORT:-$practice_port}}
  if [ -n "$WISELOOM_DEMO" ]; then
    log=$data/stand-ins.log
    mkdir -p "$data"; : >"$log"
    keep_stand_in meter --loom demo/frost-fan.json --faults demo/frost-fan.faults.json --port "$standins" --seed 5 & pids+=($!)
    keep_stand_in meter --loom demo/work-launch.json --faults demo/work-launch.faults.json --port $((standins + 1)) --seed 8 & pids+=($!)
    keep_stand_in controller --loom demo/frost-fan.json --faults demo/frost-fan.machine.json --port $((standins + 2)) --seed 5 & pids+=($!)
    keep_stand_in controller --loom demo/work-launch.json --faults demo/work-launch.machine.json --port $((standins + 3)) --seed 8 & pids+=($!)
  fi
  run_application "$port" || fail "the application stopped while starting; see above."
  while true; do
    say "Wise Loom is at http://127.0.0.1:$port"
    wait "$server" || say "The application ended (code $?), which it should not; it is started again."
    # Its database may be on its way back too.
    until run_application "$port"; do sleep 1; done
  done
}

# run_application PORT: in the background as $server; comes back when it answers, or with 1 when it stopped before that.
run_application() {
  DOTNET_GCgen0size=$young_bytes ASPNETCORE_URLS=http://127.0.0.1:$1 Logging__LogLevel__Default=Warning dotnet "$web" & server=$!
  until bash -c "exec 3<>/dev/tcp/127.0.0.1/$1" 2>/dev/null; do
    kill -0 "$server" 2>/dev/null || return 1
    sleep 0.1
  done
}

# keep_stand_in ARGUMENT…: runs a stand-in, and again whenever it has ended.
keep_stand_in() {
  local child=''
  trap 'kill $child 2>/dev/null; exit 0' TERM INT
  while true; do
    dotnet "$cli" stand-in "$@" >>"$log" 2>&1 & child=$!
    wait "$child" || true
    say "The stand-in $1 ended, which it should not; it is started again."
    sleep 1
  done
}

# Starts database, stand-ins and application; Ctrl-C stops what was started.

start() {
  local port=${WISELOOM_PORT:-7150} standins=${WISELOOM_STANDINS:-7151}
  # Not local: the trap may run after this function has returned.
  own_database='' pids=()
  must_be_free "$port" WISELOOM_PORT
  [ -z "${WISELOOM_DEMO-demo}" ] || { must_be_free "$standins" WISELOOM_STANDINS; must_be_free $((standins + 1)) WISELOOM_STANDINS; }
  need_tools
  build_cli
  build_web
  build_pages
  stop_all() {
    trap - INT TERM EXIT
    [ ${#pids[@]} -eq 0 ] || kill "${pids[@]}" 2>/dev/null || true
    [ ${#pids[@]} -eq 0 ] || wait "${pids[@]}" 2>/dev/null || true
    [ -z "$own_database" ] || stop_postgres "$own_database"
  }
  trap 'stop_all; exit 0' INT TERM
  trap stop_all EXIT
  if [ -z "${WISELOOM_DB:-}" ]; then
    local database_port=${WISELOOM_DB_PORT:-7149}
    start_postgres "$data/postgres" "$database_port"
    own_database=$data/postgres
    export WISELOOM_DB="Host=127.0.0.1;Port=$database_port;$app_login;Database=wiseloom"
    export WISELOOM_MIGRATIONS_DB="Host=127.0.0.1;Port=$database_port;$schema_login;Database=wiseloom" WISELOOM_SECRET=${WISELOOM_SECRET:-$cookie_secret}
  fi
  export WISELOOM_DEMO=${WISELOOM_DEMO-$root/demo} WISELOOM_PAGES=$root/web/dist WISELOOM_STANDINS=$standins
  if [ -n "$WISELOOM_DEMO" ]; then
    local log=$data/stand-ins.log
    mkdir -p "$data"; : >"$log"
    dotnet "$cli" stand-in meter --loom demo/frost-fan.json --faults demo/frost-fan.faults.json --port "$standins" --seed 5 >>"$log" 2>&1 & pids+=($!)
    dotnet "$cli" stand-in meter --loom demo/work-launch.json --faults demo/work-launch.faults.json --port $((standins + 1)) --seed 8 >>"$log" 2>&1 & pids+=($!)
  fi
  ASPNETCORE_URLS=http://127.0.0.1:$port Logging__LogLevel__Default=Warning dotnet "$web" & pids+=($!)
  local server=$!
  until bash -c "exec 3<>/dev/tcp/127.0.0.1/$port" 2>/dev/null; do
    kill -0 "$server" 2>/dev/null || fail "the application stopped while starting; see above."
    sleep 0.1
  done
  say "Wise Loom is at http://127.0.0.1:$port"
  wait "$server"
}

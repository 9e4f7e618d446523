# Benchmarks: each line says the figure it must reach and the figure it got. All of them, or one: core, plans, diagnosis, pack, load, pages.
# bench diagnosis --deep plays all its cases.

# figures NAME [ARGUMENT…]: one of them; what finds no end in its time says so.
figures() {
  local most=600
  case "$*" in *--deep*) most=3600 ;; esac
  timeout -k 5 "$most" dotnet run --project bench/WiseLoom.Bench -c Release -- "$@" || say "${*:-core} ended without its figures, after at most $((most / 60)) minutes   MISSED"
}

run_bench() {
  local only=${1:-}
  [ -n "$only" ] && [ "$only" != core ] || figures
  [ -n "$only" ] && [ "$only" != plans ] || figures plans
  [ -n "$only" ] && [ "$only" != diagnosis ] || figures diagnosis "${@:2}"
  [ -n "$only" ] && [ "$only" != pack ] || figures pack
  case $only in core | plans | diagnosis | pack) return 0 ;; esac
  need_tools
  build_cli
  build_web
  build_pages
  install_npm tests/e2e
  open_throwaway_database
  [ -n "$only" ] && [ "$only" != load ] || figures load
  [ -n "$only" ] && [ "$only" != pages ] || (cd tests/e2e && npx --no-install playwright test --config bench.config.ts)
}

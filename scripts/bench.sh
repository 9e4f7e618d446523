# Benchmarks: each line says the figure it must reach and the figure it got. All of them, or one: core, plans, diagnosis, pack, load, pages.

run_bench() {
  local only=${1:-}
  [ -n "$only" ] && [ "$only" != core ] || dotnet run --project bench/WiseLoom.Bench -c Release
  [ -n "$only" ] && [ "$only" != plans ] || dotnet run --project bench/WiseLoom.Bench -c Release -- plans
  [ -n "$only" ] && [ "$only" != diagnosis ] || dotnet run --project bench/WiseLoom.Bench -c Release -- diagnosis
  [ -n "$only" ] && [ "$only" != pack ] || dotnet run --project bench/WiseLoom.Bench -c Release -- pack
  case $only in core | plans | diagnosis | pack) return 0 ;; esac
  need_tools
  build_cli
  build_web
  build_pages
  install_npm tests/e2e
  open_throwaway_database
  [ -n "$only" ] && [ "$only" != load ] || dotnet run --project bench/WiseLoom.Bench -c Release -- load
  [ -n "$only" ] && [ "$only" != pages ] || (cd tests/e2e && npx --no-install playwright test --config bench.config.ts)
}

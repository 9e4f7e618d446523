# Benchmarks: each line says the figure it must reach and the figure it got.

run_bench() {
  dotnet run --project bench/WiseLoom.Bench -c Release
  dotnet run --project bench/WiseLoom.Bench -c Release -- plans
  need_tools
  build_cli
  build_web
  build_pages
  install_npm tests/e2e
  open_throwaway_database
  dotnet run --project bench/WiseLoom.Bench -c Release -- load
  (cd tests/e2e && npx --no-install playwright test --config bench.config.ts)
}

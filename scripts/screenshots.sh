# Takes the pictures in docs/screenshots anew, from the demo shop.

take_screenshots() {
  need_tools
  build_cli
  build_web
  build_pages
  install_npm tests/e2e
  work=$(mktemp -d); chmod 755 "$work"; database=$work/postgres
  # Not local: the trap runs after this function has returned.
  trap 'stop_postgres "$database"; rm -rf "$work"' EXIT
  port=$(free_port)
  start_postgres "$database" "$port"
  export WISELOOM_TEST_DB="Host=127.0.0.1;Port=$port;Username=wiseloom;Database=postgres"
  (cd tests/e2e && npx --no-install playwright test --config screenshots.config.ts)
}

# Takes the pictures in docs/screenshots anew, from the demo shop.

take_screenshots() {
  need_tools
  build_cli
  build_web
  build_pages
  install_npm tests/e2e
  open_throwaway_database
  (cd tests/e2e && npx --no-install playwright test --config screenshots.config.ts)
}

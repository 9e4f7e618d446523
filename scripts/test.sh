# Runs every test against a PostgreSQL of its own and ends with one line: N passed, N failed.

run_tests() {
  passed=0 failed=0
  need_tools
  open_throwaway_database

  say "Building everything …"
  # The pages' packages are fetched while the compiler works.
  install_npm web & local packages=$!
  check "C# builds without a warning" dotnet build WiseLoom.slnx -c Release -v quiet --nologo
  touch src/WiseLoom.Cli/bin/built src/WiseLoom.Web/bin/built
  wait "$packages"
  check "the pages' code is in order (types, lint, format)" npm --prefix web run --silent lint
  # After the lint, which writes the API's types anew: nothing is then newer than the pages, and nothing builds them again under a test that has them open.
  build_pages
  check "the description of the API is in order" env REDOCLY_TELEMETRY=off REDOCLY_SUPPRESS_UPDATE_NOTICE=true npm --prefix web run --silent description
  pages
  say "Running the commands that README and docs show …"
  check_shown_commands
  suite tests/WiseLoom.Core.Tests
  WISELOOM_SAMPLES=$work suite tests/WiseLoom.Web.Tests
  check "pack.json is as its schema says" node scripts/validate.mjs docs/formats/pack.schema.json "$work/out/pack.json" "$work/signed-pack.json"
  check "record.json is as its schema says" node scripts/validate.mjs docs/formats/record.schema.json "$work/record.json"
  install_npm tests/e2e
  check "the end-to-end tests' code is in order" npm --prefix tests/e2e run --silent check
  browser
  printf '%s passed, %s failed\n' "$passed" "$failed"
  [ "$failed" = 0 ]
}

# check NAME COMMAND…: one check that passes or fails as a whole.
check() {
  local name=$1; shift
  if "$@" >"$work/check.log" 2>&1; then passed=$((passed + 1)); else failed=$((failed + 1)); say "FAILED: $name"; tail -n 60 "$work/check.log" >&2; fi
}

suite() {
  local name; name=$(basename "$1")
  say "Running $name …"
  dotnet "$1/bin/Release/net10.0/$name.dll" -noColor -trx "$work/$name.trx" >"$work/$name.log" 2>&1 || grep -v '^ *at ' "$work/$name.log" | tail -n 80 >&2
  tally "$(grep -o '<Counters [^>]*' "$work/$name.trx" 2>/dev/null)" "$name"
}

# tally COUNTERS NAME: adds a test run's counts; a run without counts has failed.
tally() {
  local p f
  p=$(sed -n 's/.* passed="\([0-9]*\)".*/\1/p' <<<"$1"); f=$(sed -n 's/.* failed="\([0-9]*\)".*/\1/p' <<<"$1")
  [ "${p:-0}" -gt 0 ] || { f=$((${f:-0} + 1)); say "FAILED: $2 ran no test"; }
  passed=$((passed + ${p:-0})); failed=$((failed + ${f:-0}))
  say "  $2: ${p:-0} passed, ${f:-0} failed"
}

# pages: the pure modules of the front end, without a browser.
pages() {
  say "Running the pages' tests …"
  (cd web && npx --no-install vitest run --reporter=json --outputFile="$work/pages.json" >"$work/pages.log" 2>&1) || tail -n 80 "$work/pages.log" >&2
  tally "$(node -e 'const s=JSON.parse(require("fs").readFileSync(process.argv[1]));console.log(` passed="${s.numPassedTests}" failed="${s.numFailedTests+s.numFailedTestSuites}" `)' "$work/pages.json" 2>/dev/null)" "pages"
}

browser() {
  say "Running the browser tests …"
  (cd tests/e2e && npx --no-install playwright test >"$work/e2e.log" 2>&1) || tail -n 120 "$work/e2e.log" >&2
  local json=tests/e2e/results/results.json
  tally "$(node -e 'const s=JSON.parse(require("fs").readFileSync(process.argv[1])).stats;console.log(` passed="${s.expected}" failed="${s.unexpected+s.flaky}" `)' "$json" 2>/dev/null)" "browser"
}

# Runs every test against a PostgreSQL of its own and ends with one line: N passed, N failed.
# Usual: what each change must pass. --deep: all cases, for a release. --mutants: how many faults put in by hand the tests find.

run_tests() {
  case "${1:-}" in
    '') ;;
    --deep) export WISELOOM_DEEP=1 ;;
    --mutants) . scripts/mutants.sh; run_mutants "${@:2}"; return ;;
    *) fail "test knows --deep and --mutants, not '$1'." ;;
  esac
  need_tools
  open_throwaway_database
  : >"$work/counts"

  say "Building everything …"
  # The pages are built while the compiler works.
  (install_npm tests/e2e; check "the pages build (types included)" build_pages) & local pages=$!
  check "C# builds without a warning" dotnet build WiseLoom.slnx -c Release -v quiet --nologo
  touch src/WiseLoom.Cli/bin/built src/WiseLoom.Web/bin/built
  # What only computes gives way to the browser, which somebody waits for.
  (in_the_background core) & local core=$!
  wait "$pages"
  make_example
  (in_the_background web) & local server=$!
  browser
  wait "$core" || count 0 1
  wait "$server" || count 0 1
  node scripts/slowest.mjs "$work" tests/e2e/results/results.json
  awk '{ passed += $1; failed += $2 } END { printf "%d passed, %d failed\n", passed, failed; exit failed > 0 }' "$work/counts"
}

in_the_background() { nice -n 10 bash -c ". scripts/machine.sh; . scripts/commands.sh; . scripts/test.sh; work=$work; $1"; }

core() {
  suite tests/WiseLoom.Core.Tests
  # Types were held when the pages were built. What makes them anew is not run here: a test that starts the application would build the pages again.
  check "the pages' code is in order (lint, format)" npm --prefix web run --silent order
  check "the description of the API is in order" env REDOCLY_TELEMETRY=off REDOCLY_SUPPRESS_UPDATE_NOTICE=true npm --prefix web run --silent description
  check "the end-to-end tests' code is in order" npm --prefix tests/e2e run --silent check
  pages
  say "Running the commands that README and docs show …"
  check_shown_commands
  check "the pack of a terminal is as its schema says" node scripts/validate.mjs docs/formats/pack.schema.json "$work/out/pack.json"
}

web() {
  # Much of it waits for the database, a printer or a meter.
  WISELOOM_SAMPLES=$work suite tests/WiseLoom.Web.Tests -maxThreads 3
  check "pack.json is as its schema says" node scripts/validate.mjs docs/formats/pack.schema.json "$work/signed-pack.json"
  check "record.json is as its schema says" node scripts/validate.mjs docs/formats/record.schema.json "$work/record.json"
}

# count PASSED FAILED: both lanes add to one file.
count() { printf '%s %s\n' "$1" "$2" >>"$work/counts"; }

# check NAME COMMAND…: one check that passes or fails as a whole.
check() {
  local name=$1 log; shift
  log=$(mktemp -p "$work")
  if "$@" >"$log" 2>&1; then count 1 0; else count 0 1; say "FAILED: $name"; tail -n 60 "$log" >&2; fi
}

suite() {
  local name; name=$(basename "$1")
  say "Running $name …"
  dotnet "$1/bin/Release/net10.0/$name.dll" -noColor "${@:2}" -trx "$work/$name.trx" >"$work/$name.log" 2>&1 || grep -v '^ *at ' "$work/$name.log" | tail -n 80 >&2
  tally "$(grep -o '<Counters [^>]*' "$work/$name.trx" 2>/dev/null)" "$name"
}

# tally COUNTERS NAME: adds a test run's counts; a run without counts has failed.
tally() {
  local p f
  p=$(sed -n 's/.* passed="\([0-9]*\)".*/\1/p' <<<"$1"); f=$(sed -n 's/.* failed="\([0-9]*\)".*/\1/p' <<<"$1")
  [ "${p:-0}" -gt 0 ] || { f=$((${f:-0} + 1)); say "FAILED: $2 ran no test"; }
  count "${p:-0}" "${f:-0}"
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

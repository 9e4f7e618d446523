# Holds the circuit solver against a general circuit simulator from Debian on generated net-lists. Not part of the tests.

run_compare() {
  if ! command -v ngspice >/dev/null; then
    [ "$(id -u)" = 0 ] || fail "missing: ngspice. Install with: apt-get install --no-install-recommends ngspice"
    say "Installing ngspice …"
    DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends ngspice >&2
  fi
  dotnet run --project bench/WiseLoom.Bench -c Release -- compare "$@"
}

# Builds what has changed since the last build. The stamps make a second start quick.

cli=src/WiseLoom.Cli/bin/Release/net10.0/WiseLoom.Cli.dll
web=src/WiseLoom.Web/bin/Release/net10.0/WiseLoom.Web.dll

# What a process makes before the collector looks at it, 128 MB in hexadecimal: one ranking of causes in a large loom makes half of that and
# keeps little, and each look stops all cores.
young_bytes=8000000

# stale STAMP PATH…: whether anything under the paths is newer than the stamp.
stale() {
  local stamp=$1; shift
  [ -f "$stamp" ] && [ -z "$(find "$@" \( -name bin -o -name obj -o -name node_modules -o -name dist \) -prune -o -type f -newer "$stamp" -print -quit)" ] && return 1
  return 0
}

build_dotnet() {
  local project=$1 stamp=$2
  if [ ! -f "$stamp" ] || stale "$stamp" src Directory.Build.props Directory.Packages.props global.json .editorconfig; then
    say "Building $(basename "$project") …"
    local log; log=$(mktemp)
    dotnet build "$project" -c Release -v quiet --nologo >"$log" 2>&1 || { cat "$log" >&2; rm -f "$log"; fail "the build failed."; }
    rm -f "$log"
    touch "$stamp"
  fi
}

build_cli() { build_dotnet src/WiseLoom.Cli src/WiseLoom.Cli/bin/built; }
build_web() { build_dotnet src/WiseLoom.Web src/WiseLoom.Web/bin/built; }

install_npm() {
  local folder=$1
  if [ ! -f "$folder/node_modules/.installed" ] || [ "$folder/package-lock.json" -nt "$folder/node_modules/.installed" ]; then
    say "Installing packages of $folder …"
    (cd "$folder" && PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD=1 npm ci --no-audit --no-fund --loglevel=error >&2)
    touch "$folder/node_modules/.installed"
  fi
}

build_pages() {
  install_npm web
  if [ ! -f web/dist/index.html ] || stale web/dist/index.html web; then
    say "Building the pages …"
    (cd web && npm run --silent build >&2)
  fi
}

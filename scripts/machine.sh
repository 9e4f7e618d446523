# What the machine must have. As root, Debian's packages are installed; otherwise the missing ones are named.

export DOTNET_NOLOGO=1 DOTNET_CLI_TELEMETRY_OPTOUT=1 DOTNET_CLI_USE_MSBUILD_SERVER=0 MSBUILDDISABLENODEREUSE=1
data=${WISELOOM_HOME:-$([ "$(id -u)" = 0 ] && echo /var/lib/wise-loom || echo "${XDG_DATA_HOME:-$HOME/.local/share}/wise-loom")}

say() { printf '%s\n' "$*" >&2; }
fail() { say "wise-loom: $*"; exit 1; }

need_tools() {
  command -v dotnet >/dev/null || fail "the .NET SDK 10 is missing."
  command -v npm >/dev/null || fail "Node.js 20.19 or later with npm is missing."
  local missing=()
  [ -n "$(postgres_bin)" ] || missing+=(postgresql)
  [ -x /usr/bin/chromium ] || missing+=(chromium)
  command -v pdftotext >/dev/null || missing+=(poppler-utils)
  [ ${#missing[@]} -gt 0 ] || return 0
  [ "$(id -u)" = 0 ] || fail "missing: ${missing[*]}. Install with: apt-get install --no-install-recommends ${missing[*]}"
  say "Installing ${missing[*]} …"
  export DEBIAN_FRONTEND=noninteractive
  apt-get update -qq >&2 || say "apt-get update failed; trying with the lists at hand."
  apt-get install -y -qq --no-install-recommends "${missing[@]}" >&2
}

# must_be_free PORT SETTING: stops in words when something listens there already.
must_be_free() {
  ! bash -c "exec 3<>/dev/tcp/127.0.0.1/$1" 2>/dev/null || fail "port $1 is taken, perhaps by another wise-loom. Stop that one, or choose another port with $2."
}

free_port() { node -e 'const s=require("net").createServer();s.listen(0,"127.0.0.1",()=>{console.log(s.address().port);s.close()})'; }

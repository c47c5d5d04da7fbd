# Shared by ./start and ./test: installs what is missing, and says how where it may not.
# Sourced, not run.

need_packages() {
  local missing=()
  for p in "$@"; do
    dpkg-query -W -f='${Status}' "$p" 2>/dev/null | grep -q 'ok installed' || missing+=("$p")
  done
  [ ${#missing[@]} -eq 0 ] && return 0
  echo "installing: ${missing[*]}"
  local run=()
  if [ "$(id -u)" -ne 0 ]; then
    if command -v sudo >/dev/null && { [ -t 0 ] || sudo -n true 2>/dev/null; }; then
      run=(sudo)
    else
      echo "Some packages are missing. Run this line as root, then start again:" >&2
      echo "  apt-get update && apt-get install -y --no-install-recommends ${missing[*]}" >&2
      exit 1
    fi
  fi
  "${run[@]}" apt-get update -qq
  DEBIAN_FRONTEND=noninteractive "${run[@]}" apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
}

# Go: the one at hand fetches the version that go.mod asks for by itself from 1.21 on. An older one, as
# Debian 12 has it, is used once to fetch that version through the module proxy.
need_go() {
  export PATH="$PATH:/usr/local/go/bin"
  local want have arch dir
  want=$(sed -n 's/^go //p' go.mod)
  command -v go >/dev/null || need_packages golang-go
  have=$(go version | sed -E 's/^go version go1\.([0-9]+).*/\1/')
  [ "$have" -ge 21 ] && return 0
  arch=$(go env GOARCH)
  dir=$(cd /tmp && go mod download -json "golang.org/toolchain@v0.0.1-go$want.linux-$arch" | sed -n 's/.*"Dir": "\(.*\)".*/\1/p')
  [ -n "$dir" ] || { echo "Go $want could not be fetched" >&2; exit 1; }
  chmod -R u+w "$dir"
  chmod +x "$dir"/bin/* "$dir"/pkg/tool/*/*
  export GOROOT="$dir" PATH="$dir/bin:$PATH"
}

# Node: Vite wants 20.19 or newer. Debian 12's is older; the npm registry carries newer ones as packages.
need_node() {
  command -v npm >/dev/null || need_packages nodejs npm
  local v arch
  v=$(node --version | sed -E 's/^v([0-9]+)\.([0-9]+).*/\1 \2/')
  set -- $v
  if [ "$1" -gt 20 ] || { [ "$1" -eq 20 ] && [ "$2" -ge 19 ]; }; then return 0; fi
  arch=$(dpkg --print-architecture | sed 's/amd64/x64/')
  [ -x ".tools/node_modules/node-linux-$arch/bin/node" ] || npm install --silent --no-audit --no-fund --prefix .tools "node-linux-$arch@22"
  export PATH="$PWD/.tools/node_modules/node-linux-$arch/bin:$PATH"
}

build_front() {
  (cd web && npm ci --silent --no-audit --no-fund && npm run build --silent)
}

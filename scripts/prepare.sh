#!/usr/bin/env bash
# Sets up what a fresh machine lacks: virtual environment, Python and front-end packages, the built front end.
# Quick the second time: each step is done again only when what it depends on has changed.
#   prepare.sh run      to run the application
#   prepare.sh check    also linters, test packages, Chromium and ChromeDriver
set -euo pipefail
cd "$(dirname "$0")/.."
kind="${1:-run}"
mkdir -p .setup

# done_before NAME FILES...: whether NAME was done for exactly these contents
done_before() {
  local name="$1"; shift
  local now; now="$(cat "$@" 2>/dev/null | sha256sum | cut -d' ' -f1)"
  [ "$(cat ".setup/$name" 2>/dev/null || true)" = "$now" ]
}
remember() {
  local name="$1"; shift
  cat "$@" | sha256sum | cut -d' ' -f1 > ".setup/$name"
}
as_root() { if [ "$(id -u)" = 0 ]; then "$@"; else sudo "$@"; fi; }
install_packages() { as_root apt-get update -qq && as_root apt-get install -y -qq --no-install-recommends "$@" >/dev/null; }

command -v python3 >/dev/null || install_packages python3 python3-venv
command -v npm >/dev/null || install_packages nodejs npm

lock="requirements-$kind.lock"
if [ ! -x .venv/bin/python ]; then
  echo "Making the virtual environment"
  python3 -m venv .venv
  rm -f .setup/python-*
fi
# The packages for checking include those for running.
if ! done_before "python-$kind" "$lock" pyproject.toml && ! { [ "$kind" = run ] && done_before python-check requirements-check.lock pyproject.toml; }; then
  echo "Installing Python packages"
  .venv/bin/python -m pip install --quiet --disable-pip-version-check --require-hashes -r "$lock"
  .venv/bin/python -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation --editable .
  remember "python-$kind" "$lock" pyproject.toml
fi

if [ ! -d web/node_modules ] || ! done_before front-end-packages web/package-lock.json; then
  echo "Installing front-end packages"
  (cd web && npm ci --silent --no-audit --no-fund)
  remember front-end-packages web/package-lock.json
fi

mapfile -t sources < <(find web/src web/public web/index.html web/vite.config.ts web/package.json web/package-lock.json docs/openapi.json \
  -type f ! -name schema.d.ts | sort)
if [ ! -f src/phasko/web/static/index.html ] || [ ! -f web/src/api/schema.d.ts ] || ! done_before front-end "${sources[@]}"; then
  echo "Building the front end"
  (cd web && npm run --silent build >/dev/null)
  remember front-end "${sources[@]}"
fi

if [ "$kind" = check ] && ! { command -v chromium >/dev/null && command -v chromedriver >/dev/null; }; then
  echo "Installing Chromium and ChromeDriver"
  install_packages chromium chromium-driver
fi

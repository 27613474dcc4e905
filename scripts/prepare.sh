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
as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"
  elif command -v sudo >/dev/null; then sudo "$@"
  else echo "This needs root once: $*" >&2; exit 1
  fi
}
install_packages() {
  command -v apt-get >/dev/null || { echo "Please install: $*" >&2; exit 1; }
  as_root apt-get update -qq
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@" >/dev/null
}
pip_install() { .venv/bin/python -m pip install --quiet --disable-pip-version-check "$@"; }

command -v python3 >/dev/null || install_packages python3 python3-venv
if ! python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))'; then
  echo "Phasko needs Python 3.11 or newer; python3 here is $(python3 --version)" >&2
  exit 1
fi

if [ ! -x .venv/bin/python ] || ! .venv/bin/python -c 'import pip' 2>/dev/null; then
  # Debian ships python3 without ensurepip; only trying tells.
  python3 -c 'import ensurepip' 2>/dev/null || { echo "Installing python3-venv"; install_packages python3-venv; }
  echo "Making the virtual environment"
  rm -rf .venv
  python3 -m venv .venv
  rm -f .setup/python-* .setup/node
fi

lock="requirements-$kind.lock"
# The packages for checking include those for running.
if ! done_before "python-$kind" "$lock" pyproject.toml && ! { [ "$kind" = run ] && done_before python-check requirements-check.lock pyproject.toml; }; then
  echo "Installing Python packages"
  pip_install --require-hashes -r "$lock"
  pip_install --no-deps --no-build-isolation --editable .
  remember "python-$kind" "$lock" pyproject.toml
fi

# What sets text in the hand-over's PDF. Without it everything else works, and HTML still comes: so nobody is stopped here.
if ! .venv/bin/python -c 'import weasyprint' 2>/dev/null; then
  echo "Installing Pango, which sets text"
  (install_packages libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0) \
    || echo "Without it the hand-over comes as HTML only: install libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0" >&2
fi

# Where the machine's own Node is missing or too old, one from the Python registry goes into the virtual environment;
# the machine's stays as it is.
[ -x .venv/bin/node ] && export PATH="$PWD/.venv/bin:$PATH"
if ! .venv/bin/python scripts/front_end.py fits; then
  echo "Installing Node into the virtual environment"
  pip_install --require-hashes -r requirements-node.lock
  export PATH="$PWD/.venv/bin:$PATH"
fi
.venv/bin/python scripts/front_end.py build

if [ "$kind" = check ] && ! { command -v chromium >/dev/null && command -v chromedriver >/dev/null && command -v openssl >/dev/null; }; then
  echo "Installing Chromium and ChromeDriver"
  install_packages chromium chromium-driver openssl
fi

# Shared by demo, test and screenshots: a venv from the lock, and the Debian packages Qt and sound need.
# Usage: . scripts/_setup.sh; setup run|test
root=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
cd "$root" || exit 1

need_debian=(python3-venv libegl1 libgl1 libxkbcommon0 libxkbcommon-x11-0 libdbus-1-3 libfontconfig1 libglib2.0-0
  libxcb-cursor0 libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-randr0 libxcb-render-util0 libxcb-shape0
  libxcb-xinerama0 libxcb-xkb1 libportaudio2 xvfb)

debian_packages() {
  command -v dpkg-query >/dev/null || return 0
  local missing=()
  for p in "${need_debian[@]}"; do
    [ "$p" = python3-venv ] && python3 -c 'import venv, ensurepip' 2>/dev/null && continue
    dpkg-query -W -f='${Status}' "$p" 2>/dev/null | grep -q 'install ok installed' || missing+=("$p")
  done
  [ ${#missing[@]} -eq 0 ] && return 0
  if [ "$(id -u)" = 0 ]; then
    echo "Installing Debian packages: ${missing[*]}"
    apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
  else
    echo "Missing Debian packages. Install them with: sudo apt-get install ${missing[*]}" >&2
    [ "$1" = run ] || exit 1
  fi
}

setup() {
  local lock="requirements/$1.txt" stamp
  debian_packages "$1"
  python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { echo "Gingham needs Python 3.11 or newer." >&2; exit 1; }
  [ -x .venv/bin/python ] || python3 -m venv .venv || exit 1
  stamp=".venv/.installed-$(cat requirements/*.txt pyproject.toml | sha256sum | cut -c1-16)"
  # The test lock holds the run lock, so a venv made for the tests also serves the demo.
  if [ ! -e "$stamp-$1" ] && [ ! -e "$stamp-test" ]; then
    echo "Setting up .venv from $lock (once; a few minutes on a slow line)"
    .venv/bin/python -m pip install -q --disable-pip-version-check --require-hashes -r "$lock" || exit 1
    .venv/bin/python -m pip install -q --disable-pip-version-check --no-deps --no-build-isolation -e . || exit 1
    touch "$stamp-$1"
  fi
}

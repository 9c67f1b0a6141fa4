#!/usr/bin/env bash
# Makes .venv and installs what is missing; returns at once when nothing changed since the last call.
set -euo pipefail
cd "$(dirname "$0")/.."

stamp=.venv/.ready
wanted=$(cat requirements.txt pyproject.toml tools/setup.sh | sha256sum | cut -d' ' -f1)
if [ -x .venv/bin/tiny-lantern ] && [ "$(cat "$stamp" 2>/dev/null)" = "$wanted:$PWD" ]; then
    exit 0
fi

# Shared objects that Qt's xcb and offscreen platforms load, and the Debian/Ubuntu package of each.
libraries="libglib-2.0.so.0:libglib2.0-0 libEGL.so.1:libegl1 libGL.so.1:libgl1 libxkbcommon.so.0:libxkbcommon0
libxkbcommon-x11.so.0:libxkbcommon-x11-0 libdbus-1.so.3:libdbus-1-3 libfontconfig.so.1:libfontconfig1
libxcb-cursor.so.0:libxcb-cursor0 libxcb-icccm.so.4:libxcb-icccm4 libxcb-image.so.0:libxcb-image0
libxcb-keysyms.so.1:libxcb-keysyms1 libxcb-randr.so.0:libxcb-randr0
libxcb-render-util.so.0:libxcb-render-util0 libxcb-shape.so.0:libxcb-shape0
libxcb-xinerama.so.0:libxcb-xinerama0 libxcb-xkb.so.1:libxcb-xkb1"

missing=""
known=$(PATH="$PATH:/sbin:/usr/sbin" ldconfig -p 2>/dev/null || true)
for pair in $libraries; do
    case "$known" in *"${pair%%:*}"*) ;; *) missing="$missing ${pair##*:}" ;; esac
done
command -v Xvfb >/dev/null 2>&1 || missing="$missing xvfb"
command -v cc >/dev/null 2>&1 || missing="$missing gcc libc6-dev" # the tests compile the effects that boards play
command -v c++ >/dev/null 2>&1 || missing="$missing g++"

python=""
for candidate in python3.13 python3.12 python3.11 python3; do
    if command -v "$candidate" >/dev/null 2>&1 &&
        "$candidate" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
        python=$candidate
        break
    fi
done
[ -n "$python" ] || { echo "Tiny Lantern needs Python 3.11 or newer: apt-get install python3" >&2; exit 1; }
"$python" -c 'import ensurepip' 2>/dev/null || missing="$missing python3-venv"

if [ -n "$missing" ]; then
    if [ "$(id -u)" = 0 ]; then
        as_root=""
    elif command -v sudo >/dev/null 2>&1 && sudo -n true 2>/dev/null; then
        as_root="sudo"
    else
        echo "Some system libraries are missing. Run this one line, then call make again:" >&2
        echo "  sudo apt-get update && sudo apt-get install -y$missing" >&2
        exit 1
    fi
    echo "Installing system libraries:$missing"
    $as_root apt-get update -qq
    DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq $missing >/dev/null
fi

# Only one test needs these, and it says so when it is left out: a compiler and a simulator whose int has 16 bits.
if ! command -v sz80 >/dev/null 2>&1 && [ "$(id -u)" = 0 ]; then
    apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends \
        sdcc sdcc-ucsim >/dev/null || echo "Without sdcc the test of 16-bit boards is left out."
fi

[ -x .venv/bin/python ] || "$python" -m venv .venv
echo "Installing Python packages into .venv"
.venv/bin/python -m pip install -q --disable-pip-version-check -r requirements.txt
.venv/bin/python -m pip install -q --disable-pip-version-check --no-deps -e .
.venv/bin/python -m compileall -q tiny_lantern # so that the first start is as quick as every other
echo "$wanted:$PWD" >"$stamp"
